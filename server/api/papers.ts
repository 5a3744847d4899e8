/** What is printed: PDFs made at once, and prints that a job made. */
import { say } from '#core/messages/say';
import { Hono } from 'hono';
import { z } from 'zod';
import { layouts } from '#core/cards/index';
import { fetchPrint } from '../cards/print';
import { Fault } from '../faults';
import { deviceLabels, doorPoster, poster, scanSheet, testPage } from '../papers/orders';
import type { Services } from '../services';
import { audit } from '../trail';
import { allow, type App, type Ctx, type Env, idOf } from './border';
import { deviceFilter } from './routes/device';

const pdf = (c: Ctx, bytes: Uint8Array, name: string) =>
  c.body(new Uint8Array(bytes), 200, {
    'Content-Type': 'application/pdf',
    'Content-Disposition': `inline; filename="${name}.pdf"`,
  });
const paper = z.object({ paper: z.enum(['A4', 'Letter']).default('A4') });

export function paperRoutes(services: Services): App {
  const { db, config } = services;
  const app = new Hono<Env>();
  app.get('/api/prints/:id/pdf', async (c) => {
    const viewer = allow(c, 'GET /api/prints/:id/pdf')!;
    const print = await fetchPrint(db, config, idOf(c));
    if (!print || print.by !== viewer.personId) throw new Fault('missing', say('api.thisPrintIsNoLonger'));
    await audit(db, { by: viewer.personId, action: 'print.fetch', detail: print.what });
    return c.body(new Uint8Array(print.pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="print.pdf"`,
    });
  });

  app.get('/api/labels', async (c) => {
    const viewer = allow(c, 'GET /api/labels')!;
    const order = paper.extend({
      skip: z.coerce.number().int().min(0).max(100).default(0),
      code: z.enum(['bars', 'qr']).default('bars'),
    });
    const filter = deviceFilter.parse(c.req.query());
    return pdf(c, await deviceLabels(services, viewer, filter, order.parse(c.req.query())), 'labels');
  });
  app.get('/api/scan-sheet', async (c) => {
    const viewer = allow(c, 'GET /api/scan-sheet')!;
    const order = paper.extend({ school: z.string().length(26).optional() }).parse(c.req.query());
    return pdf(c, await scanSheet(services, viewer, order.school ?? null, order.paper), 'codes-to-scan');
  });
  app.get('/api/posters/:id', async (c) => {
    const viewer = allow(c, 'GET /api/posters/:id')!;
    return pdf(c, await poster(services, viewer, idOf(c), paper.parse(c.req.query()).paper), 'poster');
  });
  app.get('/api/door-posters/:door', async (c) => {
    allow(c, 'GET /api/door-posters/:door');
    return pdf(c, await doorPoster(services, c.req.param('door'), paper.parse(c.req.query()).paper), 'poster');
  });
  app.get('/api/test-page', async (c) => {
    allow(c, 'GET /api/test-page');
    const order = paper.extend({ layout: z.enum(layouts).default('cards') }).parse(c.req.query());
    return pdf(c, await testPage(services, order.layout, order.paper), 'test-page');
  });

  return app;
}
