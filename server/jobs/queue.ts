/**
 * Jobs in the database. One is leased to a start of a process for a few seconds at a time, and the lease is renewed
 * while its thread works on it. A job's end is written in the very transaction of its work, so a job that is still
 * `running` when its lease has run out left nothing behind, and is said to be interrupted.
 */
import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { getEnvironmentData, setEnvironmentData } from 'node:worker_threads';
import type { Job } from '../contract';
import { nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { mint } from '../plans/mint';

export type JobKind =
  | 'intake.plan'
  | 'feed.take'
  | 'plan.apply'
  | 'plan.undo'
  | 'cards.print'
  | 'secrets.plan'
  | 'sheaf.plan'
  | 'seats.plan'
  | 'devices.plan'
  | 'year.plan'
  | 'directory.send'
  | 'directory.compare'
  | 'staff.invite'
  | 'data.purge'
  | 'key.rotate';

export interface JobRecord extends Job {
  kind: JobKind;
  input: unknown;
  byPersonId: string;
  leasedBy: string | null;
}

const leaseSeconds = 6;
export const renewEveryMs = 2000;
/** This start of this process, as it stands in leases: the next one may have the same number. Its threads have it too. */
export const owner = ((): string => {
  const known = getEnvironmentData('owner');
  if (typeof known === 'string') return known;
  const own = `${hostname().slice(0, 40)}:${randomUUID()}`;
  setEnvironmentData('owner', own);
  return own;
})();

export async function enqueue(db: Db, kind: JobKind, input: object, by: string, tx?: Tx): Promise<string> {
  const id = mint();
  await db.models.jobs.create(
    { id, kind, input: JSON.stringify(input), status: 'waiting', byPersonId: by, createdAt: nowIso() },
    { transaction: tx },
  );
  return id;
}

type Row = Omit<JobRecord, 'input' | 'result' | 'error'> & {
  input: string;
  result: string | null;
  error: string | null;
};
const columns = 'id, kind, input, status, byPersonId, done, total, step, result, error, leasedBy';

const seen = <R extends Pick<Row, 'result' | 'error'>>(row: R) => ({
  ...row,
  result: row.result === null ? null : (JSON.parse(row.result) as Job['result']),
  error: row.error === null ? null : (JSON.parse(row.error) as Job['error']),
});
const record = (row: Row): JobRecord => ({ ...seen(row), input: JSON.parse(row.input) as unknown });

/** What is seen of a job, and whose it is; not its input, which may name a whole district. */
export async function jobById(db: Db, id: string): Promise<{ job: Job; by: string } | null> {
  const row = await db.one<Omit<Row, 'input' | 'leasedBy'>>(
    'SELECT id, kind, status, byPersonId, done, total, step, result, error FROM jobs WHERE id = :id',
    { id },
  );
  if (!row) return null;
  const { byPersonId: by, ...job } = seen(row);
  return { job, by };
}

/** Leases the oldest waiting job to this process; null if none waits. Two processes never get the same one. */
export async function claim(db: Db): Promise<JobRecord | null> {
  return db.transaction(async (tx) => {
    const row = await db.one<Row>(
      `SELECT ${columns} FROM jobs WHERE status = 'waiting' ORDER BY createdAt, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      {},
      tx,
    );
    if (!row) return null;
    await db.run(
      `UPDATE jobs SET status = 'running', leasedBy = :owner, leaseUntil = UTC_TIMESTAMP(3) + INTERVAL ${leaseSeconds} SECOND WHERE id = :id`,
      { owner, id: row.id },
      tx,
    );
    return { ...record(row), status: 'running' as const, leasedBy: owner };
  });
}

/** For one that a thread of this process works on. */
export async function renew(db: Db, id: string): Promise<void> {
  await db.run(
    `UPDATE jobs SET leaseUntil = UTC_TIMESTAMP(3) + INTERVAL ${leaseSeconds} SECOND WHERE id = :id AND status = 'running' AND leasedBy = :owner`,
    { id, owner },
  );
}

export async function report(db: Db, id: string, step: string, done: number, total: number): Promise<void> {
  await db.run("UPDATE jobs SET step = :step, done = :done, total = :total WHERE id = :id AND status = 'running'", {
    id,
    step,
    done,
    total,
  });
}

/** Within the work's transaction. Throws, so that the work is rolled back, when the lease was lost in between. */
export async function finish(db: Db, tx: Tx, id: string, result: Job['result']): Promise<void> {
  const kept = await db.run(
    "UPDATE jobs SET status = 'done', result = :result, leaseUntil = NULL WHERE id = :id AND status = 'running' AND leasedBy = :owner",
    { id, result: JSON.stringify(result), owner },
    tx,
  );
  if (kept !== 1) throw new Error('The job was given up by this process, so nothing of it was kept.');
}

/** So long it is tried to write down that a job failed; then its lease has run out for certain. */
const failMostMs = 120_000;

/** Also where the database is away, as it may be why the job failed: tried again with growing pauses. */
export async function fail(db: Db, id: string, error: Job['error'], mostMs = failMostMs): Promise<void> {
  const until = performance.now() + mostMs;
  for (let pause = 250; ; pause = Math.min(pause * 2, 5000)) {
    try {
      await db.run(
        "UPDATE jobs SET status = 'failed', error = :error, leaseUntil = NULL WHERE id = :id AND status = 'running' AND leasedBy = :owner",
        { id, error: JSON.stringify(error), owner },
      );
      return;
    } catch (why) {
      if (performance.now() + pause > until) throw why;
      await new Promise((next) => setTimeout(next, pause));
    }
  }
}

/** Jobs that do their work piece by piece: mail that was sent cannot be taken back. */
const byPieces = new Set<string>(['staff.invite', 'directory.send', 'key.rotate']);
/** What is left of a job that did not come to its end. */
export const leftOf = (kind: string): string =>
  byPieces.has(kind)
    ? 'What was done until then stays; start it again for the rest.'
    : 'Nothing of it was kept; it can be started again.';
const interruption = (kind: string): string => `The server stopped in the middle of this. ${leftOf(kind)}`;

/** Marks what a dead process left. Returns the jobs concerned, for the log. */
export async function endInterrupted(db: Db): Promise<{ id: string; kind: string }[]> {
  const left = await db.select<{ id: string; kind: string }>(
    "SELECT id, kind FROM jobs WHERE status = 'running' AND leaseUntil < UTC_TIMESTAMP(3)",
  );
  const ended = [];
  for (const { id, kind } of left) {
    // Renewed in between, it goes on.
    const now = await db.run(
      "UPDATE jobs SET status = 'interrupted', error = :error, leaseUntil = NULL WHERE id = :id AND status = 'running' AND leaseUntil < UTC_TIMESTAMP(3)",
      { id, error: JSON.stringify({ message: interruption(kind) }) },
    );
    if (now === 1) ended.push({ id, kind });
  }
  return ended;
}

/** Marks what a thread of this very process left when it broke. */
export async function endOwn(db: Db): Promise<void> {
  const left = await db.select<{ id: string; kind: string }>(
    "SELECT id, kind FROM jobs WHERE status = 'running' AND leasedBy = :owner",
    { owner },
  );
  for (const { id, kind } of left)
    await db.run(
      "UPDATE jobs SET status = 'interrupted', error = :error, leaseUntil = NULL WHERE id = :id AND status = 'running' AND leasedBy = :owner",
      { id, error: JSON.stringify({ message: interruption(kind) }), owner },
    );
}
