/** The thread that counts over all people at once (seats, the roll-over, use): what takes a second never holds up the answers of others. */
import { timely } from '../district';
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { LicenseDesk } from '../licenses/desk';
import { UseDesk } from '../use/figures';
import { YearDesk } from '../year/plan';

const config = readConfig();
const db = new Db(config.database, 4, jobSeconds);
const desk = new LicenseDesk(db, config);
const use = new UseDesk(db, config);
const year = new YearDesk(db, config);
Comlink.expose(
  {
    products: timely(db, desk.products.bind(desk)),
    product: timely(db, desk.product.bind(desk)),
    rehearse: timely(db, year.rehearse.bind(year)),
    rehearsed: timely(db, year.people.bind(year)),
    use: timely(db, use.sheet.bind(use)),
    users: timely(db, use.people.bind(use)),
  },
  nodeEndpoint(parentPort as MessagePort),
);
