/** Join codes, and whoever asks to be let in. */
import { count, day, exact, id, moment, name, orNull, table, word } from '#core/entities/declare';

export const joinCodes = table('join_codes', {
  kind: word(10),
  schoolId: id('school'),
  classId: orNull(id('class')),
  codeMac: word(64, { withheld: true, unique: true }),
  codeSealed: word(200, { withheld: true }),
  letters: count(),
  opensAt: moment(),
  closesAt: moment(),
  usesMost: count(),
  uses: count({ hasDefault: true }),
  endedAt: orNull(moment()),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
});

export const joinRequests = table('join_requests', {
  kind: word(10),
  schoolId: id('school'),
  classId: orNull(id('class')),
  codeId: orNull(id('joinCodes')),
  familyName: name(100),
  givenName: name(100),
  number: orNull(exact(40)),
  birthDate: orNull(day()),
  email: orNull(name(254)),
  note: orNull(name(300)),
  askedBy: orNull(id('person')),
  personId: orNull(id('person')),
  at: moment(),
  status: word(10),
  settledBy: orNull(id('person', { stays: true })),
  settledAt: orNull(moment()),
  why: orNull(name(300)),
  toSchoolId: orNull(id('school')),
  grade: orNull(word(5)),
});
