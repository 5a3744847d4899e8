/** What the place Year shows: the decisions with the register beside them. */
import { say } from '#core/messages/say';
import { col, fn } from 'sequelize';
import { inScope } from '#core/authority/index';
import { personLabel } from '#core/register/index';
import { gradeLabel } from '#core/tabular/index';
import { type Band, bandWords } from '#core/use/index';
import { mapKey, usualMap, type YearGroup } from '#core/year/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { RehearsedPeople, SplitRow, SplitSheet, YearGrade, YearPerson, YearSheet } from '../contract';
import type { Db } from '../db/connection';
import { gradeRank } from '../people/roll';
import { sheafIds } from '../people/sheaf';
import { changeYearDraft, nextYear, type Split, keptSplits, splitOf, yearDraft } from './draft';
import { apartOf, mapOf } from './plan';
import { joined, joinedOne } from '../db/joined';
import { notesOf } from './notes';
import { bandsOf, type ChildRow, childrenNow, homeroomsByGrade, studentsByGrade } from './queries';

const people = async (db: Db, ids: string[]): Promise<YearPerson[]> => {
  const rows = await joined(db, 'person', {
    fields: ['id', 'familyName', 'givenName', 'number'],
    of: { grade: 'openAffiliation.grade', schoolId: 'openAffiliation.schoolId' },
    where: { id: ids, status: 'active' },
    order: ['familyName', 'givenName'],
  });
  return rows.map((row) => ({ id: row.id, label: personLabel(row), grade: row.grade, schoolId: row.schoolId }));
};

/** Behind a count of the rehearsal; `school` null: of all schools. */
export async function rehearsedPeople(
  { year, db }: Pick<Services, 'year' | 'db'>,
  group: YearGroup,
  school: string | null,
): Promise<RehearsedPeople> {
  const ids = await year.people(group, school);
  return { ids, people: await people(db, ids.slice(0, 200)) };
}

export async function yearSheet(db: Db): Promise<YearSheet> {
  const { draft, savedAt } = await yearDraft(db);
  const [schools, counts, { year }, last] = await Promise.all([
    db.models.school.findAll({ order: ['name'], raw: true }),
    studentsByGrade(db),
    nextYear(db, draft),
    joinedOne(db, 'ledger', {
      fields: ['planId', 'at'],
      of: { title: 'plan.title' },
      where: { action: 'apply' },
      whose: { 'plan.kind': 'year', 'plan.status': 'applied' },
      order: ['-version'],
    }),
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
  if (drop === null && gathered.length === 0) throw new Fault('invalid', say('year.noOneIsGatheredGather'));
  if (gathered.length > 5000) throw new Fault('invalid', say('year.thereAreMoreThanRemove'));
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
  const counts = await studentsByGrade(db);
  const rooms = new Map((await homeroomsByGrade(db)).map(({ schoolId, grade, n }) => [mapKey(schoolId, grade), n]));
  const kept = await keptSplits(db);
  const map = mapOf(schools, counts, draft);
  const coming = new Map<string, number>();
  for (const { schoolId, grade, students } of counts) {
    const next = map.get(mapKey(schoolId, grade));
    if (!next || typeof next === 'string') continue;
    const key = mapKey(next.schoolId, next.grade);
    coming.set(key, (coming.get(key) ?? 0) + students);
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

/** Who will be in a grade of a school, and how it is split so far. `key`: "schoolId:grade" of the new year. Throws Fault missing. */
export async function splitSheet(db: Db, key: string, today: string): Promise<SplitSheet> {
  const [schoolId, grade] = key.split(':') as [string, string];
  const schools = await db.models.school.findAll({ raw: true });
  if (!schools.some(({ id }) => id === schoolId) || !grade) throw notFound(say('api.thisGrade'));
  const { draft } = await yearDraft(db);
  const rows = await childrenNow(db);
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
  const names = await db.models.class.findAll({
    attributes: ['name'],
    where: { schoolId, grade, kind: 'homeroom', ends: null },
    order: [fn('LENGTH', col('name')), 'name'],
    raw: true,
  });
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
    (await bandsOf(db, [...ids])).map(({ personId, band }) => [personId, bandWords[Number(band) as Band]]),
  );
  const notes = await notesOf(db, [...ids]);
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
      // What a teacher said holds against what a group or products say.
      level: notes.get(row.id)?.level ?? row.level ?? reported.get(row.id) ?? null,
      support: notes.get(row.id)?.support ?? null,
      language: row.language,
      twins: (families.get(familyOf(row) ?? '') ?? []).filter((id) => id !== row.id),
    })),
    // Whoever no longer comes to the grade is not in its split.
    split: { ...split, placed: Object.fromEntries(Object.entries(split.placed).filter(([id]) => ids.has(id))) },
    savedAt: kept?.savedAt ?? null,
  };
}
