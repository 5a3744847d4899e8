/** The thread that makes PDFs and workbooks: 5,000 labels take seconds of drawing, in which others are answered. */
import { type MessagePort, parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { papers } from './maker';

Comlink.expose(papers, nodeEndpoint(parentPort as MessagePort));
