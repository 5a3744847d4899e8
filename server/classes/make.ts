/** Making, changing and ending classes by hand. */
import { few, say } from '#core/messages/say';
import { inScope, isTheirs, may } from '#core/authority/index';
import { type Clash, type MadeClass, type NewClasses, planClasses, planEnding } from '#core/classes/index';
import { fold } from '#core/names/index';
import type { Plan } from '#core/plan/index';
import type { Enrollment, School, SchoolClass } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { updates } from '#core/register/steps';
import { tell } from '#core/register/story';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, ClassesPreview } from '../contract';
import type { Db } from '../db/connection';
import { district } from '../district';
import { applyNow } from '../plans/now';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { joined } from '../db/joined';
import { teachersOf } from './teachers';

/** An open class that the viewer runs: of their schools for a coordinator, their own for a teacher. Throws Fault missing. */
export async function classOf(db: Db, viewer: Viewer, id: string): Promise<SchoolClass> {
  const found = await db.models.class.findOne({ where: { id, ends: null }, raw: true });
  if (!found || !isTheirs(viewer, 'classes', found)) throw notFound(say('api.thisClass'));
  return found;
}

/** Open classes of the school by folded name, with who teaches them. */
export async function taken(db: Db, schoolId: string): Promise<Map<string, Clash>> {
  const rows = await db.models.class.findAll({
    attributes: ['id', 'name'],
    where: { schoolId, ends: null },
    raw: true,
  });
  const teachers = await teachersOf(
    db,
    rows.map(({ id }) => id),
  );
  return new Map(rows.map(({ id, name }) => [fold(name), { classId: id, teachers: teachers.get(id) ?? '' }]));
}

async function planned(
  { db, config }: Services,
  viewer: Viewer,
  { schoolId, likeId, people, template: templateName, ...order }: Body<'POST /api/classes'>,
): Promise<{ plan: Plan; classes: MadeClass[]; school: School }> {
  if (!inScope(viewer, schoolId)) throw new Fault('not-allowed', say('classes.thisSchoolIsNotYours'));
  const school = await db.models.school.findOne({ where: { id: schoolId }, raw: true });
  if (!school) throw notFound(say('api.thisSchool'));
  let like: NewClasses['like'] = null;
  if (likeId !== null) {
    const model = await classOf(db, viewer, likeId);
    if (people && model.schoolId !== schoolId) throw new Fault('invalid', say('classes.peopleCantBeCopiedFrom'));
    const enrollments = await db.models.enrollment.findAll({ where: { classId: likeId, ends: null }, raw: true });
    like = { class: model, enrollments, people };
  }
  const known = templateName === null ? null : (await district(db))!.settings.templates;
  const template = known?.find(({ name }) => name === templateName) ?? null;
  if (known && !template) throw new Fault('missing', say('classes.thisTemplateNoLongerExists'));
  const tools = { date: config.today(), mint, teacher: may(viewer, 'classes.all') ? null : viewer.personId };
  const made = planClasses({ ...order, like, template }, school, await taken(db, schoolId), tools);
  return { ...made, school };
}

export async function previewClasses(
  services: Services,
  viewer: Viewer,
  order: Body<'POST /api/classes'>,
): Promise<ClassesPreview> {
  const { plan, classes } = await planned(services, viewer, order);
  return { classes, changes: plan.changes.length, sentence: tell(plan.changes) };
}

/** Makes them at once; undone from the line that says so. */
export async function makeClasses(
  services: Services,
  viewer: Viewer,
  order: Body<'POST /api/classes'>,
): Promise<{ planId: string; sentence: string }> {
  const { plan, classes, school } = await planned(services, viewer, order);
  const fresh = classes.filter(({ clash }) => clash === null);
  if (fresh.length === 0) throw new Fault('invalid', say('classes.theSchoolAlreadyHasClasses'));
  const { db } = services;
  const { planId, sentence } = await applyNow(db, {
    kind: 'classes',
    title: say('classes.newClassesAt', { name: school.name, list: few(fresh.map(({ name }) => name)) }),
    schoolId: school.id,
    createdBy: viewer.personId,
    plan,
  });
  return { planId, sentence };
}

export async function editClass(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/classes/:id/edit'>,
): Promise<{ planId: string }> {
  const found = await classOf(db, viewer, id);
  if (field === 'invite' && !may(viewer, 'classes.all'))
    throw new Fault('not-allowed', say('classes.onlyCoordinatorsCanChooseWho'));
  if (field === 'name') {
    if (!after) throw new Fault('invalid', say('classes.aClassNeedsAName'));
    const clash = (await taken(db, found.schoolId)).get(fold(after));
    if (clash && clash.classId !== id)
      throw new Fault(
        'conflict',
        clash.teachers
          ? say('classes.nameTakenBy', { name: after, teachers: clash.teachers })
          : say('classes.nameTaken', { name: after }),
      );
  }
  const change = {
    ...updates('class', id, { [field]: before }, { [field]: after }, say('classes.editedByHand')),
    label: found.name,
    subject: id,
  };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: say('classes.editClass', { name: found.name }),
    schoolId: found.schoolId,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId };
}

/** Everyone in a class, by name. */
export async function peopleOf(db: Db, classId: string): Promise<(Enrollment & { label: string })[]> {
  const rows = await joined(db, 'enrollment', {
    of: { familyName: 'person.familyName', givenName: 'person.givenName', number: 'person.number' },
    where: { classId, ends: null },
    order: ['person.familyName', 'person.givenName', 'person.id'],
  });
  return rows.map(({ familyName, givenName, number, ...row }) => ({
    ...row,
    label: personLabel({ familyName, givenName, number }),
  }));
}

/** The plan that ends the class, to be looked at and applied. */
export async function endClass({ db, config }: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const found = await classOf(db, viewer, id);
  const rows = await peopleOf(db, id);
  const school = await db.models.school.findOne({ attributes: ['name'], where: { id: found.schoolId }, raw: true });
  const plan = planEnding(found, rows, `${found.name} · ${school?.name ?? ''}`, config.today());
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      kind: 'class-end',
      title: say('classes.endClassAt', { name: found.name, school: school?.name }),
      schoolId: found.schoolId,
      createdBy: viewer.personId,
      plan,
    }),
  );
  return { planId };
}
