/** Classes: the worksheet, and the names to pick one from. */
import { theirRows } from '#core/authority/index';
import type { Viewer } from '../services';
import type { ClassName, ClassRow } from '../contract';
import type { Db } from '../db/connection';
import { gradeOrder } from '../people/list';
import { lacks, type OnRoll, type Roll } from '../people/roll';
import { literal, Op } from 'sequelize';
import { joined } from '../db/joined';
import { classRows } from './queries';

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

/** Of one class. */
export const countsIn = async (roll: Roll, id: string): Promise<Count> =>
  countsOf(await roll.everyone()).get(id) ?? nobody;

export async function classList(
  roll: Roll,
  viewer: Viewer,
  filter: { school?: string; grade?: string; q?: string },
): Promise<ClassRow[]> {
  const rows = await classRows(roll.db, viewer, filter);
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
  const words = (q ?? '')
    .split(/[\s·,]+/)
    .filter(Boolean)
    .slice(0, 4);
  return joined(db, 'class', {
    fields: ['id', 'name', 'subject', 'grade'],
    of: { school: 'school.name' },
    where: {
      ends: null,
      ...(school ? { schoolId: school } : {}),
      [Op.and]: words.map((word) => {
        const escaped = word.replace(/[\\%_]/g, (c) => `\\${c}`);
        const [begins, within] = [{ [Op.like]: `${escaped}%` }, { [Op.like]: `% ${escaped}%` }];
        const either = { [Op.or]: [begins, within] };
        return { [Op.or]: [{ name: either }, { subject: begins }, { '$school.name$': either }] };
      }),
    },
    within: [theirRows(viewer, 'classes', '`class`')],
    order: ['-kind', 'school.name', literal(gradeOrder('`class`.grade')), 'name', 'id'],
    limit: 60,
  });
}
