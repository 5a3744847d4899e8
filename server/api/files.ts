/** Lists as files, and the calendar that programs fetch. */
import { Hono } from 'hono';
import { calendar } from '../licenses/calendar';
import type { Services } from '../services';
import { allow, type App, type Env } from './border';
import { exportFile } from './routes/export';

export function fileRoutes(services: Services): App {
  const { db, config } = services;
  const app = new Hono<Env>();
  app.get('/api/calendar/:token', async (c) => {
    allow(c, 'GET /api/calendar/:token');
    return c.body(await calendar(db, config, c.req.param('token')), 200, {
      'Content-Type': 'text/calendar; charset=utf-8',
    });
  });

  app.get('/api/exports/:list', async (c) => {
    const viewer = allow(c, 'GET /api/exports/:list')!;
    const file = await exportFile(services, viewer, c.req.param('list'), c.req.query(), (route) => {
      allow(c, route);
    });
    return c.body(new Uint8Array(file.bytes), 200, {
      'Content-Type': file.type,
      'Content-Disposition': `attachment; filename="${file.name}"`,
    });
  });

  return app;
}
