/** The district, what is being decided for its next year, how ready its schools were, and who has had the week’s letter. */
import { count, day, id, keyed, moment, name, small, table, text, word } from '#core/entities/declare';

export const district = table('district', {
  only: small({ unique: true, hasDefault: true }),
  name: name(200),
  settings: text({ withheld: true }),
  zone: word(64),
});

export const yearDrafts = keyed('year_drafts', ['about'], {
  about: word(40),
  draft: text({ withheld: true }),
  savedAt: moment(),
  savedBy: id('person', { stays: true }),
});

export const readinessDays = keyed('readiness_days', ['schoolId', 'day', 'link'], {
  day: day(),
  schoolId: id('school'),
  link: word(10),
  ready: count(),
  people: count(),
});

export const digests = keyed('digests', ['week', 'personId'], {
  week: day(),
  personId: id('person'),
  sentAt: moment(),
});
