/**
 * Jobs in the database. One is leased to a start of a process for a few seconds at a time, and the lease is renewed
 * while its thread works on it. A job's end is written in the very transaction of its work, so a job that is still
 * `running` when its lease has run out left nothing behind, and is said to be interrupted.
 */
import { say } from '#core/messages/say';
import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { getEnvironmentData, setEnvironmentData } from 'node:worker_threads';
import type { Job } from '../contract';
import { nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { mint } from '../plans/mint';
import { literal, Op } from 'sequelize';

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
const columns = ['id', 'kind', 'status', 'byPersonId', 'done', 'total', 'step', 'result', 'error'] as const;
/** By the database's clock, which all servers share. */
const isNow = literal('UTC_TIMESTAMP(3)');
const leased = { leasedBy: owner, leaseUntil: literal(`UTC_TIMESTAMP(3) + INTERVAL ${leaseSeconds} SECOND`) as never };
const isOurs = (id: string) => ({ id, status: 'running', leasedBy: owner });

const seen = <R extends Pick<Row, 'result' | 'error'>>(row: R) => ({
  ...row,
  result: row.result === null ? null : (JSON.parse(row.result) as Job['result']),
  error: row.error === null ? null : (JSON.parse(row.error) as Job['error']),
});
const record = (row: Row): JobRecord => ({ ...seen(row), input: JSON.parse(row.input) as unknown });

/** What is seen of a job, and whose it is; not its input, which may name a whole district. */
export async function jobById(db: Db, id: string): Promise<{ job: Job; by: string } | null> {
  const row = (await db.models.jobs.findOne({ attributes: [...columns], where: { id }, raw: true })) as Omit<
    Row,
    'input' | 'leasedBy'
  > | null;
  if (!row) return null;
  const { byPersonId: by, ...job } = seen(row);
  return { job, by };
}

/** Leases the oldest waiting job to this process; null if none waits. Two processes never get the same one. */
export async function claim(db: Db): Promise<JobRecord | null> {
  return db.transaction(async (tx) => {
    const row = (await db.models.jobs.findOne({
      attributes: [...columns, 'input', 'leasedBy'],
      where: { status: 'waiting' },
      order: ['createdAt', 'id'],
      lock: true,
      skipLocked: true,
      transaction: tx,
      raw: true,
    })) as Row | null;
    if (!row) return null;
    await db.models.jobs.update({ status: 'running', ...leased }, { where: { id: row.id }, transaction: tx });
    return { ...record(row), status: 'running' as const, leasedBy: owner };
  });
}

/** For one that a thread of this process works on. */
export async function renew(db: Db, id: string): Promise<void> {
  await db.models.jobs.update(leased, { where: isOurs(id) });
}

export async function report(db: Db, id: string, step: string, done: number, total: number): Promise<void> {
  await db.models.jobs.update({ step, done, total }, { where: { id, status: 'running' } });
}

/** Within the work's transaction. Throws, so that the work is rolled back, when the lease was lost in between. */
export async function finish(db: Db, tx: Tx, id: string, result: Job['result']): Promise<void> {
  const [kept] = await db.models.jobs.update(
    { status: 'done', result: JSON.stringify(result), leaseUntil: null },
    { where: isOurs(id), transaction: tx },
  );
  if (kept !== 1) throw new Error(say('jobs.thisServerGaveUpThe'));
}

/** So long it is tried to write down that a job failed; then its lease has run out for certain. */
const failMostMs = 120_000;

/** Also where the database is away, as it may be why the job failed: tried again with growing pauses. */
export async function fail(db: Db, id: string, error: Job['error'], mostMs = failMostMs): Promise<void> {
  const until = performance.now() + mostMs;
  for (let pause = 250; ; pause = Math.min(pause * 2, 5000)) {
    try {
      await db.models.jobs.update(
        { status: 'failed', error: JSON.stringify(error), leaseUntil: null },
        { where: isOurs(id) },
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
  byPieces.has(kind) ? say('jobs.whatWasDoneSoFar') : say('jobs.nothingWasKeptYouCan');
const interruption = (kind: string): string => say('jobs.theServerStoppedInThe', { rest: leftOf(kind) });

/** Marks what a dead process left. Returns the jobs concerned, for the log. */
export async function endInterrupted(db: Db): Promise<{ id: string; kind: string }[]> {
  const isOver = { status: 'running', leaseUntil: { [Op.lt]: isNow } };
  const left = await db.models.jobs.findAll({ attributes: ['id', 'kind'], where: isOver, raw: true });
  const ended: { id: string; kind: string }[] = [];
  for (const { id, kind } of left) {
    // Renewed in between, it goes on.
    const [now] = await db.models.jobs.update(
      { status: 'interrupted', error: JSON.stringify({ message: interruption(kind) }), leaseUntil: null },
      { where: { id, ...isOver } },
    );
    if (now === 1) ended.push({ id, kind });
  }
  return ended;
}

/** Marks what a thread of this very process left when it broke. */
export async function endOwn(db: Db): Promise<void> {
  const left = await db.models.jobs.findAll({
    attributes: ['id', 'kind'],
    where: { status: 'running', leasedBy: owner },
    raw: true,
  });
  for (const { id, kind } of left)
    await db.models.jobs.update(
      { status: 'interrupted', error: JSON.stringify({ message: interruption(kind) }), leaseUntil: null },
      { where: isOurs(id) },
    );
}
