/** The whole district as the directory is to hold it, of a hundred thousand people; and what was sent of it, many rows at once. */
import type { DirectoryPerson } from '#core/directory/index';
import type { Db, Tx } from '../db/connection';

export const usersNow = (db: Db): Promise<(Omit<DirectoryPerson, 'active'> & { isActive: number })[]> =>
  db.select(
    `SELECT p.id, ac.username AS userName, p.givenName, p.familyName, p.email, p.role, p.number, s.name AS school, ac.status = 'active' AND p.status = 'active' AS isActive
     FROM accounts ac JOIN people p ON p.id = ac.personId AND p.status <> 'merged' LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId`,
  );

export const membersNow = (db: Db): Promise<{ classId: string; personId: string }[]> =>
  db.select(
    'SELECT DISTINCT e.classId, e.personId FROM enrollments e JOIN accounts ac ON ac.personId = e.personId WHERE e.ends IS NULL',
  );

/** What was sent; what changed again meanwhile stays due. Rows: the directory's id, what was sent, when, the id, the hash of what was wanted. */
export const noteSent = (db: Db, tx: Tx, rows: unknown[][]): Promise<void> =>
  db.batch(
    "UPDATE directory_items SET remoteId = ?, sent = ?, sentAt = ?, state = 'done', tries = 0, lastError = NULL WHERE id = ? AND wantedHash = ?",
    rows,
    tx,
  );
