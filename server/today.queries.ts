/**
 * Three questions of Today that a row does not name: places that follow one another, days of two kinds as one list, and
 * the homerooms of a district in the order in which they are handed out (thousands: by the models half as quick again).
 */
import type { HandoutClass } from './contract';
import type { Db } from './db/connection';
import { gradeOrder } from './people/list';

export const homeroomsNow = (db: Db): Promise<Pick<HandoutClass, 'classId' | 'name' | 'school' | 'grade'>[]> =>
  db.select(
    `SELECT c.id AS classId, c.name, s.name AS school, c.grade FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE c.ends IS NULL AND c.kind = 'homeroom' ORDER BY s.name, ${gradeOrder('c.grade')}, c.name`,
  );

/** Who went from one school to another: the place there began when the one here ended. By the index of ends, which few rows have. */
export const movedSince = (
  db: Db,
  since: string,
): Promise<{ toId: string; fromId: string; toName: string; fromName: string; name: string }[]> =>
  db.select(
    `SELECT a.schoolId AS toId, b.schoolId AS fromId, ts.name AS toName, fs.name AS fromName, CONCAT(p.givenName, ' ', p.familyName) AS name
     FROM affiliations b STRAIGHT_JOIN affiliations a ON a.personId = b.personId AND a.begins = b.ends AND a.schoolId <> b.schoolId
       JOIN people p ON p.id = a.personId JOIN schools ts ON ts.id = a.schoolId JOIN schools fs ON fs.id = b.schoolId
     WHERE b.ends >= :since AND a.ends IS NULL ORDER BY ts.name, fs.name, p.familyName LIMIT 500`,
    { since },
  );

/** Days on which licenses begin or end, with how many. */
export const licenseDays = (
  db: Db,
  from: string,
  to: string,
): Promise<{ day: string; product: string; n: number; begins: number }[]> =>
  db.select(
    `SELECT x.day, MAX(p.name) AS product, COUNT(*) AS n, x.begins FROM (SELECT begins AS day, productId, 1 AS begins FROM licenses UNION ALL SELECT ends, productId, 0 FROM licenses) x
       JOIN products p ON p.id = x.productId WHERE x.day >= :from AND x.day <= :to GROUP BY x.day, x.begins ORDER BY x.day`,
    { from, to },
  );
