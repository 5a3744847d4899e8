/**
 * Invitations, for those who never signed in: nobody hands out a first password, whoever follows the link chooses it. A
 * link is made when it is sent or handed over and kept only hashed. A new one ends all before it, and so does the
 * password that was chosen.
 */
import { Op } from 'sequelize';
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

export const invitations = async (db: Db, viewer: Viewer): Promise<Invitation[]> =>
  (
    await db.select<Omit<Invitation, 'state'> & { usedAt: string | null; sentAt: string | null }>(
      `SELECT i.id, i.personId, CONCAT(p.familyName, ', ', p.givenName) AS name, i.email, i.createdAt, i.expiresAt, i.usedAt, i.sentAt, i.lastError
       FROM invitations i JOIN people p ON p.id = i.personId
       WHERE i.id = (SELECT MAX(o.id) FROM invitations o WHERE o.personId = i.personId) AND ${theirRows(viewer, 'people', 'p')} ORDER BY i.usedAt IS NOT NULL, i.createdAt DESC LIMIT 500`,
    )
  ).map(({ usedAt, sentAt, ...row }) => ({
    ...row,
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

async function invitationOf(db: Db, viewer: Viewer, id: string): Promise<Invitation> {
  const found = (await invitations(db, viewer)).find((one) => one.id === id);
  if (!found) throw notFound('This invitation');
  if (found.state === 'used') throw new Fault('conflict', `${found.name} has followed the invitation already.`);
  await mustInvite(db, viewer, found.personId);
  return found;
}

/** For those who get no mail: the link itself, to be handed over. Recorded. */
export async function linkOf({ db, config }: Services, viewer: Viewer, id: string): Promise<{ url: string }> {
  const { personId } = await invitationOf(db, viewer, id);
  await audit(db, { by: viewer.personId, action: 'invitation.link', about: personId, detail: 'handed over' });
  return { url: await freshLink(db, config, id) };
}

/** Throws unless the person never signed in and is not above the viewer: an invitation makes no other password. */
async function mustInvite(db: Db, viewer: Viewer, personId: string): Promise<void> {
  await mustRank(db, viewer, personId);
  const account = await db.models.account.findOne({ where: { personId } });
  if (account && (account.passwordHash !== null || (await db.models.signIns.findByPk(personId))))
    throw new Fault(
      'conflict',
      'This person has signed in before. Use “Reset password”, which sends a link to their own address.',
    );
}

/** Somebody on record as staff who has no password yet, or lost the mail. */
export async function inviteAgain({ db }: Services, viewer: Viewer, personId: string): Promise<string> {
  const person = await db.one<{ email: string | null; passwordHash: string | null; schoolId: string | null }>(
    `SELECT p.email, ac.passwordHash, a.schoolId FROM people p JOIN accounts ac ON ac.personId = p.id AND ac.role <> 'student' LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.id = :personId AND p.role = 'staff' AND p.status = 'active'`,
    { personId },
  );
  if (!person || !inScope(viewer, person.schoolId)) throw notFound('This person');
  await mustInvite(db, viewer, personId);
  if (!person.email) throw new Fault('invalid', 'There is no e-mail address on record. Fill it in first.');
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
      const one = await db.one<{ email: string; givenName: string; username: string }>(
        'SELECT i.email, p.givenName, ac.username FROM invitations i JOIN people p ON p.id = i.personId JOIN accounts ac ON ac.personId = p.id WHERE i.id = :id AND i.usedAt IS NULL',
        { id },
      );
      if (!one) continue;
      const link = await freshLink(db, config, id);
      try {
        await post.send({ to: one.email, subject: `Your account at ${name}`, text: letter({ ...one, name, link }) });
        await db.models.invitations.update({ sentAt: nowIso(), lastError: null }, { where: { id } });
        result.sent++;
      } catch (error) {
        const message = error instanceof Error ? error.message : String(error);
        await db.models.invitations.update({ lastError: message.slice(0, 300) }, { where: { id } });
        result.failed++;
      }
      progress(result.sent + result.failed);
    }
  } finally {
    post.close();
  }
  return result;
}

const letter = ({
  givenName,
  username,
  name,
  link,
}: {
  givenName: string;
  username: string;
  name: string;
  link: string;
}) =>
  `Hello ${givenName},

${name} made an account for you. Your username is ${username}.

Choose your password here. The link is for you alone and works for ${daysValid} days:

${link}

If this is not meant for you, ignore it.
`;

interface Opened {
  id: string;
  personId: string;
  accountId: string;
  username: string;
  givenName: string;
  familyName: string;
}

async function opened(db: Db, token: string): Promise<Opened> {
  const found = await db.one<Opened>(
    `SELECT i.id, i.personId, ac.id AS accountId, ac.username, p.givenName, p.familyName FROM invitations i JOIN people p ON p.id = i.personId AND p.status = 'active'
       JOIN accounts ac ON ac.personId = p.id AND ac.status = 'active' WHERE i.tokenHash = :hash AND i.usedAt IS NULL AND i.expiresAt > :now AND ac.passwordHash IS NULL`,
    { hash: hashToken(token), now: nowIso() },
  );
  if (!found) throw new Fault('missing', 'This invitation no longer works. Ask your coordinator for a new one.');
  return found;
}

export async function openInvitation(
  db: Db,
  token: string,
): Promise<{ name: string; username: string; district: string }> {
  const { givenName, familyName, username } = await opened(db, token);
  return { name: `${givenName} ${familyName}`, username, district: (await district(db))?.name ?? '' };
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
    if (first === 0) throw new Fault('missing', 'This invitation was used a moment ago.');
    await endOthers(db, personId, id, tx);
    await db.models.account.update({ passwordHash }, { where: { id: accountId }, transaction: tx });
    await endSessionsOf(db, [accountId], tx);
    await audit(db, { by: personId, action: 'password.chosen', about: personId, detail: 'by invitation' }, tx);
  });
  return { username };
}
