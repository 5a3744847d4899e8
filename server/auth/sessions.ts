/**
 * Signing in: staff by password, students by secret or by the code of a card. A failed attempt never says which of
 * the two was wrong, and takes as long whether the username exists or not.
 */
import { normalSecret } from '#core/accounts/index';
import type { AccountRole } from '#core/register/index';
import { Fault, type Viewer } from '../api/context';
import type { Config } from '../config';
import { isoIn, nowIso } from '../clock';
import type { Db } from '../db/connection';
import { attempt, type Bucket, forgive } from './limits';
import { hashPassword, passwordIs } from './password';
import { hashToken, newToken, sameText, unsealText } from './seal';

const hours: Record<AccountRole, number> = { student: 12, teacher: 14, school: 14, district: 14 };

interface AccountRow {
  id: string;
  personId: string;
  role: AccountRole;
  status: string;
  secretSealed: string | null;
  passwordHash: string | null;
}

export interface Session {
  token: string;
  role: AccountRole;
  maxAgeSeconds: number;
}

let decoy: Promise<string> | null = null;

/** Throws Fault 401 when it does not fit, 429 after too many attempts: on the account 10 in 15 minutes or 60 a day, from the address 400 in 15 minutes. */
export async function signIn(
  db: Db,
  config: Config,
  username: string,
  secret: string,
  address: string,
): Promise<Session> {
  // A username is plain ASCII; anything else is nobody's, and is limited all the same.
  const name = username
    .trim()
    .toLowerCase()
    .replace(/[^\x21-\x7e]/g, '?');
  const buckets: Bucket[] = [
    [`user:${name}`, 10, 900],
    [`day:${name}`, 60, 86_400],
    [`from:${address}`, 400, 900],
  ];
  await mayTry(db, buckets);
  const account = await db.one<AccountRow>(
    'SELECT id, personId, role, status, secretSealed, passwordHash FROM accounts WHERE username = :name',
    { name },
  );
  const fits = await secretFits(config, account, secret);
  if (!account || !fits || account.status !== 'active')
    throw new Fault(
      401,
      'Username and secret do not go together. Look at both once more; capitals do not matter in a student’s secret.',
    );
  for (const bucket of buckets) await forgive(db, bucket);
  return begin(db, account, 'secret');
}

async function secretFits(config: Config, account: AccountRow | null, typed: string): Promise<boolean> {
  if (account?.secretSealed)
    return sameText(normalSecret(unsealText(config.key, account.personId, account.secretSealed)), normalSecret(typed));
  decoy ??= hashPassword('nobody has this one');
  return (await passwordIs(account?.passwordHash ?? (await decoy), typed)) && Boolean(account?.passwordHash);
}

/** The code of a printed card: what the QR holds, or just the code at its end. */
export async function signInByCard(db: Db, scanned: string, address: string): Promise<Session> {
  const bucket: Bucket = [`card:${address}`, 400, 900];
  await mayTry(db, [bucket]);
  const code =
    scanned
      .trim()
      .toUpperCase()
      .match(/([0-9A-Z]{26})\/?$/)?.[1] ?? '';
  const account = await db.one<AccountRow>(
    `SELECT ac.id, ac.personId, ac.role, ac.status, ac.secretSealed, ac.passwordHash FROM printed_cards pc
     JOIN accounts ac ON ac.personId = pc.personId AND ac.secretVersion = pc.secretVersion AND ac.status = 'active'
     WHERE pc.tokenHash = :hash AND pc.voidedAt IS NULL`,
    { hash: hashToken(code) },
  );
  if (!account)
    throw new Fault(
      401,
      'This card no longer holds. Ask your teacher for a new one, or sign in with username and secret.',
    );
  await forgive(db, bucket);
  return begin(db, account, 'card');
}

async function mayTry(db: Db, buckets: Bucket[]): Promise<void> {
  for (const bucket of buckets) {
    if (await attempt(db, bucket)) continue;
    throw new Fault(
      429,
      'Too many attempts. Wait a while, or sign in with your card; a coordinator can give you a new one.',
    );
  }
}

/** A session for whoever has shown who they are. */
export async function begin(
  db: Db,
  account: Pick<AccountRow, 'id' | 'personId' | 'role'>,
  way: 'secret' | 'card' | 'sign-on',
): Promise<Session> {
  const token = newToken();
  const maxAgeSeconds = hours[account.role] * 3600;
  const now = nowIso();
  await db.run(
    'INSERT INTO sessions (tokenHash, accountId, createdAt, expiresAt) VALUES (:hash, :accountId, :now, :until)',
    {
      hash: hashToken(token),
      accountId: account.id,
      now,
      until: isoIn(maxAgeSeconds * 1000),
    },
  );
  await db.run(
    'INSERT INTO sign_ins (personId, firstAt, lastAt, way) VALUES (:personId, :now, :now, :way) ON DUPLICATE KEY UPDATE lastAt = :now, way = :way',
    { personId: account.personId, now, way },
  );
  return { token, role: account.role, maxAgeSeconds };
}

export const signOut = (db: Db, token: string): Promise<number> =>
  db.run('DELETE FROM sessions WHERE tokenHash = :hash', { hash: hashToken(token) });

/** Who holds the token, with their scope as it is now; null when nobody does. */
export async function viewerOf(db: Db, token: string | undefined): Promise<Viewer | null> {
  if (!token) return null;
  const account = await db.one<{ accountId: string; personId: string; role: AccountRole }>(
    `SELECT s.accountId, ac.personId, ac.role FROM sessions s JOIN accounts ac ON ac.id = s.accountId
     WHERE s.tokenHash = :hash AND s.expiresAt > :now AND ac.status = 'active'`,
    { hash: hashToken(token), now: nowIso() },
  );
  if (!account) return null;
  const { personId, role } = account;
  const schools =
    role === 'school' || role === 'teacher'
      ? await db.select<{ schoolId: string }>(
          'SELECT schoolId FROM affiliations WHERE personId = :personId AND ends IS NULL',
          { personId },
        )
      : [];
  const classes =
    role === 'teacher'
      ? await db.select<{ classId: string }>(
          "SELECT classId FROM enrollments WHERE personId = :personId AND ends IS NULL AND role = 'teacher'",
          { personId },
        )
      : [];
  return { ...account, schoolIds: schools.map((s) => s.schoolId), classIds: classes.map((c) => c.classId) };
}
