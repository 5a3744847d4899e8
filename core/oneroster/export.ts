/** The register as records of the roster standard, version 1.2: what reads back to the same people, classes and enrollments. */
import type { Affiliation, Enrollment, Person, School, SchoolClass } from '#core/entities/index';
import type { Records } from './records';
import { userFields } from './spec';

export interface RegisterPart {
  district: string;
  year: { begins: string; ends: string };
  schools: School[];
  people: Person[];
  /** Open ones. */
  affiliations: Affiliation[];
  classes: SchoolClass[];
  enrollments: Enrollment[];
  usernames: ReadonlyMap<string, string>;
}

/** Ids are the register's own, so that a later export of the same register is a night after this one. */
export function toRecords(part: RegisterPart): Records {
  const { year } = part;
  const schoolYear = year.ends.slice(0, 4);
  const places = new Map(part.affiliations.map((a) => [a.personId, a]));
  const subjects = new Map<string, string>();
  const courseOf = (c: SchoolClass): string => {
    const key = `${c.schoolId}-${c.kind === 'homeroom' ? 'Homeroom' : (c.subject ?? 'Course')}`;
    if (!subjects.has(key)) subjects.set(key, `course-${subjects.size + 1}`);
    return subjects.get(key)!;
  };
  const classes = part.classes.map((c) => ({
    sourcedId: c.id,
    title: c.name,
    grades: c.grade ?? '',
    courseSourcedId: courseOf(c),
    classType: c.kind === 'homeroom' ? 'homeroom' : 'scheduled',
    schoolSourcedId: c.schoolId,
    termSourcedIds: 'school-year',
    subjects: c.subject ?? '',
  }));
  const known = new Set(part.people.map(({ id }) => id));
  const guardians = new Map<string, string>();
  for (const { guardianEmail } of part.people)
    if (guardianEmail && !guardians.has(guardianEmail)) guardians.set(guardianEmail, `guardian-${guardians.size + 1}`);
  const schoolOf = new Map(part.classes.map((c) => [c.id, c.schoolId]));
  const role = (user: string, word: string, org: string) => ({
    sourcedId: `${user}-role`,
    userSourcedId: user,
    roleType: 'primary',
    role: word,
    orgSourcedId: org,
  });
  const placed = part.people.filter(({ id }) => places.has(id));
  return {
    'orgs.csv': [
      { sourcedId: 'district', name: part.district, type: 'district' },
      ...part.schools.map((s) => ({
        sourcedId: s.id,
        name: s.name,
        type: 'school',
        ...(s.code ? { identifier: s.code } : {}),
        parentSourcedId: 'district',
      })),
    ],
    'academicSessions.csv': [
      {
        sourcedId: 'school-year',
        title: `${year.begins.slice(0, 4)}–${schoolYear.slice(2)}`,
        type: 'schoolYear',
        startDate: year.begins,
        endDate: year.ends,
        schoolYear,
      },
    ],
    'courses.csv': [...subjects].map(([key, id]) => {
      const at = key.indexOf('-');
      return { sourcedId: id, title: key.slice(at + 1), orgSourcedId: key.slice(0, at) };
    }),
    'classes.csv': classes,
    'users.csv': [
      ...placed.map((p) => ({
        sourcedId: p.id,
        enabledUser: 'true',
        username: part.usernames.get(p.id) ?? '',
        ...Object.fromEntries(userFields.map(([field, column]) => [column, p[field] ?? ''])),
        agentSourcedIds: p.guardianEmail ? guardians.get(p.guardianEmail)! : '',
        grades: places.get(p.id)!.grade ?? '',
        primaryOrgSourcedId: places.get(p.id)!.schoolId,
      })),
      // Of guardians nothing is kept but where they are written to.
      ...[...guardians].map(([email, id]) => ({
        sourcedId: id,
        enabledUser: 'false',
        givenName: 'Guardian',
        familyName: email.split('@')[0]!,
        email,
      })),
    ],
    'roles.csv': [
      ...placed.map((p) => role(p.id, p.role === 'student' ? 'student' : 'teacher', places.get(p.id)!.schoolId)),
      ...[...guardians.values()].map((id) => role(id, 'guardian', 'district')),
    ],
    'enrollments.csv': part.enrollments
      .filter(({ personId, classId }) => known.has(personId) && places.has(personId) && schoolOf.has(classId))
      .map((e) => ({
        sourcedId: e.id,
        classSourcedId: e.classId,
        schoolSourcedId: schoolOf.get(e.classId)!,
        userSourcedId: e.personId,
        role: e.role,
        beginDate: e.begins,
      })),
    'demographics.csv': placed
      .filter(({ birthDate }) => birthDate !== null)
      .map((p) => ({ sourcedId: p.id, birthDate: p.birthDate! })),
  };
}
