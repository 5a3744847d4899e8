/**
 * The application over HTTP: what holds for every answer, and the routers. Requests that change state must come from
 * the application's own pages.
 */
import { speechOf } from '#core/messages/languages';
import { readSpoken, say } from '#core/messages/say';
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

const awayWords = say('api.sheafCantReachItsDatabase');
const crowdedWords = say('api.sheafIsTooBusyRight');
const longWords = say('api.theDatabaseTookTooLong');
const lostWords = say('api.theConnectionToTheDatabase');

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
  // Sheaf's own pages ask for keys and speak the person's language; whoever else asks has the texts in English.
  app.use('*', async (c, next) => {
    await next();
    if (c.req.header('x-texts') === 'keys' || !c.res.headers.get('content-type')?.startsWith('application/json'))
      return;
    const json = await c.res.clone().text();
    if (json.includes('\\u0002')) c.res = new Response(JSON.stringify(readSpoken(json, speechOf('en-US'))), c.res);
  });
  app.use('/api/*', async (c, next) => {
    c.header('Cache-Control', 'no-store');
    if (c.req.method !== 'GET' && !fromOwnPages(c, config))
      throw new Fault('not-allowed', say('api.thisRequestDidNotCome'));
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
        { error: where && issue ? `${where}: ${issue.message}` : (issue?.message ?? say('api.couldntReadTheRequest')) },
        422,
      );
    }
    options.log?.(error, c.get('requestId'));
    return c.json(
      {
        error: say('api.somethingWentWrongOnThe', { number: c.get('requestId') }),
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
    throw new Fault('missing', say('api.thereIsNoSuchAddress'));
  });
  if (options.webRoot) serveWeb(app, options.webRoot);
  return app;
}
