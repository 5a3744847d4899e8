import { count, entity, id, oneOf, orNull, type RowOf, word } from '../declare';

export const accountRoles = ['student', 'teacher', 'school', 'district'] as const;
export type AccountRole = (typeof accountRoles)[number];

export const account = entity('accounts', {
  personId: id('person', { unique: 'plan.hasAccountAlready' }),
  username: word(64, { unique: true }),
  role: oneOf(accountRoles, 10, { untold: true, endsSessions: true }),
  status: oneOf(['active', 'frozen'], 10, { untold: true, endsSessions: true }),
  /** The printable secret, sealed; null for those who chose a password of their own. */
  secretSealed: orNull(word(400, { secret: true, endsSessions: true })),
  /** Counts up with each new secret; a card printed for an older one is void. */
  secretVersion: count({ untold: true, grows: true }),
  passwordHash: orNull(word(200, { secret: true, untold: true, endsSessions: true })),
});
export type Account = RowOf<typeof account>;
