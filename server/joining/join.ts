/**
 * Joining a class by its code. Whoever is surely on record at the class's school is enrolled; anyone else waits as a
 * request. A wrong code, a closed one and too many wrong ones are answered alike, so that nobody learns which it was,
 * nor who is on record.
 */
import { say } from '#core/messages/say';
import { col, literal, Op, type WhereOptions } from 'sequelize';
import { type Claim, resembling } from '#core/identity/index';
import { may } from '#core/authority/index';
import { readCode } from '#core/codes/index';
import { fold } from '#core/names/index';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, Joined } from '../contract';
import { attempt, forgive, usedUp } from '../auth/limits';
import { nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { planFor } from '../people/verbs';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { allowance, type CodeRow, openCode } from './codes';
import { joined, joinedOne } from '../db/joined';

const noCode = say('joining.thisCodeIsNotOpen');
/** So many wait for one class at most: the rest is somebody's joke. */
const mostWaiting = 100;

export interface Known extends Claim {
  personId: string;
  schoolId: string | null;
  status: string;
}

const known = {
  fields: ['familyName', 'givenName', 'number', 'birthDate', 'status'],
  of: { personId: 'id', schoolId: 'openAffiliation.schoolId' },
} as const;

/** People on record who could be meant: by number, by names, or by birth date and given name. */
export async function couldBe(db: Db, claim: Claim, schools: string[] | null = null): Promise<Known[]> {
  const number = claim.number?.replace(/\s/g, '') ?? '';
  const bare = number.replace(/^0+/, '');
  // However many zeros are in front.
  const numbers = [number, ...Array.from({ length: 12 }, (_, i) => bare.padStart(i + 1, '0'))];
  const by = (where: WhereOptions) =>
    joined(db, 'person', {
      ...known,
      where: { role: 'student', status: { [Op.ne]: 'merged' }, ...where },
      whose: schools ? { 'openAffiliation.schoolId': schools } : {},
      limit: 100,
    });
  const begins = `${([...claim.givenName][0] ?? '').replace(/[%_\\]/g, '\\$&')}%`;
  const found = await Promise.all([
    ...(number ? [by({ number: numbers })] : []),
    by({ familyName: claim.familyName, givenName: { [Op.like]: begins } }),
    ...(claim.birthDate ? [by({ birthDate: claim.birthDate })] : []),
  ]);
  return [...new Map(found.flat().map((one) => [`${one.personId} ${one.schoolId}`, one])).values()];
}

type JoinOrder = Body<'POST /api/join'>;

/** Throws Fault invalid when something is missing or mistyped, missing when the code opens nothing. */
export async function join(
  services: Services,
  viewer: Viewer | null,
  order: JoinOrder,
  address: string,
): Promise<Joined> {
  const { db, config } = services;
  const typed = readCode(order.code);
  // The check character tells a slip of the finger before anything is looked up, and costs no attempt.
  if ('problem' in typed) throw new Fault('invalid', typed.message);
  const self = viewer && may(viewer, 'own.page') ? await ownRecord(db, viewer) : null;
  const claim = self ?? claimOf(order);
  const sure = self ?? resembling(claim, await couldBe(db, claim)).find(({ isSure }) => isSure)?.person ?? null;
  const buckets = sure ? allowance.known(sure.personId) : allowance.stranger(address);
  if (await usedUp(db, buckets)) throw new Fault('missing', noCode);
  for (const bucket of buckets) if (!(await attempt(db, bucket))) throw new Fault('missing', noCode);
  const code = await openCode(db, config, typed.code);
  if (!code) throw new Fault('missing', noCode);
  for (const bucket of buckets) await forgive(db, bucket);
  const { className, school } = code;
  if (code.kind === 'staff') return askAsStaff(db, code, claim, order);
  if (sure && sure.status === 'active' && sure.schoolId === code.schoolId) {
    const state = await enroll(services, code, sure);
    if (state) return { state, className, school };
  }
  await ask(db, code, claim, sure);
  return { state: 'waits', className, school };
}

async function ownRecord(db: Db, { personId }: Viewer): Promise<Known> {
  const row = await joinedOne(db, 'person', { ...known, where: { id: personId } });
  return row!;
}

function claimOf({ familyName = '', givenName = '', number = null, birthDate = null, email = null }: JoinOrder): Claim {
  if (!familyName || !givenName) throw new Fault('invalid', say('joining.typeYourGivenNameAnd'));
  if (!number && !birthDate && !email) throw new Fault('invalid', say('joining.typeYourStudentNumberOr'));
  return { familyName, givenName, number: number || null, birthDate: birthDate || null };
}

/** null: it is not for a code to say, since the child would leave another class for this one. */
async function enroll(services: Services, code: CodeRow, { personId }: Known): Promise<'in' | 'there' | null> {
  const { db } = services;
  const classId = code.classId!;
  const [enrolled, wanted] = await Promise.all([
    joined(db, 'enrollment', {
      fields: ['classId'],
      of: { kind: 'class.kind' },
      where: { personId, ends: null, role: 'student' },
    }),
    db.models.class.findOne({ attributes: ['kind'], where: { id: classId }, raw: true }),
  ]);
  if (enrolled.some((e) => e.classId === classId)) return 'there';
  if (wanted?.kind === 'homeroom' && enrolled.some(({ kind }) => kind === 'homeroom')) return null;
  const made = await planFor(services, [personId], { verb: 'enroll', classId, instead: false });
  if (made.changes === 0) return null;
  const grant = { is: 'join' as const, personId, classId };
  const title = say('joining.byItsCode', { title: made.title });
  await applyNow(db, { ...made, kind: 'join', title, createdBy: personId, grant }, async (tx) => {
    const [used] = await db.models.joinCodes.update(
      { uses: literal('uses + 1') as never },
      { where: { id: code.id, uses: { [Op.lt]: col('usesMost') } }, transaction: tx },
    );
    if (used === 0) throw new Fault('missing', noCode);
  });
  return 'in';
}

/** The request waits once, however often it is sent. */
async function ask(db: Db, code: CodeRow, claim: Claim, sure: Known | null): Promise<void> {
  const waiting = await db.models.joinRequests.findAll({
    attributes: ['familyName', 'givenName', 'number', 'birthDate'],
    where: { classId: code.classId, kind: 'student', status: 'waits' },
    raw: true,
  });
  const same = waiting.some(
    (r) =>
      fold(r.familyName) === fold(claim.familyName) &&
      fold(r.givenName) === fold(claim.givenName) &&
      r.number === claim.number &&
      r.birthDate === claim.birthDate,
  );
  if (same) return;
  if (waiting.length >= mostWaiting) throw new Fault('missing', noCode);
  await putRequest(db, {
    ...claim,
    kind: 'student',
    schoolId: code.schoolId,
    classId: code.classId,
    codeId: code.id,
    personId: sure?.personId ?? null,
  });
}

async function askAsStaff(db: Db, code: CodeRow, claim: Claim, { email }: JoinOrder): Promise<Joined> {
  if (!email) throw new Fault('invalid', say('joining.thisCodeIsForStaff'));
  const waiting = await db.models.joinRequests.count({
    where: { schoolId: code.schoolId, kind: 'staff', status: 'waits' },
  });
  if (waiting >= mostWaiting) throw new Fault('missing', noCode);
  await db.models.joinRequests.update(
    { status: 'refused', why: say('joining.askedAgain') },
    { where: { kind: 'staff', status: 'waits', schoolId: code.schoolId, email } },
  );
  await putRequest(db, { ...claim, birthDate: null, kind: 'staff', schoolId: code.schoolId, codeId: code.id, email });
  return { state: 'waits', className: null, school: code.school };
}

export async function putRequest(
  db: Db,
  request: Claim & {
    kind: 'student' | 'missing' | 'teach' | 'staff' | 'transfer' | 'rename';
    toSchoolId?: string | null;
    grade?: string | null;
    schoolId: string;
    classId?: string | null;
    codeId?: string | null;
    email?: string | null;
    note?: string | null;
    askedBy?: string | null;
    personId?: string | null;
  },
  tx?: Tx,
): Promise<void> {
  const { classId = null, codeId = null, email = null, note = null, askedBy = null, personId = null } = request;
  const { toSchoolId = null, grade = null } = request;
  const { kind, schoolId, familyName, givenName, number, birthDate } = request;
  await db.models.joinRequests.create(
    {
      ...{ id: mint(), kind, schoolId, classId, codeId, familyName, givenName, number, birthDate, email, note },
      ...{ askedBy, personId, toSchoolId, grade, at: nowIso(), status: 'waits' },
    },
    { transaction: tx },
  );
}
