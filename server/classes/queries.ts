/** Every class of a district, twenty thousand at most: rows as the driver gives them, in half the time of the models (`./run bench lists`). */
import { theirRows } from '#core/authority/index';
import type { ClassRow } from '../contract';
import type { Viewer } from '../services';
import type { Db, Param } from '../db/connection';
import { gradeOrder } from '../people/list';

type Row = Omit<ClassRow, 'students' | 'lackCard' | 'lackSeats' | 'lackDevice' | 'teachers'>;

/** Open ones that the viewer runs, by school and grade. `q`: how their name or subject begins. */
export function classRows(
  db: Db,
  viewer: Viewer,
  { id, school, grade, q }: { id?: string; school?: string; grade?: string; q?: string },
): Promise<Row[]> {
  const begins = `${q ?? ''}%`;
  const conditions: [sql: string, ...values: Param[]][] = [
    ['c.ends IS NULL'],
    [theirRows(viewer, 'classes', 'c')],
    ...(id ? [['c.id = ?', id] as [string, string]] : []),
    ...(school ? [['c.schoolId = ?', school] as [string, string]] : []),
    ...(grade ? [['c.grade = ?', grade] as [string, string]] : []),
    ...(q ? [['(c.name LIKE ? OR c.subject LIKE ?)', begins, begins] as [string, string, string]] : []),
  ];
  return db.rows(
    `SELECT c.id, c.schoolId, c.name, s.name AS school, c.kind, c.grade, c.subject, c.period, c.color, c.discuss, c.invite FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE ${conditions.map(([sql]) => sql).join(' AND ')} ORDER BY s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT 20000`,
    conditions.flatMap(([, ...values]) => values),
  );
}
