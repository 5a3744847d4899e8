/**
 * Signing in: staff and students by password, students by the code of a card. A failed attempt never says what was
 * wrong, and is answered at the same moment whether the username exists, is a student's or a member of staff's.
 *
 * Wrong attempts are counted apart: a browser in which this person signed in before has an allowance of its own, so that
 * nobody can lock them out from elsewhere. All other browsers share slower ones: of the account, of the school, and of
 * the district. For picture passwords the school's is so small that whoever tries them on all its students finds at
 * most one in a school year; see docs/security.md for the arithmetic.
 */
import { say } from '#core/messages/say';
import { normalSecret, picturesOf } from '#core/accounts/index';
import { Fault } from '../faults';
import { audit } from '../trail';
import type { Config } from '../config';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { type Factor, factorsOf } from './factors';
import { type Bucket, tryIn } from './limits';
import { passwordIs } from './password';
import { hashToken, macOf, newToken, sameText, unsealText } from './seal';
import { type Account, begin, type From, type Session } from './sessions';
import { joinedOne } from '../db/joined';
import { accountToTry, knownFromNow, seenAgain, type TriedRow } from './queries';

const [quarter, day] = [900, 86_400];
export const allowances = {
  /** Of a browser in which the person signed in before. */
  known: { quarter: 10, day: 60 },
  /** Of one account, from all other browsers together. */
  account: { quarter: 5, day: 20 },
  /** Of the picture passwords of a school, from all other browsers together. */
  pictures: { day: 30 },
  /** Of all other passwords of a school. */
  school: { day: 300 },
  district: { day: 3000 },
  address: { quarter: 400 },
};
/** Every answer that refuses comes so long after the question, whatever had to be looked at. */
const answerMs = 250;

export interface Tried extends From {
  username: string;
  password: string;
  /** Tokens of the browser's cookie of people who signed in in it before. */
  known: readonly string[];
}
export interface SignedIn {
  session: Session;
  /** To be kept by the browser: it knows this person from now on. */
  known: string;
}

const refused = say('accounts.theUsernameAndPasswordDont');
const tooMany = say('accounts.tooManyAttemptsWaitA');

/** `step`: the password is right, and a second factor is asked for. Throws Fault signed-out when it does not fit, too-many after too many attempts. */
export async function signIn(
  db: Db,
  config: Config,
  tried: Tried,
): Promise<SignedIn | { step: { accountId: string; factors: Factor[] } }> {
  const from = performance.now();
  try {
    return await signInNow(db, config, tried);
  } catch (error) {
    if (error instanceof Fault) await new Promise((later) => setTimeout(later, from + answerMs - performance.now()));
    throw error;
  }
}

async function signInNow(db: Db, config: Config, tried: Tried) {
  // A username is plain ASCII; anything else is no one's, and is limited all the same.
  const name = tried.username
    .trim()
    .toLowerCase()
    .replace(/[^\x21-\x7e]/g, '?');
  const row = await accountToTry(db, name, tried.known.slice(0, mostKnown).map(hashToken));
  const secret = row?.secretSealed ? unsealText(config.key, row.personId, row.secretSealed) : null;
  const counted = row
    ? bucketsOf(name, row, secret, tried.address)
    : await bucketsOfNobody(db, config, name, tried.address);
  const trying = await tryIn(db, counted);
  if (!trying) {
    await audit(db, {
      by: null,
      action: 'sign-in.limited',
      about: row?.personId ?? null,
      detail: say('accounts.from', { address: tried.address }),
    });
    throw new Fault('too-many', tooMany);
  }
  try {
    const fits = row !== null && row.status === 'active' && (await passwordFits(row, secret, tried.password));
    if (!fits) {
      await db.transaction(async (tx) => {
        await trying.failed(tx);
        const about = row?.personId ?? null;
        await audit(
          db,
          { by: null, action: 'sign-in.failed', about, detail: say('accounts.from', { address: tried.address }) },
          tx,
        );
      });
      throw new Fault('signed-out', refused);
    }
  } finally {
    trying.over();
  }
  const factors = await factorsOf(db, { accountId: row.id, role: row.role });
  if (factors.length > 0) return { step: { accountId: row.id, factors } };
  return signedIn(db, row, 'password', tried, row.knownHash);
}

/** A session, and the browser is known from now on. */
export async function signedIn(
  db: Db,
  account: Account,
  way: 'password' | 'passkey',
  from: From,
  knownHash: string | null,
): Promise<SignedIn> {
  const known = newToken();
  // A browser that is known keeps its token; the cookie is only renewed.
  const session = await begin(db, account, way, from, [
    knownHash ? seenAgain(knownHash, nowIso()) : knownFromNow(hashToken(known), account.id, nowIso()),
  ]);
  return { session, known: knownHash ? '' : known };
}

/** As many people as one browser remembers; on a device that a class shares the latest ones. */
export const mostKnown = 30;

const passwordFits = async (row: TriedRow, secret: string | null, typed: string): Promise<boolean> =>
  secret !== null
    ? sameText(normalSecret(secret), normalSecret(typed))
    : row.passwordHash !== null && (await passwordIs(row.passwordHash, typed));

function bucketsOf(name: string, row: TriedRow, secret: string | null, address: string): Bucket[] {
  if (row.knownHash)
    return [
      [`known:${row.knownHash.slice(0, 40)}`, allowances.known.quarter, quarter],
      [`known-day:${row.knownHash.slice(0, 40)}`, allowances.known.day, day],
    ];
  return shared(name, row.schoolId ?? 'none', secret !== null && picturesOf(secret) !== null, address);
}

function shared(name: string, school: string, byPictures: boolean, address: string): Bucket[] {
  return [
    [`user:${name}`, allowances.account.quarter, quarter],
    [`user-day:${name}`, allowances.account.day, day],
    byPictures
      ? [`pictures:${school}`, allowances.pictures.day, day]
      : [`school:${school}`, allowances.school.day, day],
    ['sign-in:district', allowances.district.day, day],
    [`from:${address}`, allowances.address.quarter, quarter],
  ];
}

/** A name that is no one's is limited as if it were a student's of one of the schools, so that no limit tells that it is not. */
async function bucketsOfNobody(db: Db, config: Config, name: string, address: string): Promise<Bucket[]> {
  const schools = await db.models.school.findAll({ attributes: ['id'], order: ['id'], raw: true });
  const number = parseInt(macOf(config.key, `nobody ${name}`).slice(0, 8), 16);
  const school = schools[number % Math.max(1, schools.length)]?.id ?? 'none';
  return shared(name, school, number % 3 === 0, address);
}

/** Whose card a code is of, while it holds: printed for the password of now. */
async function holderOf(db: Db, code: string): Promise<Account | null> {
  const card = await joinedOne(db, 'printedCards', {
    fields: ['secretVersion', 'personId'],
    of: { id: 'person.allAccount.id', role: 'person.allAccount.role', now: 'person.allAccount.secretVersion' },
    where: { tokenHash: hashToken(code), voidedAt: null },
    whose: { 'person.allAccount.status': 'active' },
    must: ['person.allAccount'],
  });
  return card?.now === card?.secretVersion ? card : null;
}

/** The code of a printed card: what the QR holds, or just the code at its end. */
export async function signInByCard(db: Db, scanned: string, from: From): Promise<Session> {
  const trying = await tryIn(db, [[`card:${from.address}`, allowances.address.quarter, quarter]]);
  if (!trying) throw new Fault('too-many', tooMany);
  const code =
    scanned
      .trim()
      .toUpperCase()
      .match(/([0-9A-Z]{26})\/?$/)?.[1] ?? '';
  const account = await holderOf(db, code).catch((error: unknown) => {
    trying.over();
    throw error;
  });
  if (!account) {
    await trying.failed();
    await audit(db, {
      by: null,
      action: 'sign-in.failed',
      detail: say('accounts.aCardFrom', { address: from.address }),
    });
    throw new Fault('signed-out', say('accounts.thisCardIsOutOf'));
  }
  trying.over();
  return begin(db, account, 'card', from);
}
