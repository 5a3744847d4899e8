/**
 * Join codes of classes, and of schools for their staff: made, shown, ended. How long a new one is follows from those
 * that are open and from how many wrong ones are let through in a day, see `allowance`.
 */
import { say } from '#core/messages/say';
import { col, literal, Op } from 'sequelize';
import { isTheirs, may, theirRows } from '#core/authority/index';
import { guessed, lengthFor, makeCode, spelled } from '#core/codes/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { JoinCode, JoinCodes } from '../contract';
import type { Bucket } from '../auth/limits';
import { macOf, macsOf, sealText, secretBelow, unsealText } from '../auth/seal';
import { classOf } from '../classes/make';
import { isoIn, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { mint } from '../plans/mint';
import { endsAfter, joined, joinedOne } from '../db/joined';

const day = 86_400;
const strangersADay = 500;
const knownADay = 500;

/**
 * Wrong codes in a day. Whoever is not on record shares one allowance, of the district and of their address: guessing
 * uses it up for other strangers only. Whoever says a name and a number that belong together has one of their own, so
 * a class whose children are on record gets in while somebody guesses, from the next desk or from afar.
 */
export const allowance = {
  guessesADay: strangersADay + knownADay,
  stranger: (address: string): Bucket[] => [
    ['join:strangers', strangersADay, day],
    [`join:from:${address}`, 60, 900],
  ],
  known: (personId: string): Bucket[] => [
    ['join:known', knownADay, day],
    [`join:person:${personId}`, 5, day],
  ],
};

export interface CodeRow {
  id: string;
  kind: 'class' | 'staff';
  schoolId: string;
  classId: string | null;
  codeSealed: string;
  letters: number;
  opensAt: string;
  closesAt: string;
  usesMost: number;
  uses: number;
  endedAt: string | null;
  school: string;
  className: string | null;
}

const shownFields = {
  fields: [
    ...([
      'id',
      'schoolId',
      'classId',
      'codeSealed',
      'letters',
      'opensAt',
      'closesAt',
      'usesMost',
      'uses',
      'endedAt',
    ] as const),
  ],
  of: { kind: 'kind', school: 'school.name', className: 'class.name' },
} as const;
const isOpen = () => {
  const now = nowIso();
  return { endedAt: null, opensAt: { [Op.lte]: now }, closesAt: { [Op.gt]: now }, uses: { [Op.lt]: col('usesMost') } };
};

/** The open code, or null. */
export const openCode = (db: Db, config: Config, code: string): Promise<CodeRow | null> =>
  joinedOne(db, 'joinCodes', {
    ...shownFields,
    where: { ...isOpen(), codeMac: macsOf(config.key, code) },
    whose: { 'class.ends': null },
  }) as Promise<CodeRow | null>;

function shown(config: Config, row: CodeRow): JoinCode {
  const { id, kind, schoolId, school, classId, className, opensAt, closesAt, uses, usesMost, endedAt } = row;
  const code = unsealText(config.key, id, row.codeSealed);
  const now = nowIso();
  const state =
    endedAt !== null || closesAt <= now ? 'closed' : opensAt > now ? 'waits' : uses >= usesMost ? 'full' : 'open';
  const about = { id, kind, schoolId, school, classId, className, opensAt, closesAt, uses, usesMost };
  return { ...about, code: spelled(code), url: `${config.url}/j/${code}`, state };
}

/** Those that the viewer may hand out, open ones first; closed ones for a week. */
export async function codes(
  { db, config }: Services,
  viewer: Viewer,
  { classId }: { classId?: string },
): Promise<JoinCodes> {
  const since = isoIn(-7 * day * 1000);
  const rows = (await joined(db, 'joinCodes', {
    ...shownFields,
    where: {
      ...{ closesAt: { [Op.gt]: since }, endedAt: endsAfter(since) },
      ...(classId ? { classId } : {}),
    },
    within: [theirRows(viewer, 'ofClass', 'joinCodes')],
    order: [literal('`joinCodes`.endedAt IS NOT NULL'), 'school.name', 'class.name', 'closesAt'],
    limit: 500,
  })) as CodeRow[];
  const live = await db.models.joinCodes.count({ where: isOpen(), group: ['letters'] });
  return {
    codes: rows.map((row) => shown(config, row)),
    live: live.reduce((sum, { count }) => sum + count, 0),
    guessesADay: allowance.guessesADay,
    // Whoever guesses tries the length at which they lie most densely.
    risk: Math.max(0, ...live.map(({ letters, count }) => guessed(Number(letters) - 1, count, allowance.guessesADay))),
  };
}

/** One of those that the viewer may hand out. Throws Fault missing. */
export async function codeOf({ db, config }: Services, viewer: Viewer, id: string): Promise<JoinCode> {
  const row = (await joinedOne(db, 'joinCodes', { ...shownFields, where: { id } })) as CodeRow | null;
  if (!row || !isTheirs(viewer, 'ofClass', row)) throw notFound(say('api.thisCode'));
  return shown(config, row);
}

export interface NewCode {
  /** null: for staff of the school. */
  classId: string | null;
  schoolId: string | null;
  days: number;
  usesMost: number;
  /** Days until it opens. */
  opensInDays?: number;
}

export async function newCode(services: Services, viewer: Viewer, order: NewCode): Promise<JoinCode> {
  const { db, config } = services;
  const { classId, days, usesMost, opensInDays = 0 } = order;
  const one = classId ? await classOf(db, viewer, classId) : null;
  if (one?.invite === 'coordinators' && !may(viewer, 'classes.all'))
    throw new Fault('not-allowed', say('joining.onlyCoordinatorsCanAddPeople'));
  if (one?.kind === 'template') throw new Fault('invalid', say('joining.thisClassIsForStaff'));
  const schoolId = one?.schoolId ?? order.schoolId;
  if (!schoolId || !isTheirs(viewer, 'ofClass', { schoolId, classId }) || (!classId && !may(viewer, 'codes.staff')))
    throw new Fault('not-allowed', say('joining.makeACodeForOne'));
  // Those that will open count as well: the length must do for all that may be open with it.
  const live = await db.models.joinCodes.count({ where: { endedAt: null, closesAt: { [Op.gt]: nowIso() } } });
  const code = makeCode(lengthFor(live + 1, allowance.guessesADay), secretBelow);
  const id = mint();
  await db.models.joinCodes.create({
    ...{ id, kind: classId ? 'class' : 'staff', schoolId, classId, usesMost, letters: code.length },
    ...{ codeMac: macOf(config.key, code), codeSealed: sealText(config.key, id, code) },
    opensAt: isoIn(opensInDays * day * 1000),
    closesAt: isoIn((opensInDays + days) * day * 1000),
    ...{ createdBy: viewer.personId, createdAt: nowIso() },
  });
  await audit(db, { by: viewer.personId, action: 'code.make', detail: one?.name ?? say('joining.schoolStaff') });
  return codeOf(services, viewer, id);
}

export async function endCode(services: Services, viewer: Viewer, id: string): Promise<void> {
  const { className, school } = await codeOf(services, viewer, id);
  await audit(services.db, {
    by: viewer.personId,
    action: 'code.end',
    detail: className ?? say('joining.staffOf', { school }),
  });
  await services.db.models.joinCodes.update({ endedAt: nowIso() }, { where: { id, endedAt: null } });
}
