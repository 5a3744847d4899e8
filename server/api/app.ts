/**
 * The application over HTTP: what holds for every answer, and the routers. Requests that change state must come from
 * the application's own pages.
 */
import { randomUUID } from 'node:crypto';
import { Hono } from 'hono';
import { getCookie } from 'hono/cookie';
import { z } from 'zod';
import { viewerOf } from '../auth/sessions';
import { NotAllowed } from '../authority/check';
import { CommitLost, isAway, isCrowded, isTooLong } from '../db/away';
import { Fault } from '../faults';
import { HeldPlan } from '../plans/now';
import type { Services } from '../services';
import { type App, type Env, fromOwnPages } from './border';
import { eventRoutes } from './events';
import { fileRoutes } from './files';
import { paperRoutes } from './papers';
import { sessionCookie, signingIn } from './signing-in';
import { statementRoutes } from './statements';
import { statusOf } from './status';
import { tableRoutes } from './table';
import { serveWeb } from './web';

const awayWords = 'Sheaf cannot reach its database at the moment. Try again in a few seconds.';
const crowdedWords = 'Sheaf has too much to do at the moment. Try again in a few seconds.';
const longWords =
  'The database took too long to answer this and was stopped. Nothing was changed. Ask for less at once, or try again later.';
const lostWords =
  'The database went away before it said whether this was kept. Look at the ledger before you do it again.';

export function makeApp(
  services: Services,
  options: { webRoot?: string; log?: (error: unknown, requestId: string) => void } = {},
): App {
  const app = new Hono<Env>();
  const { db, config } = services;

  const isSecure = config.url.startsWith('https:');
  app.use('*', async (c, next) => {
    c.set('requestId', randomUUID());
    // Before the answer is made, which would have to be made again for each of them afterwards.
    c.header('X-Request-Id', c.get('requestId'));
    if (isSecure) c.header('Strict-Transport-Security', 'max-age=31536000; includeSubDomains');
    c.header('X-Content-Type-Options', 'nosniff');
    c.header('Referrer-Policy', 'same-origin');
    c.header(
      'Content-Security-Policy',
      "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    );
    await next();
  });
  app.use('/api/*', async (c, next) => {
    c.header('Cache-Control', 'no-store');
    if (c.req.method !== 'GET' && !fromOwnPages(c, config))
      throw new Fault('not-allowed', 'This request did not come from Sheaf’s own pages.');
    c.set('viewer', await viewerOf(db, getCookie(c, sessionCookie)));
    await next();
  });
  app.onError((error, c) => {
    if (error instanceof NotAllowed) return c.json({ error: error.message }, 403);
    if (error instanceof HeldPlan) return c.json({ error: error.message, planId: error.planId }, statusOf[error.kind]);
    if (error instanceof Fault) return c.json({ error: error.message }, statusOf[error.kind]);
    if (error instanceof CommitLost) return c.json({ error: lostWords }, 503);
    if (isAway(error) || isCrowded(error)) {
      c.header('Retry-After', '5');
      return c.json({ error: isAway(error) ? awayWords : crowdedWords, away: true }, 503);
    }
    if (isTooLong(error)) return c.json({ error: longWords }, 503);
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

  const { handlers, router } = signingIn(services);
  for (const part of [
    tableRoutes(services, handlers),
    router,
    eventRoutes(services),
    paperRoutes(services),
    fileRoutes(services),
    statementRoutes(services),
  ])
    app.route('/', part);
  app.all('/api/*', () => {
    throw new Fault('missing', 'There is no such address.');
  });
  if (options.webRoot) serveWeb(app, options.webRoot);
  return app;
}
