/** Starts the threads beside the server's own: one for jobs, one that reads files. */
import { Worker } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { IntakeReader } from './api/context';

/** Beside the source when run from it, beside the bundle when built. */
const file = (name: 'jobs' | 'intake'): URL => new URL(import.meta.url.endsWith('.ts') ? `./${name}/thread.ts` : `./${name}-thread.js`, import.meta.url);

export interface Threads {
  nudge: () => void;
  intake: IntakeReader;
  stop: () => Promise<void>;
}

export function startThreads(onError: (thread: string, error: unknown) => void): Threads {
  const jobs = new Worker(file('jobs'));
  // Reading is bounded: a file that would take more ends the thread, not the server.
  const intake = new Worker(file('intake'), { resourceLimits: { maxOldGenerationSizeMb: 700 } });
  jobs.on('error', (error) => onError('jobs', error));
  intake.on('error', (error) => onError('intake', error));
  const reader = Comlink.wrap<IntakeReader>(nodeEndpoint(intake));
  return {
    nudge: () => jobs.postMessage('look'),
    intake: { preview: (id) => reader.preview(id), rows: (...args) => reader.rows(...args) },
    stop: async () => {
      await Promise.all([jobs.terminate(), intake.terminate()]);
    },
  };
}
