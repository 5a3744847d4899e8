/**
 * The application over HTTP: routes from the table, behind who may call them; uploads, events and prints, which are
 * no JSON; and the built web application. Requests that change state must come from the application's own pages.
 */
import { isTheirWork, may } from '#core/authority/index';
import { createReadStream, existsSync, statSync } from 'node:fs';
import { extname, resolve, sep } from 'node:path';
import { Readable } from 'node:stream';
import { getConnInfo } from '@hono/node-server/conninfo';
import { type Context, Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { streamSSE } from 'hono/streaming';
import { z } from 'zod';
import { layouts } from '#core/cards/index';
import { deviceLabels, doorPoster, poster, scanSheet, testPage } from '../cards/papers';
import { fetchPrint } from '../cards/print';
import { calendar } from '../licenses/calendar';
import { jobById } from '../jobs/queue';
import { endSignOn, startSignOn } from '../auth/sign-on';
import { signIn, signInByCard, signOut, type Session, viewerOf } from '../auth/sessions';
import { NotAllowed } from '../authority/check';
import { HeldPlan } from '../plans/now';
import { audit, Fault, notFound, type Services, type Viewer } from './context';
import type { RouteName } from './contract';
import { type Access, permissions } from './permissions';
import { routes, takeIn, type Request, type Route } from './routes/index';
import { receiver } from '../use/receive';
import { deviceFilter } from './routes/device';
import { exportFile } from './routes/export';

const cookie = 'sheaf';
const largestUpload = 64 * 1024 * 1024;

type Env = { Variables: { viewer: Viewer | null } };
type Ctx = Context<Env>;

export function makeApp(
  services: Services,
  options: { webRoot?: string; log?: (error: unknown) => void } = {},
): Hono<Env> {
  const app = new Hono<Env>();
  const { db, config } = services;

  app.use('*', async (c, next) => {
    await next();
    c.header('X-Content-Type-Options', 'nosniff');
    c.header('Referrer-Policy', 'same-origin');
    c.header(
      'Content-Security-Policy',
      "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; object-src 'none'; frame-ancestors 'none'",
    );
  });
  app.use('/api/*', async (c, next) => {
    c.header('Cache-Control', 'no-store');
    if (c.req.method !== 'GET' && !fromOwnPages(c))
      throw new Fault(403, 'This request did not come from Sheaf’s own pages.');
    c.set('viewer', await viewerOf(db, getCookie(c, cookie)));
    await next();
  });
  app.onError((error, c) => {
    if (error instanceof NotAllowed) return c.json({ error: error.message }, 403);
    if (error instanceof HeldPlan) return c.json({ error: error.message, planId: error.planId }, error.status);
    if (error instanceof Fault) return c.json({ error: error.message }, error.status);
    if (error instanceof z.ZodError) {
      const [issue] = error.issues;
      const where = issue?.path.join('.') ?? '';
      return c.json(
        { error: where && issue ? `${where}: ${issue.message}` : (issue?.message ?? 'This could not be read.') },
        422,
      );
    }
    options.log?.(error);
    return c.json(
      { error: 'Something went wrong on the server. Nothing was changed. Try again; the server’s log says more.' },
      500,
    );
  });

  const begin = (c: Ctx, session: Session) => {
    const secure = config.url.startsWith('https:');
    setCookie(c, cookie, session.token, {
      httpOnly: true,
      sameSite: 'Lax',
      path: '/',
      maxAge: session.maxAgeSeconds,
      secure,
    });
    return c.json({ role: session.role });
  };
  const special: Partial<Record<RouteName, (c: Ctx) => Promise<Response>>> = {
    'POST /api/sign-in': async (c) => {
      const { username, secret } = routes['POST /api/sign-in'].body!.parse(await jsonOf(c));
      return begin(c, await signIn(db, config, username, secret, addressOf(c)));
    },
    'POST /api/sign-in/card': async (c) =>
      begin(
        c,
        await signInByCard(db, routes['POST /api/sign-in/card'].body!.parse(await jsonOf(c)).code, addressOf(c)),
      ),
    'POST /api/sign-out': async (c) => {
      await signOut(db, getCookie(c, cookie) ?? '');
      deleteCookie(c, cookie, { path: '/' });
      return c.json({ ok: true });
    },
    'POST /api/intakes': async (c) => {
      const { name, feed } = routes['POST /api/intakes'].query!.parse(c.req.query());
      const bytes = Buffer.from(await c.req.arrayBuffer());
      return c.json(await takeIn(services, c.get('viewer')!, name, bytes, feed));
    },
  };

  app.use(
    '/api/intakes',
    bodyLimit({
      maxSize: largestUpload,
      onError: () => {
        throw new Fault(413, 'The file is larger than 64 MB, which is the most. Split it by school.');
      },
    }),
  );
  for (const [name, route] of Object.entries(routes) as [RouteName, Route<RouteName>][]) {
    const [method, path] = name.split(' ') as [string, string];
    app.on(method, path, async (c) => {
      const viewer = allow(c, permissions[name]);
      const own = special[name];
      if (own) return own(c);
      const body = route.body ? (route.body.parse(await jsonOf(c)) as never) : (undefined as never);
      const query = route.query ? (route.query.parse(c.req.query()) as never) : (undefined as never);
      const request: Request<RouteName> = {
        ...services,
        viewer: viewer!,
        params: { id: idOf(c) },
        body,
        query,
        address: addressOf(c),
      };
      return c.json(await route.handle(request as never));
    });
  }

  const keeping = 'sheaf-sign-on';
  app.get('/api/sign-on', async (c) => {
    const { url, keep, seconds } = await startSignOn(config);
    setCookie(c, keeping, keep, {
      httpOnly: true,
      sameSite: 'Lax',
      path: '/api/sign-on',
      maxAge: seconds,
      secure: config.url.startsWith('https:'),
    });
    return c.redirect(url);
  });
  app.get('/api/sign-on/back', async (c) => {
    const keep = getCookie(c, keeping);
    deleteCookie(c, keeping, { path: '/api/sign-on' });
    try {
      begin(c, await endSignOn(db, config, new URL(c.req.url).searchParams, keep));
      return c.redirect('/');
    } catch (error) {
      // A person is looking at this, so the words go to the page where they can begin again.
      if (error instanceof NotAllowed) return c.json({ error: error.message }, 403);
      if (error instanceof HeldPlan) return c.json({ error: error.message, planId: error.planId }, error.status);
      if (error instanceof Fault) return c.redirect(`/sign-in?why=${encodeURIComponent(error.message)}`);
      throw error;
    }
  });

  app.get('/api/jobs/:id/events', async (c) => {
    const viewer = allow(c, permissions['GET /api/jobs/:id/events'])!;
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

  app.get('/api/prints/:id/pdf', async (c) => {
    const viewer = allow(c, permissions['GET /api/prints/:id/pdf'])!;
    const print = await fetchPrint(db, config, idOf(c));
    if (!print || print.by !== viewer.personId)
      throw new Fault(
        404,
        'This print can no longer be fetched: it is kept for an hour, for whoever made it. Print again.',
      );
    await audit(db, { by: viewer.personId, action: 'print.fetch', detail: print.what });
    return c.body(new Uint8Array(print.pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="print.pdf"`,
    });
  });

  const pdf = (c: Ctx, bytes: Buffer, name: string) =>
    c.body(new Uint8Array(bytes), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="${name}.pdf"`,
    });
  const paper = z.object({ paper: z.enum(['A4', 'Letter']).default('A4') });
  app.get('/api/labels', async (c) => {
    const viewer = allow(c, permissions['GET /api/labels'])!;
    const order = paper.extend({
      skip: z.coerce.number().int().min(0).max(100).default(0),
      code: z.enum(['bars', 'qr']).default('bars'),
    });
    const filter = deviceFilter.parse(c.req.query());
    return pdf(c, await deviceLabels(services, viewer, filter, order.parse(c.req.query())), 'labels');
  });
  app.get('/api/scan-sheet', async (c) => {
    const viewer = allow(c, permissions['GET /api/scan-sheet'])!;
    const order = paper.extend({ school: z.string().length(26).optional() }).parse(c.req.query());
    return pdf(c, await scanSheet(services, viewer, order.school ?? null, order.paper), 'codes-to-scan');
  });
  app.get('/api/posters/:id', async (c) => {
    const viewer = allow(c, permissions['GET /api/posters/:id'])!;
    return pdf(c, await poster(services, viewer, idOf(c), paper.parse(c.req.query()).paper), 'poster');
  });
  app.get('/api/door-posters/:door', async (c) => {
    allow(c, permissions['GET /api/door-posters/:door']);
    return pdf(c, await doorPoster(services, c.req.param('door'), paper.parse(c.req.query()).paper), 'poster');
  });
  app.get('/api/test-page', async (c) => {
    allow(c, permissions['GET /api/test-page']);
    const order = paper.extend({ layout: z.enum(layouts).default('cards') }).parse(c.req.query());
    return pdf(c, await testPage(order.layout, order.paper), 'test-page');
  });

  app.get('/api/calendar/:token', async (c) => {
    allow(c, permissions['GET /api/calendar/:token']);
    return c.body(await calendar(db, config, c.req.param('token')), 200, {
      'Content-Type': 'text/calendar; charset=utf-8',
    });
  });

  app.get('/api/exports/:list', async (c) => {
    const viewer = allow(c, permissions['GET /api/exports/:list'])!;
    const file = await exportFile(services, viewer, c.req.param('list'), c.req.query(), (route) => {
      allow(c, permissions[route]);
    });
    return c.body(new Uint8Array(file.bytes), 200, {
      'Content-Type': file.type,
      'Content-Disposition': `attachment; filename="${file.name}"`,
    });
  });

  app.route('/', receiver(db, addressOf));

  app.all('/api/*', () => {
    throw new Fault(404, 'There is no such route.');
  });
  if (options.webRoot) serveWeb(app, options.webRoot);
  return app;
}

function allow(c: Ctx, access: Access): Viewer | null {
  if (access === 'anyone') return c.get('viewer') ?? null;
  const viewer = c.get('viewer');
  if (!viewer) throw new Fault(401, 'Sign in first.');
  if (!may(viewer, access)) throw new Fault(403, 'Your role does not allow this.');
  return viewer;
}

async function jsonOf(c: Ctx): Promise<unknown> {
  try {
    return await c.req.json();
  } catch {
    throw new Fault(400, 'The body is no JSON.');
  }
}

/** The id in the path. What cannot be one is nothing's. */
function idOf(c: Ctx): string {
  const id = c.req.param('id');
  if (id !== undefined && !/^[0-9A-Z]{26}$/.test(id)) throw notFound('This');
  return id ?? '';
}

function fromOwnPages(c: Ctx): boolean {
  const origin = c.req.header('origin');
  return origin !== undefined && URL.canParse(origin) && new URL(origin).host === c.req.header('host');
}

function addressOf(c: Ctx): string {
  try {
    return getConnInfo(c).remote.address ?? 'unknown';
  } catch {
    // Called without a socket, as in tests.
    return 'unknown';
  }
}

const types: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.woff2': 'font/woff2',
  '.woff': 'font/woff',
  '.png': 'image/png',
  '.json': 'application/json',
  '.map': 'application/json',
};

/** Files of the build, which are named by their content and kept for a year; any other path is the application's own. */
function serveWeb(app: Hono<Env>, root: string): void {
  app.get('*', (c) => {
    const path = resolve(root, `.${decodeURIComponent(new URL(c.req.url).pathname)}`);
    const isFile = path.startsWith(root + sep) && existsSync(path) && statSync(path).isFile();
    const file = isFile ? path : resolve(root, 'index.html');
    const cache = isFile && file.includes(`${sep}assets${sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache';
    return c.body(Readable.toWeb(createReadStream(file)) as ReadableStream, 200, {
      'Content-Type': types[extname(file)] ?? 'application/octet-stream',
      'Cache-Control': cache,
    });
  });
}
