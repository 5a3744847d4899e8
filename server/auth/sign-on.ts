/**
 * Single sign-on by OpenID Connect: the authorization code flow with PKCE. Whoever comes back is known by the provider's
 * own subject from the second time on; the first time by the claim that names the account here. Nobody is made by it.
 */
import {
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  calculatePKCECodeChallenge,
  type Configuration,
  discovery,
  randomNonce,
  randomPKCECodeVerifier,
  randomState,
} from 'openid-client';
import { z } from 'zod';
import { Fault } from '../api/context';
import { nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { sealText, unsealText } from './seal';
import { begin, type Session } from './sessions';

const known = new Map<string, Promise<Configuration>>();

/** What the provider says of itself, asked once; a failure is asked again. */
function provider({ issuer, clientId, clientSecret }: NonNullable<Config['signOn']>): Promise<Configuration> {
  const key = `${issuer} ${clientId}`;
  let found = known.get(key);
  if (!found) {
    const execute = new URL(issuer).protocol === 'http:' ? [allowInsecureRequests] : [];
    found = discovery(new URL(issuer), clientId, clientSecret, undefined, { execute });
    known.set(key, found);
    found.catch(() => known.delete(key));
  }
  return found;
}

const settings = (config: Config): NonNullable<Config['signOn']> => {
  if (!config.signOn) throw new Fault(404, 'Single sign-on is not set up.');
  return config.signOn;
};
const backTo = (config: Config): string => `${config.url}/api/sign-on/back`;
const kept = z.object({ state: z.string(), nonce: z.string(), verifier: z.string(), until: z.string() });
const bound = 'sign-on';
const minutes = 10;

/** Where to send the browser, and what it keeps meanwhile, sealed. */
export async function startSignOn(config: Config): Promise<{ url: string; keep: string; seconds: number }> {
  const at = await provider(settings(config)).catch(() => {
    throw new Fault(503, 'The district’s sign-on does not answer. Sign in with username and secret.');
  });
  const verifier = randomPKCECodeVerifier();
  const [state, nonce] = [randomState(), randomNonce()];
  const url = buildAuthorizationUrl(at, {
    redirect_uri: backTo(config),
    scope: 'openid profile email',
    code_challenge: await calculatePKCECodeChallenge(verifier),
    code_challenge_method: 'S256',
    state,
    nonce,
  });
  const until = new Date(Date.now() + minutes * 60_000).toISOString();
  return {
    url: url.href,
    keep: sealText(config.key, bound, JSON.stringify({ state, nonce, verifier, until })),
    seconds: minutes * 60,
  };
}

/** Throws Fault 401 when what came back cannot be believed, or is nobody's. */
export async function endSignOn(
  db: Db,
  config: Config,
  query: URLSearchParams,
  keep: string | undefined,
): Promise<Session> {
  const signOn = settings(config);
  const refused = (why: string) => new Fault(401, why);
  if (!keep) throw refused('This sign-on was begun elsewhere or too long ago. Begin again.');
  let before: z.infer<typeof kept>;
  try {
    before = kept.parse(JSON.parse(unsealText(config.key, bound, keep)));
  } catch {
    throw refused('This sign-on was begun elsewhere. Begin again.');
  }
  if (before.until < new Date().toISOString()) throw refused('This sign-on was begun too long ago. Begin again.');
  const at = await provider(signOn);
  const claims = await authorizationCodeGrant(at, new URL(`${backTo(config)}?${query}`), {
    pkceCodeVerifier: before.verifier,
    expectedState: before.state,
    expectedNonce: before.nonce,
    idTokenExpected: true,
  }).then(
    (tokens) => tokens.claims(),
    () => undefined,
  );
  if (!claims) throw refused('The district’s sign-on did not confirm who you are. Begin again.');
  const subject = `${claims.iss}|${claims.sub}`.slice(0, 250);
  const name = claims[signOn.claim];
  const account = await accountOf(db, subject, typeof name === 'string' ? name.trim().toLowerCase() : '');
  if (!account)
    throw refused('You are known at the district’s sign-on, but have no account here. Ask your coordinator.');
  await db.run(
    'INSERT INTO sign_on (subject, personId, at) VALUES (:subject, :personId, :now) ON DUPLICATE KEY UPDATE at = :now',
    { subject, personId: account.personId, now: nowIso() },
  );
  return begin(db, account, 'sign-on');
}

type Account = Parameters<typeof begin>[1];

/** Known by subject; else by username, or by the address before the @ of one. */
async function accountOf(db: Db, subject: string, name: string): Promise<Account | null> {
  const columns = 'ac.id, ac.personId, ac.role FROM accounts ac';
  const linked = await db.one<Account>(
    `SELECT ${columns} JOIN sign_on o ON o.personId = ac.personId WHERE o.subject = :subject AND ac.status = 'active'`,
    { subject },
  );
  if (linked) return linked;
  const username = name.split('@')[0]!.replace(/[^\x21-\x7e]/g, '?');
  // A username is one person's for ever, but somebody else at the provider must not take over one that is linked.
  return db.one<Account>(
    `SELECT ${columns} WHERE ac.username = :username AND ac.status = 'active' AND NOT EXISTS (SELECT 1 FROM sign_on o WHERE o.personId = ac.personId)`,
    { username },
  );
}
