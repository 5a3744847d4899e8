/** What every router asks of a request: who it is from and from where, whether they may, and what it holds. */
import { say } from '#core/messages/say';
import { getConnInfo } from '@hono/node-server/conninfo';
import type { Context, Hono } from 'hono';
import { may } from '#core/authority/index';
import { clientAddress } from '../address';
import type { From } from '../auth/sessions';
import type { Config } from '../config';
import type { Body, RouteName } from '../contract';
import { Fault, notFound } from '../faults';
import type { Viewer } from '../services';
import { bytesOf, mostBytes, readJson } from './limits';
import { type Access, permissions } from './permissions';
import { routes } from './routes/index';

export type Env = { Variables: { viewer: Viewer | null; requestId: string } };
export type App = Hono<Env>;
export type Ctx = Context<Env>;

/** The address that a request comes from, also behind proxies. */
export function addressOf(c: Context, { proxies }: Pick<Config, 'proxies'>): string {
  let peer: string | undefined;
  try {
    peer = getConnInfo(c).remote.address;
  } catch {
    // Called without a socket, as in tests.
  }
  const headers = { forwarded: c.req.header('forwarded'), xForwardedFor: c.req.header('x-forwarded-for') };
  return clientAddress(peer, headers, proxies);
}
export const fromOf = (c: Ctx, config: Pick<Config, 'proxies'>): From => ({
  address: addressOf(c, config),
  browser: c.req.header('user-agent') ?? '',
});

/** The body of a route, read by its schema within its limits. */
export const bodyOf = async <R extends RouteName>(c: Ctx, name: R): Promise<Body<R>> =>
  routes[name].body!.parse(readJson(await bytesOf(c, mostBytes(name, c.get('viewer') !== null)))) as Body<R>;

/** Who asks, where they may; null where anyone may and nobody is signed in. Throws Fault signed-out and not-allowed. */
export function allow(c: Ctx, route: keyof typeof permissions): Viewer | null {
  const access: Access = permissions[route];
  if (access === 'anyone') return c.get('viewer') ?? null;
  const viewer = c.get('viewer');
  if (!viewer) throw new Fault('signed-out', say('api.signInFirst'));
  if (viewer.mustAddFactor && access !== 'session' && access !== 'profile')
    throw new Fault('not-allowed', say('api.yourDistrictRequiresASecond'));
  if (!may(viewer, access)) throw new Fault('not-allowed', say('api.yourRoleDoesNotAllow'));
  return viewer;
}

/** The id in the path. What cannot be one is nothing's. */
export function idOf(c: Ctx): string {
  const id = c.req.param('id');
  if (id !== undefined && !/^[0-9A-Z]{26}$/.test(id)) throw notFound('This');
  return id ?? '';
}

/** What changes something comes from Sheaf's own pages. */
export function fromOwnPages(c: Ctx, { url, urlIsSet }: Pick<Config, 'url' | 'urlIsSet'>): boolean {
  const origin = c.req.header('origin');
  if (origin === undefined || !URL.canParse(origin)) return false;
  // Host is what the browser was told, or what a proxy makes of it: where the public address is known, it alone counts.
  return urlIsSet ? new URL(origin).origin === new URL(url).origin : new URL(origin).host === c.req.header('host');
}
