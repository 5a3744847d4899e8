/**
 * Second factors of staff: passkeys (WebAuthn), codes of an app (TOTP, RFC 6238), and codes on paper for when both are
 * lost. A passkey alone signs in as well, since it is held and unlocked by its owner.
 */
import { say } from '#core/messages/say';
import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server';
import { Secret, TOTP } from 'otpauth';
import { Op } from 'sequelize';
import { may } from '#core/authority/index';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import type { Config } from '../config';
import { isoIn, machineNow, nowIso } from '../clock';
import type { Db } from '../db/connection';
import { district } from '../district';
import { mint } from '../plans/mint';
import { tryIn } from './limits';
import { hashToken, newToken, sealText, unsealText } from './seal';
import type { Account } from './sessions';

export type Factor = 'passkey' | 'app' | 'recovery';
type RegistrationJson = Parameters<typeof verifyRegistrationResponse>[0]['response'];
type AssertionJson = Parameters<typeof verifyAuthenticationResponse>[0]['response'];

const minutesMs = 60_000;
const challengeMs = 5 * minutesMs;
const periodSeconds = 30;
/** An app's clock may be so many periods off. */
const window = 1;

/** Which second factors an account has; empty: its password is enough. */
export async function factorsOf(db: Db, { accountId, role }: Pick<Viewer, 'accountId' | 'role'>): Promise<Factor[]> {
  if (!may({ role }, 'profile')) return [];
  const [passkeys, app, recovery] = await Promise.all([
    db.models.passkeys.count({ where: { accountId } }),
    db.models.appCodes.count({ where: { accountId, confirmedAt: { [Op.not]: null } } }),
    recoveryLeft(db, accountId),
  ]);
  const has: Factor[] = [];
  if (passkeys > 0) has.push('passkey');
  if (app > 0) has.push('app');
  if (has.length > 0 && recovery > 0) has.push('recovery');
  return has;
}

const recoveryLeft = (db: Db, accountId: string): Promise<number> =>
  db.models.recoveryCodes.count({ where: { accountId, usedAt: null } });

/** Whether a role must have a second factor, by the district's setting. */
export async function factorIsDuty(db: Db, viewer: Pick<Viewer, 'role'>): Promise<boolean> {
  const here = await district(db);
  return here?.settings.secondFactor === 'coordinators' && may(viewer, 'people.edit');
}

/** What is waited for between two requests: a token for the browser, kept hashed, good once and for five minutes. */
async function challenge(
  db: Db,
  purpose: 'step' | 'register' | 'assert',
  accountId: string | null,
  body: string,
): Promise<string> {
  const token = newToken();
  const expiresAt = isoIn(challengeMs);
  await db.models.challenges.create({ tokenHash: hashToken(token), accountId, purpose, body, expiresAt });
  return token;
}
interface Challenge {
  accountId: string | null;
  body: string;
}
const expired = say('accounts.thatTookTooLongStart');

async function challengeOf(db: Db, purpose: string, token: string, spend: boolean): Promise<Challenge> {
  const { challenges } = db.models;
  const tokenHash = hashToken(token);
  const found = await challenges.findOne({ where: { tokenHash, purpose, expiresAt: { [Op.gt]: nowIso() } } });
  if (!found) throw new Fault('signed-out', expired);
  if (spend && (await challenges.destroy({ where: { tokenHash } })) === 0) throw new Fault('signed-out', expired);
  return found;
}

/** The password was right; what is asked for next is bound to the token. */
export const beginStep = (db: Db, accountId: string): Promise<string> => challenge(db, 'step', accountId, '');

const accountById = (db: Db, id: string): Promise<Account | null> =>
  db.models.account.findOne({ attributes: ['id', 'personId', 'role'], where: { id, status: 'active' }, raw: true });

/** The second step by a code, of an app or on paper. Throws Fault signed-out when it is wrong, too-many after too many. */
export async function stepByCode(db: Db, config: Config, token: string, typed: string): Promise<Account> {
  const { accountId } = await challengeOf(db, 'step', token, false);
  const account = await accountById(db, accountId!);
  if (!account) throw new Fault('signed-out', expired);
  const trying = await tryIn(db, [
    [`factor:${account.id}`, 5, 900],
    [`factor-day:${account.id}`, 20, 86_400],
  ]);
  if (!trying) throw new Fault('too-many', say('accounts.tooManyWrongCodesWait'));
  try {
    const code = typed.replace(/[\s-]/g, '').toUpperCase();
    const fits = /^\d{6}$/.test(code)
      ? await appCodeFits(db, config, account.id, code)
      : await spendRecovery(db, account, code);
    if (!fits) {
      await trying.failed();
      await audit(db, { by: null, action: 'factor.failed', about: account.personId, detail: '' });
      throw new Fault('signed-out', say('accounts.thatCodeIsWrongCodes'));
    }
  } finally {
    trying.over();
  }
  await challengeOf(db, 'step', token, true);
  return account;
}

const appOf = (secret: string): TOTP =>
  new TOTP({ issuer: 'Sheaf', algorithm: 'SHA1', digits: 6, period: periodSeconds, secret: Secret.fromBase32(secret) });

/** Each code counts once: what is not later than the last one used is none. */
async function appCodeFits(db: Db, config: Config, accountId: string, code: string): Promise<boolean> {
  const row = await db.models.appCodes.findByPk(accountId);
  // Else the library compares bytes of different lengths, and throws.
  if (!row || !/^\d{6}$/.test(code)) return false;
  const delta = appOf(unsealText(config.key, accountId, row.secretSealed)).validate({ token: code, window });
  if (delta === null) return false;
  const step = Math.floor(machineNow() / 1000 / periodSeconds) + delta;
  const [used] = await db.models.appCodes.update(
    { lastStep: step },
    { where: { accountId, lastStep: { [Op.lt]: step } } },
  );
  return used === 1;
}

async function spendRecovery(db: Db, { id, personId }: Account, code: string): Promise<boolean> {
  const [spent] = await db.models.recoveryCodes.update(
    { usedAt: nowIso() },
    { where: { accountId: id, codeHash: hashToken(code), usedAt: null } },
  );
  if (spent === 1) await audit(db, { by: personId, action: 'recovery.used', about: personId, detail: '' });
  return spent === 1;
}

/** An app is set up in two steps, so that nobody locks themselves out by one that does not work. */
export async function beginApp(db: Db, config: Config, viewer: Viewer): Promise<{ uri: string; secret: string }> {
  const secret = new Secret({ size: 20 }).base32;
  const { accountId } = viewer;
  const { appCodes, account } = db.models;
  const secretSealed = sealText(config.key, accountId, secret);
  await appCodes.bulkCreate([{ accountId, secretSealed }], { ignoreDuplicates: true });
  await appCodes.update({ secretSealed }, { where: { accountId, confirmedAt: null } });
  const begun = await appCodes.findOne({ attributes: ['secretSealed'], where: { accountId }, raw: true });
  if (begun?.secretSealed !== secretSealed) throw new Fault('conflict', say('accounts.youAlreadyHaveAnApp'));
  const totp = appOf(secret);
  totp.label = (await account.findByPk(accountId))!.username;
  return { uri: totp.toString(), secret };
}

export async function confirmApp(
  db: Db,
  config: Config,
  viewer: Viewer,
  code: string,
): Promise<{ recovery: string[] }> {
  if (!(await appCodeFits(db, config, viewer.accountId, code.replace(/\s/g, ''))))
    throw new Fault('invalid', say('accounts.thatCodeIsWrongEnter'));
  await db.models.appCodes.update({ confirmedAt: nowIso() }, { where: { accountId: viewer.accountId } });
  await audit(db, { by: viewer.personId, action: 'factor.add', about: viewer.personId, detail: say('accounts.anApp') });
  return { recovery: await newRecovery(db, viewer) };
}

const recoveryCount = 10;
/** Ten codes of 50 bits; those before are void. They are shown this once. */
export async function newRecovery(db: Db, viewer: Viewer): Promise<string[]> {
  const codes = Array.from({ length: recoveryCount }, () => newToken().slice(0, 10));
  await db.transaction(async (tx) => {
    const { accountId } = viewer;
    await db.models.recoveryCodes.destroy({ where: { accountId }, transaction: tx });
    await db.models.recoveryCodes.bulkCreate(
      codes.map((code) => ({ accountId, codeHash: hashToken(code) })),
      { transaction: tx },
    );
    await audit(db, { by: viewer.personId, action: 'recovery.new', about: viewer.personId, detail: '' }, tx);
  });
  return codes.map((code) => `${code.slice(0, 5)}-${code.slice(5)}`);
}

export async function removeFactor(db: Db, viewer: Viewer, id: string): Promise<void> {
  const { accountId } = viewer;
  const what = id === 'app' ? say('accounts.anApp') : 'a passkey';
  const { app, passkeys, duty } = await factorState(db, viewer);
  const isLast = passkeys.length + (app ? 1 : 0) <= 1;
  if (isLast && duty) throw new Fault('conflict', say('accounts.yourDistrictRequiresASecond'));
  const gone =
    id === 'app'
      ? await db.models.appCodes.destroy({ where: { accountId } })
      : await db.models.passkeys.destroy({ where: { accountId, id } });
  if (gone === 0) throw new Fault('missing', say('accounts.thisSecondFactorWasNot'));
  if (isLast) await db.models.recoveryCodes.destroy({ where: { accountId } });
  await audit(db, { by: viewer.personId, action: 'factor.remove', about: viewer.personId, detail: what });
}

export interface FactorState {
  duty: boolean;
  app: boolean;
  recoveryLeft: number;
  passkeys: { id: string; name: string; createdAt: string; lastAt: string | null }[];
}
export async function factorState(db: Db, viewer: Viewer): Promise<FactorState> {
  const { accountId } = viewer;
  const [passkeys, has, recovery] = await Promise.all([
    db.models.passkeys.findAll({
      attributes: ['id', 'name', 'createdAt', 'lastAt'],
      where: { accountId },
      order: ['id'],
      raw: true,
    }),
    factorsOf(db, viewer),
    recoveryLeft(db, accountId),
  ]);
  const duty = await factorIsDuty(db, viewer);
  return { duty, app: has.includes('app'), recoveryLeft: recovery, passkeys };
}

const site = (config: Config) => ({ origin: new URL(config.url).origin, id: new URL(config.url).hostname });

/** What the browser is asked to make a passkey by, and the token by which its answer is known. */
export async function beginPasskey(db: Db, config: Config, viewer: Viewer) {
  const { accountId, personId } = viewer;
  const account = await db.models.account.findByPk(accountId);
  const person = await db.models.person.findByPk(personId);
  const there = await db.models.passkeys.findAll({ attributes: ['credentialId'], where: { accountId } });
  const options = await generateRegistrationOptions({
    rpName: 'Sheaf',
    rpID: site(config).id,
    userName: account!.username,
    userDisplayName: `${person!.givenName} ${person!.familyName}`,
    userID: new TextEncoder().encode(accountId),
    attestationType: 'none',
    excludeCredentials: there.map(({ credentialId }) => ({ id: credentialId })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
  return { options, token: await challenge(db, 'register', accountId, options.challenge) };
}

export async function addPasskey(
  db: Db,
  config: Config,
  viewer: Viewer,
  { token, name, response }: { token: string; name: string; response: unknown },
): Promise<{ recovery: string[] | null }> {
  const { accountId, body } = await challengeOf(db, 'register', token, true);
  if (accountId !== viewer.accountId) throw new Fault('signed-out', expired);
  const verified = await verifyRegistrationResponse({
    response: response as RegistrationJson,
    expectedChallenge: body,
    expectedOrigin: site(config).origin,
    expectedRPID: site(config).id,
    requireUserVerification: true,
  }).catch(() => null);
  if (!verified?.verified) throw new Fault('invalid', say('accounts.couldntConfirmThePasskeyTry'));
  const { credential } = verified.registrationInfo;
  const isFirst = (await factorsOf(db, viewer)).length === 0;
  await db.models.passkeys.create({
    ...{ id: mint(), accountId: viewer.accountId, credentialId: credential.id, counter: credential.counter },
    ...{ publicKey: Buffer.from(credential.publicKey), transports: credential.transports?.join(',') ?? null, name },
    createdAt: nowIso(),
  });
  await audit(db, {
    by: viewer.personId,
    action: 'factor.add',
    about: viewer.personId,
    detail: say('accounts.aPasskey', { name }),
  });
  return { recovery: isFirst ? await newRecovery(db, viewer) : null };
}

/** For anyone: whoever holds a passkey says by it who they are. */
export async function beginAssertion(db: Db, config: Config) {
  const options = await generateAuthenticationOptions({ rpID: site(config).id, userVerification: 'required' });
  return { options, token: await challenge(db, 'assert', null, options.challenge) };
}

/** Whose passkey it is. Throws Fault signed-out. */
export async function accountByPasskey(db: Db, config: Config, token: string, response: unknown): Promise<Account> {
  const { body } = await challengeOf(db, 'assert', token, true);
  const assertion = response as AssertionJson;
  const credentialId = String((assertion as { id?: unknown }).id ?? '').slice(0, 500);
  const row = await db.models.passkeys.findOne({ where: { credentialId } });
  const wrong = new Fault('signed-out', say('accounts.thisPasskeyIsNotRegistered'));
  if (!row) throw wrong;
  const verified = await verifyAuthenticationResponse({
    response: assertion,
    expectedChallenge: body,
    expectedOrigin: site(config).origin,
    expectedRPID: site(config).id,
    requireUserVerification: true,
    credential: { id: row.credentialId, publicKey: new Uint8Array(row.publicKey), counter: Number(row.counter) },
  }).catch(() => null);
  const account = verified?.verified ? await accountById(db, row.accountId) : null;
  if (!account || !verified) throw wrong;
  await row.update({ counter: verified.authenticationInfo.newCounter, lastAt: nowIso() });
  return account;
}
