/** Seats and devices for those who are gathered, or back from them: planned where they are kept. */
import { say } from '#core/messages/say';
import type { Change } from '#core/plan/index';
import { ordered, personLabel } from '#core/register/index';
import { ends } from '#core/register/steps';
import { tell } from '#core/register/story';
import type { HoldingVerb } from '#core/register/verbs';
import { Fault } from '../faults';
import type { VerbPreview } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { inBatches } from '../db/batches';
import { oneToOne } from '../devices/assign';
import { planSeatsFor } from '../licenses/propose';
import type { NewPlan } from '../plans/store';
import { joined } from '../db/joined';

interface Made {
  changes: Change[];
  same: number;
  problems: VerbPreview['problems'];
  what: string;
}

export async function planHolding(
  db: Db,
  config: Config,
  ids: string[],
  order: HoldingVerb,
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'held' | 'waiting'> & VerbPreview> {
  const { changes, same, problems, what } = await (order.verb === 'seats'
    ? seats(db, config, ids, order)
    : order.take
      ? devicesBack(db, config, ids)
      : devices(db, config, ids, order.due));
  const count = new Set(changes.map(({ subject }) => subject)).size;
  return {
    kind: order.verb,
    title: say(order.take ? 'people.takeBackFrom' : 'people.assignTo', { what, count }),
    plan: ordered(changes),
    held: [],
    waiting: problems.map(({ label, message }) => ({ line: 0, message: `${label} ${message}.` })),
    people: ids.length,
    changes: changes.length,
    sentence: tell(changes),
    same,
    problems,
  };
}

async function seats(
  db: Db,
  config: Config,
  ids: string[],
  order: Extract<HoldingVerb, { verb: 'seats' }>,
): Promise<Made> {
  const { product, ...made } = await planSeatsFor(db, config, ids, order);
  if (!product) throw new Fault('missing', say('people.thisProductNoLongerExists'));
  return { ...made, what: say('people.seatsOf', { product }) };
}

async function devices(db: Db, config: Config, ids: string[], due: string | null): Promise<Made> {
  const today = config.today();
  if (due !== null && due < today) throw new Fault('invalid', say('devices.dueChooseADueDate'));
  const made = await oneToOne(db, config, { school: null, personIds: ids, kind: due === null ? 'own' : 'loan', due });
  return {
    changes: made.changes,
    same: made.kept,
    problems: made.without.map((label) => ({ label, message: say('people.getsNoneTheSchoolHas') })),
    what: say('people.ofDevices'),
  };
}

async function devicesBack(db: Db, config: Config, ids: string[]): Promise<Made> {
  const rows = await inBatches(ids, 5000, (some) =>
    joined(db, 'loan', {
      fields: ['id', 'personId'],
      of: {
        tag: 'device.tag',
        familyName: 'person.familyName',
        givenName: 'person.givenName',
        number: 'person.number',
      },
      where: { ends: null, personId: some },
      order: ['person.familyName', 'person.givenName', 'id'],
    }),
  );
  const changes = rows.map(({ id, personId, tag, ...who }): Change => ({
    ...ends('loan', id, config.today(), say('devices.wasReturned', { tag })),
    label: personLabel(who),
    subject: personId,
  }));
  return {
    changes,
    same: ids.length - new Set(rows.map(({ personId }) => personId)).size,
    problems: [],
    what: say('people.ofDevices'),
  };
}
