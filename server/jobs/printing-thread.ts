/** The thread of one print: does the job that it is given and ends. Little else is loaded into it. */
import { workerData } from 'node:worker_threads';
import { readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { performing } from './desk';
import { printing } from './printing';
import type { JobRecord } from './queue';

const config = readConfig();
const db = new Db(config.database, 2, jobSeconds);
await performing(db, config, workerData as JobRecord, printing);
await db.close();
