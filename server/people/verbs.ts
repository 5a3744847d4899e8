/** Verbs on the sheaf: reads who is gathered, plans, and says beforehand what would happen. */
import { say } from '#core/messages/say';
import { isTheirs, may } from '#core/authority/index';
import { groupBy } from '#core/plan/index';
import type { Person, School, SchoolClass } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { tell } from '#core/register/story';
import { type Gathered, planVerb, type RegisterVerb, type Verb } from '#core/register/verbs';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import type { RecordPair, VerbPreview } from '../contract';
import type { Db } from '../db/connection';
import { inBatches } from '../db/batches';
import { Part } from '../intake/snapshot.queries';
import { heldByAll } from '../plans/guards';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { planHolding } from './holding';
import { groupOf } from '../classes/groups';
import { visible } from './list';
import { planReady } from './ready';
import { sheafIds } from './sheaf';
import { peopleShown } from './shown';
import { endsAfter } from '../db/joined';
import { leftWith } from './left.queries';
import { seatsOnReturn } from './seats-back';

/** Those in the sheaf on whom the viewer may act. Throws Fault when there is nobody, or the verb names a place that is not theirs. */
export async function gatheredIds(db: Db, viewer: Viewer, order: Verb | null): Promise<string[]> {
  if (order) await mayDo(db, viewer, order);
  const ids = await sheafIds(db, viewer.personId);
  const seen = await inBatches(ids, 5000, (some) => visible(db, viewer, some));
  if (seen.length === 0) throw new Fault('invalid', say('people.noOneIsGathered'));
  return seen;
}

/** A teacher puts the children of their own classes into groups and takes them out of a class; all else is for coordinators. */
async function mayDo(db: Db, viewer: Viewer, order: Verb): Promise<void> {
  if (order.verb === 'group') {
    await groupOf(db, viewer, order.groupId);
    return;
  }
  if (!may(viewer, 'people.verbs')) {
    if (order.verb === 'unenroll' && viewer.classIds.includes(order.classId)) return;
    throw new Fault('not-allowed', say('people.onlyCoordinatorsCanDoThis'));
  }
  const classId = 'classId' in order ? order.classId : null;
  const into = classId
    ? await db.models.class.findOne({ attributes: ['schoolId'], where: { id: classId, ends: null }, raw: true })
    : null;
  if (classId && !into) throw new Fault('missing', say('people.thisClassNoLongerExists'));
  const schools = [into?.schoolId ?? null, order.verb === 'move' ? order.schoolId : null];
  if (schools.some((id) => id !== null && !isTheirs(viewer, 'schools', { id })))
    throw new Fault('not-allowed', say('people.thisIsAtASchool'));
}

async function read(
  db: Db,
  ids: string[],
  day: string,
): Promise<{ people: Gathered[]; classes: Map<string, SchoolClass>; rollOvers: string[] }> {
  const { models } = db;
  const by = <T>(ask: (some: string[]) => Promise<T[]>) => inBatches(ids, 5000, ask);
  const open = (personId: string[]) => ({ where: { personId, ends: null }, raw: true }) as const;
  const [people, places, enrollments, memberships, seats, loans, accounts] = await Promise.all([
    by((some) => models.person.findAll({ where: { id: some }, raw: true })),
    by((some) => models.affiliation.findAll(open(some))),
    by((some) => models.enrollment.findAll(open(some))),
    by((some) => models.membership.findAll(open(some))),
    by((some) =>
      models.seat.findAll({
        attributes: ['id', 'personId', 'begins', 'ends'],
        where: { personId: some, ends: endsAfter(day) },
        raw: true,
      }),
    ),
    by((some) => models.loan.findAll({ attributes: ['id', 'personId', 'due'], ...open(some) })),
    by((some) =>
      models.account.findAll({
        attributes: ['id', 'personId', 'username', 'status', 'role'],
        where: { personId: some },
        raw: true,
      }),
    ),
  ]);
  const placeOf = new Map(places.map((place) => [place.personId, place]));
  const accountOf = new Map(accounts.map((account) => [account.personId, account]));
  const enrolled = groupBy(enrollments, (e) => e.personId);
  const grouped = groupBy(memberships, (m) => m.personId);
  const seated = groupBy(seats, (s) => s.personId);
  const lent = groupBy(loans, (l) => l.personId);
  const { left, leftClasses, rollOvers } = await leftWith(
    db,
    people.flatMap(({ id, status }) => (status === 'left' ? id : [])),
  );
  const classes = await inBatches([...new Set(enrollments.map((e) => e.classId))], 5000, (values) =>
    db.models.class.findAll({ where: { id: [...values] }, raw: true }),
  );
  return {
    people: people
      .map((person) => ({
        person,
        place: placeOf.get(person.id) ?? null,
        enrollments: enrolled.get(person.id) ?? [],
        memberships: grouped.get(person.id) ?? [],
        seats: seated.get(person.id) ?? [],
        loans: lent.get(person.id) ?? [],
        account: accountOf.get(person.id) ?? null,
        left: left.get(person.id) ?? null,
      }))
      .sort((a, b) => a.person.familyName.localeCompare(b.person.familyName, 'en')),
    classes: new Map([...leftClasses, ...classes.map((one) => [one.id, one] as const)]),
    rollOvers,
  };
}

async function heirOf(db: Db, id: string): Promise<{ person: Person; teaches: Set<string> }> {
  const person = await db.models.person.findOne({ where: { id, role: 'staff', status: 'active' }, raw: true });
  if (!person) throw new Fault('invalid', say('people.thePersonWhoTakesOver'));
  const taught = await db.models.enrollment.findAll({
    attributes: ['classId'],
    where: { personId: id, ends: null, role: 'teacher' },
    raw: true,
  });
  return { person, teaches: new Set(taught.map(({ classId }) => classId)) };
}

/** The plan of the verb for these people. */
export async function planFor(
  { db, config }: Pick<Services, 'db' | 'config'>,
  ids: string[],
  order: Verb,
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'held' | 'waiting'> & VerbPreview> {
  if (order.verb === 'seats' || order.verb === 'devices') return planHolding(db, config, ids, order);
  if (order.verb === 'ready') return planReady(db, config, ids);
  const { people, classes, rollOvers } = await read(db, ids, config.today());
  const group =
    order.verb === 'group' ? await db.models.group.findOne({ where: { id: order.groupId }, raw: true }) : null;
  const named = 'classId' in order ? order.classId : (group?.classId ?? null);
  const target = named ? await db.models.class.findOne({ where: { id: named }, raw: true }) : null;
  if (target) classes.set(target.id, target);
  if (
    target?.kind === 'template' &&
    (order.verb === 'enroll' || order.verb === 'move') &&
    people.some(({ person }) => person.role === 'student')
  )
    throw new Fault('invalid', say('people.isForStaffOnlyChoose', { name: target.name }));
  const schools = new Map(
    (
      await db.models.school.findAll({ attributes: ['id', 'name', 'code', 'kind', 'lowGrade', 'highGrade'], raw: true })
    ).map((s) => [s.id, s]),
  );
  const planned = planVerb(people, order, {
    schools,
    classes,
    group,
    heir: order.verb === 'leave' && order.heirId ? await heirOf(db, order.heirId) : null,
    date: config.today(),
    rollOvers,
    mint,
  });
  const { same, problems } = planned;
  const back = new Set(people.flatMap(({ person }) => (person.status === 'left' ? person.id : [])));
  const seats =
    (order.verb === 'move' || order.verb === 'return') && back.size > 0
      ? await seatsOnReturn(db, config, planned.plan, back)
      : [];
  const plan = seats.length > 0 ? ordered([...planned.plan.changes, ...seats]) : planned.plan;
  const held = await heldByAll(db, undefined, order.verb, plan.changes);
  const count = people.length - problems.length - same;
  const who = say('plan.count', { entity: 'person', n: count });
  return {
    kind: order.verb,
    title: titleOf(order, who, group?.name ?? target?.name ?? '', schools),
    plan,
    held,
    waiting: problems.map(({ label, message }) => ({ line: 0, message: `${label} ${message}.` })),
    people: people.length,
    changes: plan.changes.length,
    sentence: tell(plan.changes),
    same,
    problems,
  };
}

function titleOf(order: RegisterVerb, who: string, name: string, schools: ReadonlyMap<string, School>): string {
  switch (order.verb) {
    case 'enroll':
      return say('people.enrollIn', { who, name });
    case 'unenroll':
      return say('people.removeFrom', { who, name });
    case 'move':
      return order.schoolId
        ? say('people.transferTo', { who, name: schools.get(order.schoolId)?.name })
        : say('people.changeGradeOf', { who });
    case 'group':
      return order.out ? say('people.removeFrom', { who, name }) : say('people.addTo', { who, name });
    case 'hold':
      return say('people.suspend', { who });
    case 'release':
      return say('people.reinstate', { who });
    case 'leave':
      return say('people.withdraw', { who });
    case 'return':
      return say('people.enrollAgain', { who });
  }
}

/** The two who are gathered, to be merged; no evidence, since nothing says that they are one but the person who asks. */
export async function gatheredPair(db: Db, viewer: Viewer): Promise<RecordPair> {
  const ids = await visible(db, viewer, await sheafIds(db, viewer.personId));
  if (ids.length !== 2) throw new Fault('invalid', say('people.gatherTwoPeopleToMerge', { count: ids.length }));
  const part = new Part(db);
  part.people(ids);
  const shown = peopleShown(await part.snapshot());
  // The record that is older on file stays, as elsewhere.
  const [one, two] = [...ids].sort() as [string, string];
  return { one: shown(one), two: shown(two), bits: 0, never: null, evidence: [] };
}
