/** The roster of one class: its teachers, the people who could be added, adding and removing a person. */
import { say } from '#core/messages/say';
import { may } from '#core/authority/index';
import { fold } from '#core/names/index';
import { spokenName } from '#core/register/index';
import type { Candidate, ClassPage } from '../contract';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';
import { Fault, notFound } from '../faults';
import { notify } from '../notices';
import { planFor } from '../people/verbs';
import { finder } from '../people/list';
import type { Roll } from '../people/roll';
import { applyNow } from '../plans/now';
import type { Services, Viewer } from '../services';
import { classRows } from './queries';
import { countsIn } from './list';
import { classOf } from './make';
import { homeroomTeachers, teachersOf } from './teachers';

type Made = { planId: string; sentence: string };

const nameOf = async (db: Db, id: string): Promise<string> => {
  const found = await db.models.person.findOne({ attributes: ['familyName', 'givenName'], where: { id }, raw: true });
  if (!found) throw notFound(say('api.thisPerson'));
  return spokenName(found);
};

const teachersIn = (db: Db, classId: string) =>
  joined(db, 'enrollment', {
    fields: ['personId', 'begins'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName' },
    where: { classId, role: 'teacher', ends: null },
    order: ['person.familyName', 'person.givenName', 'id'],
  });

/** Everything about one class but its students. Throws Fault missing. */
export async function classPage(roll: Roll, viewer: Viewer, id: string): Promise<ClassPage> {
  await classOf(roll.db, viewer, id);
  const [row] = await classRows(roll.db, viewer, { id });
  if (!row) throw notFound(say('api.thisClass'));
  const counts = await countsIn(roll, id);
  const staff = (await teachersIn(roll.db, id)).map(({ personId, begins, ...name }) => ({
    personId,
    name: spokenName(name),
    since: begins,
  }));
  return { ...row, ...counts, staff };
}

const mostShown = 20;

/**
 * Active students and staff at the school of the class whose name has parts that begin with each word of `q`; for
 * coordinators also by number and username; for a class of teachers alone only staff. With the homeroom that a student would leave, and nothing else of the record.
 */
export async function candidates(roll: Roll, viewer: Viewer, id: string, { q }: { q: string }): Promise<Candidate[]> {
  const { db } = roll;
  const into = await classOf(db, viewer, id);
  const fits = finder(q);
  // Who types a number or a username must not learn whose it is.
  const byAll = may(viewer, 'classes.all');
  const found = (await roll.inOrder('family'))
    .filter(
      (one) =>
        one.status === 'active' &&
        one.schoolId === into.schoolId &&
        (into.kind !== 'template' || one.role === 'staff') &&
        fits(byAll ? one : { text: ` ${fold(`${one.given} ${one.called} ${one.family}`).replaceAll('-', ' ')}` }),
    )
    .slice(0, mostShown);
  const homerooms = new Map(
    (
      await db.models.class.findAll({
        attributes: ['id', 'name'],
        where: { id: found.flatMap(({ classes }) => classes), kind: 'homeroom', ends: null },
        raw: true,
      })
    ).map((room) => [room.id, room.name]),
  );
  const teachers = await teachersOf(db, [...homerooms.keys()]);
  return found.map(({ id: personId, role, given, family, grade, classes, teaches }) => {
    const isIn = (role === 'student' ? classes : teaches).includes(id);
    const rooms = classes.filter((one) => homerooms.has(one) && one !== id);
    const told = rooms.map((one) => `${homerooms.get(one)}${teachers.has(one) ? ` (${teachers.get(one)})` : ''}`);
    return {
      personId,
      role,
      name: spokenName({ givenName: given, familyName: family }),
      grade,
      isIn,
      homeroom: told.join(', ') || null,
      leaves: into.kind === 'homeroom' && !isIn && told.length > 0,
    };
  });
}

/** Puts one person of the school into the class: a student, or one more teacher. A student leaves their other homeroom, whose teachers are told. */
export async function letIn(services: Services, viewer: Viewer, id: string, personId: string): Promise<Made> {
  const { db } = services;
  const into = await classOf(db, viewer, id);
  const person = await db.models.person.findOne({ where: { id: personId }, raw: true });
  if (!person) throw notFound(say('api.thisPerson'));
  if (into.kind === 'template' && person.role === 'student')
    throw new Fault('invalid', say('joining.thisClassIsForStaff'));
  const told = into.kind === 'homeroom' && person.role === 'student' ? await homeroomTeachers(db, personId, id) : [];
  const made = await planFor(services, [personId], { verb: 'enroll', classId: id, instead: false });
  const name = spokenName(person);
  const [problem] = made.problems;
  if (problem) throw new Fault('conflict', `${name} ${problem.message}.`);
  if (made.changes === 0) throw new Fault('conflict', say('classes.isAlreadyIn', { name, class: into.name }));
  const applied = await applyNow(db, {
    ...made,
    title: say('classes.addTo2', { name, class: into.name }),
    schoolId: into.schoolId,
    createdBy: viewer.personId,
  });
  const by = await nameOf(db, viewer.personId);
  for (const teacher of told)
    if (teacher !== viewer.personId)
      await notify(db, teacher, say('classes.leftYourClassForMade', { name, class: into.name, by }));
  if (person.role === 'staff' && personId !== viewer.personId)
    await notify(db, personId, say('classes.madeYouATeacherOf', { by, name: into.name }));
  return { planId: applied.planId, sentence: say('classes.isNowIn', { name, class: into.name }) };
}

/** Removes one person from the class. Its only teacher cannot be removed, because then no teacher could open it. */
export async function takeOut(services: Services, viewer: Viewer, id: string, personId: string): Promise<Made> {
  const { db } = services;
  const from = await classOf(db, viewer, id);
  const name = await nameOf(db, personId);
  const staff = await teachersIn(db, id);
  const teaches = staff.some((one) => one.personId === personId);
  if (teaches && staff.length === 1)
    throw new Fault('conflict', say('classes.isTheOnlyTeacherOf', { name, class: from.name }));
  const made = await planFor(services, [personId], { verb: 'unenroll', classId: id });
  if (made.changes === 0) throw new Fault('conflict', say('classes.isNoLongerIn', { name, class: from.name }));
  const applied = await applyNow(db, {
    ...made,
    title: say('classes.removeFrom2', { name, class: from.name }),
    schoolId: from.schoolId,
    createdBy: viewer.personId,
  });
  if (teaches && personId !== viewer.personId)
    await notify(
      db,
      personId,
      say('classes.removedYouFromTheTeachers', { by: await nameOf(db, viewer.personId), class: from.name }),
    );
  return { planId: applied.planId, sentence: say('classes.isNoLongerIn', { name, class: from.name }) };
}
