/**
 * The threads beside the server's own: one for jobs, one that reads files, one that counts over all people, one that makes PDFs and
 * workbooks; all but the first begin when they are first asked. Each has a bound on its memory; one that runs over it, or breaks otherwise, is started anew
 * and whoever waited for it is told.
 */
import { Worker } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { Fault } from './faults';
import type { IntakeReader, UseFigures, YearFigures } from './services';
import type { LicenseFigures } from './licenses/desk';
import type { PaperMaker } from './papers/maker';

/** Beside the source when run from it, beside the bundle when built. */
const file = (name: ThreadName): URL =>
  new URL(import.meta.url.endsWith('.ts') ? `./${name}/thread.ts` : `./${name}-thread.js`, import.meta.url);

/**
 * Megabytes of heap. Reading 200,000 rows takes about 200, planning a district's first import about 1,500. The young
 * part is three times its half: in a large one most of what a plan only touches is gone before it is ever copied.
 */
const heap = {
  jobs: { maxOldGenerationSizeMb: 3000, maxYoungGenerationSizeMb: 192 },
  intake: { maxOldGenerationSizeMb: 330, maxYoungGenerationSizeMb: 16 },
  figures: { maxOldGenerationSizeMb: 1500, maxYoungGenerationSizeMb: 48 },
  papers: { maxOldGenerationSizeMb: 700, maxYoungGenerationSizeMb: 48 },
};
type ThreadName = keyof typeof heap;
/** What is said to whoever waited for a thread that ended. */
const tooMuch: Partial<Record<ThreadName, string>> = {
  intake: 'This file is too much for the server to read at once. Split it by school and open the parts.',
  figures: 'This could not be counted. Try again; the server’s log says more.',
  papers: 'This is too much for the server to make at once. Narrow the list first.',
};

export interface Threads {
  nudge: () => void;
  /** The job that is worked on, by its id. */
  job: () => string | null;
  intake: IntakeReader;
  licenses: LicenseFigures;
  year: YearFigures;
  use: UseFigures;
  papers: PaperMaker;
  stop: () => Promise<void>;
}

/** `onBroken` is called when a thread ended by itself, before it is started anew. */
/** As the thread of figures names them. */
interface OtherFigures {
  rehearse: YearFigures['rehearse'];
  rehearsed: YearFigures['people'];
  use: UseFigures['sheet'];
  users: UseFigures['people'];
}

export function startThreads(onBroken: (thread: ThreadName, error: unknown) => void): Threads {
  let stopping = false;
  const waiting = new Map<(error: Error) => void, ThreadName>();
  const start = (name: ThreadName, then: (worker: Worker) => void): void => {
    const worker = new Worker(file(name), { resourceLimits: heap[name] });
    let broken: unknown = null;
    worker.on('error', (error) => (broken = error));
    worker.on('exit', () => {
      if (name === 'jobs') job = null;
      if (stopping) return;
      onBroken(name, broken);
      const words = tooMuch[name];
      if (words) for (const [failed, of] of waiting) if (of === name) failed(new Fault('invalid', words));
      setTimeout(() => start(name, then), 200);
    });
    then(worker);
  };

  let jobs: Worker | null = null;
  let job: string | null = null;
  start('jobs', (worker) => {
    [jobs, job] = [worker, null];
    worker.on('message', (said: { job: string | null }) => (job = said.job));
  });

  /** A thread that answers calls, begun by the first of them. */
  const answering = <T>(name: ThreadName) => {
    let worker: Worker | null = null;
    let remote: Comlink.Remote<T> | null = null;
    return {
      ask: <R>(call: (remote: Comlink.Remote<T>) => Promise<R>): Promise<R> => {
        if (!remote)
          start(name, (started) => {
            worker = started;
            remote = Comlink.wrap<T>(nodeEndpoint(started));
          });
        return new Promise<R>((done, failed) => {
          waiting.set(failed, name);
          call(remote!)
            .then(done, failed)
            .finally(() => waiting.delete(failed));
        });
      },
      stop: () => worker?.terminate(),
    };
  };
  const intake = answering<IntakeReader>('intake');
  const figures = answering<LicenseFigures & OtherFigures>('figures');
  const papers = answering<PaperMaker>('papers');
  return {
    nudge: () => jobs?.postMessage('look'),
    job: () => job,
    intake: {
      carry: (id) => intake.ask((reader) => reader.carry(id)),
      preview: (id) => intake.ask((reader) => reader.preview(id)),
      rows: (...args) => intake.ask((reader) => reader.rows(...args)),
      problemBeside: (...args) => intake.ask((reader) => reader.problemBeside(...args)),
      cellsWith: (...args) => intake.ask((reader) => reader.cellsWith(...args)),
      pairs: (id) => intake.ask((reader) => reader.pairs(id)),
      rowOf: (...args) => intake.ask((reader) => reader.rowOf(...args)),
      duplicates: () => intake.ask((reader) => reader.duplicates()),
    },
    licenses: {
      products: () => figures.ask((counts) => counts.products()),
      product: (...args) => figures.ask((counts) => counts.product(...args)),
    },
    year: {
      rehearse: () => figures.ask((counts) => counts.rehearse()),
      people: (...args) => figures.ask((counts) => counts.rehearsed(...args)),
    },
    use: {
      sheet: (...args) => figures.ask((counts) => counts.use(...args)),
      people: (...args) => figures.ask((counts) => counts.users(...args)),
    },
    papers: {
      draw: (drawing) => papers.ask((maker) => maker.draw(drawing)),
      workbook: (table) => papers.ask((maker) => maker.workbook(table)),
    },
    stop: async () => {
      stopping = true;
      await Promise.all([jobs?.terminate(), intake.stop(), figures.stop(), papers.stop()]);
    },
  };
}
