/** Signing in and out over HTTP: what is kept in cookies, the two steps, and the way by the district's sign-on. */
import { Hono } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { accountByPasskey, beginAssertion, beginStep, stepByCode } from '../auth/factors';
import { type Session, signOut } from '../auth/sessions';
import { mostKnown, signedIn, type SignedIn, signIn, signInByCard } from '../auth/sign-in';
import { endSignOn, signOnLogout, SignOnRefused, startSignOn } from '../auth/sign-on';
import type { RouteName } from '../contract';
import type { Services } from '../services';
import { type App, bodyOf, type Ctx, type Env, fromOf } from './border';

export const sessionCookie = 'sheaf';
/** People who signed in in this browser before: tokens, apart by dots. */
const knownCookie = 'sheaf-known';
const knownDays = 180;
/** Between the two steps of signing in, and between asking a passkey and its answer. */
const stepCookie = 'sheaf-step';
const passkeyCookie = 'sheaf-passkey';
const stepSeconds = 300;
const signOnCookie = 'sheaf-sign-on';

export type Handlers = Partial<Record<RouteName, (c: Ctx) => Promise<Response>>>;

/** Routes of the table that set cookies, and the two that a browser is sent through. */
export function signingIn({ db, config }: Services): { handlers: Handlers; router: App } {
  const cookieOptions = { httpOnly: true, sameSite: 'Lax', secure: config.url.startsWith('https:') } as const;
  const keep = (c: Ctx, name: string, value: string, maxAge: number, path = '/') =>
    setCookie(c, name, value, { ...cookieOptions, path, maxAge });
  const begin = (c: Ctx, session: Session) => {
    keep(c, sessionCookie, session.token, session.maxAgeSeconds);
    return c.json({ role: session.role });
  };
  const knownOf = (c: Ctx): string[] => (getCookie(c, knownCookie) ?? '').split('.').filter((t) => /^\w{26}$/.test(t));
  /** The browser knows the person from now on; those who came last are kept. */
  const beginKnown = (c: Ctx, { session, known }: SignedIn) => {
    keep(c, sessionCookie, session.token, session.maxAgeSeconds);
    const all = [...(known ? [known] : []), ...knownOf(c)].slice(0, mostKnown);
    keep(c, knownCookie, all.join('.'), knownDays * 86_400);
    deleteCookie(c, stepCookie, { path: '/' });
    return c.json({ role: session.role });
  };
  const handlers: Handlers = {
    'POST /api/sign-in': async (c) => {
      const { username, secret } = await bodyOf(c, 'POST /api/sign-in');
      const made = await signIn(db, config, { username, password: secret, known: knownOf(c), ...fromOf(c, config) });
      if (!('step' in made)) return beginKnown(c, made);
      keep(c, stepCookie, await beginStep(db, made.step.accountId), stepSeconds);
      return c.json({ factors: made.step.factors });
    },
    'POST /api/sign-in/code': async (c) => {
      const { code } = await bodyOf(c, 'POST /api/sign-in/code');
      const account = await stepByCode(db, config, getCookie(c, stepCookie) ?? '', code);
      return beginKnown(c, await signedIn(db, account, 'password', fromOf(c, config), null));
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
      return beginKnown(c, await signedIn(db, account, 'passkey', fromOf(c, config), null));
    },
    'POST /api/sign-in/card': async (c) =>
      begin(c, await signInByCard(db, (await bodyOf(c, 'POST /api/sign-in/card')).code, fromOf(c, config))),
    'POST /api/sign-out': async (c) => {
      const viewer = c.get('viewer');
      await signOut(db, getCookie(c, sessionCookie) ?? '', viewer);
      deleteCookie(c, sessionCookie, { path: '/' });
      // What this browser kept of the person goes with them.
      c.header('Clear-Site-Data', '"storage"');
      return c.json({ ok: true, next: viewer?.way === 'sign-on' ? await signOnLogout(config) : null });
    },
    'POST /api/profile/sign-on': async (c) => {
      const started = await startSignOn(config, c.get('viewer')!.accountId);
      keep(c, signOnCookie, started.keep, started.seconds, '/api/sign-on');
      return c.json({ url: started.url });
    },
  };

  const router = new Hono<Env>();
  router.get('/api/sign-on', async (c) => {
    const started = await startSignOn(config);
    keep(c, signOnCookie, started.keep, started.seconds, '/api/sign-on');
    return c.redirect(started.url);
  });
  router.get('/api/sign-on/back', async (c) => {
    const kept = getCookie(c, signOnCookie);
    deleteCookie(c, signOnCookie, { path: '/api/sign-on' });
    try {
      const ended = await endSignOn(db, config, new URL(c.req.url).searchParams, kept, fromOf(c, config));
      if (ended === 'linked') return c.redirect('/profile');
      begin(c, ended);
      return c.redirect('/');
    } catch (error) {
      // A person is looking at this: the page where they can begin again has the words for it.
      if (error instanceof SignOnRefused) return c.redirect(`/sign-in?why=${error.why}`);
      throw error;
    }
  });

  return { handlers, router };
}
