/** What a column can be, and what each is called. */
import { say } from '#core/messages/say';
import { fieldLabel, type PersonField, personFields } from '#core/entities/index';

export const fields = [
  ...personFields,
  'fullName',
  'grade',
  'className',
  'schoolName',
  'role',
  'subject',
  'teacher',
  'skip',
] as const;
export type Field = (typeof fields)[number];

/** The field in the words of the header pickers. */
export const fieldLabels: Record<Field, string> = {
  ...(Object.fromEntries(personFields.map((field) => [field, fieldLabel('person', field)])) as Record<
    PersonField,
    string
  >),
  fullName: say('fields.fullName'),
  grade: say('fields.grade'),
  className: say('fields.className'),
  schoolName: say('fields.schoolName'),
  role: say('fields.role'),
  subject: say('fields.subject'),
  teacher: say('fields.teacher'),
  skip: say('fields.skip'),
};
