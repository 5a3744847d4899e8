/** Classes: the worksheet, and the names to pick one from. */
import { theirRows } from '#core/authority/index';
import type { Viewer } from '../services';
import type { ClassName, ClassRow } from '../contract';
import type { Db, Param, Params } from '../db/connection';
import { gradeOrder } from '../people/list';
import { lacks, type OnRoll, type Roll } from '../people/roll';

interface Count {
  students: number;
  lackCard: number;
  lackSeats: number;
  lackDevice: number;
  teachers: string | null;
}
const nobody: Count = { students: 0, lackCard: 0, lackSeats: 0, lackDevice: 0, teachers: null };
/** Counted once for each state of the roll, which is a new list whenever anything in it changes. */
const counted = new WeakMap<readonly OnRoll[], Map<string, Count>>();

function countsOf(everyone: readonly OnRoll[]): Map<string, Count> {
  const known = counted.get(everyone);
  if (known) return known;
  const open = new Map<string, Omit<Count, 'teachers'> & { teaching: OnRoll[] }>();
  const at = (id: string) => {
    let count = open.get(id);
    if (!count) open.set(id, (count = { students: 0, lackCard: 0, lackSeats: 0, lackDevice: 0, teaching: [] }));
    return count;
  };
  for (const one of everyone) {
    for (const id of one.classes) {
      const count = at(id);
      count.students++;
      if (lacks(one, 'card')) count.lackCard++;
      if (lacks(one, 'seats')) count.lackSeats++;
      if (lacks(one, 'device')) count.lackDevice++;
    }
    for (const id of one.teaches) at(id).teaching.push(one);
  }
  const made = new Map(
    [...open].map(([id, { teaching, ...count }]) => {
      const names = teaching
        .sort((a, b) => (a.sortFamily < b.sortFamily ? -1 : 1))
        .map(({ given, family }) => `${given} ${family}`);
      return [id, { ...count, teachers: names.join(', ') || null }];
    }),
  );
  counted.set(everyone, made);
  return made;
}

export async function classList(
  roll: Roll,
  viewer: Viewer,
  filter: { school?: string; grade?: string; q?: string },
): Promise<ClassRow[]> {
  const begins = `${filter.q ?? ''}%`;
  const conditions: [sql: string, ...values: Param[]][] = [['c.ends IS NULL']];
  conditions.push([theirRows(viewer, 'classes', 'c')]);
  if (filter.school) conditions.push(['c.schoolId = ?', filter.school]);
  if (filter.grade) conditions.push(['c.grade = ?', filter.grade]);
  if (filter.q) conditions.push(['(c.name LIKE ? OR c.subject LIKE ?)', begins, begins]);
  const rows = await roll.db.rows<Omit<ClassRow, keyof Count>>(
    `SELECT c.id, c.schoolId, c.name, s.name AS school, c.kind, c.grade, c.subject, c.period, c.color, c.discuss, c.invite FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE ${conditions.map(([sql]) => sql).join(' AND ')} ORDER BY s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT 20000`,
    conditions.flatMap(([, ...values]) => values),
  );
  const counts = countsOf(await roll.everyone());
  return rows.map((row) => {
    return { ...row, ...(counts.get(row.id) ?? nobody) };
  });
}

/** Up to 60 open classes whose name, subject or school has a part that begins so. */
export async function classNames(
  db: Db,
  viewer: Viewer,
  { school, q }: { school?: string; q?: string },
): Promise<ClassName[]> {
  const scope = theirRows(viewer, 'classes', 'c');
  const words = (q ?? '')
    .split(/[\s·,]+/)
    .filter(Boolean)
    .slice(0, 4);
  const conditions = words.map(
    (_, i) =>
      `(c.name LIKE :q${i} OR c.name LIKE :w${i} OR c.subject LIKE :q${i} OR s.name LIKE :q${i} OR s.name LIKE :w${i})`,
  );
  const params: Params = {};
  words.forEach((word, i) => {
    const escaped = word.replace(/[\\%_]/g, (c) => `\\${c}`);
    Object.assign(params, { [`q${i}`]: `${escaped}%`, [`w${i}`]: `% ${escaped}%` });
  });
  return db.select<ClassName>(
    `SELECT c.id, c.name, s.name AS school, c.subject, c.grade FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE ${['c.ends IS NULL', scope, ...(school ? ['c.schoolId = :school'] : []), ...conditions].join(' AND ')}
     ORDER BY c.kind DESC, s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT 60`,
    { ...params, school: school ?? null },
  );
}
