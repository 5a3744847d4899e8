/**
 * How it stood on a day: who was at which school, in which grade and classes. Places and enrollments have a begin and
 * an end, so any day can be asked for. Names are those of the day (they are found and sorted by the present ones), numbers
 * those of now, of who is still the viewer's.
 * In SQL, since a day is a condition of every join, of its subqueries and of the search within them.
 */
import { theirRows } from '#core/authority/index';
import type { Viewer } from '../services';
import type { AsOfFilter, AsOfPage, AsOfRow } from '../contract';
import type { Db } from '../db/connection';
import { fold } from '#core/names/index';
import { asNamedOn } from './names-then';

const on = (alias: string) => `${alias}.begins <= :day AND (${alias}.ends IS NULL OR ${alias}.ends > :day)`;

/** By name; `after`: id of the last person of the page before. A coordinator of schools sees who was there on the day. */
export async function asOf(
  db: Db,
  viewer: Viewer,
  { day, school, grade, q, after }: AsOfFilter & { after?: string },
  limit = 200,
): Promise<AsOfPage> {
  const words = fold(q ?? '')
    .split(/\s+/)
    .filter(Boolean)
    .slice(0, 4);
  const where = `p.status <> 'merged' AND ${theirRows(viewer, 'atSchool', 'a')}
    ${school ? 'AND a.schoolId = :school' : ''} ${grade ? 'AND a.grade = :grade' : ''}
    ${words
      .map(
        (
          _,
          i,
        ) => `AND (p.familyName LIKE :w${i} OR p.givenName LIKE :w${i} OR (p.number LIKE :w${i} AND ${theirRows(viewer, 'people', 'p')}) OR EXISTS (
      SELECT 1 FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND ${on('e')} AND c.name LIKE :w${i}))`,
      )
      .join(' ')}`;
  const from = `FROM people p JOIN affiliations a ON a.personId = p.id AND ${on('a')} JOIN schools s ON s.id = a.schoolId`;
  const params = {
    day,
    school: school ?? null,
    grade: grade ?? null,
    after: after ?? null,
    ...Object.fromEntries(words.map((word, i) => [`w${i}`, `%${word.replace(/[%_\\]/g, '\\$&')}%`])),
  };
  const [rows, total] = await Promise.all([
    db.select<AsOfRow>(
      `SELECT p.id, p.familyName, p.givenName, IF(${theirRows(viewer, 'people', 'p')}, p.number, NULL) AS number, p.role, a.grade, s.name AS school,
         (SELECT GROUP_CONCAT(c.name ORDER BY c.kind DESC, c.name SEPARATOR ', ') FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND ${on('e')}) AS classes
       ${from} WHERE ${where} ${after ? 'AND (p.familyName, p.givenName, p.id) > (SELECT o.familyName, o.givenName, o.id FROM people o WHERE o.id = :after)' : ''}
       ORDER BY p.familyName, p.givenName, p.id LIMIT ${limit + 1}`,
      params,
    ),
    after ? null : db.one<{ n: number }>(`SELECT COUNT(*) AS n ${from} WHERE ${where}`, params),
  ]);
  return {
    rows: await asNamedOn(db, 'person', rows.slice(0, limit), day),
    next: rows.length > limit ? rows[limit - 1]!.id : null,
    total: total?.n ?? null,
  };
}
