/**
 * One's own password: changed, forgotten, confirmed again; and a coordinator's act of having it chosen anew. A link to
 * choose one goes to the address on record and to nobody else, holds for an hour, and is good once.
 */
import type { MessageKey } from '#core/messages/index';
import { say, spoken } from '#core/messages/say';
import { Op, type WhereOptions } from 'sequelize';
import type { Row } from '#core/entities/index';
import { Fault, notFound } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import { mustRank } from '../authority/check';
import { isoIn, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';
import { Post } from '../mail';
import { speechFor } from '../preferences';
import { tryIn } from './limits';
import { hashPassword, passwordError, passwordIs } from './password';
import { hashToken, newToken } from './seal';
import { endSessionsOf, freshen } from './sessions';
import { spokenName } from '#core/register/index';

const linkMinutes = 60;
type Account = Row<'account'>;

interface Own extends Pick<Account, 'personId' | 'username' | 'passwordHash'> {
  accountId: string;
  givenName: string;
  familyName: string;
  email: string | null;
}
const isStaff = { status: 'active', role: { [Op.ne]: 'student' } } as const;

/** Matching accounts of people who have not left. */
async function ownsBy(db: Db, where: WhereOptions<Account>): Promise<Own[]> {
  const accounts = await db.models.account.findAll({ where, limit: 10 });
  const people = await db.models.person.findAll({
    where: { id: accounts.map(({ personId }) => personId), status: 'active' },
  });
  return accounts.flatMap(({ id: accountId, personId, username, passwordHash }) => {
    const person = people.find(({ id }) => id === personId);
    if (!person) return [];
    const { givenName, familyName, email } = person;
    return [{ accountId, personId, username, passwordHash, givenName, familyName, email }];
  });
}
const ownBy = async (db: Db, where: WhereOptions<Account>): Promise<Own | null> => (await ownsBy(db, where))[0] ?? null;
const ownOf = (db: Db, { accountId }: Viewer): Promise<Own | null> => ownBy(db, { id: accountId });

async function mustFit(db: Db, own: Own, typed: string): Promise<void> {
  const trying = await tryIn(db, [[`confirm:${own.accountId}`, 10, 900]]);
  if (!trying) throw new Fault('too-many', say('accounts.tooManyAttemptsWaitMinutes'));
  try {
    if (own.passwordHash !== null && (await passwordIs(own.passwordHash, typed))) return;
    await trying.failed();
    throw new Fault('invalid', say('accounts.thatIsNotYourPassword'));
  } finally {
    trying.over();
  }
}

/** The password typed again, for what asks for a fresh one. */
export async function confirm(db: Db, viewer: Viewer, password: string): Promise<void> {
  const own = await ownOf(db, viewer);
  if (!own?.passwordHash) throw new Fault('conflict', say('accounts.youDontHaveAPassword'));
  await mustFit(db, own, password);
  await freshen(db, viewer.sessionId);
}

/** Ends all other sessions. */
export async function changePassword(db: Db, viewer: Viewer, current: string, next: string): Promise<void> {
  const own = await ownOf(db, viewer);
  if (!own) throw notFound(say('api.thisAccount'));
  if (own.passwordHash !== null) await mustFit(db, own, current);
  await setPassword(db, own, next, 'changed', viewer.sessionId);
}

async function setPassword(db: Db, own: Own, password: string, how: string, keepSession: string | null): Promise<void> {
  const bad = passwordError(password, [own.username, own.givenName, own.familyName]);
  if (bad) throw new Fault('invalid', bad);
  const passwordHash = await hashPassword(password);
  const { accountId, personId } = own;
  await db.transaction(async (tx) => {
    const { account, sessions, invitations } = db.models;
    await account.update({ passwordHash }, { where: { id: accountId }, transaction: tx });
    const others = keepSession === null ? {} : { id: { [Op.ne]: keepSession } };
    await sessions.destroy({ where: { accountId, ...others }, transaction: tx });
    await endLinks(db, accountId, tx);
    await invitations.update({ expiresAt: nowIso() }, { where: { personId, usedAt: null }, transaction: tx });
    await audit(db, { by: personId, action: 'password.chosen', about: personId, detail: how }, tx);
  });
}

const endLinks = (db: Db, accountId: string, tx: Tx) =>
  db.models.passwordLinks.update({ usedAt: nowIso() }, { where: { accountId, usedAt: null }, transaction: tx });

/** A link for the account, in the place of all before it. */
export async function newLink(db: Db, config: Config, accountId: string): Promise<string> {
  const token = newToken();
  await db.transaction(async (tx) => {
    await endLinks(db, accountId, tx);
    const [createdAt, expiresAt] = [nowIso(), isoIn(linkMinutes * 60_000)];
    const link = { tokenHash: hashToken(token), accountId, createdAt, expiresAt };
    await db.models.passwordLinks.create(link, { transaction: tx });
  });
  return `${config.url}/password#${token}`;
}

async function sendLink(db: Db, config: Config, own: Own, why: MessageKey): Promise<void> {
  const speech = await speechFor(db, own.personId);
  const name = (await district(db))?.name ?? 'Sheaf';
  const link = await newLink(db, config, own.accountId);
  const post = new Post(config.mail!);
  try {
    await post.send({
      to: own.email!,
      subject: spoken(say('letters.passwordSubject', { district: name }), speech),
      text: spoken(
        say('letters.passwordBody', {
          ...{ name: own.givenName, why: say(why), username: own.username, minutes: linkMinutes, link },
        }),
        speech,
      ),
    });
  } finally {
    post.close();
  }
}

/**
 * The same answer for anyone: whether there is such an account is not said. Returns at once; the mail is sent after it,
 * so that the time says nothing either; `sent` is when it was.
 */
export async function forgot(db: Db, config: Config, who: string, address: string): Promise<{ sent: Promise<void> }> {
  if (!config.mail) throw new Fault('conflict', say('accounts.noMailServerIsSet'));
  const typed = who.trim().toLowerCase();
  const trying = await tryIn(db, [
    [`forgot:${address}`, 20, 3600],
    [`forgot-who:${typed}`, 3, 3600],
  ]);
  if (!trying) throw new Fault('too-many', say('accounts.tooManyRequestsWaitAn'));
  await trying.failed();
  const send = async () => {
    const plain = typed.replace(/[^\x21-\x7e]/g, '?');
    const people = await db.models.person.findAll({ attributes: ['id'], where: { email: typed }, limit: 10 });
    const found = await ownsBy(db, {
      ...isStaff,
      [Op.or]: [{ username: plain }, { personId: people.map(({ id }) => id) }],
    });
    // An address that two people share says not which of them it is.
    const [own] = found;
    if (!own?.email || found.length > 1) return;
    await audit(db, {
      by: own.personId,
      action: 'password.forgot',
      about: own.personId,
      detail: say('accounts.from', { address }),
    });
    await sendLink(db, config, own, 'letters.whyForgotten');
  };
  const sent = send().catch((error: unknown) =>
    console.error('forgotten password:', error instanceof Error ? error.message : error),
  );
  return { sent };
}

async function linked(db: Db, token: string): Promise<Own> {
  const link = await db.models.passwordLinks.findOne({
    where: { tokenHash: hashToken(token), usedAt: null, expiresAt: { [Op.gt]: nowIso() } },
  });
  const own = link && (await ownBy(db, { id: link.accountId, ...isStaff }));
  if (!own) throw new Fault('missing', say('accounts.thisLinkNoLongerWorks'));
  return own;
}
export async function openLink(db: Db, token: string): Promise<{ name: string; username: string }> {
  const { givenName, familyName, username } = await linked(db, token);
  return { name: spokenName({ givenName, familyName }), username };
}
export async function passwordByLink(db: Db, token: string, password: string): Promise<{ username: string }> {
  const own = await linked(db, token);
  await setPassword(db, own, password, say('accounts.byALink'), null);
  return { username: own.username };
}

/**
 * A coordinator has a member of staff choose a new password: the old one is void, their sessions end, and the link goes
 * to their own address.
 */
export async function resetPassword(db: Db, config: Config, viewer: Viewer, personId: string): Promise<void> {
  await mustRank(db, viewer, personId);
  const own = await ownBy(db, { personId, ...isStaff });
  if (!own) throw notFound(say('api.thisPerson'));
  if (!config.mail) throw new Fault('conflict', say('accounts.noMailServerIsSet2'));
  if (!own.email) throw new Fault('invalid', say('accounts.thereIsNoEmailAddress'));
  await db.transaction(async (tx) => {
    await db.models.account.update({ passwordHash: null }, { where: { id: own.accountId }, transaction: tx });
    await endSessionsOf(db, [own.accountId], tx);
    await audit(db, { by: viewer.personId, action: 'password.reset', about: personId, detail: own.email! }, tx);
  });
  await sendLink(db, config, own, 'letters.whyCoordinator');
}
