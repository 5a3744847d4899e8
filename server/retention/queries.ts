/** Counts over whole tables, and whose last place ended when: the database groups them in one pass. */
import type { RetentionKind } from '#core/retention/index';
import type { RetentionSheet } from '../contract';
import type { Db, Tx } from '../db/connection';

export interface Gone {
  id: string;
  role: string;
  number: string | null;
  givenName: string;
  familyName: string;
  email: string | null;
  username: string | null;
}

/** Who left by a day and has no device. They are locked: nobody comes back in the middle of a purge. */
export const leftBy = (db: Db, tx: Tx, from: string): Promise<Gone[]> =>
  db.select<Gone>(
    `SELECT p.id, p.role, p.number, p.givenName, p.familyName, p.email, ac.username FROM people p LEFT JOIN accounts ac ON ac.personId = p.id
     WHERE p.id IN (SELECT x.id FROM (SELECT q.id FROM people q JOIN affiliations a ON a.personId = q.id WHERE q.status = 'left'
       GROUP BY q.id HAVING SUM(a.ends IS NULL) = 0 AND MAX(a.ends) <= :from) x) AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.personId = p.id AND l.ends IS NULL) FOR UPDATE`,
    { from },
    tx,
  );

/** Who left by a day, longest gone first. */
export const leaversBy = (db: Db, from: string, limit: number): Promise<RetentionSheet['leavers']> =>
  db.select(
    `SELECT p.id, CONCAT(p.familyName, ', ', p.givenName) AS name, p.number, p.role, MAX(a.ends) AS leftOn FROM people p JOIN affiliations a ON a.personId = p.id
     WHERE p.status = 'left' GROUP BY p.id HAVING SUM(a.ends IS NULL) = 0 AND MAX(a.ends) <= :from ORDER BY leftOn, name, p.id LIMIT ${limit}`,
    { from },
  );

const quarterOf = (moment: string) =>
  `CONCAT(LEFT(${moment}, 14), LPAD(15 * FLOOR(MID(${moment}, 15, 2) / 15), 2, '0'))`;
const sqlOf: Record<RetentionKind, string> = {
  leavers: `SELECT day, COUNT(*) AS n FROM (SELECT p.id, MAX(a.ends) AS day FROM people p JOIN affiliations a ON a.personId = p.id WHERE p.status = 'left'
    GROUP BY p.id HAVING SUM(a.ends IS NULL) = 0) x WHERE NOT EXISTS (SELECT 1 FROM loans l WHERE l.personId = x.id AND l.ends IS NULL) GROUP BY day`,
  files: `SELECT ${quarterOf('createdAt')} AS day, COUNT(*) AS n FROM intakes WHERE status NOT IN ('open', 'purged') GROUP BY day`,
  requests: `SELECT ${quarterOf('settledAt')} AS day, COUNT(*) AS n FROM join_requests WHERE settledAt IS NOT NULL GROUP BY day`,
  use: `SELECT day, SUM(n) AS n FROM (SELECT day, COUNT(*) AS n FROM use_days GROUP BY day UNION ALL SELECT ${quarterOf('at')}, COUNT(*) FROM results GROUP BY 1
    UNION ALL SELECT ${quarterOf('missedAt')}, COUNT(*) FROM missed_words GROUP BY 1 UNION ALL SELECT seenOn, COUNT(*) FROM levels GROUP BY 1 UNION ALL SELECT lastOn, COUNT(*) FROM use_strays GROUP BY 1 UNION ALL SELECT day, COUNT(*) FROM statements GROUP BY 1) x GROUP BY day`,
  trail: `SELECT ${quarterOf('at')} AS day, COUNT(*) AS n FROM audit GROUP BY day`,
};
/**
 * When each thing of a kind was: a day, or a quarter of an hour in UTC (a day of any zone begins at one), and how many.
 * Who left counts from the end of the last place they had; whoever still has a device waits until it is back.
 */
export const whensOf = (db: Db, kind: RetentionKind): Promise<{ day: string; n: number }[]> =>
  db.select(`${sqlOf[kind]} ORDER BY day`);
