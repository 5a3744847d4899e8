/** The thread that reads files for the intake's worksheet: a large file never holds up the answers of others. */
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readConfig } from '../config';
import { timely } from '../district';
import { Db, jobSeconds } from '../db/connection';
import type { IntakeReader } from '../services';
import { Reader } from './reader';

const config = readConfig();
const db = new Db(config.database, 6, jobSeconds);
const reader = new Reader(db, config);
// Bound, since a proxied call has no `this`.
Comlink.expose(
  {
    carry: timely(db, reader.carry.bind(reader)),
    preview: timely(db, reader.preview.bind(reader)),
    rows: timely(db, reader.rows.bind(reader)),
    problemBeside: timely(db, reader.problemBeside.bind(reader)),
    cellsWith: timely(db, reader.cellsWith.bind(reader)),
    pairs: timely(db, reader.pairs.bind(reader)),
    rowOf: timely(db, reader.rowOf.bind(reader)),
    duplicates: timely(db, reader.duplicates.bind(reader)),
  } satisfies IntakeReader,
  nodeEndpoint(parentPort as MessagePort),
);
