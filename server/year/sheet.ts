/** What the place Year shows: the decisions with the register beside them. */
import { inScope } from '#core/authority/index';
import { personLabel } from '#core/register/index';
import { gradeLabel } from '#core/tabular/index';
import { type Band, bandWords } from '#core/use/index';
import { mapKey, usualMap } from '#core/year/index';
import { orNone } from '../db/batches';
import { Fault, notFound } from '../faults';
import type { Viewer } from '../services';
import type { SplitChild, SplitRow, SplitSheet, YearGrade, YearPerson, YearSheet } from '../contract';
import type { Db } from '../db/connection';
import { gradeRank } from '../people/roll';
import { sheafIds } from '../people/sheaf';
import { changeYearDraft, nextYear, type Split, keptSplits, splitOf, yearDraft } from './draft';
import { apartOf, mapOf } from './plan';

const people = async (db: Db, ids: string[]): Promise<YearPerson[]> => {
  const rows = await db.select<{
    id: string;
    familyName: string;
    givenName: string;
    number: string | null;
    grade: string | null;
    schoolId: string | null;
  }>(
    `SELECT p.id, p.familyName, p.givenName, p.number, a.grade, a.schoolId FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE p.id IN (:ids) AND p.status = 'active' ORDER BY p.familyName, p.givenName`,
    { ids: orNone(ids) },
  );
  return rows.map((row) => ({ id: row.id, label: personLabel(row), grade: row.grade, schoolId: row.schoolId }));
};

export async function yearSheet(db: Db): Promise<YearSheet> {
  const { draft, savedAt } = await yearDraft(db);
  const [schools, counts, { year }, last] = await Promise.all([
    db.models.school.findAll({ order: ['name'], raw: true }),
    db.select<{ schoolId: string; grade: string | null; students: number }>(
      `SELECT a.schoolId, a.grade, COUNT(*) AS students FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active'
       WHERE a.ends IS NULL GROUP BY a.schoolId, a.grade`,
    ),
    nextYear(db, draft),
    db.one<{ planId: string; at: string; title: string }>(
      "SELECT l.planId, l.at, p.title FROM ledger l JOIN plans p ON p.id = l.planId WHERE p.kind = 'year' AND p.status = 'applied' AND l.action = 'apply' ORDER BY l.version DESC LIMIT 1",
    ),
  ]);
  const usual = usualMap(schools, counts);
  const map = mapOf(schools, counts, draft);
  const order = new Map(schools.map(({ id }, i) => [id, i]));
  const grades = counts
    .map(({ schoolId, grade, students }): YearGrade => {
      const key = mapKey(schoolId, grade);
      return { key, schoolId, grade, students, next: map.get(key) ?? null, usual: usual.get(key) ?? null };
    })
    .sort(
      (a, b) => order.get(a.schoolId)! - order.get(b.schoolId)! || gradeRank(a.grade ?? '') - gradeRank(b.grade ?? ''),
    );
  return {
    draft,
    savedAt,
    next: year,
    apart: [...apartOf(schools, draft)],
    grades,
    again: await people(db, draft.again),
    leave: await people(db, draft.leave),
    last,
  };
}

/** Those gathered go onto a list (and off the other one), or one person off it. */
export async function changeWhom(
  db: Db,
  viewer: Viewer,
  list: 'again' | 'leave',
  drop: string | null,
): Promise<{ savedAt: string; count: number }> {
  const gathered = drop === null ? await sheafIds(db, viewer.personId) : [];
  if (drop === null && gathered.length === 0)
    throw new Fault('invalid', 'Nobody is gathered. Gather them under People first.');
  if (gathered.length > 5000) throw new Fault('invalid', 'These are more than 5,000. Let some go first.');
  let count = 0;
  const other = list === 'again' ? 'leave' : 'again';
  const savedAt = await changeYearDraft(db, viewer.personId, (draft) => {
    const ids = drop === null ? [...new Set([...draft[list], ...gathered])] : draft[list].filter((id) => id !== drop);
    count = ids.length;
    return { [list]: ids, [other]: draft[other].filter((id) => !gathered.includes(id)) };
  });
  return { savedAt, count };
}

/** The grades of the new year that somebody comes to, at the viewer's schools. */
export async function splitRows(db: Db, viewer: Viewer): Promise<SplitRow[]> {
  const { draft } = await yearDraft(db);
  const schools = await db.models.school.findAll({ order: ['name'], raw: true });
  const counts = await db.select<{ schoolId: string; grade: string | null; n: number }>(
    `SELECT a.schoolId, a.grade, COUNT(*) AS n FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active'
     WHERE a.ends IS NULL GROUP BY a.schoolId, a.grade`,
  );
  const rooms = new Map(
    (
      await db.select<{ schoolId: string; grade: string; n: number }>(
        "SELECT schoolId, grade, COUNT(*) AS n FROM classes WHERE kind = 'homeroom' AND ends IS NULL GROUP BY schoolId, grade",
      )
    ).map(({ schoolId, grade, n }) => [mapKey(schoolId, grade), n]),
  );
  const kept = await keptSplits(db);
  const map = mapOf(schools, counts, draft);
  const coming = new Map<string, number>();
  for (const { schoolId, grade, n } of counts) {
    const next = map.get(mapKey(schoolId, grade));
    if (!next || typeof next === 'string') continue;
    const key = mapKey(next.schoolId, next.grade);
    coming.set(key, (coming.get(key) ?? 0) + n);
  }
  const nameOf = new Map(schools.map(({ id, name }) => [id, name]));
  const order = new Map(schools.map(({ id }, i) => [id, i]));
  return [...coming]
    .map(([id, children]): SplitRow & { schoolId: string } => {
      const [schoolId, grade] = id.split(':') as [string, string];
      const split = kept.get(id);
      return {
        ...{
          id,
          schoolId,
          grade,
          children,
          school: nameOf.get(schoolId)!,
          rooms: split?.draft.classes.length ?? rooms.get(id) ?? 0,
        },
        ...{ placed: Object.keys(split?.draft.placed ?? {}).length, savedAt: split?.savedAt ?? null },
      };
    })
    .filter(({ schoolId }) => inScope(viewer, schoolId))
    .sort((a, b) => order.get(a.schoolId)! - order.get(b.schoolId)! || gradeRank(a.grade) - gradeRank(b.grade));
}

interface ChildRow extends Omit<SplitChild, 'twins'> {
  schoolId: string;
  grade: string | null;
  begins: string;
  birthDate: string | null;
  guardianEmail: string | null;
}

/** Who will be in a grade of a school, and how it is split so far. `key`: "schoolId:grade" of the new year. Throws Fault missing. */
export async function splitSheet(db: Db, key: string, today: string): Promise<SplitSheet> {
  const [schoolId, grade] = key.split(':') as [string, string];
  const schools = await db.models.school.findAll({ raw: true });
  if (!schools.some(({ id }) => id === schoolId) || !grade) throw notFound('This grade');
  const { draft } = await yearDraft(db);
  const rows = await db.select<ChildRow>(
    `SELECT p.id, p.familyName, p.givenName, p.number, p.language, p.birthDate, p.guardianEmail, a.schoolId, a.grade, a.begins,
       (SELECT MIN(c.name) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL WHERE e.personId = p.id AND e.ends IS NULL AND e.role = 'student') AS \`from\`,
       (SELECT MIN(g.name) FROM memberships m JOIN class_groups g ON g.id = m.groupId AND g.kind = 'level' AND g.ends IS NULL WHERE m.personId = p.id AND m.ends IS NULL) AS level
     FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.role = 'student' AND p.status = 'active' ORDER BY p.familyName, p.givenName, p.id`,
  );
  const map = mapOf(schools, rows, draft);
  const [again, leave] = [new Set(draft.again), new Set(draft.leave)];
  const mine = rows.filter((row) => {
    if (leave.has(row.id)) return false;
    const here = mapKey(row.schoolId, row.grade);
    if (again.has(row.id) || row.begins >= today) return here === key;
    const next = map.get(here);
    return next && typeof next === 'object'
      ? mapKey(next.schoolId, next.grade) === key
      : next === 'stays' && here === key;
  });
  const familyOf = ({ guardianEmail, birthDate }: ChildRow) =>
    guardianEmail && birthDate ? `${guardianEmail.toLowerCase()} ${birthDate}` : null;
  const families = new Map<string, string[]>();
  for (const row of mine) {
    const family = familyOf(row);
    if (family) families.set(family, [...(families.get(family) ?? []), row.id]);
  }
  const kept = await splitOf(db, key);
  const ids = new Set(mine.map(({ id }) => id));
  const names = await db.select<{ name: string }>(
    "SELECT name FROM classes WHERE schoolId = :schoolId AND grade = :grade AND kind = 'homeroom' AND ends IS NULL ORDER BY LENGTH(name), name",
    { schoolId, grade },
  );
  const usual: Split = {
    classes: (names.length > 0 ? names : [{ name: `${gradeLabel(grade)}A` }, { name: `${gradeLabel(grade)}B` }]).map(
      ({ name }) => ({ name, most: null }),
    ),
    placed: {},
    fixed: [],
    wishes: [],
    balance: ['level', 'language', 'support'],
    marks: {},
  };
  const split = kept?.draft ?? usual;
  const reported = new Map(
    (
      await db.select<{ personId: string; band: Band }>(
        'SELECT personId, ROUND(AVG(band)) AS band FROM levels WHERE personId IN (:ids) GROUP BY personId',
        { ids: orNone([...ids]) },
      )
    ).map(({ personId, band }) => [personId, bandWords[Number(band) as Band]]),
  );
  return {
    key,
    schoolId,
    grade,
    children: mine.map((row) => ({
      id: row.id,
      familyName: row.familyName,
      givenName: row.givenName,
      number: row.number,
      from: row.from,
      level: row.level ?? reported.get(row.id) ?? null,
      language: row.language,
      twins: (families.get(familyOf(row) ?? '') ?? []).filter((id) => id !== row.id),
    })),
    // Whoever no longer comes to the grade is not in its split.
    split: { ...split, placed: Object.fromEntries(Object.entries(split.placed).filter(([id]) => ids.has(id))) },
    savedAt: kept?.savedAt ?? null,
  };
}
