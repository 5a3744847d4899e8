/** Files that came in, with what was decided about them; and sources that send again and again. */
import { bytes, count, id, keyed, moment, name, note, orNull, small, table, text, word } from '#core/entities/declare';

export const intakes = table('intakes', {
  fileName: name(300),
  bytes: bytes(null, { withheld: true }),
  size: count(),
  schoolId: orNull(id('school')),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
  savedAt: moment(),
  status: word(12),
  draft: text({ withheld: true }),
  planId: orNull(id('plans')),
  feedId: orNull(id('feeds')),
  contentHash: orNull(word(64)),
  matched: orNull(text({ withheld: true })),
  unanswered: orNull(text({ withheld: true })),
  transfers: orNull(text({ withheld: true })),
});

export const readings = keyed('readings', ['shape'], {
  shape: word(64),
  body: text(),
  usedAt: moment(),
});

export const feeds = table('feeds', {
  name: name(200, { unique: true }),
  way: word(10),
  settings: text({ withheld: true }),
  reading: orNull(text({ withheld: true })),
  secretSealed: orNull(word(800, { withheld: true })),
  active: small({ hasDefault: true }),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
  nextRunAt: orNull(moment()),
  lastRunAt: orNull(moment()),
  lastError: orNull(note()),
});
