/**
 * The application over HTTP: routes from the table, behind who may call them; uploads, events and prints, which are
 * no JSON; and the built web application. Requests that change state must come from the application's own pages.
 */
import { isTheirWork, may } from '#core/authority/index';
import { createReadStream, existsSync, statSync } from 'node:fs';
import { extname, resolve, sep } from 'node:path';
import { Readable } from 'node:stream';
import { randomUUID } from 'node:crypto';
import { getConnInfo } from '@hono/node-server/conninfo';
import { type Context, Hono } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { streamSSE } from 'hono/streaming';
import { z } from 'zod';
import { layouts } from '#core/cards/index';
import { deviceLabels, doorPoster, poster, scanSheet, testPage } from '../papers/orders';
import { fetchPrint } from '../cards/print';
import { calendar } from '../licenses/calendar';
import { jobById } from '../jobs/queue';
import { accountByPasskey, beginAssertion, beginStep, stepByCode } from '../auth/factors';
import { type From, signOut, type Session, viewerOf } from '../auth/sessions';
import { mostKnown, signedIn, type SignedIn, signIn, signInByCard } from '../auth/sign-in';
import { endSignOn, signOnLogout, SignOnRefused, startSignOn } from '../auth/sign-on';
import { NotAllowed } from '../authority/check';
import { HeldPlan } from '../plans/now';
import { clientAddress } from '../address';
import { statusOf } from './status';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { Body, RouteName } from '../contract';
import { bytesOf, mostBytes, readJson } from './limits';
import { type Access, permissions } from './permissions';
import { routes, takeIn, type Request, type Route } from './routes/index';
import { receiver } from '../use/receive';
import { deviceFilter } from './routes/device';
import { exportFile } from './routes/export';

const cookie = 'sheaf';
/** People who signed in in this browser before: tokens, apart by dots. */
const knownCookie = 'sheaf-known';
const knownDays = 180;
/** Between the two steps of signing in, and between asking a passkey and its answer. */
const stepCookie = 'sheaf-step';
const passkeyCookie = 'sheaf-passkey';
const stepSeconds = 300;

/** What needs a password typed a short while ago. */
const freshRoutes = new Set<RouteName>([
  'POST /api/people/:id/reveal',
  'POST /api/staff/:id/role',
  'POST /api/staff/:id/reset',
  'POST /api/retention/purge',
  'POST /api/profile/app/begin',
  'POST /api/profile/passkeys/begin',
  'POST /api/profile/recovery',
  'POST /api/profile/factors/remove',
  'POST /api/profile/sign-on',
]);

type Env = { Variables: { viewer: Viewer | null; requestId: string } };
type Ctx = Context<Env>;

export function makeApp(
  services: Services,
  options: { webRoot?: string; log?: (error: unknown, requestId: string) => void } = {},
): Hono<Env> {
  const app = new Hono<Env>();
  const { db, config } = services;

  const isSecure = config.url.startsWith('https:');
  app.use('*', async (c, next) => {
    c.set('requestId', randomUUID());
    await next();
    c.header('X-Request-Id', c.get('requestId'));
    if (isSecure) c.header('Strict-Transport-Security', 'max-age=31536000; includeSubDomains');
    c.header('X-Content-Type-Options', 'nosniff');
    c.header('Referrer-Policy', 'same-origin');
    c.header(
      'Content-Security-Policy',
      "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    );
  });
  app.use('/api/*', async (c, next) => {
    c.header('Cache-Control', 'no-store');
    if (c.req.method !== 'GET' && !fromOwnPages(c, config.url))
      throw new Fault('not-allowed', 'This request did not come from Sheaf’s own pages.');
    c.set('viewer', await viewerOf(db, getCookie(c, cookie)));
    await next();
  });
  app.onError((error, c) => {
    if (error instanceof NotAllowed) return c.json({ error: error.message }, 403);
    if (error instanceof HeldPlan) return c.json({ error: error.message, planId: error.planId }, statusOf[error.kind]);
    if (error instanceof Fault) return c.json({ error: error.message }, statusOf[error.kind]);
    if (error instanceof z.ZodError) {
      const [issue] = error.issues;
      const where = issue?.path.join('.') ?? '';
      return c.json(
        { error: where && issue ? `${where}: ${issue.message}` : (issue?.message ?? 'The request could not be read.') },
        422,
      );
    }
    options.log?.(error, c.get('requestId'));
    return c.json(
      {
        error: `Something went wrong on the server. Try again. If it happens again, give your administrator this number: ${c.get('requestId')}.`,
      },
      500,
    );
  });

  const addressOf = (c: Context): string => {
    let peer: string | undefined;
    try {
      peer = getConnInfo(c).remote.address;
    } catch {
      // Called without a socket, as in tests.
    }
    const headers = { forwarded: c.req.header('forwarded'), xForwardedFor: c.req.header('x-forwarded-for') };
    return clientAddress(peer, headers, config.proxies);
  };
  const fromOf = (c: Ctx): From => ({ address: addressOf(c), browser: c.req.header('user-agent') ?? '' });
  const cookieOptions = { httpOnly: true, sameSite: 'Lax', secure: isSecure } as const;
  const keep = (c: Ctx, name: string, value: string, maxAge: number, path = '/') =>
    setCookie(c, name, value, { ...cookieOptions, path, maxAge });
  const begin = (c: Ctx, session: Session) => {
    keep(c, cookie, session.token, session.maxAgeSeconds);
    return c.json({ role: session.role });
  };
  const knownOf = (c: Ctx): string[] => (getCookie(c, knownCookie) ?? '').split('.').filter((t) => /^\w{26}$/.test(t));
  /** The browser knows the person from now on; those who came last are kept. */
  const beginKnown = (c: Ctx, { session, known }: SignedIn) => {
    keep(c, cookie, session.token, session.maxAgeSeconds);
    const all = [...(known ? [known] : []), ...knownOf(c)].slice(0, mostKnown);
    keep(c, knownCookie, all.join('.'), knownDays * 86_400);
    deleteCookie(c, stepCookie, { path: '/' });
    return c.json({ role: session.role });
  };
  const bodyOf = async <R extends RouteName>(c: Ctx, name: R): Promise<Body<R>> =>
    routes[name].body!.parse(readJson(await bytesOf(c, mostBytes(name, c.get('viewer') !== null)))) as Body<R>;
  const keeping = 'sheaf-sign-on';
  const special: Partial<Record<RouteName, (c: Ctx) => Promise<Response>>> = {
    'POST /api/sign-in': async (c) => {
      const { username, secret } = await bodyOf(c, 'POST /api/sign-in');
      const made = await signIn(db, config, { username, password: secret, known: knownOf(c), ...fromOf(c) });
      if (!('step' in made)) return beginKnown(c, made);
      keep(c, stepCookie, await beginStep(db, made.step.accountId), stepSeconds);
      return c.json({ factors: made.step.factors });
    },
    'POST /api/sign-in/code': async (c) => {
      const { code } = await bodyOf(c, 'POST /api/sign-in/code');
      const account = await stepByCode(db, config, getCookie(c, stepCookie) ?? '', code);
      return beginKnown(c, await signedIn(db, account, 'password', fromOf(c), null));
    },
    'POST /api/sign-in/passkey/begin': async (c) => {
      const { options: asked, token } = await beginAssertion(db, config);
      keep(c, passkeyCookie, token, stepSeconds);
      return c.json({ options: asked });
    },
    'POST /api/sign-in/passkey': async (c) => {
      const { response } = await bodyOf(c, 'POST /api/sign-in/passkey');
      const account = await accountByPasskey(db, config, getCookie(c, passkeyCookie) ?? '', response);
      deleteCookie(c, passkeyCookie, { path: '/' });
      return beginKnown(c, await signedIn(db, account, 'passkey', fromOf(c), null));
    },
    'POST /api/sign-in/card': async (c) =>
      begin(c, await signInByCard(db, (await bodyOf(c, 'POST /api/sign-in/card')).code, fromOf(c))),
    'POST /api/sign-out': async (c) => {
      const viewer = c.get('viewer');
      await signOut(db, getCookie(c, cookie) ?? '', viewer);
      deleteCookie(c, cookie, { path: '/' });
      // What this browser kept of the person goes with them.
      c.header('Clear-Site-Data', '"storage"');
      return c.json({ ok: true, next: viewer?.way === 'sign-on' ? await signOnLogout(config) : null });
    },
    'POST /api/profile/sign-on': async (c) => {
      const started = await startSignOn(config, c.get('viewer')!.accountId);
      keep(c, keeping, started.keep, started.seconds, '/api/sign-on');
      return c.json({ url: started.url });
    },
    'POST /api/intakes': async (c) => {
      const { name, feed } = routes['POST /api/intakes'].query!.parse(c.req.query());
      const bytes = await bytesOf(c, mostBytes('POST /api/intakes', true));
      return c.json(await takeIn(services, c.get('viewer')!, name, bytes, feed));
    },
  };

  for (const [name, route] of Object.entries(routes) as [RouteName, Route<RouteName>][]) {
    const [method, path] = name.split(' ') as [string, string];
    app.on(method, path, async (c) => {
      const viewer = allow(c, permissions[name]);
      if (freshRoutes.has(name) && !viewer!.isFresh)
        return c.json({ error: 'Type your password again to do this.', confirm: true }, 403);
      const own = special[name];
      if (own) return own(c);
      const body = (route.body ? await bodyOf(c, name) : undefined) as never;
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

  app.get('/api/sign-on', async (c) => {
    const started = await startSignOn(config);
    keep(c, keeping, started.keep, started.seconds, '/api/sign-on');
    return c.redirect(started.url);
  });
  app.get('/api/sign-on/back', async (c) => {
    const kept = getCookie(c, keeping);
    deleteCookie(c, keeping, { path: '/api/sign-on' });
    try {
      const ended = await endSignOn(db, config, new URL(c.req.url).searchParams, kept, fromOf(c));
      if (ended === 'linked') return c.redirect('/profile');
      begin(c, ended);
      return c.redirect('/');
    } catch (error) {
      // A person is looking at this: the page where they can begin again has the words for it.
      if (error instanceof SignOnRefused) return c.redirect(`/sign-in?why=${error.why}`);
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
        'missing',
        'This print can no longer be fetched: it is kept for an hour, for whoever made it. Print again.',
      );
    await audit(db, { by: viewer.personId, action: 'print.fetch', detail: print.what });
    return c.body(new Uint8Array(print.pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="print.pdf"`,
    });
  });

  const pdf = (c: Ctx, bytes: Uint8Array, name: string) =>
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
    return pdf(c, await testPage(services, order.layout, order.paper), 'test-page');
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
    throw new Fault('missing', 'There is no such address.');
  });
  if (options.webRoot) serveWeb(app, options.webRoot);
  return app;
}

function allow(c: Ctx, access: Access): Viewer | null {
  if (access === 'anyone') return c.get('viewer') ?? null;
  const viewer = c.get('viewer');
  if (!viewer) throw new Fault('signed-out', 'Sign in first.');
  if (viewer.mustAddFactor && access !== 'session' && access !== 'profile')
    throw new Fault(
      'not-allowed',
      'Your district asks coordinators for a second factor. Add one under your profile first.',
    );
  if (!may(viewer, access)) throw new Fault('not-allowed', 'Your role does not allow this.');
  return viewer;
}

/** The id in the path. What cannot be one is nothing's. */
function idOf(c: Ctx): string {
  const id = c.req.param('id');
  if (id !== undefined && !/^[0-9A-Z]{26}$/.test(id)) throw notFound('This');
  return id ?? '';
}

function fromOwnPages(c: Ctx, url: string): boolean {
  const origin = c.req.header('origin');
  if (origin === undefined || !URL.canParse(origin)) return false;
  // Behind a proxy that rewrites Host the public address tells.
  return new URL(origin).host === c.req.header('host') || new URL(origin).origin === new URL(url).origin;
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

/** A path that cannot be decoded names no file. */
function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return '/';
  }
}

/** Files of the build, which are named by their content and kept for a year; any other path is the application's own. */
function serveWeb(app: Hono<Env>, root: string): void {
  app.get('*', (c) => {
    const path = resolve(root, `.${decoded(new URL(c.req.url).pathname)}`);
    const isFile = path.startsWith(root + sep) && existsSync(path) && statSync(path).isFile();
    const file = isFile ? path : resolve(root, 'index.html');
    const cache = isFile && file.includes(`${sep}assets${sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache';
    return c.body(Readable.toWeb(createReadStream(file)) as ReadableStream, 200, {
      'Content-Type': types[extname(file)] ?? 'application/octet-stream',
      'Cache-Control': cache,
    });
  });
}
