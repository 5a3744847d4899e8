/**
 * What every sign-in and every request asks, in one round trip each: a storm of three hundred sign-ins waits for the
 * database and for nothing else (`./run bench sign-in`). And counts of attempts, by the database's own clock.
 */
import type { AccountRole } from '#core/entities/index';
import { clock } from '../clock';
import type { Db, Param, Tx } from '../db/connection';
import type { Row } from '../db/models';
import { mint } from '../plans/mint';

/** What is counted, the most within the window, and the window in seconds. */
export type Bucket = readonly [bucket: string, most: number, seconds: number];

export const keyOf = (bucket: string): string => bucket.replace(/[^\x21-\x7e]/g, '?').slice(0, 160);

/** Counts one attempt in each, in one statement. In the order of their names, so that no two statements wait for each other. */
export async function countAttempts(db: Db, buckets: readonly Bucket[], tx?: Tx): Promise<void> {
  const sorted = [...buckets].sort(([a], [b]) => (keyOf(a) < keyOf(b) ? -1 : 1));
  await db.run(
    `INSERT INTO attempts (bucket, until, hits) VALUES ${sorted.map((_, i) => `(:b${i}, UTC_TIMESTAMP() + INTERVAL :s${i} SECOND, 1)`).join(', ')}
     ON DUPLICATE KEY UPDATE hits = IF(until <= UTC_TIMESTAMP(), 1, hits + 1), until = IF(until <= UTC_TIMESTAMP(), VALUES(until), until)`,
    Object.fromEntries(
      sorted.flatMap(([bucket, , seconds], i): [string, string | number][] => [
        [`b${i}`, keyOf(bucket)],
        [`s${i}`, seconds],
      ]),
    ),
    tx,
  );
}

interface Hits {
  bucket: string;
  hits: number;
  /** Seconds until it is empty again. */
  left: number;
}
export const readAttempts = (db: Db, buckets: readonly Bucket[]): Promise<Hits[]> =>
  db.select<Hits>(
    'SELECT bucket, hits, TIMESTAMPDIFF(SECOND, UTC_TIMESTAMP(), until) AS `left` FROM attempts WHERE until > UTC_TIMESTAMP() AND bucket IN (:keys)',
    { keys: buckets.map(([bucket]) => keyOf(bucket)) },
  );

export interface TriedRow {
  id: string;
  personId: string;
  role: AccountRole;
  status: string;
  secretSealed: string | null;
  passwordHash: string | null;
  schoolId: string | null;
  knownHash: string | null;
}
/** The account of a username, with its school and the browser's token if it is known. */
export const accountToTry = (db: Db, name: string, known: readonly string[]): Promise<TriedRow | null> =>
  db.one(
    `SELECT ac.id, ac.personId, ac.role, ac.status, ac.secretSealed, ac.passwordHash, a.schoolId, k.tokenHash AS knownHash
     FROM accounts ac LEFT JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL
       LEFT JOIN known_browsers k ON k.accountId = ac.id AND k.tokenHash IN (:known) WHERE ac.username = :name LIMIT 1`,
    { name, known: ['-', ...known] },
  );

/** A statement with `?` for each value. */
export type Statement = readonly [sql: string, ...values: Param[]];
/** A session with the first and last sign-in of the person, its day and the trail, and what else belongs to it, in one commit. */
export const beginSession = (
  db: Db,
  session: Omit<Row<'sessions'>, 'id'> & { id: string; createdAt: string; way: string; address: string },
  personId: string,
  within: readonly Statement[],
): Promise<void> => {
  const { tokenHash, id, accountId, createdAt, lastAt, freshAt, expiresAt, way, browser, address } = session;
  return db.atomic([
    [
      'INSERT INTO sessions (tokenHash, id, accountId, createdAt, lastAt, freshAt, expiresAt, way, browser, address) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      ...[tokenHash, id, accountId, createdAt, lastAt, freshAt, expiresAt, way, browser, address],
    ],
    [
      'INSERT INTO sign_ins (personId, firstAt, lastAt, way) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE lastAt = VALUES(lastAt), way = VALUES(way)',
      ...[personId, createdAt, createdAt, way],
    ],
    ['INSERT IGNORE INTO sign_in_days (day, personId) VALUES (?, ?)', clock.dayOf(createdAt), personId],
    [
      "INSERT INTO audit (id, at, byPersonId, action, aboutPersonId, detail) VALUES (?, ?, ?, 'sign-in', ?, ?)",
      ...[mint(), createdAt, personId, personId, `${way}, from ${address}`],
    ],
    ...within,
  ]);
};

/** Of a browser in which this person signed in before, and of one that is known from now on. */
export const seenAgain = (tokenHash: string, now: string): Statement => [
  'UPDATE known_browsers SET lastAt = ? WHERE tokenHash = ?',
  ...[now, tokenHash],
];
export const knownFromNow = (tokenHash: string, accountId: string, now: string): Statement => [
  'INSERT INTO known_browsers (tokenHash, accountId, lastAt) VALUES (?, ?, ?)',
  ...[tokenHash, accountId, now],
];

export interface SessionRow {
  id: string;
  accountId: string;
  personId: string;
  role: AccountRole;
  lastAt: string | null;
  freshAt: string | null;
  way: string | null;
  hasFactor: number;
  /** The district's setting: who must have a second factor. */
  duty: string | null;
  zone: string | null;
}
/** The session of a token, read with every request. */
export const sessionBy = (db: Db, hash: string, now: string): Promise<SessionRow | null> =>
  db.one(
    `SELECT s.id, s.accountId, ac.personId, ac.role, s.lastAt, s.freshAt, s.way,
       EXISTS (SELECT 1 FROM passkeys k WHERE k.accountId = ac.id) OR EXISTS (SELECT 1 FROM app_codes t WHERE t.accountId = ac.id AND t.confirmedAt IS NOT NULL) AS hasFactor,
       JSON_VALUE(d.settings, '$.secondFactor') AS duty, d.zone FROM sessions s JOIN accounts ac ON ac.id = s.accountId LEFT JOIN district d ON TRUE
     WHERE s.tokenHash = :hash AND s.expiresAt > :now AND ac.status = 'active'`,
    { hash, now },
  );

/** What is sealed by the key of now, of many rows; one that changed meanwhile keeps what it has. Rows: the text (and its MAC), the id, the text before. */
export const sealAnew = (
  db: Db,
  tx: Tx,
  { table, id, column, hasMac }: { table: string; id: string; column: string; hasMac: boolean },
  rows: unknown[][],
): Promise<void> =>
  db.batch(
    `UPDATE ${table} SET ${column} = ?${hasMac ? ', codeMac = ?' : ''} WHERE ${id} = ? AND ${column} = ?`,
    rows,
    tx,
  );
