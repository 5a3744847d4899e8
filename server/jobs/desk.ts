/** What a job's work is given, and what becomes of it when it fails. */
import { say } from '#core/messages/say';
import { Refusal } from '#core/tabular/index';
import { forLog } from '../log';
import { NotAllowed } from '../authority/check';
import type { Config } from '../config';
import { CommitLost, isAway, isTooLong } from '../db/away';
import type { Db } from '../db/connection';
import { keepTime } from '../district';
import { PlanConflict } from '../plans/apply';
import { shortForWork } from '../local/disk';
import { fail, type JobKind, type JobRecord, leftOf, report } from './queue';

export interface Desk {
  db: Db;
  config: Config;
  job: JobRecord;
  /** Says how far it is, at most four times a second. */
  progress: (step: string, done: number, total: number) => void;
}
export type Work = (desk: Desk) => Promise<void>;

/** Jobs that write much. */
const large: ReadonlySet<JobKind> = new Set([
  ...(['intake.plan', 'plan.apply', 'plan.undo'] as const),
  ...(['year.plan', 'data.purge', 'key.rotate'] as const),
]);

/** Words of the database are for the log: they hold values, and say nothing to a person. */
function wordsOf(error: unknown, kind: string): string {
  if (isAway(error) || error instanceof CommitLost)
    return say('jobs.theConnectionToTheDatabase', { rest: leftOf(kind) });
  if (isTooLong(error)) return say('jobs.thisTookTheDatabaseToo', { rest: leftOf(kind) });
  const sql = error instanceof Error && 'sqlState' in ((error as { original?: object }).original ?? error);
  if (sql) return say('jobs.somethingWentWrongOnThe', { rest: leftOf(kind) });
  return error instanceof Error ? error.message : String(error);
}

/** Does the work of a job that this process has leased. What goes wrong becomes the job's error, in words. */
export async function performing(db: Db, config: Config, job: JobRecord, work: Work): Promise<void> {
  let last = -Infinity;
  const desk: Desk = {
    db,
    config,
    job,
    progress: (step, done, total) => {
      if (performance.now() - last < 250) return;
      last = performance.now();
      // Beside the work's transaction, on a connection of its own; a lost report is no harm.
      db.beside(() => report(db, job.id, step, done, total)).catch(() => {});
    },
  };
  try {
    const short = large.has(job.kind) ? shortForWork(config) : null;
    if (short) throw new Refusal('disk', say('jobs.nothingWasChangedFreeSome', { short }));
    await keepTime(db);
    await work(desk);
  } catch (error) {
    const conflicts = error instanceof PlanConflict ? { conflicts: error.conflicts } : {};
    if (![PlanConflict, Refusal, NotAllowed].some((known) => error instanceof known))
      console.error(`job ${job.kind} ${job.id}:`, forLog(error));
    await fail(db, job.id, { message: wordsOf(error, job.kind), ...conflicts });
  }
}
