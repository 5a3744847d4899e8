/** Make ready: one plan that gives whoever is gathered all that they lack, account, classes, seats and a device; cards are printed after it. */
import { say } from '#core/messages/say';
import { col, fn } from 'sequelize';
import { needs } from '#core/licenses/index';
import type { Change } from '#core/plan/index';
import type { Columns, Step } from '#core/entities/index';
import { ordered, personKey, personLabel } from '#core/register/index';
import { creates } from '#core/register/steps';
import { tell } from '#core/register/story';
import { type Arrival, classesFor, type Roster } from '#core/readiness/index';
import type { VerbPreview } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { inBatches } from '../db/batches';
import { oneToOne } from '../devices/assign';
import { district } from '../district';
import { planningTools } from '../intake/snapshot.queries';
import { giveSeats } from '../licenses/propose';
import { readLicenses } from '../licenses/state';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { joined } from '../db/joined';
import { type ReadyRow, toMakeReady } from './queries';

/** Students alone; who is at no school, has left or is on hold is named and left as they are. */
export async function planReady(
  db: Db,
  config: Config,
  ids: string[],
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'held' | 'waiting'> & VerbPreview> {
  const today = config.today();
  const here = (await district(db))!;
  const rows = await inBatches(ids, 4000, (some) => toMakeReady(db, some));
  const problems: VerbPreview['problems'] = [];
  const able = rows.filter((row) => {
    const why =
      row.role !== 'student'
        ? say('people.isStaffThisIsFor')
        : row.status !== 'active'
          ? say('plan.hasLeftTransferThemTo2')
          : row.schoolId === null
            ? say('people.hasNoSchoolTransferThem')
            : row.account === 'frozen'
              ? say('people.isSuspendedReinstateThemFirst')
              : null;
    if (why) problems.push({ label: personLabel(row), message: why });
    return why === null;
  });
  const changes: Change[] = [];
  const put = (row: ReadyRow, step: Step) => changes.push({ ...step, label: personLabel(row), subject: row.id });

  const tools = await planningTools(db, config, here);
  for (const row of able) {
    if (row.accountId !== null) continue;
    const facts = { ...row, middleName: row.middleName ?? '', number: row.number ?? '' };
    const username = tools.usernames.give(facts, personKey(row), tools.patternOf?.(row.schoolId!));
    const after: Columns<'account'> = {
      ...{ personId: row.id, username, role: 'student', status: 'active' },
      ...{ secretSealed: tools.sealedSecret(row.id, row.grade), secretVersion: 1, passwordHash: null },
    };
    put(row, creates('account', mint(), after, say('intake.account', { username })));
  }

  const joins = await classes(db, able);
  for (const row of able) {
    const made = joins.get(row.id);
    if (made === null)
      problems.push({
        label: personLabel(row),
        message: say('people.hasNoHomeroomToJoin'),
      });
    for (const one of made ?? []) {
      const after = { personId: row.id, classId: one.id, role: 'student', begins: today, ends: null } as const;
      put(row, creates('enrollment', mint(), after, say('classes.joins', { name: one.name })));
    }
  }

  const seats = await seatsFor(db, config, able, joins);
  changes.push(...seats.changes);
  problems.push(...seats.problems);

  const own = able.filter(
    ({ deviceId, grade }) => deviceId === null && grade !== null && here.settings.oneToOne.includes(grade),
  );
  if (own.length > 0) {
    const { changes: loans, without } = await oneToOne(db, config, {
      school: null,
      personIds: own.map(({ id }) => id),
      kind: 'own',
    });
    changes.push(...loans);
    problems.push(...without.map((label) => ({ label, message: say('people.getsNoDeviceTheSchool') })));
  }
  const whom = new Set(changes.map(({ subject }) => subject));
  return {
    kind: 'ready',
    title: say('people.provisionStudents', { count: whom.size }),
    plan: ordered(changes),
    held: [],
    waiting: problems.map(({ label, message }) => ({ line: 0, message: `${label} ${message}.` })),
    people: ids.length,
    changes: changes.length,
    sentence: tell(changes),
    same: able.length - whom.size,
    problems,
  };
}

async function classes(db: Db, people: readonly ReadyRow[]): Promise<Map<string, Roster[] | null>> {
  const schools = [...new Set(people.flatMap(({ schoolId }) => schoolId ?? []))];
  const [rosters, enrollments] = await Promise.all([
    db.models.class.findAll({
      attributes: ['id', 'schoolId', 'grade', 'kind', 'name'],
      where: { ends: null, schoolId: schools },
      order: [fn('LENGTH', col('name')), 'name'],
      raw: true,
    }),
    joined(db, 'enrollment', {
      fields: ['personId', 'classId'],
      where: { ends: null, role: 'student' },
      whose: { 'class.ends': null, 'class.schoolId': schools },
    }),
  ]);
  const of = new Map(rosters.map(({ id }) => [id, [] as string[]]));
  const isIn = new Map(people.map(({ id }) => [id, new Set<string>()]));
  for (const { personId, classId } of enrollments) {
    of.get(classId)!.push(personId);
    isIn.get(personId)?.add(classId);
  }
  const arrivals = people.map(({ id, schoolId, grade }): Arrival => ({
    id,
    schoolId: schoolId!,
    grade,
    isIn: isIn.get(id)!,
  }));
  return classesFor(
    arrivals,
    rosters.map((roster) => ({ ...roster, students: of.get(roster.id)! })),
  );
}

/** Of each product that they are entitled to, with the classes that they are to join. */
async function seatsFor(
  db: Db,
  config: Config,
  people: readonly ReadyRow[],
  joins: ReadonlyMap<string, Roster[] | null>,
): Promise<{ changes: Change[]; problems: VerbPreview['problems'] }> {
  const state = await readLicenses(db, config);
  const chosen = people.flatMap(({ id }) => state.index.get(id) ?? []);
  const holders = chosen.map((who) => {
    const one = state.people[who]!;
    const more = (joins.get(one.id) ?? []).map(({ id: classId }) => ({
      classId,
      role: 'student' as const,
      ...state.window,
    }));
    return { ...one, stopped: false, classes: [...one.classes, ...more] };
  });
  const changes: Change[] = [];
  const problems: VerbPreview['problems'] = [];
  for (const [productId, list] of needs(holders, state.book, state.window)) {
    const made = giveSeats(
      state,
      productId,
      list.map((need) => ({ ...need, who: chosen[need.who]! })),
    );
    changes.push(...made.changes);
    for (const who of made.without)
      problems.push({ label: state.labels[who]!, message: say('people.getsNoneHasNoOpen', { product: made.product }) });
  }
  return { changes, problems };
}
