/** Everything that questions about seats need, read once; and the question of one product put together from it. */
import {
  type Day,
  dayOf,
  type Held,
  type Holder,
  type Need,
  needs,
  type PoolSpan,
  type Question,
  type RuleBook,
  type Span,
  spanOf,
} from '#core/licenses/index';
import type { License, Product, School } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { groupBy } from '#core/plan/index';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district, readinessDay } from '../district';
import { mergedInto } from '../people/merged';
import { readBook } from './book';
import { Op } from 'sequelize';
import { endsAfter } from '../db/joined';
import { holdersNow, type SeatRow, seatsNow, studiesNow } from './queries';

export interface LicenseState {
  today: string;
  /** From the readiness day to the end of the school year. */
  window: Span;
  book: RuleBook;
  schools: School[];
  people: Holder[];
  /** As plans show them, by the same index. */
  labels: string[];
  /** Those that run today or later, by product. */
  licenses: Map<string, License[]>;
  /** Seats that go on, by license. */
  seats: Map<string, SeatRow[]>;
  needs: Map<string, Need[]>;
  /** Day of the last use by person's id, by product. */
  uses: Map<string, Map<string, Day>>;
  index: Map<string, number>;
}

export async function readLicenses(db: Db, config: Pick<Config, 'today'>): Promise<LicenseState> {
  const today = config.today();
  const { year } = (await district(db))!;
  const from = readinessDay(year, today);
  const { book } = await readBook(db, today);
  const [schools, rows, places, enrollments, licenses, seats, uses, into] = await Promise.all([
    db.models.school.findAll({ order: ['name'], raw: true }),
    // In the order in which seats go where not all can have one: by grade they are told apart already.
    holdersNow(db),
    db.models.affiliation.findAll({
      attributes: ['personId', 'schoolId', 'grade', 'begins', 'ends'],
      where: { ends: endsAfter(today) },
      order: ['begins'],
      raw: true,
    }),
    studiesNow(db, today, book.rules),
    db.models.license.findAll({ where: { ends: { [Op.gt]: today } }, order: ['begins', 'id'], raw: true }),
    seatsNow(db, today),
    db.models.lastUses.findAll({ raw: true }),
    mergedInto(db),
  ]);
  const index = new Map(rows.map(({ id }, i) => [id, i]));
  const people = rows.map(({ id, role, status, account }): Holder => ({
    id,
    role,
    stopped: status === 'left' || account === 'frozen',
    places: [],
    classes: [],
  }));
  for (const { personId, schoolId, grade, ...dates } of places)
    people[index.get(personId) ?? -1]?.places.push({ schoolId, grade, ...spanOf(dates) });
  for (const { personId, classId, role, ...dates } of enrollments)
    people[index.get(personId) ?? -1]?.classes.push({ classId, role, ...spanOf(dates) });
  const lastUses = new Map<string, Map<string, Day>>();
  for (const { personId, productId, usedOn } of uses) {
    let of = lastUses.get(productId);
    if (!of) lastUses.set(productId, (of = new Map()));
    const who = into.get(personId) ?? personId;
    of.set(who, Math.max(of.get(who) ?? 0, dayOf(usedOn)));
  }
  const window = { from: dayOf(from), to: dayOf(year.ends) };
  return {
    today,
    window,
    book,
    schools,
    people,
    labels: rows.map(personLabel),
    licenses: groupBy(licenses, ({ productId }) => productId),
    seats: groupBy(seats, ({ licenseId }) => licenseId),
    needs: needs(people, book, window),
    uses: lastUses,
    index,
  };
}

export interface Asked extends Question {
  licenses: License[];
  seats: SeatRow[];
}

/** The question of one product. `idleDays`: who did not use it for longer does not use it. */
export function questionOf(
  state: LicenseState,
  productId: string,
  { sweep, idleDays }: { sweep: boolean; idleDays: number },
): Asked {
  const licenses = state.licenses.get(productId) ?? [];
  const seats = licenses.flatMap(({ id }) => state.seats.get(id) ?? []);
  const at = new Map(licenses.map(({ id }, i) => [id, i]));
  const pools = licenses.map(({ id, schoolId, seats: count, ...dates }): PoolSpan => ({
    licenseId: id,
    schoolId,
    seats: count ?? Infinity,
    ...spanOf(dates),
  }));
  const held = seats.flatMap(({ id, personId, licenseId, ...dates }): Held[] => {
    const who = state.index.get(personId);
    return who === undefined ? [] : [{ seatId: id, who, pool: at.get(licenseId)!, ...spanOf(dates) }];
  });
  const since = dayOf(state.today) - idleDays;
  const uses = state.uses.get(productId);
  const { people } = state;
  return {
    licenses,
    seats,
    pools,
    held,
    needs: state.needs.get(productId) ?? [],
    window: state.window,
    sweep,
    uses: (who) => (uses?.get(people[who]!.id) ?? 0) >= since,
    stopped: (who) => people[who]!.stopped,
    schoolOf: (who) => people[who]!.places.at(-1)?.schoolId ?? null,
  };
}

/** Name and edition. */
export const productLabel = ({ name, edition }: Pick<Product, 'name' | 'edition'>): string =>
  edition ? `${name}, ${edition}` : name;
