/** Today: what waits for a person, and how ready each school and class is; and the ticks of the year ribbon. */
import { say } from '#core/messages/say';
import { addDays, dayWords } from '#core/time/index';
import { groupBy } from '#core/plan/index';
import { calendarSheet } from './year/calendar';
import { isTheirs, may, scopeKey, theirWork } from '#core/authority/index';
import { gradeLabel } from '#core/tabular/index';
import type { Handouts, HandoutClass, RibbonTick, Today, TodayPlace } from './contract';
import type { Viewer } from './services';
import { clock, nowIso } from './clock';
import type { Db } from './db/connection';
import { district } from './district';
import { firstSteps } from './first-steps';
import { noticesOf } from './notices';
import { foreseePurge } from './retention/foresee';
import { countWaiting } from './joining/requests';
import { inSight } from './people/list';
import { gradeRank, lacks, type OnRoll, type Roll } from './people/roll';
import { Op } from 'sequelize';
import { spokenName } from '#core/register/index';
import { linesLeft } from './intake/reader';
import { joined } from './db/joined';
import { homeroomsNow, licenseDays, movedSince } from './today.queries';

type Readiness = Today['readiness'][number];
type Line = Omit<Readiness, 'id' | 'name' | 'parent'>;

const nobody = (): Line => ({
  people: 0,
  link: { account: 0, class: 0, seats: 0, device: 0, card: 0, 'signed-in': 0 },
});

function count(line: Line, one: OnRoll): void {
  line.people++;
  if (one.account === 'active') line.link.account++;
  if (one.classes.length > 0) line.link.class++;
  if (!lacks(one, 'seats')) line.link.seats++;
  if (!lacks(one, 'device')) line.link.device++;
  if (one.card === 'holds') line.link.card++;
  if (one.signedIn) line.link['signed-in']++;
}

const isAt = ({ schoolId, grade, classes }: OnRoll, place: TodayPlace): boolean =>
  (!place.school || schoolId === place.school) &&
  (!place.grade || grade === place.grade) &&
  (!place.classId || classes.includes(place.classId));

/** `day`: yyyy-mm-dd. `place`: students of that school, grade and class alone. */
export async function today(roll: Roll, viewer: Viewer, day: string, place: TodayPlace = {}): Promise<Today> {
  const { db } = roll;
  const [schools, people] = await Promise.all([
    db.models.school.findAll({ attributes: ['id', 'name'], order: ['name'], raw: true }),
    roll.everyone(),
  ]);
  const sees = inSight(viewer);
  const counted = new Map<string, { all: Line; grades: Map<string, Line> }>();
  let outdated = 0;
  for (const one of people) {
    if (one.role !== 'student' || one.status !== 'active' || !sees(one) || !isAt(one, place)) continue;
    if (one.card === 'outdated' && one.account) outdated++;
    if (one.schoolId === null) continue;
    let at = counted.get(one.schoolId);
    if (!at) counted.set(one.schoolId, (at = { all: nobody(), grades: new Map() }));
    count(at.all, one);
    if (one.grade === null) continue;
    let line = at.grades.get(one.grade);
    if (!line) at.grades.set(one.grade, (line = nobody()));
    count(line, one);
  }
  const readiness = schools.flatMap(({ id, name }): Readiness[] => {
    const at = counted.get(id);
    if (!at) return [];
    const grades = [...at.grades].sort(([a], [b]) => gradeRank(a) - gradeRank(b));
    return [
      { id, name, parent: null, ...at.all },
      ...grades.map(([grade, line]) => ({
        id: `${id}:${grade}`,
        name: say('today.grade', { grade: gradeLabel(grade) }),
        parent: id,
        ...line,
      })),
    ];
  });
  return { steps: await firstSteps(db, viewer), waits: await waits(db, viewer, day, outdated), readiness };
}

/** `outdated`: how many printed cards are out of date. */
async function waits(db: Db, viewer: Viewer, day: string, outdated: number): Promise<Today['waits']> {
  const found: Today['waits'] = [];
  const asking = await countWaiting(db, viewer);
  if (asking > 0)
    found.push({
      id: 'requests',
      text: say('today.joinRequests', { n: asking }),
      action: say('today.review'),
      to: '/requests',
      urgency: 85,
    });
  for (const { id, words } of await noticesOf(db, viewer.personId))
    found.push({ id: `notice:${id}`, text: words, action: say('today.openClasses'), to: '/classes', urgency: 40 });
  const mine = theirWork(viewer, 'createdBy');
  const plans = await joined(db, 'plans', {
    fields: ['id', 'title', 'held', 'releases', 'changes'],
    where: { status: 'ready' },
    within: [mine],
    order: ['-createdAt'],
    limit: 20,
  });
  for (const plan of plans) {
    const held =
      (JSON.parse(plan.held) as { message: string }[]).length > (JSON.parse(plan.releases) as unknown[]).length;
    found.push({
      id: plan.id,
      text: held
        ? say('today.heldByAGuard', { title: plan.title })
        : say('today.notAppliedYet', { title: plan.title, n: plan.changes }),
      action: say('today.openPlan'),
      to: `/plans/${plan.id}`,
      urgency: held ? 90 : 70,
    });
  }
  if (!may(viewer, 'imports')) return found;
  const intakes = await joined(db, 'intakes', {
    fields: ['id', 'fileName'],
    where: { status: 'open' },
    within: [mine],
    order: ['-createdAt'],
    limit: 20,
  });
  for (const intake of intakes)
    found.push({
      id: intake.id,
      text: say('today.importInProgress', { fileName: intake.fileName }),
      action: say('today.continue'),
      to: `/imports/${intake.id}`,
      urgency: 60,
    });
  const applied = await joined(db, 'intakes', {
    fields: ['id', 'fileName'],
    where: { status: 'applied' },
    within: [mine],
    order: ['-createdAt'],
    limit: 20,
  });
  const left = await linesLeft(
    db,
    applied.map(({ id }) => id),
  );
  for (const { id, fileName } of applied) {
    const n = left.get(id)?.length ?? 0;
    if (n > 0)
      found.push({
        id: `left:${id}`,
        text: say('today.rowsNeedReview', { fileName, n }),
        action: say('today.review'),
        to: `/imports/${id}`,
        urgency: 65,
      });
  }
  if (outdated > 0)
    found.push({
      id: 'cards',
      text: say('today.cardsOutOfDate', { n: outdated }),
      action: say('today.printCards'),
      to: '/handouts?wide=outdated',
      urgency: 80,
    });
  found.push(...(await transfers(db, viewer, day)));
  return found.sort((a, b) => b.urgency - a.urgency);
}

const transferDays = 14;
const someOf = (names: readonly string[]): string => names.slice(0, 4).join(', ') + (names.length > 4 ? ' …' : '');

/** Who moved between two schools lately, a line for each way: both schools see it. */
async function transfers(db: Db, viewer: Viewer, day: string): Promise<Today['waits']> {
  const since = addDays(day, -transferDays);
  const moved = await movedSince(db, since);
  const ways = new Map<string, { say: (names: string[]) => string; names: string[] }>();
  for (const { toId, fromId, toName, fromName, name } of moved) {
    if (![toId, fromId].some((id) => isTheirs(viewer, 'schools', { id }))) continue;
    // The old school is told that they left, and no more.
    const knows = isTheirs(viewer, 'schools', { id: toId });
    const key = knows ? `${fromId}>${toId}` : fromId;
    const way = ways.get(key) ?? {
      say: (names: string[]) =>
        knows
          ? say('today.transferred', { n: names.length, from: fromName, to: toName, names: someOf(names) })
          : say('today.left', { n: names.length, from: fromName, names: someOf(names) }),
      names: [],
    };
    way.names.push(name);
    ways.set(key, way);
  }
  return [...ways].map(([key, way]) => ({
    id: `moved:${key}`,
    text: way.say(way.names),
    action: say('today.openLedger'),
    to: '/ledger',
    urgency: 30,
  }));
}

/** Prints and imports that the ribbon looks back on, at most. */
const lately = 400;

export async function ribbon(db: Db, day: string): Promise<RibbonTick[]> {
  const here = (await district(db))!;
  const { year, terms, daysOff } = await calendarSheet(db, here);
  const { retention } = here.settings;
  const applied = await joined(db, 'ledger', {
    fields: ['at'],
    of: { title: 'plan.title', planId: 'plan.id' },
    where: { action: 'apply' },
    whose: { 'plan.kind': 'import', 'plan.status': 'applied' },
    order: ['-version'],
    limit: lately,
  });
  const entries = [...groupBy(applied, ({ at }) => clock.dayOf(at))].map(([day, all]) => ({ day, all }));
  const printed = await db.models.prints.findAll({
    attributes: ['at', 'cards'],
    order: [['at', 'DESC']],
    limit: lately,
  });
  const prints = [...groupBy(printed, ({ at }) => clock.dayOf(at))].map(([day, all]) => ({
    day,
    cards: all.reduce((sum, { cards }) => sum + cards, 0),
  }));
  const licenses = await licenseDays(db, addDays(year.begins, -60), addDays(year.ends, 40));
  const purges = (await foreseePurge(db, retention, day)).flatMap(({ kind, due, ahead }) =>
    kind === 'leavers' || kind === 'files'
      ? [...(due > 0 ? [{ day, count: due, kind }] : []), ...ahead.map((one) => ({ ...one, kind }))]
      : [],
  );
  return [
    ...purges.map(({ day: date, count, kind }) => ({
      date,
      text: say('today.dueToBePurged', { kind, n: count }),
      to: '/year/retention',
      kind: 'purge' as const,
    })),
    { date: year.begins, text: say('today.schoolOpens'), to: null, kind: 'year' as const },
    { date: year.ends, text: say('today.yearEnds'), to: null, kind: 'year' as const },
    ...terms
      .filter(({ begins }) => begins !== year.begins)
      .map(({ name, begins: date }) => ({
        date,
        text: say('today.termBegins', { name }),
        to: null,
        kind: 'year' as const,
      })),
    ...daysOff.map(({ name, begins: date, ends }) => ({
      ...{ date, to: null, kind: 'year' as const },
      text: ends === date ? name : say('today.until', { name, day: dayWords(ends, day) }),
    })),
    ...entries.map(({ day, all }) => ({
      date: day,
      text: all.length > 1 ? say('today.imports', { n: all.length }) : all[0]!.title,
      to: `/plans/${all[0]!.planId}`,
      kind: 'import' as const,
    })),
    ...licenses.map(({ day, product, n, begins }) => ({
      date: day,
      text: say(begins === 1 ? 'today.licensesBegin' : 'today.licensesEnd', { n, product }),
      to: '/licenses',
      kind: 'license' as const,
    })),
    ...prints.map(({ day, cards }) => ({
      date: day,
      text: say('today.cardsPrinted', { n: cards }),
      to: '/handouts',
      kind: 'print' as const,
    })),
  ];
}

type Cards = Pick<HandoutClass, 'students' | 'outdated' | 'missing'>;
/** By who looks, for each state of the roll, which is a new list whenever anything in it changes. */
const cardsCounted = new WeakMap<readonly OnRoll[], Map<string, Map<string, Cards>>>();

function cardsOf(everyone: readonly OnRoll[], viewer: Viewer): Map<string, Cards> {
  const known = cardsCounted.get(everyone) ?? new Map<string, Map<string, Cards>>();
  cardsCounted.set(everyone, known);
  const who = scopeKey(viewer);
  const there = known.get(who);
  if (there) return there;
  const sees = inSight(viewer);
  const counts = new Map<string, Cards>();
  for (const one of everyone) {
    if (one.account === null || !sees(one)) continue;
    for (const id of one.classes) {
      let at = counts.get(id);
      if (!at) counts.set(id, (at = { students: 0, outdated: 0, missing: 0 }));
      at.students++;
      if (one.card === null) at.missing++;
      if (one.card === 'outdated') at.outdated++;
    }
  }
  known.set(who, counts);
  return counts;
}

/** Homerooms with the state of their cards, and the last prints. */
export async function handouts(roll: Roll, viewer: Viewer): Promise<Handouts> {
  const { db } = roll;
  const counts = cardsOf(await roll.everyone(), viewer);
  const classes = (await homeroomsNow(db)).flatMap((row) => {
    const at = counts.get(row.classId);
    return at ? [{ ...row, ...at }] : [];
  });
  const now = nowIso();
  const prints = await joined(db, 'prints', {
    fields: ['id', 'at', 'what', 'cards', 'paper'],
    of: { familyName: 'byPerson.familyName', givenName: 'byPerson.givenName' },
    within: [theirWork(viewer, '`prints`.byPersonId')],
    order: ['-at'],
    limit: 30,
  });
  const kept = new Set(
    (
      await db.models.prints.findAll({
        attributes: ['id'],
        where: { byPersonId: viewer.personId, sealedPdf: { [Op.ne]: null }, fetchUntil: { [Op.gt]: now } },
        raw: true,
      })
    ).map(({ id }) => id),
  );
  return {
    classes,
    prints: prints.map(({ id, at, what, cards, paper, ...name }) => ({
      ...{ id, at, by: spokenName(name), what, cards, paper, canFetch: kept.has(id) },
    })),
  };
}
