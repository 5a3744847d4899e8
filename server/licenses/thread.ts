/** The thread that counts seats for all people at once: what takes a second never holds up the answers of others. */
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readConfig } from '../config';
import { Db } from '../db/connection';
import { LicenseDesk } from './desk';

const config = readConfig();
const desk = new LicenseDesk(new Db(config.database, 4), config);
Comlink.expose(
  { products: desk.products.bind(desk), product: desk.product.bind(desk) },
  nodeEndpoint(parentPort as MessagePort),
);
