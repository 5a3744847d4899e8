/** Requests to be let in: whoever runs the class, or coordinates the school, sees them with the evidence and decides. */
import { type Claim, resembling } from '#core/identity/index';
import { fullName } from '#core/register/index';
import type { Verb } from '#core/register/verbs';
import { audit, Fault, notFound, orNone, type Services, type Viewer } from '../api/context';
import type { JoinRequest } from '../api/contract';
import { inScope, startJob } from '../api/routes/route';
import { classOf } from '../classes/make';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { planFor } from '../people/verbs';
import { applyNow } from '../plans/now';
import { takeInStaff } from '../staff/staff';
import { couldBe, putRequest } from './join';

type Row = Omit<JoinRequest, 'candidates'> & { schoolId: string; personId: string | null; askedById: string | null };

/** Requests of one's own classes for a teacher (what they asked themselves, too), of one's schools for a coordinator. */
async function waiting(db: Db, viewer: Viewer, id?: string): Promise<Row[]> {
  const scope =
    viewer.role === 'district'
      ? '1 = 1'
      : viewer.role === 'school'
        ? 'r.schoolId IN (:schools)'
        : "((r.kind IN ('student', 'teach') AND r.classId IN (:classes)) OR r.askedBy = :me)";
  return db.select<Row>(
    `SELECT r.id, r.kind, s.name AS school, r.schoolId, r.classId, c.name AS className, r.familyName, r.givenName, r.number, r.birthDate, r.email, r.note, r.askedBy AS askedById,
       CONCAT(b.givenName, ' ', b.familyName) AS askedBy, r.at, r.personId
     FROM join_requests r JOIN schools s ON s.id = r.schoolId LEFT JOIN classes c ON c.id = r.classId LEFT JOIN people b ON b.id = r.askedBy
     WHERE r.status = 'waits' AND (c.id IS NULL OR c.ends IS NULL) AND ${scope} ${id ? 'AND r.id = :id' : ''} ORDER BY r.at LIMIT 300`,
    {
      schools: orNone(viewer.schoolIds),
      classes: orNone(viewer.classIds),
      me: viewer.personId,
      id: id ?? null,
    },
  );
}

export const countWaiting = async (db: Db, viewer: Viewer): Promise<number> => (await waiting(db, viewer)).length;

/** A teacher is shown children of their own schools only. */
const within = (viewer: Viewer): string[] | null => (viewer.role === 'teacher' ? orNone(viewer.schoolIds) : null);

const alikeTo = async (db: Db, viewer: Viewer, row: Claim) =>
  resembling(row, await couldBe(db, row, within(viewer))).slice(0, 4);

export async function requests({ db }: Services, viewer: Viewer): Promise<JoinRequest[]> {
  const shown: JoinRequest[] = [];
  for (const { schoolId, ...row } of await waiting(db, viewer)) {
    const about = row.kind === 'student' || row.kind === 'missing';
    const alike = about ? await alikeTo(db, viewer, row) : [];
    const more = await db.select<{
      id: string;
      school: string | null;
      schoolId: string | null;
      classes: string | null;
    }>(
      `SELECT p.id, s.name AS school, a.schoolId, (SELECT GROUP_CONCAT(c.name ORDER BY c.kind DESC, c.name SEPARATOR ', ') FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE e.personId = p.id AND e.ends IS NULL) AS classes
       FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId WHERE p.id IN (:ids)`,
      { ids: orNone(alike.map(({ person }) => person.personId)) },
    );
    const of = new Map(more.map((m) => [m.id, m]));
    const { id, kind, school, classId, className, familyName, givenName, number, birthDate } = row;
    const { email, note, askedBy, at } = row;
    shown.push({
      ...{ id, kind, school, classId, className, familyName, givenName, number, birthDate, email, note, askedBy, at },
      candidates: alike.map(({ person, fields }) => {
        const place = of.get(person.personId);
        return {
          personId: person.personId,
          name: fullName(person),
          number: person.number,
          birthDate: person.birthDate,
          school: place?.school ?? null,
          classes: place?.classes ?? null,
          fields,
          note:
            person.status === 'left'
              ? 'has left'
              : place?.schoolId !== schoolId
                ? `is at ${place?.school ?? 'no school'}`
                : null,
        };
      }),
    });
  }
  return shown;
}

/** A teacher misses a child, or asks to teach a class that a colleague made. */
export async function askFor(
  { db }: Services,
  viewer: Viewer,
  order: Partial<Claim> & { kind: 'missing' | 'teach'; classId: string; note?: string | null },
): Promise<void> {
  const { kind, classId, note = null } = order;
  const base = { kind, classId, note, askedBy: viewer.personId };
  if (kind === 'missing') {
    const { schoolId } = await classOf(db, viewer, classId);
    const { familyName, givenName, number = null, birthDate = null } = order;
    if (!familyName || !givenName) throw new Fault(422, 'Say the child’s given name and family name.');
    return putRequest(db, { ...base, schoolId, familyName, givenName, number, birthDate });
  }
  const found = await db.one<{ schoolId: string }>(
    'SELECT schoolId FROM classes WHERE id = :classId AND ends IS NULL',
    {
      classId,
    },
  );
  if (!found || !inScope(viewer, found.schoolId)) throw notFound('This class');
  const me = await db.one<{ familyName: string; givenName: string }>(
    'SELECT familyName, givenName FROM people WHERE id = :id',
    { id: viewer.personId },
  );
  await db.run(
    "DELETE FROM join_requests WHERE kind = 'teach' AND status = 'waits' AND askedBy = :me AND classId = :classId",
    { me: viewer.personId, classId },
  );
  await putRequest(db, {
    ...base,
    ...me!,
    schoolId: found.schoolId,
    number: null,
    birthDate: null,
    personId: viewer.personId,
  });
}

/** Lets in the person on record who is meant, or refuses. What lets in is a plan that can be undone. */
export async function settle(
  services: Services,
  viewer: Viewer,
  id: string,
  decision: { accept: true; personId: string | null } | { accept: false; why: string },
): Promise<{ planId: string | null; sentence: string }> {
  const { db } = services;
  const [request] = await waiting(db, viewer, id);
  if (!request) throw notFound('This request');
  const name = `${request.givenName} ${request.familyName}`;
  if (!decision.accept) {
    await close(db, viewer, id, 'refused', decision.why);
    await audit(db, { by: viewer.personId, action: 'request.refuse', detail: `${name}: ${decision.why}` });
    return { planId: null, sentence: `${name} is refused.` };
  }
  // Whoever asks does not grant it to themselves.
  if (viewer.role === 'teacher' && request.askedById === viewer.personId)
    throw new Fault(403, 'You asked for this yourself; somebody else decides it.');
  if (request.kind === 'staff') return takeInFromRequest(services, viewer, request);
  const personId = request.kind === 'teach' ? request.personId : decision.personId;
  if (!personId || !request.classId) throw new Fault(422, 'Say who on record it is.');
  if (
    request.kind !== 'teach' &&
    !(await alikeTo(db, viewer, request)).some(({ person }) => person.personId === personId)
  )
    throw new Fault(422, 'This is nobody of those who are shown. Enroll them under People instead.');
  const order = await orderOf(db, viewer, request, personId);
  const made = await planFor(services, [personId], order);
  const problem = made.problems[0];
  if (problem) throw new Fault(409, `${problem.label} ${problem.message}.`);
  const applied =
    made.changes === 0
      ? null
      : await applyNow(db, {
          ...made,
          kind: 'join',
          title: `${made.title}, asked by ${request.askedBy ?? name}`,
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
  return { planId: applied?.planId ?? null, sentence: applied?.sentence ?? 'They are in the class already.' };
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
      409,
      `${same.name} is on record at ${same.school} with ${same.why}. Invite them again from their record instead.`,
    );
  if (services.config.mail) await startJob(services, 'staff.invite', { ids: made.invitationIds }, viewer);
  await close(services.db, viewer, id, 'accepted', null);
  await audit(services.db, {
    by: viewer.personId,
    action: 'request.accept',
    detail: `${givenName} ${familyName}, staff`,
  });
  return { planId: made.planId, sentence: `${givenName} ${familyName} is staff now, and invited.` };
}

/** From where they are into the class: at the school just enrolled, from elsewhere moved, which a teacher cannot. */
async function orderOf(db: Db, viewer: Viewer, request: Row, personId: string): Promise<Verb> {
  const classId = request.classId!;
  const person = await db.one<{ role: string; status: string; schoolId: string | null }>(
    "SELECT p.role, p.status, a.schoolId FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.id = :personId AND p.status <> 'merged'",
    { personId },
  );
  if (!person) throw notFound('This person');
  if (person.status === 'active' && person.schoolId === request.schoolId)
    return { verb: 'enroll', classId, instead: person.role === 'student' };
  if (viewer.role === 'teacher' || (viewer.role === 'school' && person.schoolId !== null))
    throw new Fault(
      403,
      'They are at another school. Its coordinator, or the district’s, moves them; leave the request to them.',
    );
  return { verb: 'move', schoolId: request.schoolId, grade: null, classId };
}

const close = (
  db: Db,
  viewer: Viewer,
  id: string,
  status: 'accepted' | 'refused',
  why: string | null,
): Promise<number> =>
  db.run(
    "UPDATE join_requests SET status = :status, why = :why, settledBy = :by, settledAt = :now WHERE id = :id AND status = 'waits'",
    { id, status, why, by: viewer.personId, now: nowIso() },
  );
