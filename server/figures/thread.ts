/** The thread that counts over all people at once (seats, the roll-over, use): what takes a second never holds up the answers of others. */
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { LicenseDesk } from '../licenses/desk';
import { UseDesk } from '../use/figures';
import { rehearse } from '../year/plan';

const config = readConfig();
const db = new Db(config.database, 4, jobSeconds);
const desk = new LicenseDesk(db, config);
const use = new UseDesk(db, config);
Comlink.expose(
  {
    products: desk.products.bind(desk),
    product: desk.product.bind(desk),
    rehearse: () => rehearse(db, config),
    use: use.sheet.bind(use),
    users: use.people.bind(use),
  },
  nodeEndpoint(parentPort as MessagePort),
);
