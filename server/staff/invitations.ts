/**
 * Invitations, for those who never signed in: nobody hands out a first password, whoever follows the link chooses it. A
 * link is made when it is sent or handed over and kept only hashed. A new one ends all before it, and so does the
 * password that was chosen.
 */
import { say, spoken } from '#core/messages/say';
import { literal, Op } from 'sequelize';
import { inScope, theirRows } from '#core/authority/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { Invitation } from '../contract';
import { hashPassword, passwordError } from '../auth/password';
import { hashToken, newToken } from '../auth/seal';
import { endSessionsOf } from '../auth/sessions';
import { isoIn, nowIso } from '../clock';
import type { Config } from '../config';
import { mustRank } from '../authority/check';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';
import { Post } from '../mail';
import { mint } from '../plans/mint';
import { joined, joinedOne } from '../db/joined';
import { speechFor } from '../preferences';
import { spokenName } from '#core/register/index';

const daysValid = 14;
const dayMs = 86_400_000;

export async function newInvitation(db: Db, viewer: Viewer, personId: string, email: string): Promise<string> {
  const id = mint();
  await endOthers(db, personId, id);
  await db.models.invitations.create({
    // Of no use until it is sent or handed over.
    ...{ id, tokenHash: hashToken(newToken()), personId, email, createdBy: viewer.personId },
    ...{ createdAt: nowIso(), expiresAt: isoIn(daysValid * dayMs) },
  });
  return id;
}

/** No other invitation of the person opens anything from now on. */
function endOthers(db: Db, personId: string, id: string, tx?: Tx): Promise<unknown> {
  const now = nowIso();
  return db.models.invitations.update(
    { expiresAt: now },
    { where: { personId, id: { [Op.ne]: id }, usedAt: null, expiresAt: { [Op.gt]: now } }, transaction: tx },
  );
}

/** A new link; the one before it opens nothing any more, nor does an older invitation. */
async function freshLink(db: Db, config: Config, id: string): Promise<string> {
  const token = newToken();
  const one = await db.models.invitations.findByPk(id);
  if (one) await endOthers(db, one.personId, id);
  await db.models.invitations.update(
    { tokenHash: hashToken(token), expiresAt: isoIn(daysValid * dayMs) },
    { where: { id, usedAt: null } },
  );
  return `${config.url}/i#${token}`;
}

export async function invitations(db: Db, viewer: Viewer): Promise<Invitation[]> {
  const rows = await joined(db, 'invitations', {
    fields: ['id', 'personId', 'email', 'createdAt', 'expiresAt', 'usedAt', 'sentAt', 'lastError'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName' },
    // The latest of each person.
    within: [
      theirRows(viewer, 'people', 'person'),
      '`invitations`.id = (SELECT MAX(o.id) FROM invitations o WHERE o.personId = `invitations`.personId)',
    ],
    order: [literal('`invitations`.usedAt IS NOT NULL'), '-createdAt'],
    limit: 500,
  });
  return rows.map(({ usedAt, sentAt, familyName, givenName, ...row }) => ({
    ...row,
    name: `${familyName}, ${givenName}`,
    state: usedAt
      ? 'used'
      : row.expiresAt <= nowIso()
        ? 'expired'
        : row.lastError
          ? 'failed'
          : sentAt
            ? 'sent'
            : 'waits',
  }));
}

async function invitationOf(db: Db, viewer: Viewer, id: string): Promise<Invitation> {
  const found = (await invitations(db, viewer)).find((one) => one.id === id);
  if (!found) throw notFound(say('api.thisInvitation'));
  if (found.state === 'used')
    throw new Fault('conflict', say('staff.hasAlreadyUsedTheInvitation', { name: found.name }));
  await mustInvite(db, viewer, found.personId);
  return found;
}

/** For those who get no mail: the link itself, to be handed over. Recorded. */
export async function linkOf({ db, config }: Services, viewer: Viewer, id: string): Promise<{ url: string }> {
  const { personId } = await invitationOf(db, viewer, id);
  await audit(db, { by: viewer.personId, action: 'invitation.link', about: personId, detail: say('staff.handedOver') });
  return { url: await freshLink(db, config, id) };
}

/** Throws unless the person never signed in and is not above the viewer: an invitation makes no other password. */
async function mustInvite(db: Db, viewer: Viewer, personId: string): Promise<void> {
  await mustRank(db, viewer, personId);
  const account = await db.models.account.findOne({ where: { personId } });
  if (account && (account.passwordHash !== null || (await db.models.signIns.findByPk(personId))))
    throw new Fault('conflict', say('staff.thisPersonHasSignedIn'));
}

/** Somebody on record as staff who has no password yet, or lost the mail. */
export async function inviteAgain({ db }: Services, viewer: Viewer, personId: string): Promise<string> {
  const person = await joinedOne(db, 'account', {
    of: { email: 'person.email', schoolId: 'person.openAffiliation.schoolId' },
    fields: ['passwordHash'],
    where: { personId, role: { [Op.ne]: 'student' } },
    whose: { 'person.role': 'staff', 'person.status': 'active' },
  });
  if (!person || !inScope(viewer, person.schoolId)) throw notFound(say('api.thisPerson'));
  await mustInvite(db, viewer, personId);
  if (!person.email) throw new Fault('invalid', say('accounts.thereIsNoEmailAddress'));
  await audit(db, { by: viewer.personId, action: 'invitation.again', about: personId, detail: person.email });
  return newInvitation(db, viewer, personId, person.email);
}

/** Sends what waits, each with a link of its own; what the mail server refuses is kept with its words. */
export async function sendInvitations(
  db: Db,
  config: Config,
  ids: string[],
  progress: (done: number) => void,
): Promise<{ sent: number; failed: number }> {
  if (!config.mail) return { sent: 0, failed: 0 };
  const post = new Post(config.mail);
  const name = (await district(db))?.name ?? 'Sheaf';
  const result = { sent: 0, failed: 0 };
  try {
    for (const id of ids) {
      const one = await joinedOne(db, 'invitations', {
        fields: ['email', 'personId'],
        of: { givenName: 'person.givenName', username: 'person.allAccount.username' },
        where: { id, usedAt: null },
        must: ['person.allAccount'],
      });
      if (!one) continue;
      const link = await freshLink(db, config, id);
      try {
        const speech = await speechFor(db, one.personId);
        await post.send({
          to: one.email,
          subject: spoken(say('letters.invitationSubject', { district: name }), speech),
          text: spoken(
            say('letters.invitationBody', {
              ...{ name: one.givenName, district: name, username: one.username, days: daysValid, link },
            }),
            speech,
          ),
        });
        await db.models.invitations.update({ sentAt: nowIso(), lastError: null }, { where: { id } });
        result.sent++;
      } catch (error) {
        const message = error instanceof Error ? error.message : String(error);
        await db.models.invitations.update({ lastError: message.slice(0, 1000) }, { where: { id } });
        result.failed++;
      }
      progress(result.sent + result.failed);
    }
  } finally {
    post.close();
  }
  return result;
}

interface Opened {
  id: string;
  personId: string;
  accountId: string;
  username: string;
  givenName: string;
  familyName: string;
}

async function opened(db: Db, token: string): Promise<Opened> {
  const found = await joinedOne(db, 'invitations', {
    fields: ['id', 'personId'],
    of: {
      accountId: 'person.allAccount.id',
      username: 'person.allAccount.username',
      givenName: 'person.givenName',
      familyName: 'person.familyName',
    },
    where: { tokenHash: hashToken(token), usedAt: null, expiresAt: { [Op.gt]: nowIso() } },
    whose: { 'person.status': 'active', 'person.allAccount.status': 'active', 'person.allAccount.passwordHash': null },
    must: ['person.allAccount'],
  });
  if (!found) throw new Fault('missing', say('staff.thisInvitationNoLongerWorks'));
  return found;
}

export async function openInvitation(
  db: Db,
  token: string,
): Promise<{ name: string; username: string; district: string }> {
  const { givenName, familyName, username } = await opened(db, token);
  return { name: spokenName({ givenName, familyName }), username, district: (await district(db))?.name ?? '' };
}

/** Sets the first password, ends the invitation and all sessions. Returns the username, to sign in with. */
export async function acceptInvitation(db: Db, token: string, password: string): Promise<{ username: string }> {
  const { id, personId, accountId, username, givenName, familyName } = await opened(db, token);
  const bad = passwordError(password, [username, givenName, familyName]);
  if (bad) throw new Fault('invalid', bad);
  const passwordHash = await hashPassword(password);
  await db.transaction(async (tx) => {
    const [first] = await db.models.invitations.update(
      { usedAt: nowIso() },
      { where: { id, usedAt: null }, transaction: tx },
    );
    if (first === 0) throw new Fault('missing', say('staff.thisInvitationWasJustUsed'));
    await endOthers(db, personId, id, tx);
    await db.models.account.update({ passwordHash }, { where: { id: accountId }, transaction: tx });
    await endSessionsOf(db, [accountId], tx);
    await audit(
      db,
      { by: personId, action: 'password.chosen', about: personId, detail: say('staff.byInvitation') },
      tx,
    );
  });
  return { username };
}
