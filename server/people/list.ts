/**
 * The worksheet of people: filtered, sorted, paged by key, with counts for each facet. A person's place is the open
 * affiliation; what is lacking is told from what is there, nothing of it is stored.
 */
import type { Lack, PeopleFacets, PeopleFilter, PeoplePage, PeopleSort, PersonRow, Facet } from '../api/contract';
import { z } from 'zod';
import { Fault, mayBeSeen, orNone, type Viewer } from '../api/context';
import type { Db, Params } from '../db/connection';
import { squash } from '#core/names/index';
import { gradeLabel, grades } from '#core/tabular/index';

interface Where {
  sql: string;
  params: Params;
}

/** A card holds while it is not void and its secret is the account's present one. */
export const cardHolds =
  'EXISTS (SELECT 1 FROM printed_cards pc WHERE pc.personId = p.id AND pc.voidedAt IS NULL AND pc.secretVersion = ac.secretVersion)';
const lackSql: Record<Lack, string> = {
  class:
    "(p.role = 'student' AND NOT EXISTS (SELECT 1 FROM enrollments le WHERE le.personId = p.id AND le.ends IS NULL))",
  card: `(p.role = 'student' AND ac.id IS NOT NULL AND NOT ${cardHolds})`,
  'signed-in': '(ac.id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sign_ins si WHERE si.personId = p.id))',
};
export const lackLabels: Record<Lack, string> = { class: 'class', card: 'card', 'signed-in': 'first sign-in' };

const from = `FROM people p
  LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
  LEFT JOIN accounts ac ON ac.personId = p.id`;

/** The tables that a condition speaks of; the place is always joined, the account only where it is asked for. */
const fromFor = (condition: string): string =>
  `FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL${condition.includes('ac.') ? ' LEFT JOIN accounts ac ON ac.personId = p.id' : ''}`;

function whereOf(viewer: Viewer, filter: PeopleFilter, leave?: keyof PeopleFilter): Where {
  const scope = mayBeSeen(viewer);
  const parts = [scope.sql];
  const params: Params = { ...scope.params };
  const add = (key: keyof PeopleFilter, sql: string, more: Params = {}) => {
    if (filter[key] === undefined || key === leave) return;
    parts.push(sql);
    Object.assign(params, more);
  };
  if (filter.status === 'held') parts.push("ac.status = 'frozen'");
  parts.push('p.status = :status');
  params.status = filter.status === 'left' ? 'left' : 'active';
  add('school', 'a.schoolId = :school', { school: filter.school ?? null });
  add('grade', 'a.grade = :grade', { grade: filter.grade ?? null });
  add('role', 'p.role = :role', { role: filter.role ?? null });
  add(
    'classId',
    "EXISTS (SELECT 1 FROM enrollments fe WHERE fe.personId = p.id AND fe.ends IS NULL AND fe.classId = :classId AND fe.role = 'student')",
    { classId: filter.classId ?? null },
  );
  if (filter.lacks && leave !== 'lacks') parts.push(lackSql[filter.lacks]);
  if (filter.gathered) {
    parts.push('EXISTS (SELECT 1 FROM sheaves sh WHERE sh.ownerId = :owner AND sh.personId = p.id)');
    params.owner = viewer.personId;
  }
  // Each word must begin a part of the name, the number or the username: "an wr" finds Anstruther, Wren.
  (filter.q ?? '')
    .split(/[\s,]+/)
    .filter(Boolean)
    .slice(0, 5)
    .forEach((word, i) => {
      const escaped = word.replace(/[\\%_]/g, (c) => `\\${c}`);
      parts.push(`(p.familyName LIKE :q${i} OR p.familyName LIKE :s${i} OR p.familyName LIKE :h${i} OR p.givenName LIKE :q${i} OR p.givenName LIKE :s${i}
      OR p.middleName LIKE :q${i} OR p.number LIKE :q${i} OR p.number LIKE :e${i}
      OR p.id IN (SELECT ua.personId FROM accounts ua WHERE ua.username LIKE :l${i}))`);
      Object.assign(params, {
        [`q${i}`]: `${escaped}%`,
        [`s${i}`]: `% ${escaped}%`,
        [`h${i}`]: `%-${escaped}%`,
        [`e${i}`]: word.length > 2 ? `%${escaped}` : '-',
        // Usernames are plain ASCII, and so is what is looked for among them.
        [`l${i}`]: `${squash(word) || '-'}%`,
      });
    });
  return { sql: parts.join(' AND '), params };
}

/** Grades in the order of age: K before 1. 0 for none. */
export const gradeOrder = (column: string): string =>
  `COALESCE(FIELD(${column}, ${grades.map((grade) => `'${grade}'`).join(', ')}), 0)`;

const sortSql: Record<PeopleSort, string[]> = {
  family: ['p.familyName', 'p.givenName'],
  given: ['p.givenName', 'p.familyName'],
  number: ["COALESCE(p.number, '')", 'p.familyName'],
  grade: [gradeOrder('a.grade'), 'p.familyName'],
  username: ["COALESCE(ac.username, '')", 'p.familyName'],
};

export async function peoplePage(
  db: Db,
  viewer: Viewer,
  filter: PeopleFilter,
  page: { sort: PeopleSort; desc: boolean; after?: string; limit: number },
): Promise<PeoplePage> {
  const where = whereOf(viewer, filter);
  const [first, second] = sortSql[page.sort] as [string, string];
  const direction = page.desc ? 'DESC' : 'ASC';
  const compare = page.desc ? '<' : '>';
  let after = '';
  if (page.after) {
    const [k1, k2, id] = keyFrom(page.after);
    after = `AND (${first} ${compare} :k1 OR (${first} = :k1 AND (${second} ${compare} :k2 OR (${second} = :k2 AND p.id ${compare} :kid))))`;
    Object.assign(where.params, { k1, k2, kid: id });
  }
  type Raw = Omit<PersonRow, 'lacks' | 'gathered'> & {
    k1: string;
    k2: string;
    lackClass: number;
    lackCard: number;
    lackSignIn: number;
    isGathered: number;
  };
  const rows = await db.select<Raw>(
    `SELECT p.id, p.familyName, p.givenName, p.number, p.role, a.grade, s.name AS school, ac.username, ${first} AS k1, ${second} AS k2,
       (SELECT GROUP_CONCAT(c.name ORDER BY c.kind DESC, c.name SEPARATOR ', ') FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND e.ends IS NULL) AS classes,
       ${lackSql.class} AS lackClass, ${lackSql.card} AS lackCard, ${lackSql['signed-in']} AS lackSignIn,
       EXISTS (SELECT 1 FROM sheaves g WHERE g.ownerId = :me AND g.personId = p.id) AS isGathered
     ${from} LEFT JOIN schools s ON s.id = a.schoolId
     WHERE ${where.sql} ${after} ORDER BY ${first} ${direction}, ${second} ${direction}, p.id ${direction} LIMIT ${page.limit + 1}`,
    { ...where.params, me: viewer.personId },
  );
  const shown = rows.slice(0, page.limit);
  const last = shown.at(-1);
  return {
    rows: shown.map(({ k1: _1, k2: _2, lackClass, lackCard, lackSignIn, isGathered, ...row }) => ({
      ...row,
      lacks: [lackClass && 'class', lackCard && 'card', lackSignIn && 'signed-in'].filter(Boolean) as Lack[],
      gathered: isGathered === 1,
    })),
    next:
      rows.length > page.limit && last
        ? Buffer.from(JSON.stringify([last.k1, last.k2, last.id])).toString('base64url')
        : null,
  };
}

const pageKey = z.tuple([z.union([z.string(), z.number()]), z.string(), z.string()]);

/** The key after which a page begins, as the page before gave it. Throws Fault 422 when it is none. */
function keyFrom(text: string): z.infer<typeof pageKey> {
  try {
    return pageKey.parse(JSON.parse(Buffer.from(text, 'base64url').toString('utf8')));
  } catch {
    throw new Fault(422, 'after: this is no key of a page. Begin the list again.');
  }
}

/** What is lacking, as a condition of its own: so asked, the database looks at all of them at once. */
const lackCount: Record<Lack, string> = {
  class: "p.role = 'student' AND p.id NOT IN (SELECT le.personId FROM enrollments le WHERE le.ends IS NULL)",
  card: `p.role = 'student' AND ac.id IS NOT NULL AND (ac.personId, ac.secretVersion) NOT IN
    (SELECT lc.personId, lc.secretVersion FROM printed_cards lc WHERE lc.voidedAt IS NULL)`,
  'signed-in': 'ac.id IS NOT NULL AND p.id NOT IN (SELECT si.personId FROM sign_ins si)',
};

type Group = { school: string | null; grade: string | null; role: string; count: number };
type Grouped = 'school' | 'grade' | 'role';

/** Counts under each facet, with that facet's own choice left open so that another value can be chosen. */
export async function peopleFacets(db: Db, viewer: Viewer, filter: PeopleFilter): Promise<PeopleFacets> {
  const groups = (leave?: keyof PeopleFilter): Promise<Group[]> => {
    const where = whereOf(viewer, filter, leave);
    return db.select<Group>(
      `SELECT a.schoolId AS school, a.grade, p.role, COUNT(*) AS count ${fromFor(where.sql)} WHERE ${where.sql} GROUP BY a.schoolId, a.grade, p.role`,
      where.params,
    );
  };
  const all = groups();
  // One question answers for all facets in which nothing is chosen.
  const by = async (key: Grouped): Promise<Map<string, number>> => {
    const counts = new Map<string, number>();
    for (const group of await (filter[key] === undefined ? all : groups(key))) {
      const value = group[key];
      if (value !== null) counts.set(value, (counts.get(value) ?? 0) + group.count);
    }
    return counts;
  };
  const isNarrow = filter.school || filter.grade || filter.classId || filter.gathered || viewer.role !== 'district';
  const lacking = async (lack: Lack): Promise<Facet> => {
    const where = whereOf(viewer, filter, 'lacks');
    // Of few people each is looked up, of a whole district all at once.
    const sql = `${where.sql} AND ${(isNarrow ? lackSql : lackCount)[lack]}`;
    const row = await db.one<{ n: number }>(`SELECT COUNT(*) AS n ${fromFor(sql)} WHERE ${sql}`, where.params);
    return { value: lack, label: lackLabels[lack], count: row?.n ?? 0 };
  };
  const classes = async (): Promise<Facet[]> => {
    // A class is of use once the list is narrowed: a district's thousands of classes help nobody.
    if (!isNarrow) return [];
    const where = whereOf(viewer, filter, 'classId');
    return db.select<Facet>(
      `SELECT cc.id AS value, cc.name AS label, COUNT(*) AS count ${fromFor(where.sql)}
       JOIN enrollments ce ON ce.personId = p.id AND ce.ends IS NULL AND ce.role = 'student'
       JOIN classes cc ON cc.id = ce.classId AND cc.kind = 'homeroom'
       WHERE ${where.sql} GROUP BY cc.id, cc.name ORDER BY cc.name LIMIT 200`,
      where.params,
    );
  };
  const [whole, schools, grade, role, byClass, names, ...lacks] = await Promise.all([
    all,
    by('school'),
    by('grade'),
    by('role'),
    classes(),
    db.select<{ id: string; name: string }>('SELECT id, name FROM schools ORDER BY name'),
    ...(Object.keys(lackCount) as Lack[]).map(lacking),
  ]);
  const facets = (counts: Map<string, number>, label: (value: string) => string): Facet[] =>
    [...counts].map(([value, count]) => ({ value, label: label(value), count }));
  return {
    total: whole.reduce((sum, { count }) => sum + count, 0),
    school: names
      .filter(({ id }) => schools.has(id))
      .map(({ id, name }) => ({ value: id, label: name, count: schools.get(id)! })),
    grade: facets(grade, gradeLabel).sort((x, y) => gradeRank(x.value) - gradeRank(y.value)),
    role: facets(role, (value) => value).sort((x, y) => (x.value < y.value ? -1 : 1)),
    class: byClass,
    lacks: lacks.filter(({ count }) => count > 0),
  };
}

const gradeRank = (grade: string): number => (grades as readonly string[]).indexOf(grade);

/** Ids of all that the filter shows. */
export async function idsOf(db: Db, viewer: Viewer, filter: PeopleFilter): Promise<string[]> {
  const where = whereOf(viewer, filter);
  return (await db.select<{ id: string }>(`SELECT p.id ${fromFor(where.sql)} WHERE ${where.sql}`, where.params)).map(
    ({ id }) => id,
  );
}

/** Those of the ids whom the viewer may see. */
export async function visible(db: Db, viewer: Viewer, ids: string[]): Promise<string[]> {
  const scope = mayBeSeen(viewer);
  return (
    await db.select<{ id: string }>(`SELECT p.id FROM people p WHERE p.id IN (:ids) AND ${scope.sql}`, {
      ids: orNone(ids),
      ...scope.params,
    })
  ).map(({ id }) => id);
}
