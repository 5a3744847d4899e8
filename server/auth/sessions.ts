/**
 * Sessions: begun by whoever has shown who they are, used by a token that is kept hashed, ended by signing out, by time,
 * by a new password, or from the list of one's sessions. Role and scope are read anew with each request.
 */
import { Op } from 'sequelize';
import { may } from '#core/authority/index';
import type { AccountRole } from '#core/entities/index';
import type { Viewer } from '../services';
import { audit } from '../trail';
import type { Profile } from '../contract';
import { placesOf } from '../authority/actor';
import { clock, isoIn, nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { mint } from '../plans/mint';
import { hashToken, newToken } from './seal';
import { beginSession, sessionBy, type Statement } from './queries';

/** A session ends after so many hours, and after so many without a request. */
const hours: Record<AccountRole, { most: number; idle: number }> = {
  student: { most: 12, idle: 4 },
  teacher: { most: 14, idle: 4 },
  school: { most: 14, idle: 2 },
  district: { most: 14, idle: 2 },
};
const hourMs = 3_600_000;
/** How long a password that was just typed stands for what asks for a fresh one. */
const freshMs = 15 * 60_000;
/** A use is written down when the last one written is older. */
const notedMs = 5 * 60_000;

export type Way = 'password' | 'card' | 'sign-on' | 'passkey';

export interface Account {
  id: string;
  personId: string;
  role: AccountRole;
}
export interface Session {
  token: string;
  role: AccountRole;
  maxAgeSeconds: number;
}
/** Where a request comes from. */
export interface From {
  address: string;
  browser: string;
}

/** A session, with the first and last sign-in of the person and the trail, in one commit. `within`: what belongs to it. */
export async function begin(
  db: Db,
  { id: accountId, personId, role }: Account,
  way: Way,
  { address, browser }: From,
  within: readonly Statement[] = [],
): Promise<Session> {
  const token = newToken();
  const { most } = hours[role];
  const now = nowIso();
  const session = {
    ...{ tokenHash: hashToken(token), id: mint(), accountId, createdAt: now, lastAt: now, freshAt: now },
    ...{ expiresAt: isoIn(most * hourMs), way, browser: browser.slice(0, 200), address: address.slice(0, 45) },
  };
  await beginSession(db, session, personId, within);
  return { token, role, maxAgeSeconds: most * 3600 };
}

export async function signOut(db: Db, token: string, viewer: Viewer | null): Promise<void> {
  await db.models.sessions.destroy({ where: { tokenHash: hashToken(token) } });
  if (viewer) await audit(db, { by: viewer.personId, action: 'sign-out', about: viewer.personId, detail: '' });
}

/** Whoever holds the token, with their role and scope as they are now; null when nobody does. */
export async function viewerOf(db: Db, token: string | undefined): Promise<Viewer | null> {
  if (!token) return null;
  const now = nowIso();
  const row = await sessionBy(db, hashToken(token), now);
  if (!row) return null;
  const { id: sessionId, accountId, personId, role, lastAt, freshAt, hasFactor, duty } = row;
  const way = row.way ?? '';
  // Another server may have changed it.
  if (row.zone) clock.zone = row.zone;
  // Who comes by the district's sign-on has the second factor that the district asks for there.
  const mustAddFactor = duty === 'coordinators' && may({ role }, 'people.edit') && hasFactor === 0 && way !== 'sign-on';
  const idleMs = (hours[role]?.idle ?? 1) * hourMs;
  const since = lastAt === null ? 0 : Date.parse(now) - Date.parse(lastAt);
  if (since > idleMs) {
    await db.models.sessions.destroy({ where: { id: sessionId } });
    return null;
  }
  if (lastAt === null || since > notedMs)
    await db.models.sessions.update({ lastAt: now }, { where: { id: sessionId } });
  return {
    ...{ accountId, sessionId, personId, role, way, mustAddFactor },
    ...{ isFresh: freshAt !== null && freshAt > isoIn(-freshMs) },
    ...(await placesOf(db, personId, role)),
  };
}

/** The password was typed again. */
export const freshen = (db: Db, sessionId: string): Promise<unknown> =>
  db.models.sessions.update({ freshAt: nowIso() }, { where: { id: sessionId } });

export async function sessionsOf(db: Db, { accountId, sessionId }: Viewer): Promise<Profile['sessions']> {
  const rows = await db.models.sessions.findAll({
    where: { accountId, expiresAt: { [Op.gt]: nowIso() } },
    order: [['lastAt', 'DESC']],
    limit: 100,
  });
  return rows.map(({ id, createdAt, lastAt, way, browser, address }) => ({
    ...{ id: id ?? '', createdAt, lastAt: lastAt ?? createdAt, way: way ?? '' },
    ...{ browser: browser ?? '', address: address ?? '', isThis: id === sessionId },
  }));
}

/** Ends one's own sessions: one, or all but the one at work. Returns how many. */
export async function endSessions(db: Db, viewer: Viewer, id: string | null): Promise<number> {
  const { accountId, sessionId, personId } = viewer;
  const ended = await db.models.sessions.destroy({ where: { accountId, id: id ?? { [Op.ne]: sessionId } } });
  await audit(db, { by: personId, action: 'sessions.end', about: personId, detail: String(ended) });
  return ended;
}

/** Ends all sessions of accounts, within the transaction that gives them a new password or takes their role. */
export const endSessionsOf = (db: Db, accountIds: readonly string[], tx: Tx): Promise<number> =>
  db.models.sessions.destroy({ where: { accountId: [...accountIds] }, transaction: tx });
