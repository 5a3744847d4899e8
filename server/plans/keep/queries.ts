/**
 * What keepers ask and write for thousands of rows at once, while a plan is applied: rows made from rows, and counts that
 * another transaction waits for.
 */
import type { Db, Tx } from '../../db/connection';

/** Whom a conflict is about. */
export interface Named {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
}

const personKey = "COALESCE(p.number, CONCAT(p.familyName, '|', p.givenName, '|', COALESCE(p.birthDate, '')))";

/** The usernames of the accounts are given, for ever, where they were not before. */
export const keepUsernames = (db: Db, tx: Tx, ids: string[]): Promise<number> =>
  db.run(
    `INSERT IGNORE INTO given_usernames (username, personKey, personId)
     SELECT a.username, ${personKey}, p.id FROM accounts a JOIN people p ON p.id = a.personId WHERE a.id IN (:ids)`,
    { ids },
    tx,
  );

/** The accounts of which somebody else had the username before. */
export const othersUsernames = (
  db: Db,
  tx: Tx,
  ids: string[],
  most: number,
): Promise<{ id: string; username: string }[]> =>
  db.select(
    `SELECT a.id, a.username FROM accounts a JOIN people p ON p.id = a.personId JOIN given_usernames g ON g.username = a.username
     WHERE a.id IN (:ids) AND g.personKey <> ${personKey} AND NOT (g.personId <=> p.id) LIMIT ${most}`,
    { ids },
    tx,
  );

const rooms = `FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE e.role = 'student' AND e.ends IS NULL AND e.id IN (:ids)`;

/** Open enrollments of students in homerooms are told as such. Throws where a student is in one already. */
export const tellHomerooms = (db: Db, tx: Tx, ids: string[]): Promise<number> =>
  db.run(`INSERT INTO homerooms (personId, enrollmentId) SELECT e.personId, e.id ${rooms}`, { ids }, tx);

/** These enrollments are nobody's homeroom any more. */
export const forgetHomerooms = (db: Db, tx: Tx, ids: string[]): Promise<number> =>
  db.run(
    'DELETE h FROM enrollments e STRAIGHT_JOIN homerooms h ON h.personId = e.personId AND h.enrollmentId = e.id WHERE e.id IN (:ids)',
    { ids },
    tx,
  );

/** Those of the enrollments that are open in classes that have ended. */
export const inEndedClasses = (db: Db, tx: Tx, ids: string[]): Promise<{ id: string }[]> =>
  db.select(
    'SELECT e.id FROM enrollments e JOIN classes c ON c.id = e.classId AND c.ends IS NOT NULL WHERE e.ends IS NULL AND e.id IN (:ids)',
    { ids },
    tx,
  );

export const inTwoHomerooms = (
  db: Db,
  tx: Tx,
  ids: string[],
): Promise<(Named & { name: string; personId: string })[]> =>
  db.select(
    `SELECT MAX(o.id) AS id, o.personId, p.familyName, p.givenName, p.number, MIN(oc.name) AS name FROM enrollments o JOIN classes oc ON oc.id = o.classId AND oc.kind = 'homeroom'
       JOIN people p ON p.id = o.personId
     WHERE o.role = 'student' AND o.ends IS NULL AND o.personId IN (SELECT e.personId ${rooms}) GROUP BY o.personId HAVING COUNT(*) > 1`,
    { ids },
    tx,
  );

/** Their numbers can pass to others of the plan until they hold them again. */
export const letGo = (db: Db, tx: Tx, ids: string[]): Promise<number> =>
  db.run('UPDATE people SET letGo = 1 WHERE id IN (:ids)', { ids }, tx);

/** Throws where a number passed to another student and this one has it still. */
export const holdAgain = (db: Db, tx: Tx, ids: string[]): Promise<number> =>
  db.run('UPDATE people SET letGo = NULL WHERE letGo IS NOT NULL AND id IN (:ids)', { ids }, tx);

/** District coordinators who can sign in. */
export async function countCoordinators(db: Db, tx: Tx): Promise<number> {
  const row = await db.one<{ n: number }>(
    `SELECT COUNT(*) AS n FROM accounts ac JOIN people p ON p.id = ac.personId AND p.status = 'active' WHERE ac.role = 'district' AND ac.status = 'active'
       AND (ac.passwordHash IS NOT NULL OR EXISTS (SELECT 1 FROM sign_on o WHERE o.personId = p.id))`,
    {},
    tx,
  );
  return row?.n ?? 0;
}

/** Written, not only locked: then another server of a cluster sees it as well. */
export const countOnce = (db: Db, tx: Tx, what: readonly string[]): Promise<number> =>
  db.update(
    `INSERT INTO counted (what, times) VALUES ${what.map(() => '(?, 1)').join(', ')} ON DUPLICATE KEY UPDATE times = times + 1`,
    [...what],
    tx,
  );
