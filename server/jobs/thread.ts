/** The thread in which jobs are done, one after the other, so that the interface answers meanwhile. */
import { parentPort } from 'node:worker_threads';
import { readConfig } from '../config';
import { Db } from '../db/connection';
import { enqueueDue } from '../directory/state';
import { dueFeeds } from '../feeds/store';
import { enqueue } from './queue';
import { workOnce } from './work';

const config = readConfig();
const db = new Db(config.database, 4);
let wake = () => {};
parentPort?.on('message', () => wake());

for (;;) {
  try {
    for (const feed of await dueFeeds(db))
      await enqueue(db, 'feed.take', { feedId: feed.id, planned: true }, feed.createdBy);
    await enqueueDue(db, config);
    if (await workOnce(db, config)) continue;
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
