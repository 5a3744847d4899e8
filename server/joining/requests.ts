/**
 * Requests to join a class, and to let a student change schools. The person who decides sees what was typed and
 * whether it agrees with the record, never the record's own values. Who may decide follows from the school and the
 * classes that the student is in now.
 */
import { say } from '#core/messages/say';
import { literal, Op } from 'sequelize';
import { type Grant, isEverywhere, isTheirs, may, theirRows } from '#core/authority/index';
import { type Claim, resembling } from '#core/identity/index';
import type { Verb } from '#core/register/verbs';
import { orNone } from '../db/batches';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { JoinRequest } from '../contract';
import { startJob } from '../jobs/start';
import { NotAllowed } from '../authority/check';
import { factsOfPeople } from '../authority/facts';
import { classOf } from '../classes/make';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { notify } from '../notices';
import { findPerson } from '../people/find';
import { planFor } from '../people/verbs';
import { applyNow } from '../plans/now';
import { takeInStaff } from '../staff/staff';
import { couldBe, putRequest } from './join';
import { personLabel, spokenName } from '#core/register/index';
import { updates } from '#core/register/steps';
import { homeroomTeachers, teachersOf } from '../classes/teachers';
import { joined, joinedOne } from '../db/joined';

type Row = Omit<JoinRequest, 'candidates' | 'toSchool'> & {
  schoolId: string;
  toSchoolId: string | null;
  toSchool: string | null;
  grade: string | null;
  personId: string | null;
  askedById: string | null;
};

/** What waits for the viewer to decide, and what a teacher asked for. A transfer waits at the school that the student is at. */
async function waiting(db: Db, viewer: Viewer, id?: string): Promise<Row[]> {
  const theirs = literal(`(${theirRows(viewer, 'ofClass', 'joinRequests')})`);
  const kinds = may(viewer, 'classes.all') ? {} : { kind: ['student', 'teach'] };
  const rows = await joined(db, 'joinRequests', {
    fields: [
      ...([
        'id',
        'schoolId',
        'toSchoolId',
        'grade',
        'classId',
        'familyName',
        'givenName',
        'number',
        'birthDate',
      ] as const),
      ...(['email', 'note', 'at', 'personId', 'askedBy'] as const),
    ],
    of: {
      ...({ kind: 'kind', school: 'school.name', toSchool: 'toSchool.name', className: 'class.name' } as const),
      ...({ askedGiven: 'askedByOne.givenName', askedFamily: 'askedByOne.familyName' } as const),
      ...({ nowGiven: 'person.givenName', nowFamily: 'person.familyName' } as const),
    },
    where: {
      ...{ status: 'waits', ...(id ? { id } : {}) },
      [Op.or]: [
        { ...kinds, [Op.and]: [theirs] },
        { kind: ['missing', 'teach', 'rename'], askedBy: viewer.personId },
      ],
    },
    whose: { 'class.ends': null },
    order: ['at'],
    limit: 300,
  });
  return rows.map(({ askedBy, askedGiven, askedFamily, nowGiven, nowFamily, ...row }) => ({
    ...row,
    kind: row.kind as Row['kind'],
    now:
      row.kind === 'rename' && nowGiven && nowFamily
        ? spokenName({ givenName: nowGiven, familyName: nowFamily })
        : null,
    askedById: askedBy,
    askedBy: askedGiven && askedFamily && spokenName({ givenName: askedGiven, familyName: askedFamily }),
  }));
}

/** How many wait for the viewer, class by class. */
export async function waitingByClass(db: Db, viewer: Viewer): Promise<Map<string, number>> {
  const counts = new Map<string, number>();
  for (const { classId, askedById } of await waiting(db, viewer))
    if (classId !== null && askedById !== viewer.personId) counts.set(classId, (counts.get(classId) ?? 0) + 1);
  return counts;
}

export const countWaiting = async (db: Db, viewer: Viewer): Promise<number> => (await waiting(db, viewer)).length;

type Candidate = JoinRequest['candidates'][number] & { id: string };

/** Students on record whom a request could be about, most alike first, and what the viewer may do about each. */
async function candidatesFor(db: Db, viewer: Viewer, row: Row): Promise<Candidate[]> {
  if (row.kind !== 'student' && row.kind !== 'missing') return [];
  // A teacher is told of students of their own schools alone.
  const within = may(viewer, 'field.evidence') ? null : orNone(viewer.schoolIds);
  const alike = resembling(row, await couldBe(db, row, within)).slice(0, 4);
  const ids = alike.map(({ person }) => person.personId);
  const [facts, places, rooms] = await Promise.all([
    factsOfPeople(db, ids),
    joined(db, 'affiliation', {
      fields: ['personId', 'schoolId'],
      of: { school: 'school.name' },
      where: { personId: ids, ends: null },
    }),
    joined(db, 'enrollment', {
      fields: ['personId', 'classId'],
      of: { name: 'class.name' },
      where: { personId: ids, ends: null, role: 'student' },
      whose: { 'class.kind': 'homeroom' },
      order: ['class.name'],
    }),
  ]);
  const teachers = await teachersOf(
    db,
    rooms.map(({ classId }) => classId),
  );
  const target = await kindOf(db, row.classId);
  return alike.map(({ person, fields, isSure }): Candidate => {
    const id = person.personId;
    const isOwn = isTheirs(viewer, 'people', { id, schools: facts.schoolsOf(id), classes: facts.classesOf(id) });
    const atSchool = facts.schoolsOf(id).some((one) => viewer.schoolIds.includes(one));
    const mine = isOwn || (!may(viewer, 'classes.all') && atSchool);
    const place = places.find(({ personId }) => personId === id);
    const homerooms = rooms.filter(({ personId }) => personId === id);
    const left = homerooms.filter(({ classId }) => target === 'homeroom' && classId !== row.classId);
    const inOthers = homerooms.some(({ classId }) => classId !== row.classId && !viewer.classIds.includes(classId));
    const isHere = person.status === 'active' && place?.schoolId === row.schoolId;
    const byTeacher = !may(viewer, 'classes.all');
    const why = !mine
      ? say('joining.isAStudentAtAnother')
      : person.status === 'left'
        ? say('joining.hasLeft')
        : !isHere
          ? say('joining.isAt', { school: place?.school ?? say('joining.noSchool') })
          : byTeacher && inOthers && !isSure
            ? say('joining.isInAColleaguesClass')
            : null;
    const may_ = isEverywhere(viewer) || (mine && (byTeacher ? why === null : isOwn));
    return {
      id,
      personId: mine ? id : null,
      school: mine ? (place?.school ?? null) : null,
      classes: mine ? homerooms.map(({ name }) => name).join(', ') || null : null,
      fields,
      note: why,
      leaves: mine
        ? left
            .map(({ name, classId: id }) => `${name}${teachers.has(id) ? ` (${teachers.get(id)})` : ''}`)
            .join(', ') || null
        : null,
      may:
        row.askedById === viewer.personId && byTeacher ? 'nothing' : may_ ? 'approve' : mine ? 'nothing' : 'transfer',
    };
  });
}

const kindOf = async (db: Db, classId: string | null): Promise<string | null> =>
  classId === null
    ? null
    : ((await db.models.class.findOne({ attributes: ['kind'], where: { id: classId }, raw: true }))?.kind ?? null);

export async function requests({ db }: Services, viewer: Viewer): Promise<JoinRequest[]> {
  const shown: JoinRequest[] = [];
  for (const row of await waiting(db, viewer)) {
    const { id, kind, school, toSchool, classId, className, familyName, givenName } = row;
    const { number, birthDate, email, note, askedBy, at, now } = row;
    const candidates = (await candidatesFor(db, viewer, row)).map(({ id: _, ...candidate }) => candidate);
    shown.push({
      ...{ id, kind, school, toSchool, classId, className, familyName, givenName, number, birthDate },
      ...{ email, note, askedBy, at, now, candidates },
    });
  }
  return shown;
}

/** A teacher misses a student, asks to teach a class that a colleague made, or to have the name of a student corrected. */
export async function askFor(
  { db }: Services,
  viewer: Viewer,
  order: Partial<Claim> & {
    kind: 'missing' | 'teach' | 'rename';
    classId: string;
    personId?: string;
    note?: string | null;
  },
): Promise<void> {
  const { kind, classId, note = null } = order;
  const base = { kind, classId, note, askedBy: viewer.personId };
  if (kind === 'rename') {
    const { schoolId } = await classOf(db, viewer, classId);
    const found = order.personId ? await findPerson(db, viewer, order.personId) : null;
    if (!found) throw notFound(say('api.thisPerson'));
    const { familyName, givenName } = order;
    if (!familyName || !givenName) throw new Fault('invalid', say('joining.typeTheGivenNameAnd'));
    if (familyName === found.familyName && givenName === found.givenName)
      throw new Fault('invalid', say('joining.thisIsTheNameOn'));
    await db.models.joinRequests.destroy({ where: { kind, status: 'waits', personId: found.id } });
    return putRequest(db, {
      ...base,
      schoolId,
      familyName,
      givenName,
      number: null,
      birthDate: null,
      personId: found.id,
    });
  }
  if (kind === 'missing') {
    const { schoolId } = await classOf(db, viewer, classId);
    const { familyName, givenName, number = null, birthDate = null } = order;
    if (!familyName || !givenName) throw new Fault('invalid', say('joining.typeTheStudentsGivenName'));
    return putRequest(db, { ...base, schoolId, familyName, givenName, number, birthDate });
  }
  const found = await db.models.class.findOne({
    attributes: ['schoolId'],
    where: { id: classId, ends: null },
    raw: true,
  });
  if (!found || !isTheirs(viewer, 'schools', { id: found.schoolId })) throw notFound(say('api.thisClass'));
  const me = await db.models.person.findOne({
    attributes: ['familyName', 'givenName'],
    where: { id: viewer.personId },
    raw: true,
  });
  await db.models.joinRequests.destroy({
    where: { kind: 'teach', status: 'waits', askedBy: viewer.personId, classId },
  });
  await putRequest(db, {
    ...base,
    ...me!,
    schoolId: found.schoolId,
    number: null,
    birthDate: null,
    personId: viewer.personId,
  });
}

type Decision = { accept: true; personId: string | null } | { accept: false; why: string };

/** Approves for the person on record, or declines. What lets in is a plan that can be undone. */
export async function settle(
  services: Services,
  viewer: Viewer,
  id: string,
  decision: Decision,
): Promise<{ planId: string | null; sentence: string }> {
  const { db } = services;
  const [request] = await waiting(db, viewer, id);
  if (!request) throw notFound(say('api.thisRequest'));
  // Whoever asks does not grant it to themselves.
  if (!may(viewer, 'classes.all') && request.askedById === viewer.personId)
    throw new Fault('not-allowed', say('joining.youMadeThisRequestSo'));
  const name = spokenName(request);
  if (!decision.accept) {
    await close(db, viewer, id, 'refused', decision.why);
    await audit(db, { by: viewer.personId, action: 'request.refuse', detail: `${name}: ${decision.why}` });
    return { planId: null, sentence: say('joining.wasDeclined', { name }) };
  }
  if (request.kind === 'staff') return takeInFromRequest(services, viewer, request);
  if (request.kind === 'transfer') return transfer(services, viewer, request);
  if (request.kind === 'rename') return rename(services, viewer, request);
  const personId = request.kind === 'teach' ? request.personId : decision.personId;
  if (!personId || !request.classId) throw new Fault('invalid', say('joining.chooseTheStudentOnRecord'));
  let leaves: string | null = null;
  if (request.kind !== 'teach') {
    const candidate = (await candidatesFor(db, viewer, request)).find((one) => one.id === personId);
    if (!candidate) throw new Fault('invalid', say('joining.thisIsNotOneOf'));
    if (candidate.may !== 'approve')
      throw new Fault(
        'not-allowed',
        say('joining.thisStudent', { note: candidate.note ?? say('joining.isNotYoursToApprove') }),
      );
    leaves = candidate.leaves;
  }
  const order = await orderOf(db, request, personId);
  const told = leaves === null ? [] : await homeroomTeachers(db, personId, request.classId);
  const made = await planFor(services, [personId], order);
  const problem = made.problems[0];
  if (problem) throw new Fault('conflict', `${problem.label} ${problem.message}.`);
  const applied =
    made.changes === 0
      ? null
      : await applyNow(db, {
          ...made,
          kind: 'join',
          title: say('joining.requestedBy2', { title: made.title, name: request.askedBy ?? name }),
          schoolId: request.schoolId,
          createdBy: viewer.personId,
        });
  await close(db, viewer, id, 'accepted', null);
  await audit(db, {
    by: viewer.personId,
    action: 'request.accept',
    about: personId,
    detail: `${name}, ${request.className}`,
  });
  for (const teacher of told)
    if (teacher !== viewer.personId)
      await notify(db, teacher, say('joining.leftYourClassFor', { name, class: request.className }));
  return { planId: applied?.planId ?? null, sentence: applied?.sentence ?? say('joining.theyAreAlreadyInThe') };
}

/** Gives a student the name that their teacher asked for. */
async function rename(
  { db }: Services,
  viewer: Viewer,
  request: Row,
): Promise<{ planId: string | null; sentence: string }> {
  const found = request.personId ? await findPerson(db, viewer, request.personId) : null;
  if (!found) throw notFound(say('api.thisPerson'));
  const { familyName, givenName } = request;
  const name = spokenName(request);
  const before = { familyName: found.familyName, givenName: found.givenName };
  const label = personLabel(found);
  const step = updates('person', found.id, before, { familyName, givenName }, say('joining.requestedByATeacher'));
  const { planId } = await applyNow(db, {
    ...{ kind: 'edit', title: say('joining.edit', { label }), schoolId: request.schoolId, createdBy: viewer.personId },
    plan: { changes: [{ ...step, label, subject: found.id }] },
  });
  await close(db, viewer, request.id, 'accepted', null);
  await audit(db, {
    by: viewer.personId,
    action: 'request.accept',
    about: found.id,
    detail: say('joining.to', { label, name }),
  });
  if (request.askedById)
    await notify(db, request.askedById, say('joining.isNowOnRecordAs', { name: spokenName(found), corrected: name }));
  return { planId, sentence: say('joining.isNow', { name: spokenName(found), corrected: name }) };
}

/** Whoever came with a school's code for staff: taken in as a teacher, and invited. */
async function takeInFromRequest(
  services: Services,
  viewer: Viewer,
  { id, givenName, familyName, email, schoolId }: Row,
): Promise<{ planId: string | null; sentence: string }> {
  const made = await takeInStaff(services, viewer, {
    people: [{ givenName, familyName, email: email ?? '', schoolId, role: 'teacher' }],
    anyway: [],
  });
  const [same] = made.alike.flatMap(({ who }) => who);
  if (same)
    throw new Fault(
      'conflict',
      say('joining.isOnRecordAtWith', { name: same.name, school: same.school, why: same.why }),
    );
  if (services.config.mail) await startJob(services, 'staff.invite', { ids: made.invitationIds }, viewer);
  await close(services.db, viewer, id, 'accepted', null);
  await audit(services.db, {
    by: viewer.personId,
    action: 'request.accept',
    detail: say('joining.staff', { givenName, familyName }),
  });
  return { planId: made.planId, sentence: say('joining.isNowOnStaffAnd', { givenName, familyName }) };
}

/** Into the class: at its school just enrolled, from another school that is also the viewer's transferred with it. */
async function orderOf(db: Db, request: Row, personId: string): Promise<Verb> {
  const classId = request.classId!;
  const person = await joinedOne(db, 'person', {
    fields: ['role', 'status'],
    of: { schoolId: 'openAffiliation.schoolId' },
    where: { id: personId, status: { [Op.ne]: 'merged' } },
  });
  if (!person) throw notFound(say('api.thisPerson'));
  if (person.status === 'active' && person.schoolId === request.schoolId)
    return { verb: 'enroll', classId, instead: person.role !== 'staff' };
  return { verb: 'move', schoolId: request.schoolId, grade: null, classId };
}

/** The present school, or the district, lets a student go to the school that asked. Both have agreed then. */
async function transfer(
  services: Services,
  viewer: Viewer,
  request: Row,
): Promise<{ planId: string | null; sentence: string }> {
  const { db } = services;
  const { personId, toSchoolId, schoolId, grade } = request;
  if (!personId || !toSchoolId) throw notFound(say('api.thisRequest'));
  const { schoolsOf } = await factsOfPeople(db, [personId]);
  if (!isEverywhere(viewer) && !schoolsOf(personId).some((id) => viewer.schoolIds.includes(id)))
    throw new NotAllowed('elsewhere');
  const made = await planFor(services, [personId], { verb: 'move', schoolId: toSchoolId, grade, classId: null });
  const problem = made.problems[0];
  if (problem) throw new Fault('conflict', `${problem.label} ${problem.message}.`);
  const grant: Grant = { is: 'transfer', personId, schoolIds: [schoolId, toSchoolId] };
  const applied =
    made.changes === 0
      ? null
      : await applyNow(db, { ...made, kind: 'transfer', schoolId, createdBy: viewer.personId, grant });
  await close(db, viewer, request.id, 'accepted', null);
  await audit(db, {
    by: viewer.personId,
    action: 'request.accept',
    about: personId,
    detail: say('joining.to2', { school: request.toSchool }),
  });
  if (request.askedById)
    await notify(
      db,
      request.askedById,
      say('joining.isNowAt', { name: spokenName(request), school: request.toSchool }),
    );
  return { planId: applied?.planId ?? null, sentence: applied?.sentence ?? say('joining.theyAreAlreadyThere') };
}

/** Asks the present school of the student whom a request is most like, where that is another school. */
export async function askForTransfer({ db }: Services, viewer: Viewer, id: string): Promise<{ sentence: string }> {
  const [request] = await waiting(db, viewer, id);
  if (!request) throw notFound(say('api.thisRequest'));
  const candidate = (await candidatesFor(db, viewer, request)).find((one) => one.may === 'transfer');
  if (!candidate) throw new Fault('conflict', say('joining.noStudentAtAnotherSchool'));
  if (!(await requestTransfer(db, viewer.personId, request.schoolId, candidate.id, null)))
    throw new Fault('conflict', say('joining.thisStudentHasNoSchool'));
  await close(db, viewer, id, 'accepted', say('joining.transferRequested'));
  return { sentence: say('joining.theTransferIsRequestedThe') };
}

/**
 * A request to the school where the student is now, or was last; once, however often it is asked. False: there is no
 * other school to ask.
 */
export async function requestTransfer(
  db: Db,
  by: string,
  toSchoolId: string,
  personId: string,
  grade: string | null,
): Promise<boolean> {
  const person = await db.models.person.findOne({
    attributes: ['familyName', 'givenName'],
    where: { id: personId },
    raw: true,
  });
  const [schoolId] = (await factsOfPeople(db, [personId])).schoolsOf(personId);
  if (!person || !schoolId || schoolId === toSchoolId) return false;
  const there = await db.models.joinRequests.findOne({
    attributes: ['id'],
    where: { kind: 'transfer', status: 'waits', personId, toSchoolId },
    raw: true,
  });
  if (there) return true;
  const base = { number: null, birthDate: null, askedBy: by, personId, toSchoolId, grade };
  await putRequest(db, { ...person, ...base, kind: 'transfer', schoolId });
  return true;
}

const close = async (
  db: Db,
  viewer: Viewer,
  id: string,
  status: 'accepted' | 'refused',
  why: string | null,
): Promise<number> => {
  const settled = { status, why, settledBy: viewer.personId, settledAt: nowIso() };
  return (await db.models.joinRequests.update(settled, { where: { id, status: 'waits' } }))[0];
};
