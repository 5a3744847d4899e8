/** The first run: a district, its first school and its first coordinator, made once. */
import type { Body } from './contract';
import { Fault } from './faults';
import { tryIn } from './auth/limits';
import { hashPassword } from './auth/password';
import { macOf, sameText, tokenFrom } from './auth/seal';
import type { Config } from './config';
import { clock } from './clock';
import type { Db } from './db/connection';
import { district, keepTime, makeDistrict, yearFrom } from './district';
import { carryOut, openingKind } from './plans/apply';
import { savePlan } from './plans/store';
import { mint } from './plans/mint';
import { ordered } from '#core/register/index';
import { calendarProblems } from '#core/year/index';
import type { Change } from '#core/plan/index';

export async function firstRun(db: Db): Promise<{ needed: boolean; district: string | null }> {
  const here = await district(db);
  return { needed: here === null, district: here?.name ?? null };
}

/**
 * The code that the first run asks for, printed when the server starts: it follows from the key, so that all servers of
 * one district print the same. Nobody who finds an empty Sheaf on the network makes it theirs.
 */
export const setupCode = ({ key }: Config): string =>
  tokenFrom(Buffer.from(macOf(key, 'set-up code'), 'hex')).slice(0, 8);

/** Throws Fault not-allowed for another code, too-many after too many. */
export async function mustHaveCode(db: Db, config: Config, typed: string, address: string): Promise<void> {
  if (!(await firstRun(db)).needed) throw new Fault('conflict', alreadyThere);
  const trying = await tryIn(db, [
    ['setup', 50, 3600],
    [`setup:${address}`, 10, 3600],
  ]);
  if (!trying) throw new Fault('too-many', 'Too many attempts. Wait an hour.');
  const fits = sameText(typed.replace(/[\s-]/g, '').toUpperCase(), setupCode(config));
  if (!fits) await trying.failed();
  trying.over();
  if (!fits)
    throw new Fault('not-allowed', 'code: This is not the set-up code. It was printed when the server started.');
}

const alreadyThere = 'This was set up already. Sign in.';

/** Throws Fault conflict where there is a district already, invalid for a year that cannot be. */
export async function setUp(db: Db, form: Body<'POST /api/setup'>): Promise<void> {
  clock.zone = form.zone;
  // Of two browsers at once the second one's zone is not the district's.
  await make(db, form).finally(() => keepTime(db));
}

async function make(db: Db, form: Body<'POST /api/setup'>): Promise<void> {
  const year = { ...yearFrom(form.yearBegins), ends: form.yearEnds };
  const [wrong] = calendarProblems({ zone: form.zone, year, terms: [], daysOff: [] });
  if (wrong) throw new Fault('invalid', wrong);
  const passwordHash = await hashPassword(form.password);
  const create = (entity: Change['entity'], id: string, after: Change['after'], label: string): Change => ({
    entity,
    id,
    op: 'create',
    before: {},
    after,
    reason: 'first run',
    label,
    subject: id,
  });
  const personId = mint();
  const label = `${form.familyName}, ${form.givenName}`;
  const changes = [
    create(
      'person',
      personId,
      {
        role: 'staff',
        number: null,
        givenName: form.givenName,
        middleName: null,
        familyName: form.familyName,
        birthDate: null,
        email: null,
        guardianEmail: null,
        status: 'active',
        mergedInto: null,
      },
      label,
    ),
    create(
      'account',
      mint(),
      {
        personId,
        username: form.username,
        role: 'district',
        status: 'active',
        secretSealed: null,
        secretVersion: 1,
        passwordHash,
      },
      label,
    ),
  ];
  const planId = await db.transaction(async (tx) => {
    if (await district(db, tx)) throw new Fault('conflict', alreadyThere);
    await makeDistrict(db, { name: form.district, zone: form.zone, year }, tx).catch(
      (error: { original?: { errno?: number } }) => {
        // Two browsers at once: the second meets the first one's district.
        throw error.original?.errno === 1062 ? new Fault('conflict', alreadyThere) : error;
      },
    );
    return savePlan(db, tx, {
      kind: openingKind,
      title: 'First run',
      createdBy: personId,
      plan: ordered(changes),
      grant: { is: 'opening' },
    });
  });
  await carryOut(db, planId, 'apply', personId, { grant: { is: 'opening' } });
}
