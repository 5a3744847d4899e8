/** What people keep for themselves: the sheaf, drafts, preferences, notices; and the trail of what was looked at. */
import { exact, id, keyed, moment, name, note, orNull, small, table, text, word } from '#core/entities/declare';

export const sheaves = keyed('sheaves', ['ownerId', 'personId'], {
  ownerId: id('person'),
  personId: id('person'),
});

export const keptSheaves = table(
  'kept_sheaves',
  {
    ownerId: id('person'),
    name: name(80),
    keptAt: moment(),
  },
  { unique: { byOwner: { fields: ['ownerId', 'name'] } } },
);

export const keptPeople = keyed('kept_people', ['sheafId', 'personId'], {
  sheafId: id('keptSheaves'),
  personId: id('person'),
});

export const notices = table('notices', {
  personId: id('person'),
  at: moment(),
  words: exact(2000),
});

export const drafts = keyed('drafts', ['personId', 'name'], {
  personId: id('person'),
  name: word(60),
  body: text({ withheld: true }),
  savedAt: moment(),
});

export const preferences = keyed('preferences', ['personId'], {
  personId: id('person'),
  body: text({ withheld: true }),
});

/** What a teacher said of a student for next year's classes. `support`: 1, 0, or nothing said. */
export const placementNotes = keyed('placement_notes', ['personId'], {
  personId: id('person'),
  level: orNull(word(20)),
  support: orNull(small()),
  byPersonId: orNull(id('person', { stays: true })),
  at: moment(),
});

export const audit = table('audit', {
  at: moment(),
  byPersonId: orNull(id('person', { stays: true })),
  action: word(40),
  aboutPersonId: orNull(id('person')),
  detail: note(),
});
