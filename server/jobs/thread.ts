/** The thread in which jobs are done, one after the other, so that the interface answers meanwhile. */
import { say } from '#core/messages/say';
import { parentPort, Worker } from 'node:worker_threads';
import { type Config, readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { enqueueDue } from '../directory/state';
import { dueFeeds } from '../feeds/store';
import { enqueue, fail, type JobRecord, leftOf } from './queue';
import { performJob, workOnce } from './work';

const config = readConfig();
const db = new Db(config.database, 8, jobSeconds);
let wake = () => {};
parentPort?.on('message', () => wake());

const printing = new URL(`./printing-thread.${import.meta.url.endsWith('.ts') ? 'ts' : 'js'}`, import.meta.url);

/**
 * Drawing leaves fonts and hundreds of megabytes of short-lived lines behind: it has a thread of its own with a small
 * young part, whose memory is given back when the print is made.
 */
async function carefully(db: Db, config: Config, job: JobRecord): Promise<void> {
  if (job.kind !== 'cards.print') return performJob(db, config, job);
  let broken: unknown = null;
  await new Promise<void>((ended) =>
    new Worker(printing, {
      workerData: job,
      resourceLimits: { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 32 },
    })
      .on('error', (error) => (broken = error))
      .on('exit', () => ended()),
  );
  if (!broken) return;
  console.error(`job ${job.kind} ${job.id}:`, broken);
  const isTooMuch = (broken as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY';
  const message = isTooMuch
    ? say('jobs.thisPrintIsTooLarge')
    : say('jobs.somethingWentWrongOnThe', { rest: leftOf(job.kind) });
  await fail(db, job.id, { message });
}

/** The server's own thread renews the lease meanwhile: this one may compute for longer than a lease holds. */
async function perform(db: Db, config: Config, job: JobRecord): Promise<void> {
  parentPort?.postMessage({ job: job.id });
  try {
    await carefully(db, config, job);
  } finally {
    parentPort?.postMessage({ job: null });
  }
}

for (;;) {
  try {
    for (const feed of await dueFeeds(db))
      await enqueue(db, 'feed.take', { feedId: feed.id, planned: true }, feed.createdBy);
    await enqueueDue(db, config);
    if (await workOnce(db, config, perform)) continue;
  } catch (error) {
    console.error('jobs:', error instanceof Error ? error.message : error);
  }
  // A nudge comes with each new job of this process; those of other processes are looked for.
  await new Promise<void>((next) => {
    const timer = setTimeout(next, 1500);
    wake = () => {
      clearTimeout(timer);
      next();
    };
  });
}
