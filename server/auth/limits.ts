/** Limits on trying, counted in the database so that a second process does not double them. */
import type { Db } from '../db/connection';

/** What is counted, the most within the window, and the window in seconds. */
export type Bucket = readonly [bucket: string, most: number, seconds: number];

const keyOf = (bucket: string): string => bucket.replace(/[^\x21-\x7e]/g, '?').slice(0, 160);

/** Counts one attempt. True while no more than `most` were made within the window that the first one opened. */
export async function attempt(db: Db, [bucket, most, windowSeconds]: Bucket): Promise<boolean> {
  const key = keyOf(bucket);
  await db.run(
    `INSERT INTO attempts (bucket, windowStart, hits) VALUES (:key, UTC_TIMESTAMP(), 1)
     ON DUPLICATE KEY UPDATE hits = IF(windowStart < UTC_TIMESTAMP() - INTERVAL :windowSeconds SECOND, 1, hits + 1),
       windowStart = IF(windowStart < UTC_TIMESTAMP() - INTERVAL :windowSeconds SECOND, UTC_TIMESTAMP(), windowStart)`,
    { key, windowSeconds },
  );
  const row = await db.one<{ hits: number }>('SELECT hits FROM attempts WHERE bucket = :key', { key });
  return (row?.hits ?? 1) <= most;
}

/** Whether one of them is used up, without counting: whoever goes on then costs one look. */
export async function usedUp(db: Db, buckets: readonly Bucket[]): Promise<boolean> {
  const rows = await db.select<{ bucket: string; hits: number; age: number }>(
    'SELECT bucket, hits, TIMESTAMPDIFF(SECOND, windowStart, UTC_TIMESTAMP()) AS age FROM attempts WHERE bucket IN (:keys)',
    { keys: buckets.map(([bucket]) => keyOf(bucket)) },
  );
  return buckets.some(([bucket, most, seconds]) =>
    rows.some((row) => row.bucket === keyOf(bucket) && row.hits >= most && row.age <= seconds),
  );
}

/** Takes an attempt back that turned out to be right. */
export async function forgive(db: Db, [bucket]: Bucket): Promise<void> {
  await db.run('UPDATE attempts SET hits = GREATEST(hits, 1) - 1 WHERE bucket = :key', { key: keyOf(bucket) });
}
