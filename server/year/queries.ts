/** Counts by school and grade, and every child of the district at once: grouped and joined where the rows are. */
import type { Band } from '#core/use/index';
import type { ArchivedClass, SplitChild } from '../contract';
import type { Viewer } from '../services';
import { theirRows } from '#core/authority/index';
import { orNone } from '../db/batches';
import type { Db } from '../db/connection';

export const studentsByGrade = (db: Db): Promise<{ schoolId: string; grade: string | null; students: number }[]> =>
  db.select(
    `SELECT a.schoolId, a.grade, COUNT(*) AS students FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active'
     WHERE a.ends IS NULL GROUP BY a.schoolId, a.grade`,
  );

export const homeroomsByGrade = (db: Db): Promise<{ schoolId: string; grade: string; n: number }[]> =>
  db.select(
    "SELECT schoolId, grade, COUNT(*) AS n FROM classes WHERE kind = 'homeroom' AND ends IS NULL GROUP BY schoolId, grade",
  );

export interface ChildRow extends Omit<SplitChild, 'twins' | 'support'> {
  schoolId: string;
  grade: string | null;
  begins: string;
  birthDate: string | null;
  guardianEmail: string | null;
}
/** Every student with the homeroom and the level group that they are in: of tens of thousands, in one pass. */
export const childrenNow = (db: Db): Promise<ChildRow[]> =>
  db.select(
    `SELECT p.id, p.familyName, p.givenName, p.number, p.language, p.birthDate, p.guardianEmail, a.schoolId, a.grade, a.begins,
       (SELECT MIN(c.name) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL WHERE e.personId = p.id AND e.ends IS NULL AND e.role = 'student') AS \`from\`,
       (SELECT MIN(g.name) FROM memberships m JOIN class_groups g ON g.id = m.groupId AND g.kind = 'level' AND g.ends IS NULL WHERE m.personId = p.id AND m.ends IS NULL) AS level
     FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.role = 'student' AND p.status = 'active' ORDER BY p.familyName, p.givenName, p.id`,
  );

/** The level that products report, on average. */
export const bandsOf = (db: Db, ids: readonly string[]): Promise<{ personId: string; band: Band }[]> =>
  db.select('SELECT personId, ROUND(AVG(band)) AS band FROM levels WHERE personId IN (:ids) GROUP BY personId', {
    ids: orNone(ids),
  });

/** Classes that ended, the newest end first, with who was in them to the end. `before`: "yyyy-mm-dd id". */
export function archivedClasses(
  db: Db,
  viewer: Viewer,
  { q, before }: { q?: string; before?: string },
  limit: number,
): Promise<ArchivedClass[]> {
  const [beforeDay = null, beforeId = null] = before?.split(' ') ?? [];
  return db.select(
    `SELECT c.id, c.name, s.name AS school, c.grade, c.kind, c.begins, c.ends,
       (SELECT COUNT(*) FROM enrollments e WHERE e.classId = c.id AND e.role = 'student' AND e.ends = c.ends) AS students,
       (SELECT GROUP_CONCAT(CONCAT(p.givenName, ' ', p.familyName) ORDER BY p.familyName SEPARATOR ', ') FROM enrollments e JOIN people p ON p.id = e.personId
        WHERE e.classId = c.id AND e.role = 'teacher' AND e.ends = c.ends) AS teachers
     FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE c.ends IS NOT NULL AND ${theirRows(viewer, 'classes', 'c')} ${q ? 'AND c.name LIKE :like' : ''}
       ${before ? 'AND (c.ends, c.id) < (:beforeDay, :beforeId)' : ''}
     ORDER BY c.ends DESC, c.id DESC LIMIT ${limit}`,
    { like: `%${(q ?? '').replace(/[%_\\]/g, '\\$&')}%`, beforeDay, beforeId },
  );
}
