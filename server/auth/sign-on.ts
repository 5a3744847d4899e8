/**
 * Single sign-on by OpenID Connect: the authorization code flow with PKCE. An account is linked to the provider's issuer
 * and subject. The first time it is found by the claim that names it, and only by a verified address of a domain on the
 * district's list; a coordinator's is linked only from a session of their own. Nobody is made by it.
 */
import { say } from '#core/messages/say';
import {
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  buildEndSessionUrl,
  calculatePKCECodeChallenge,
  type Configuration,
  discovery,
  randomNonce,
  randomPKCECodeVerifier,
  randomState,
} from 'openid-client';
import { z } from 'zod';
import { Fault } from '../faults';
import { audit } from '../trail';
import { isoIn, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { may } from '#core/authority/index';
import { hashToken, sealText, unsealText } from './seal';
import { type Account, begin, type From, type Session } from './sessions';
import { joinedOne } from '../db/joined';

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
  if (!config.signOn) throw new Fault('missing', say('accounts.singleSignOnIsNot'));
  return config.signOn;
};
const backTo = (config: Config): string => `${config.url}/api/sign-on/back`;
/** `link`: the account that asked for the link from its own session. */
const kept = z.object({
  ...{ state: z.string(), nonce: z.string(), verifier: z.string(), until: z.string() },
  link: z.string().nullable(),
});
const bound = 'sign-on';
const minutes = 10;

/** Why a sign-on was refused: a word for the address bar, which the page turns into a sentence. */
export type Refusal =
  'begun-elsewhere' | 'too-late' | 'not-confirmed' | 'no-account' | 'not-verified' | 'other-domain' | 'opt-in';
export class SignOnRefused extends Error {
  constructor(readonly why: Refusal) {
    super(why);
  }
}

/** Where to send the browser, and what it keeps meanwhile, sealed. `link`: the account that asks to be linked. */
export async function startSignOn(
  config: Config,
  link: string | null = null,
): Promise<{ url: string; keep: string; seconds: number }> {
  const at = await provider(settings(config)).catch(() => {
    throw new Fault('unavailable', say('accounts.theDistrictsSignOnIs'));
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
  const until = isoIn(minutes * 60_000);
  return {
    url: url.href,
    keep: sealText(config.key, bound, JSON.stringify({ state, nonce, verifier, until, link })),
    seconds: minutes * 60,
  };
}

/** Where signing out at the provider is, if it offers that. */
export async function signOnLogout(config: Config): Promise<string | null> {
  if (!config.signOn) return null;
  try {
    const at = await provider(config.signOn);
    if (!at.serverMetadata().end_session_endpoint) return null;
    return buildEndSessionUrl(at, { post_logout_redirect_uri: `${config.url}/sign-in` }).href;
  } catch {
    return null;
  }
}

/** A session, or that the account is linked now. Throws SignOnRefused when what came back cannot be believed, or is no one's. */
export async function endSignOn(
  db: Db,
  config: Config,
  query: URLSearchParams,
  keep: string | undefined,
  from: From,
): Promise<Session | 'linked'> {
  const signOn = settings(config);
  let before: z.infer<typeof kept>;
  try {
    before = kept.parse(JSON.parse(unsealText(config.key, bound, keep ?? '')));
  } catch {
    throw new SignOnRefused('begun-elsewhere');
  }
  if (before.until < nowIso()) throw new SignOnRefused('too-late');
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
  if (!claims) throw new SignOnRefused('not-confirmed');
  const subject = subjectOf(claims.iss, claims.sub);
  if (before.link !== null) {
    await link(db, subject, before.link);
    return 'linked';
  }
  const linked = await joinedOne(db, 'account', {
    fields: ['id', 'personId', 'role'],
    where: { status: 'active' },
    whose: { 'person.allSignOn.subject': subject },
  });
  if (linked) {
    await db.models.signOn.update({ at: nowIso() }, { where: { subject } });
    return begin(db, linked, 'sign-on', from);
  }
  const name = claims[signOn.claim];
  const account = await byName(db, typeof name === 'string' ? name : '');
  if (!account) throw new SignOnRefused('no-account');
  if (may(account, 'people.edit')) throw new SignOnRefused('opt-in');
  await mustBeVerified(db, claims.email, claims.email_verified);
  await link(db, subject, account.id);
  return begin(db, account, 'sign-on', from);
}

/** Issuer and subject, which together are one person's for ever (OpenID Connect Core 1.0, 5.7). */
const subjectOf = (issuer: string, subject: string): string => {
  const whole = `${issuer}|${subject}`;
  return whole.length <= 250 ? whole : `${issuer.slice(0, 180)}|${hashToken(whole)}`;
};

async function mustBeVerified(db: Db, email: unknown, verified: unknown): Promise<void> {
  const domains = (await district(db))?.settings.signOnDomains ?? [];
  const domain = typeof email === 'string' ? email.toLowerCase().split('@').at(-1) : undefined;
  if (!domain || !domains.includes(domain)) throw new SignOnRefused('other-domain');
  if (verified !== true) throw new SignOnRefused('not-verified');
}

async function link(db: Db, subject: string, accountId: string): Promise<void> {
  const account = await db.models.account.findOne({
    attributes: ['id', 'personId', 'role'],
    where: { id: accountId, status: 'active' },
    raw: true,
  });
  if (!account) throw new SignOnRefused('no-account');
  const taken = await db.models.signOn.findOne({ attributes: ['personId'], where: { subject }, raw: true });
  if (taken && taken.personId !== account.personId) throw new SignOnRefused('no-account');
  await db.models.signOn.upsert({ subject, personId: account.personId, at: nowIso() });
  await audit(db, { by: account.personId, action: 'sign-on.link', about: account.personId, detail: subject });
}

/** By username, or by the address before the @ of one; not whoever is linked to another subject already. */
async function byName(db: Db, name: string): Promise<Account | null> {
  const username = name
    .trim()
    .toLowerCase()
    .split('@')[0]!
    .replace(/[^\x21-\x7e]/g, '?');
  const account = await db.models.account.findOne({
    attributes: ['id', 'personId', 'role'],
    where: { username, status: 'active' },
    raw: true,
  });
  const isLinked = account && (await db.models.signOn.count({ where: { personId: account.personId } })) > 0;
  return isLinked ? null : account;
}
