/** Proposals for seats as plans: for whole products, and for those who are gathered. */
import { say } from '#core/messages/say';
import type { Step } from '#core/entities/index';
import { dateOf, type Need, type Proposal, propose, type TakenWhy } from '#core/licenses/index';
import type { Change } from '#core/plan/index';
import { ordered } from '#core/register/index';
import type { HoldingVerb } from '#core/register/verbs';
import { creates, updates } from '#core/register/steps';
import type { SeatOrder } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { type Asked, type LicenseState, productLabel, questionOf, readLicenses } from './state';

const takenWords: Record<TakenWhy, string> = {
  stopped: say('licenses.suspendedOrLeft'),
  'not entitled': say('licenses.notEntitledToIt'),
  moves: say('licenses.getsASeatFromAnother'),
  'more urgent': say('licenses.othersNeedItMore'),
};

/** What a proposal for one product changes, row by row. */
function changesOf(state: LicenseState, label: string, asked: Asked, made: Proposal): Change[] {
  const changes: Change[] = [];
  const put = (who: number, step: Step) =>
    changes.push({ ...step, label: state.labels[who]!, subject: state.people[who]!.id });
  const rows = new Map(asked.seats.map((row) => [row.id, row]));
  for (const { held, at, why } of made.taken) {
    const { id, ends, begins } = rows.get(held.seatId)!;
    // What has not begun yet ends on the day on which it would.
    const date = dateOf(at) > begins ? dateOf(at) : begins;
    put(held.who, updates('seat', id, { ends }, { ends: date }, `${label}: ${takenWords[why]}`));
  }
  for (const { who, pool, from, to } of made.given) {
    const license = asked.licenses[pool]!;
    const school = state.schools.find(({ id }) => id === license.schoolId);
    const after = {
      personId: state.people[who]!.id,
      licenseId: license.id,
      begins: dateOf(from),
      ends: to < asked.pools[pool]!.to ? dateOf(to) : null,
    };
    const whose = school ? say('licenses.sLicense', { name: school.name }) : say('licenses.theDistrictsLicense');
    put(who, creates('seat', mint(), after, say('licenses.until', { label, whose, ends: license.ends })));
  }
  return changes;
}

type Made = Pick<NewPlan, 'kind' | 'title' | 'plan' | 'waiting'>;

/** What cannot be served is named by product and school. */
export async function planSeats(
  db: Db,
  config: Pick<Config, 'today'>,
  order: SeatOrder,
  progress: (done: number, total: number) => void = () => {},
): Promise<Made> {
  const state = await readLicenses(db, config);
  const products = [...state.book.products.values()].filter(
    ({ id }) => order.productIds.length === 0 || order.productIds.includes(id),
  );
  const changes: Change[] = [];
  const waiting: { line: number; message: string }[] = [];
  const names = new Map(state.schools.map(({ id, name }) => [id, name]));
  products.forEach((product, i) => {
    progress(i, products.length);
    const label = productLabel(product);
    const asked = questionOf(state, product.id, order);
    const made = propose(asked);
    changes.push(...changesOf(state, label, asked, made));
    for (const { from, to, count, bySchool } of made.short)
      waiting.push({
        line: 0,
        message: say('licenses.withoutSeat', {
          ...{ label, count, from: dateOf(from), to: dateOf(to) },
          list: [...bySchool].map(([id, n]) => `${names.get(id) ?? say('licenses.elsewhere')} ${n}`),
        }),
      });
  });
  const of = products.length === 1 ? productLabel(products[0]!) : say('licenses.products3', { count: products.length });
  return { kind: 'seats', title: say('licenses.seatsOf', { name: of }), plan: ordered(changes), waiting };
}

/** Seats for needs of people, at the cost of nobody else; who holds one already needs none. `without`: for whom none is free. */
export function giveSeats(
  state: LicenseState,
  productId: string,
  needs: readonly Need[],
): { changes: Change[]; without: number[]; product: string } {
  const product = state.book.products.get(productId);
  if (!product) return { changes: [], without: [], product: '' };
  const label = productLabel(product);
  const asked = questionOf(state, productId, { sweep: false, idleDays: 0 });
  const holding = new Set(asked.held.map(({ who }) => who));
  const open = needs.filter(({ who }) => !holding.has(who));
  const made = propose({ ...asked, needs: open, uses: () => true, stopped: () => false });
  const given = new Set(made.given.map(({ who }) => who));
  return {
    changes: changesOf(state, label, asked, made),
    without: [...new Set(open.map(({ who }) => who))].filter((who) => !given.has(who)),
    product: label,
  };
}

/** Seats for some people, at the cost of nobody else; or back from them. Whom it cannot be done for is named. */
export async function planSeatsFor(
  db: Db,
  config: Pick<Config, 'today'>,
  personIds: readonly string[],
  order: Extract<HoldingVerb, { verb: 'seats' }>,
): Promise<{ changes: Change[]; same: number; problems: { label: string; message: string }[]; product: string }> {
  const state = await readLicenses(db, config);
  const product = state.book.products.get(order.productId);
  if (!product) return { changes: [], same: 0, problems: [], product: '' };
  const label = productLabel(product);
  const asked = questionOf(state, product.id, { sweep: false, idleDays: 0 });
  const whom = personIds.flatMap((id) => state.index.get(id) ?? []);
  const chosen = new Set(whom);
  const holding = new Set(asked.held.map(({ who }) => who));
  const problems: { label: string; message: string }[] = [];
  if (order.take) {
    const changes = asked.held
      .filter(({ who }) => chosen.has(who))
      .map(({ who, seatId }): Change => {
        const { id, begins, ends } = asked.seats.find((row) => row.id === seatId)!;
        const after = { ends: begins > state.today ? begins : state.today };
        const step = updates('seat', id, { ends }, after, say('licenses.seatTakenBack', { label }));
        return { ...step, label: state.labels[who]!, subject: state.people[who]!.id };
      });
    return {
      changes,
      same: chosen.size - new Set(changes.map(({ subject }) => subject)).size,
      problems,
      product: label,
    };
  }
  const able = whom.filter((who) => {
    const one = state.people[who]!;
    const why = one.stopped
      ? say('licenses.isSuspendedOrHasLeft')
      : one.places.length === 0
        ? say('licenses.hasNoSchool')
        : null;
    if (why) problems.push({ label: state.labels[who]!, message: why });
    return !why && !holding.has(who);
  });
  const made = giveSeats(
    state,
    product.id,
    able.map((who) => ({ who, schoolId: asked.schoolOf(who)!, urgency: 3, ...state.window })),
  );
  for (const who of made.without)
    problems.push({ label: state.labels[who]!, message: say('licenses.getsNoneHasNoOpen', { label }) });
  return {
    changes: made.changes,
    same: whom.filter((who) => holding.has(who)).length,
    problems,
    product: label,
  };
}
