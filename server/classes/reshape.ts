/** Splitting a class and combining classes: plans to be looked at before they apply. */
import { few, say } from '#core/messages/say';
import { planCombine, planSplit, readNames } from '#core/classes/index';
import { fold } from '#core/names/index';
import type { Plan } from '#core/plan/index';
import type { SchoolClass } from '#core/entities/index';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import type { Db } from '../db/connection';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { classOf, peopleOf, taken } from './make';

const schoolName = async (db: Db, { schoolId }: SchoolClass): Promise<string> =>
  (await db.models.school.findOne({ attributes: ['name'], where: { id: schoolId }, raw: true }))?.name ?? '';

const save = (db: Db, viewer: Viewer, { schoolId }: SchoolClass, title: string, plan: Plan): Promise<string> =>
  db.transaction((tx) => savePlan(db, tx, { kind: 'classes', title, schoolId, createdBy: viewer.personId, plan }));

/** A class of teachers alone has nobody who could be moved. */
async function reshapable(db: Db, viewer: Viewer, id: string): Promise<SchoolClass> {
  const one = await classOf(db, viewer, id);
  if (one.kind === 'template') throw new Fault('invalid', say('joining.thisClassIsForStaff'));
  return one;
}

export async function splitClass(
  { db, config }: Services,
  viewer: Viewer,
  id: string,
  typed: string,
): Promise<{ planId: string }> {
  const one = await reshapable(db, viewer, id);
  const names = readNames(typed);
  if (names.length === 0 || names.length > 8) throw new Fault('invalid', say('classes.nameOneToEightNew'));
  const there = await taken(db, one.schoolId);
  const clash = names.find((name) => there.has(fold(name)));
  if (clash) {
    const { teachers } = there.get(fold(clash))!;
    throw new Fault(
      'conflict',
      teachers ? say('classes.nameTakenBy', { name: clash, teachers }) : say('classes.nameTaken', { name: clash }),
    );
  }
  const school = await schoolName(db, one);
  const plan = planSplit(one, await peopleOf(db, id), names, (name) => `${name} · ${school}`, {
    date: config.today(),
    mint,
  });
  return {
    planId: await save(
      db,
      viewer,
      one,
      say('classes.splitInto', { name: one.name, list: few([one.name, ...names]) }),
      plan,
    ),
  };
}

export async function combineClasses(
  { db, config }: Services,
  viewer: Viewer,
  id: string,
  otherIds: string[],
): Promise<{ planId: string }> {
  const into = await reshapable(db, viewer, id);
  const others: Parameters<typeof planCombine>[2][number][] = [];
  for (const otherId of new Set(otherIds)) {
    const other = await reshapable(db, viewer, otherId);
    if (other.id === into.id) throw new Fault('invalid', say('classes.aClassCantBeCombined'));
    if (other.schoolId !== into.schoolId)
      throw new Fault('invalid', say('classes.isAtAnotherSchoolTransfer', { name: other.name }));
    others.push({
      class: other,
      enrollments: await peopleOf(db, otherId),
      label: `${other.name} · ${await schoolName(db, other)}`,
    });
  }
  const plan = planCombine(into, await peopleOf(db, id), others, { date: config.today(), mint });
  return {
    planId: await save(
      db,
      viewer,
      into,
      say('classes.combineWith2', { list: few(others.map((o) => o.class.name)), name: into.name }),
      plan,
    ),
  };
}
