/** Plans with their changes in chunks, the ledger of what was done with them, and whom and what each was about. */
import { big, count, id, keyed, moment, name, note, orNull, table, text, word } from '#core/entities/declare';

export const plans = table('plans', {
  kind: word(20),
  title: name(2000),
  status: word(12),
  schoolId: orNull(id('school')),
  intakeId: orNull(id('intakes')),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
  changes: count(),
  summary: text({ withheld: true }),
  held: text({ withheld: true }),
  releases: text({ withheld: true }),
  takenOut: text({ withheld: true }),
  waiting: text({ withheld: true }),
  waits: orNull(text({ withheld: true })),
  version: big({ hasDefault: true }),
});

export const planChunks = keyed('plan_chunks', ['planId', 'seq'], {
  planId: id('plans'),
  seq: count(),
  kind: word(120),
  changes: count(),
  body: text({ withheld: true }),
});

export const ledger = table('ledger', {
  planId: id('plans'),
  action: word(10),
  byPersonId: orNull(id('person', { stays: true })),
  at: moment(),
  changes: count(),
  sentence: note(),
  version: big({ unique: true, hasDefault: true }),
});

export const touched = keyed('touched', ['personId', 'planId'], {
  personId: id('person'),
  planId: id('plans'),
});

export const touchedClasses = keyed('touched_classes', ['classId', 'planId'], {
  classId: id('class'),
  planId: id('plans'),
});
