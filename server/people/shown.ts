/** People as pairs show them, field by field: those of the register, and those of a row. */
import { say } from '#core/messages/say';
import type { Snapshot } from '#core/intake/index';
import type { TypedRow } from '#core/tabular/index';
import type { PairPerson } from '../contract';

const dash = (text: string | null): string => text ?? '';

/** `school`: that of the whole file, where the row names none. */
export const rowShown = (row: TypedRow, school: string): PairPerson => ({
  id: '',
  number: row.number,
  familyName: row.familyName,
  givenName: row.givenName,
  middleName: row.middleName,
  birthDate: row.birthDate ?? row.birthAsWritten ?? '',
  grade: dash(row.grade),
  school: row.schoolName || school,
  className: row.className,
  guardianEmail: row.guardianEmail,
});

/** A person of whom the reader may know nothing but that there is one; the id is there to decide by. */
export const elsewhere = (id: string): PairPerson => ({
  id,
  number: '',
  familyName: say('people.aStudentAtAnotherSchool'),
  givenName: '',
  middleName: '',
  birthDate: '',
  grade: '',
  school: '',
  className: '',
  guardianEmail: '',
});

/** People of the register as pairs show them. */
export function peopleShown(snapshot: Snapshot): (id: string) => PairPerson {
  const people = new Map(snapshot.people.map((p) => [p.id, p]));
  const schools = new Map(snapshot.schools.map((s) => [s.id, s.name]));
  const places = new Map(snapshot.affiliations.map((a) => [a.personId, a]));
  const classes = new Map(snapshot.classes.map((c) => [c.id, c.name]));
  const homerooms = new Map(snapshot.enrollments.map((e) => [e.personId, classes.get(e.classId) ?? '']));
  return (id) => {
    const p = people.get(id)!;
    const place = places.get(id);
    return {
      id,
      number: dash(p.number),
      familyName: p.familyName,
      givenName: p.givenName,
      middleName: dash(p.middleName),
      birthDate: dash(p.birthDate),
      grade: dash(place?.grade ?? null),
      school: place ? dash(schools.get(place.schoolId) ?? null) : p.status === 'left' ? 'left' : '',
      className: homerooms.get(id) ?? '',
      guardianEmail: dash(p.guardianEmail),
    };
  };
}
