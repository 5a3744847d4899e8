/** What stands on cards, of thousands of students at once, with the first homeroom of each. */
import { listFields, type ListPerson } from '#core/entities/index';
import { orNone } from '../db/batches';
import type { Db } from '../db/connection';

export interface CardRow extends ListPerson {
  personId: string;
  language: string | null;
  guardianEmail: string | null;
  username: string;
  secretSealed: string;
  secretVersion: number;
  grade: string | null;
  school: string | null;
  door: string | null;
  className: string | null;
  cardText: string | null;
}

export const cardRowsOf = (db: Db, ids: readonly string[]): Promise<CardRow[]> =>
  db.select(
    `SELECT p.id AS personId, ${listFields.map((field) => `p.${field}`).join(', ')}, p.language, p.guardianEmail, ac.username, ac.secretSealed, ac.secretVersion, a.grade, s.name AS school, s.door, s.cardText,
       (SELECT CONVERT(MIN(CAST(c.name AS BINARY)) USING utf8mb4) FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND e.ends IS NULL AND c.kind = 'homeroom') AS className
     FROM people p JOIN accounts ac ON ac.personId = p.id AND ac.status = 'active' AND ac.secretSealed IS NOT NULL
       LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId
     WHERE p.id IN (:some) AND p.role = 'student' AND p.status = 'active'`,
    { some: orNone(ids) },
  );
