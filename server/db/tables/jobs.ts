/** What is done in the background. */
import { count, id, line, moment, orNull, table, text, time, word } from '#core/entities/declare';

export const jobs = table('jobs', {
  kind: word(20),
  input: text({ withheld: true }),
  status: word(12),
  byPersonId: id('person', { stays: true }),
  createdAt: moment(),
  done: count({ hasDefault: true }),
  total: count({ hasDefault: true }),
  step: line(1000, { hasDefault: true }),
  result: orNull(text({ withheld: true })),
  error: orNull(text()),
  leasedBy: orNull(word(80)),
  leaseUntil: orNull(time()),
});
