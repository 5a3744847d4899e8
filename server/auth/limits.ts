/**
 * Limits on trying, counted in the database so that a second process does not double them. A bucket holds so many
 * attempts until a moment; then it is empty again.
 */
import { literal } from 'sequelize';
import type { Db, Tx } from '../db/connection';
import { type Bucket, countAttempts as count, keyOf, readAttempts as read } from './queries';

export type { Bucket } from './queries';

/** Counts one attempt. True while no more than `most` were made within the window that the first one opened. */
export async function attempt(db: Db, bucket: Bucket): Promise<boolean> {
  await count(db, [bucket]);
  const [row] = await read(db, [bucket]);
  return (row?.hits ?? 1) <= bucket[1];
}

/**
 * Until when a bucket is taken for used up without looking, so that a flood costs the database little. Short, since an
 * attempt that turned out right is taken back.
 */
const rememberedSeconds = 10;
const mostRemembered = 10_000;

/** What one process knows besides the database: buckets used up lately, and attempts of which it is not yet known how they end. */
class Beside {
  readonly spent = new Map<string, number>();
  readonly pending = new Map<string, number>();
  /** Looks at the database under way: by bucket, how many failed attempts ended meanwhile, which the answer may lack. */
  readonly looking = new Set<Map<string, number>>();
}
const beside = new WeakMap<Db, Beside>();
function besideOf(db: Db): Beside {
  let one = beside.get(db);
  if (!one) beside.set(db, (one = new Beside()));
  return one;
}

/** Whether one of them is used up, without counting: whoever goes on then costs one look, or none. */
export async function usedUp(db: Db, buckets: readonly Bucket[]): Promise<boolean> {
  const { spent, pending, looking } = besideOf(db);
  const now = performance.now();
  if (buckets.some(([bucket]) => (spent.get(keyOf(bucket)) ?? 0) > now)) return true;
  // An attempt that failed during the look may be in the answer or not: then it is looked again, a few times.
  for (let looks = 0; looks < 4; looks++) {
    const meanwhile = new Map(buckets.map(([bucket]) => [keyOf(bucket), 0]));
    looking.add(meanwhile);
    const rows = await read(db, buckets).finally(() => looking.delete(meanwhile));
    let [isUsedUp, isSure] = [false, false];
    for (const [bucket, most] of buckets) {
      const key = keyOf(bucket);
      const row = rows.find((one) => one.bucket === key);
      const known = (row?.hits ?? 0) + (pending.get(key) ?? 0);
      if (known + meanwhile.get(key)! < most) continue;
      isUsedUp = true;
      if (known >= most) isSure = true;
      if (!row || row.hits < most) continue;
      if (spent.size >= mostRemembered) spent.clear();
      spent.set(key, now + Math.min(row.left, rememberedSeconds) * 1000);
    }
    if (!isUsedUp) return false;
    if (isSure) return true;
  }
  return true;
}

/** An attempt that is under way: it takes room in its buckets until it is known how it ended. */
export interface Try {
  /** It was wrong: counted in the database. Within a transaction, `over` is called once that is through. */
  failed: (tx?: Tx) => Promise<void>;
  /** It has ended, in whatever way: what was not counted by then was right. */
  over: () => void;
}

/**
 * Begins an attempt; null when a bucket is used up. What is right is never written down, so that a school that signs in
 * at once does not wait in line for one row. Attempts under way in this process take room at once; those of another
 * process when they have failed.
 */
export async function tryIn(db: Db, buckets: readonly Bucket[]): Promise<Try | null> {
  const { pending, looking } = besideOf(db);
  if (await usedUp(db, buckets)) return null;
  const keys = buckets.map(([bucket]) => keyOf(bucket));
  for (const key of keys) pending.set(key, (pending.get(key) ?? 0) + 1);
  let [isOver, isCounted] = [false, false];
  const over = () => {
    if (isOver) return;
    isOver = true;
    for (const key of keys) {
      const left = (pending.get(key) ?? 1) - 1;
      if (left > 0) pending.set(key, left);
      else pending.delete(key);
      if (isCounted) for (const look of looking) if (look.has(key)) look.set(key, look.get(key)! + 1);
    }
  };
  const failed = async (tx?: Tx) => {
    isCounted = true;
    try {
      await count(db, buckets, tx);
    } finally {
      if (!tx) over();
    }
  };
  return { over, failed };
}

/** Empties all buckets: for whoever runs the server, when an attack or a mistake has used them up. */
export async function emptyAll(db: Db): Promise<void> {
  await db.models.attempts.destroy({ where: {} });
  besideOf(db).spent.clear();
}

/** Takes an attempt back that turned out to be right. */
export async function forgive(db: Db, [bucket]: Bucket): Promise<void> {
  const hits = literal('GREATEST(hits, 1) - 1') as never;
  await db.models.attempts.update({ hits }, { where: { bucket: keyOf(bucket) } });
}
