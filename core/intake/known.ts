/** People on record and rows of a list, as identity compares them. */
import type { Person } from '#core/entities/index';
import type { Known } from '#core/identity/index';
import { fold } from '#core/names/index';
import type { TypedRow } from '#core/tabular/index';

/** A person on record with what the register knows of them elsewhere. */
export interface OnRecord {
  person: Person;
  grade: string | null;
  school: string;
  className: string;
}

/** By what a row is known again when it comes in another file: a decision about it binds there too. */
export const rowKeyOf = (row: Pick<TypedRow, 'number' | 'familyName' | 'givenName' | 'birthDate'>): string =>
  [row.number, fold(row.familyName), fold(row.givenName), row.birthDate ?? ''].join('|');

export const knownOf = ({ person, grade, school, className }: OnRecord): Known => ({
  number: person.number ?? '',
  givenName: person.givenName,
  middleName: person.middleName ?? '',
  familyName: person.familyName,
  birthDate: person.birthDate,
  grade,
  school,
  className,
  email: person.email ?? '',
  guardianEmail: person.guardianEmail ?? '',
});

/** A row as identity takes it; `school` is the one that it is about. */
export const knownRow = (row: TypedRow, school: string): Known => ({
  number: row.number,
  givenName: row.givenName,
  middleName: row.middleName,
  familyName: row.familyName,
  birthDate: row.birthDate ?? row.birthAsWritten,
  grade: row.grade,
  school,
  className: row.className,
  email: row.email,
  guardianEmail: row.guardianEmail,
});
