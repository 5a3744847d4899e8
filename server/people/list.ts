/**
 * The worksheet of people: filtered, sorted, paged by key, with counts for each facet. Who is shown is told from the
 * roll; what a page shows of them is read for its rows alone.
 */
import { say } from '#core/messages/say';
import { conditionOf, holds, isEverywhere, scopeOf, theirRows, withFields } from '#core/authority/index';
import type {
  Facet,
  Lack,
  PeopleFacets,
  PeopleFilter,
  PeoplePage,
  PeopleSort,
  PersonRow,
  SeatState,
  Standing,
} from '../contract';
import { z } from 'zod';
import { orNone } from '../db/batches';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import type { Db } from '../db/connection';
import { fold, squash } from '#core/names/index';
import { groupBy } from '#core/plan/index';
import { gradeLabel, grades } from '#core/tabular/index';
import { newPeopleOf } from '../plans/store';
import { groupTest } from './membership';
import { comparer, lackBits, lacks, numberEnd, type OnRoll, type Roll } from './roll';
import { joined } from '../db/joined';
import { shownRows } from './queries';

const lackLabels: Record<Lack, string> = {
  account: say('people.lackAccount'),
  class: say('people.lackClass'),
  seats: say('people.lackSeat'),
  device: say('people.lackDevice'),
  card: say('people.lackCard'),
  'signed-in': say('people.lackSignIn'),
};
const lackNames = Object.keys(lackLabels) as Lack[];

/** Whether somebody on the roll is the viewer's. */
export function inSight(viewer: Viewer): (one: OnRoll) => boolean {
  const condition = conditionOf(scopeOf(viewer), 'people');
  return (one) => holds(condition, one);
}

/** Facets in which one value is chosen; each counts as if nothing were chosen in itself. */
const facetBits = { school: 1, grade: 2, role: 4, classId: 8, lacks: 16, status: 32 } as const;
/** Fails for another reason than a facet. */
const out = 64;

const standingLabels: Record<Standing, string> = {
  held: say('people.suspended'),
  past: say('people.onlyInEndedClasses'),
  left: say('people.withdrawn'),
};
const standings = Object.keys(standingLabels) as Standing[];
const stands: Record<Standing | 'active', (one: OnRoll) => boolean> = {
  active: ({ status }) => status === 'active',
  left: ({ status }) => status === 'left',
  held: ({ status, account }) => status === 'active' && account === 'frozen',
  past: ({ status, role, classes, hadClass }) =>
    status === 'active' && role === 'student' && classes.length === 0 && hadClass,
};

const seatStands: Record<SeatState, (one: OnRoll, product: string) => boolean> = {
  holds: ({ seats }, product) => seats.includes(product),
  lacks: ({ needs, seats }, product) => needs.includes(product) && !seats.includes(product),
  spare: ({ needs, seats }, product) => seats.includes(product) && !needs.includes(product),
};

/** Tells which of the conditions a person of the list fails, as bits; 0: none. */
async function failing(
  db: Db,
  viewer: Viewer,
  filter: PeopleFilter,
  everyone: readonly OnRoll[],
): Promise<(one: OnRoll) => number> {
  const sees = inSight(viewer);
  const { school, grade, role, classId, lacks: lack } = filter;
  const stand = stands[filter.status ?? 'active'];
  const gathered = filter.gathered
    ? new Set(
        (
          await db.models.sheaves.findAll({ attributes: ['personId'], where: { ownerId: viewer.personId }, raw: true })
        ).map(({ personId }) => personId),
      )
    : null;
  const inGroup = filter.group ? await groupTest(db, filter.group) : null;
  const isNew = filter.plan ? await newPeopleOf(db, filter.plan) : null;
  const { product, seat } = filter;
  const lackBit = lack === undefined ? 0 : lackBits[lack];
  const needles = wordsOf(filter.q);
  // The longest word is looked for in all at once; the others in those few.
  const longest = needles.toSorted((a, b) => b[0]!.length - a[0]!.length)[0];
  const few = longest && longest[0]!.length > 3 ? foundAtOnce(everyone, longest) : null;
  return (one) => {
    if (gathered && !gathered.has(one.id)) return out;
    if (filter.card && (one.card !== filter.card || one.account === null)) return out;
    if (product && !seatStands[seat ?? 'holds'](one, product)) return out;
    if (!sees(one) || (inGroup && !inGroup(one)) || (isNew && !isNew.has(one.id))) return out;
    if (few && !few.has(one)) return out;
    for (const words of needles) if (!words.some((word) => one.text.includes(word))) return out;
    return (
      (school !== undefined && one.schoolId !== school ? facetBits.school : 0) |
      (grade !== undefined && one.grade !== grade ? facetBits.grade : 0) |
      (role !== undefined && one.role !== role ? facetBits.role : 0) |
      (classId !== undefined && !one.classes.includes(classId) ? facetBits.classId : 0) |
      (lackBit !== 0 && (one.lacking & lackBit) === 0 ? facetBits.lacks : 0) |
      (stand(one) ? 0 : facetBits.status)
    );
  };
}

/**
 * Each word must begin a part of the name, the number or the username: "an wr" finds Anstruther, Wren. Numbers are known
 * by their end as well. What to look for in the text of a person; one of them is enough.
 */
function needlesOf(word: string): string[] {
  const begin = ` ${fold(word).replaceAll('-', ' ').trim()}`;
  // Usernames are plain letters: o'neil is looked for as oneil as well.
  const plain = ` ${squash(word)}`;
  const needles = [begin, ...(plain === begin ? [] : [plain])].filter((needle) => needle.length > 1);
  return word.length > 2 ? [...needles, `${word.toLowerCase()}${numberEnd}`] : needles.length > 0 ? needles : ['\n'];
}

const wordsOf = (q = ''): string[][] =>
  q
    .split(/[\s,]+/)
    .filter(Boolean)
    .slice(0, 5)
    .map(needlesOf);

/** Whether all words of what was typed begin a part of the name, the number or the username of somebody. */
export function finder(q: string): (one: Pick<OnRoll, 'text'>) => boolean {
  const words = wordsOf(q);
  return ({ text }) => words.every((needles) => needles.some((needle) => text.includes(needle)));
}

/** Everyone's text in one, and where each begins: looking through it is many times as fast as through each. */
const texts = new WeakMap<readonly OnRoll[], { text: string; starts: Int32Array }>();
/** Above so many hits it is quicker to look at each. */
const mostHits = 5000;

function foundAtOnce(everyone: readonly OnRoll[], needles: readonly string[]): Set<OnRoll> | null {
  let all = texts.get(everyone);
  if (!all) {
    const starts = new Int32Array(everyone.length + 1);
    everyone.forEach(({ text }, i) => (starts[i + 1] = starts[i]! + text.length + 1));
    texts.set(everyone, (all = { text: everyone.map(({ text }) => text).join('\n'), starts }));
  }
  const { text, starts } = all;
  const found = new Set<OnRoll>();
  for (const needle of needles)
    for (let at = text.indexOf(needle); at >= 0;) {
      let [low, high] = [0, everyone.length - 1];
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (starts[middle]! <= at) low = middle;
        else high = middle - 1;
      }
      found.add(everyone[low]!);
      if (found.size > mostHits) return null;
      at = text.indexOf(needle, starts[low + 1]);
    }
  return found;
}

/** Grades in the order of age: K before 1. 0 for none. */
export const gradeOrder = (column: string): string =>
  `COALESCE(FIELD(${column}, ${grades.map((grade) => `'${grade}'`).join(', ')}), 0)`;

export async function peoplePage(
  roll: Roll,
  viewer: Viewer,
  filter: PeopleFilter,
  page: { sort: PeopleSort; then?: PeopleSort | undefined; desc: boolean; after?: string; limit: number },
): Promise<PeoplePage> {
  const { db } = roll;
  const all = await roll.inOrder(page.sort, page.then);
  const fails = await failing(db, viewer, filter, all);
  const list = filter.school ? ofSchool(all, filter.school) : all;
  const compare = comparer(page.sort, page.then);
  const step = page.desc ? -1 : 1;
  let at = page.desc ? list.length - 1 : 0;
  if (page.after) {
    const key = keyFrom(page.after);
    // The first that comes after the key, also where whoever had it is gone.
    let [low, high] = [0, list.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (compare(list[middle]!, key) < (page.desc ? 0 : 1)) low = middle + 1;
      else high = middle;
    }
    at = page.desc ? low - 1 : low;
  }
  const shown: OnRoll[] = [];
  for (; at >= 0 && at < list.length && shown.length <= page.limit; at += step)
    if (fails(list[at]!) === 0) shown.push(list[at]!);
  const more = shown.length > page.limit;
  if (more) shown.pop();
  return { rows: await rowsOf(db, viewer, shown), next: more ? keyOf(shown.at(-1)!) : null };
}

/** Those of one school in the same order; sorted out once for each state of the roll. */
const bySchool = new WeakMap<readonly OnRoll[], Map<string | null, OnRoll[]>>();
function ofSchool(all: readonly OnRoll[], school: string): readonly OnRoll[] {
  let schools = bySchool.get(all);
  if (!schools) bySchool.set(all, (schools = groupBy(all, ({ schoolId }) => schoolId)));
  return schools.get(school) ?? [];
}

async function rowsOf(db: Db, viewer: Viewer, shown: OnRoll[]): Promise<PersonRow[]> {
  if (shown.length === 0) return [];
  const rows = await shownRows(
    db,
    viewer.personId,
    shown.map(({ id }) => id),
  );
  const byId = new Map(rows.map((row) => [row.id, row]));
  return shown.flatMap((one) => {
    const row = byId.get(one.id);
    if (!row) return [];
    const { isGathered, ...rest } = row;
    return [
      { ...withFields(viewer, rest), lacks: lackNames.filter((lack) => lacks(one, lack)), gathered: isGathered === 1 },
    ];
  });
}

const pageKey = z.tuple([z.string(), z.string(), z.string(), z.string(), z.string().nullable(), z.string()]);
const keyOf = ({ sortFamily, sortGiven, number, username, grade, id }: OnRoll): string =>
  Buffer.from(JSON.stringify([sortFamily, sortGiven, number, username, grade, id])).toString('base64url');

/** The key after which a page begins, as the page before gave it. Throws Fault invalid when it is none. */
function keyFrom(text: string): Pick<OnRoll, 'sortFamily' | 'sortGiven' | 'number' | 'username' | 'grade' | 'id'> {
  try {
    const [sortFamily, sortGiven, number, username, grade, id] = pageKey.parse(
      JSON.parse(Buffer.from(text, 'base64url').toString('utf8')),
    );
    return { sortFamily, sortGiven, number, username, grade, id };
  } catch {
    throw new Fault('invalid', say('people.afterThisIsNotThe'));
  }
}

/** Counts under each facet, with that facet's own choice left open so that another value can be chosen. */
export async function peopleFacets(roll: Roll, viewer: Viewer, filter: PeopleFilter): Promise<PeopleFacets> {
  const { db } = roll;
  // A class is of use once the list is narrowed: a district's thousands of classes help nobody.
  const isNarrow = filter.school || filter.grade || filter.classId || filter.gathered || !isEverywhere(viewer);
  const people = await roll.everyone();
  const fails = await failing(db, viewer, filter, people);
  const { schoolIds } = roll;
  const counts = {
    school: new Int32Array(schoolIds.length),
    grade: new Int32Array(grades.length + 1),
    student: 0,
    staff: 0,
    classId: new Map<string, number>(),
    lacks: new Int32Array(1 << lackNames.length),
    status: { held: 0, past: 0, left: 0 },
  };
  let total = 0;
  for (const one of people) {
    const failed = fails(one);
    if (failed === 0) total++;
    // Whoever fails in more than one facet counts nowhere; who fails in one alone counts there, under the other values.
    if ((failed & (failed - 1)) !== 0 || failed === out) continue;
    if ((failed & ~facetBits.school) === 0 && one.schoolAt >= 0) counts.school[one.schoolAt]!++;
    if ((failed & ~facetBits.grade) === 0) counts.grade[one.gradeAt]!++;
    if ((failed & ~facetBits.role) === 0) counts[one.role]++;
    if ((failed & ~facetBits.lacks) === 0) counts.lacks[one.lacking]!++;
    if ((failed & ~facetBits.status) === 0)
      for (const standing of standings) if (stands[standing](one)) counts.status[standing]++;
    if (isNarrow && (failed & ~facetBits.classId) === 0)
      for (const id of one.classes) counts.classId.set(id, (counts.classId.get(id) ?? 0) + 1);
  }
  const [schools, classes] = await Promise.all([
    db.models.school.findAll({ attributes: ['id', 'name'], order: ['name'], raw: true }),
    db.models.class.findAll({
      attributes: ['id', 'name'],
      where: { kind: 'homeroom', id: [...orNone([...counts.classId.keys()])] },
      order: ['name'],
      limit: 200,
      raw: true,
    }),
  ]);
  const facet = (value: string, label: string, count: number): Facet[] => (count > 0 ? [{ value, label, count }] : []);
  const ofSchool = new Map(schoolIds.map((id, i) => [id, counts.school[i]!]));
  const lacking = (bit: number) => counts.lacks.reduce((sum, n, bits) => (bits & bit ? sum + n : sum), 0);
  return {
    total,
    school: schools.flatMap(({ id, name }) => facet(id, name, ofSchool.get(id) ?? 0)),
    grade: grades.flatMap((grade, i) => facet(grade, gradeLabel(grade), counts.grade[i + 1]!)),
    role: [
      ...facet('staff', say('people.roleStaff'), counts.staff),
      ...facet('student', say('people.roleStudent'), counts.student),
    ],
    class: classes.flatMap(({ id, name }) => facet(id, name, counts.classId.get(id)!)),
    lacks: lackNames.flatMap((lack) => facet(lack, lackLabels[lack], lacking(lackBits[lack]))),
    status: standings.flatMap((standing) => facet(standing, standingLabels[standing], counts.status[standing])),
  };
}

/** Ids of all that the filter shows. */
export async function idsOf(roll: Roll, viewer: Viewer, filter: PeopleFilter): Promise<string[]> {
  const people = await roll.everyone();
  const fails = await failing(roll.db, viewer, filter, people);
  const ids: string[] = [];
  for (const one of people) if (fails(one) === 0) ids.push(one.id);
  return ids;
}

/** Those of the ids whom the viewer may see. */
export async function visible(db: Db, viewer: Viewer, ids: string[]): Promise<string[]> {
  const within = [theirRows(viewer, 'people', 'person')];
  return (await joined(db, 'person', { fields: ['id'], where: { id: ids }, within })).map(({ id }) => id);
}
