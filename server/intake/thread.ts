/** The thread that reads files for the intake's worksheet: a large file never holds up the answers of others. */
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { Reader } from './reader';

const config = readConfig();
const reader = new Reader(new Db(config.database, 6, jobSeconds), config);
// Bound, since a proxied call has no `this`.
Comlink.expose(
  {
    carry: reader.carry.bind(reader),
    preview: reader.preview.bind(reader),
    rows: reader.rows.bind(reader),
    problemBeside: reader.problemBeside.bind(reader),
    pairs: reader.pairs.bind(reader),
    rowOf: reader.rowOf.bind(reader),
    duplicates: reader.duplicates.bind(reader),
  },
  nodeEndpoint(parentPort as MessagePort),
);
