import { day, entity, exact, id, late, name, oneOf, orNull, type RowOf, word } from '../declare';

export const personRoles = ['student', 'staff'] as const;
export type PersonRole = (typeof personRoles)[number];

export const person = entity(
  'people',
  {
    role: oneOf(personRoles, 10, { untold: true }),
    familyName: name(200, { listed: true, searched: true, byHand: true, ofRecord: true, reads: 'name' }),
    givenName: name(200, { listed: true, searched: true, byHand: true, ofRecord: true, reads: 'name' }),
    middleName: orNull(name(200, { searched: true, byHand: true, ofRecord: true, reads: 'name' })),
    /** By which they are called where it is not the given one: on cards and in lists. */
    preferredName: late(
      orNull(name(200, { listed: true, searched: true, byHand: true, ofRecord: true, reads: 'name' })),
    ),
    number: orNull(exact(40, { listed: true, searched: true, seen: 'field.number', byHand: true, ofRecord: true })),
    birthDate: orNull(day({ seen: 'field.birthDate', byHand: true, ofRecord: true })),
    email: orNull(name(254, { byHand: true, ofRecord: true, reads: 'email' })),
    guardianEmail: orNull(name(254, { seen: 'field.guardian', byHand: true, ofRecord: true, reads: 'email' })),
    /** The family's, of two letters; null: not known. */
    language: late(orNull(word(5, { byHand: true }))),
    /** `merged`: found to be somebody who is on record already; `mergedInto` is that person's id. */
    status: oneOf(['active', 'left', 'merged'], 10, { untold: true }),
    mergedInto: orNull(id('person')),
  },
  {
    heldOnce: {
      key: 'oneNumber',
      fields: ['number'],
      among: { role: 'student', status: 'active' },
      message: 'plan.numberTaken',
    },
  },
);
export type Person = RowOf<typeof person>;

/** What coordinators correct by hand. */
export type HandField = Exclude<keyof Person, 'id' | 'role' | 'status' | 'mergedInto'>;
/** What files say of a person, and what a merge keeps of one or the other. */
export type PersonField = Exclude<HandField, 'language'>;
/** What lists of people show. */
export type ListField = 'familyName' | 'givenName' | 'preferredName' | 'number';
export type ListPerson = Pick<Person, ListField>;
const that = (is: 'byHand' | 'ofRecord' | 'listed' | 'searched') =>
  Object.entries(person.fields).flatMap(([name, { facts }]) => (is in facts ? [name] : []));
export const handFields = that('byHand') as HandField[];
export const personFields = that('ofRecord') as PersonField[];
export const listFields = that('listed') as ListField[];
export const searchFields = that('searched') as PersonField[];

/** The name by which somebody is called: on cards, and beside the given one in lists. */
export const calledName = ({ givenName, preferredName }: Pick<Person, 'givenName' | 'preferredName'>): string =>
  preferredName || givenName;
/** The given name as lists show it, with the one by which they are called. */
export const givenShown = (person: Pick<Person, 'givenName' | 'preferredName'>): string => {
  const called = calledName(person);
  return called === person.givenName ? called : `${person.givenName} (${called})`;
};

/** What a row of a file says of a person; empty: nothing. */
export type RecordRow = Record<Exclude<PersonField, 'birthDate'>, string> & { birthDate: string | null };
/** Field by field: lists of pairs would cost a district's file more than all else that is done with its rows. */
const fieldsBy = (value: (field: PersonField) => string | null) => {
  const fields = {} as Record<PersonField, string | null>;
  for (const field of personFields) fields[field] = value(field);
  return fields;
};
/** Of something that says more, that alone. */
export const recordOf = (row: RecordRow): RecordRow => fieldsBy((field) => row[field]) as RecordRow;
/** As the register keeps it: what is empty is null. */
export const recordKept = (row: RecordRow): Pick<Person, PersonField> =>
  fieldsBy((field) => row[field] || null) as Pick<Person, PersonField>;
