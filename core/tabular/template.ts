/** The list that an office can fill in: headings that are read whatever language the page is in. */
import type { Field } from './fields';

export const template = {
  familyName: 'Family name',
  givenName: 'Given name',
  number: 'Student number',
  birthDate: 'Birth date',
  grade: 'Grade',
  className: 'Class',
  schoolName: 'School',
  email: 'Email',
  guardianEmail: 'Guardian email',
} as const satisfies Partial<Record<Field, string>>;
