/** The job of one print. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { printCards, type PrintOrder } from '../cards/print';
import type { Work } from './desk';
import { finish } from './queue';

export const printing: Work = async ({ db, config, job, progress }) => {
  const order = z.custom<PrintOrder>().parse(job.input);
  await printCards(
    db,
    config,
    { ...order, by: job.byPersonId },
    {
      progress: async (done, total) => {
        progress(say('jobs.drawingCards'), done, total);
        await new Promise((next) => setImmediate(next));
      },
      alsoWithin: (tx, printed) => finish(db, tx, job.id, { printId: printed.printId, changes: printed.cards }),
    },
  );
};
