/**
 * How other lists stood on a day: classes with who was in them, devices with who had them, licenses with their seats. In
 * SQL, since the day is a condition of every join and count.
 */
import { theirRows } from '#core/authority/index';
import { gradeLabel } from '#core/tabular/index';
import type { Viewer } from '../services';
import type { AsOfFilter, AsOfList, AsOfTable } from '../contract';
import type { Db } from '../db/connection';
import { gradeOrder } from './list';
import { asNamedOn } from './names-then';

const on = (alias: string) => `${alias}.begins <= :day AND (${alias}.ends IS NULL OR ${alias}.ends > :day)`;
/** As many as a page takes at once; a file has all. */
const mostShown = 5000;

interface Asked {
  columns: string[];
  sql: (scope: string, find: string, limit: number) => string;
}
const asked: Record<AsOfList, Asked> = {
  classes: {
    columns: ['Class', 'School', 'Grade', 'Subject', 'Teachers', 'Students'],
    sql: (scope, find, limit) =>
      `SELECT c.id, c.name AS c0, s.name AS c1, c.grade AS c2, c.subject AS c3,
         (SELECT GROUP_CONCAT(CONCAT(t.givenName, ' ', t.familyName) ORDER BY t.familyName SEPARATOR ', ') FROM enrollments e JOIN people t ON t.id = e.personId WHERE e.classId = c.id AND e.role = 'teacher' AND ${on('e')}) AS c4,
         (SELECT COUNT(*) FROM enrollments e WHERE e.classId = c.id AND e.role = 'student' AND ${on('e')}) AS c5
       FROM classes c JOIN schools s ON s.id = c.schoolId WHERE ${on('c')} AND ${scope} AND (${find} OR c.name LIKE :like OR c.subject LIKE :like)
       ORDER BY s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT ${limit}`,
  },
  devices: {
    columns: ['Tag', 'Model', 'School', 'With', 'Class', 'Since', 'Due'],
    sql: (scope, find, limit) =>
      `SELECT d.id, d.tag AS c0, d.model AS c1, s.name AS c2, CONCAT(p.familyName, ', ', p.givenName) AS c3,
         (SELECT MIN(c.name) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE e.personId = p.id AND e.role = 'student' AND ${on('e')}) AS c4, l.begins AS c5, l.due AS c6
       FROM devices d JOIN schools s ON s.id = d.schoolId LEFT JOIN loans l ON l.deviceId = d.id AND ${on('l')} LEFT JOIN people p ON p.id = l.personId
       WHERE (d.boughtOn IS NULL OR d.boughtOn <= :day) AND ${scope} AND (${find} OR d.tag LIKE :like OR d.model LIKE :like OR p.familyName LIKE :like) ORDER BY d.tag LIMIT ${limit}`,
  },
  seats: {
    columns: ['Product', 'Edition', 'Of', 'From', 'Until', 'Owned', 'Held'],
    sql: (scope, find, limit) =>
      `SELECT l.id, p.name AS c0, p.edition AS c1, COALESCE(s.name, 'the district') AS c2, l.begins AS c3, l.ends AS c4, l.seats AS c5,
         (SELECT COUNT(*) FROM seats x WHERE x.licenseId = l.id AND ${on('x')}) AS c6
       FROM licenses l JOIN products p ON p.id = l.productId LEFT JOIN schools s ON s.id = l.schoolId
       WHERE l.begins <= :day AND l.ends > :day AND (l.schoolId IS NULL OR ${scope}) AND (${find} OR p.name LIKE :like) ORDER BY p.name, l.begins, l.id LIMIT ${limit}`,
  },
};

export const asOfLists = Object.keys(asked) as AsOfList[];

export async function asOfTable(
  db: Db,
  viewer: Viewer,
  { list, day, school, q }: Omit<AsOfFilter, 'grade'> & { list: AsOfList },
  limit = mostShown,
): Promise<AsOfTable> {
  const scope = [theirRows(viewer, 'schools', 's'), school && 's.id = :school'].filter(Boolean);
  const { columns, sql } = asked[list];
  const find = (q ?? '').trim();
  const rows = await db.select<Record<string, string | number | null> & { id: string }>(
    sql(scope.join(' AND '), find ? '1 = 0' : '1 = 1', limit),
    {
      day,
      school: school ?? null,
      like: `${find.replace(/[%_\\]/g, '\\$&')}%`,
    },
  );
  // A class is called as it was then.
  if (list === 'classes') {
    const classes = rows.map((row) => ({ id: row.id, name: String(row.c0) }));
    const then = await asNamedOn(db, 'class', classes, day);
    rows.forEach((row, i) => (row.c0 = then[i]!.name));
  }
  return {
    columns,
    rows: rows.map(({ id, ...cells }) => ({
      id,
      cells: columns.map((name, i) => {
        const value = cells[`c${i}`] ?? null;
        return name === 'Grade' && typeof value === 'string' ? gradeLabel(value) : value;
      }),
    })),
  };
}
