/** Limits on trying, counted in the database so that a second process does not double them. */
import type { Db } from '../db/connection';

/** Counts one attempt. True while no more than `most` were made within the window that the first one opened. */
export async function attempt(db: Db, bucket: string, most: number, windowSeconds: number): Promise<boolean> {
  const key = bucket.replace(/[^\x21-\x7e]/g, '?').slice(0, 160);
  await db.run(
    `INSERT INTO attempts (bucket, windowStart, hits) VALUES (:key, UTC_TIMESTAMP(), 1)
     ON DUPLICATE KEY UPDATE hits = IF(windowStart < UTC_TIMESTAMP() - INTERVAL :windowSeconds SECOND, 1, hits + 1),
       windowStart = IF(windowStart < UTC_TIMESTAMP() - INTERVAL :windowSeconds SECOND, UTC_TIMESTAMP(), windowStart)`,
    { key, windowSeconds },
  );
  const row = await db.one<{ hits: number }>('SELECT hits FROM attempts WHERE bucket = :key', { key });
  return (row?.hits ?? 1) <= most;
}

/** Takes an attempt back that turned out to be right. */
export async function forgive(db: Db, bucket: string): Promise<void> {
  await db.run('UPDATE attempts SET hits = GREATEST(hits, 1) - 1 WHERE bucket = :key', {
    key: bucket.replace(/[^\x21-\x7e]/g, '?').slice(0, 160),
  });
}
