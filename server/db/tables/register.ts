/** What holds once only, what is counted before it is taken, and the version that orders all that happens. */
import { big, exact, id, keyed, moment, orNull, small, word } from '#core/entities/declare';

export const register = keyed('register', ['only'], {
  only: small({ hasDefault: true }),
  version: big(),
});

/** The homeroom that each student is in, by the enrollment. */
export const homerooms = keyed('homerooms', ['personId'], {
  personId: id('person'),
  enrollmentId: id(),
});

export const counted = keyed('counted', ['what'], {
  what: word(30),
  times: big(),
});

export const givenUsernames = keyed('given_usernames', ['username'], {
  username: word(64),
  personKey: exact(500),
  personId: orNull(id('person')),
});

export const decisions = keyed('decisions', ['rowHash', 'personId'], {
  rowHash: word(64),
  personId: id('person'),
  rowKey: exact(700),
  same: small(),
  byPersonId: id('person', { stays: true }),
  at: moment(),
});
