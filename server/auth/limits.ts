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

/**
 * Until when a bucket is taken for used up without looking, so that a flood costs the database little. Short, since an
 * attempt that turned out right is taken back.
 */
const rememberedSeconds = 10;
const spent = new WeakMap<Db, Map<string, number>>();
const mostRemembered = 10_000;

/** Whether one of them is used up, without counting: whoever goes on then costs one look, or none. */
export async function usedUp(db: Db, buckets: readonly Bucket[]): Promise<boolean> {
  let known = spent.get(db);
  if (!known) spent.set(db, (known = new Map()));
  const now = Date.now();
  if (buckets.some(([bucket]) => (known.get(keyOf(bucket)) ?? 0) > now)) return true;
  const rows = await db.select<{ bucket: string; hits: number; age: number }>(
    'SELECT bucket, hits, TIMESTAMPDIFF(SECOND, windowStart, UTC_TIMESTAMP()) AS age FROM attempts WHERE bucket IN (:keys)',
    { keys: buckets.map(([bucket]) => keyOf(bucket)) },
  );
  let isUsedUp = false;
  for (const [bucket, most, seconds] of buckets) {
    const row = rows.find((one) => one.bucket === keyOf(bucket));
    if (!row || row.hits < most || row.age > seconds) continue;
    isUsedUp = true;
    if (known.size >= mostRemembered) known.clear();
    known.set(keyOf(bucket), now + Math.min(seconds - row.age, rememberedSeconds) * 1000);
  }
  return isUsedUp;
}

/** Takes an attempt back that turned out to be right. */
export async function forgive(db: Db, [bucket]: Bucket): Promise<void> {
  await db.run('UPDATE attempts SET hits = GREATEST(hits, 1) - 1 WHERE bucket = :key', { key: keyOf(bucket) });
}
