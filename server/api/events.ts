/** How far a job is, as it happens. */
import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import { isTheirWork } from '#core/authority/index';
import { notFound } from '../faults';
import { jobById } from '../jobs/queue';
import type { Services } from '../services';
import { allow, type App, type Env, idOf } from './border';

export function eventRoutes({ db }: Services): App {
  const app = new Hono<Env>();
  app.get('/api/jobs/:id/events', async (c) => {
    const viewer = allow(c, 'GET /api/jobs/:id/events')!;
    const first = await jobById(db, idOf(c));
    if (!first || !isTheirWork(viewer, first.by)) throw notFound('This job');
    return streamSSE(c, async (stream) => {
      let last = '';
      // The job's row is looked at, not this process's memory: another process may be doing it.
      while (!stream.aborted) {
        const job = (await jobById(db, first.job.id))?.job;
        if (!job) return;
        const data = JSON.stringify(job);
        if (data !== last) await stream.writeSSE({ event: 'job', data });
        last = data;
        if (job.status !== 'waiting' && job.status !== 'running') return;
        await stream.sleep(120);
      }
    });
  });

  return app;
}
