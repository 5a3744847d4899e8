/** Sessions, second factors, links by mail, wrong attempts, and the keys that seal secrets. */
import {
  big,
  bytes,
  count,
  day,
  exact,
  id,
  keyed,
  moment,
  name,
  orNull,
  table,
  time,
  word,
} from '#core/entities/declare';

export const sessions = keyed('sessions', ['tokenHash'], {
  tokenHash: word(64, { withheld: true }),
  accountId: id('account'),
  createdAt: moment(),
  expiresAt: moment(),
  id: orNull(id()),
  lastAt: orNull(moment()),
  freshAt: orNull(moment()),
  way: orNull(word(10)),
  browser: orNull(exact(200)),
  address: orNull(word(45)),
});

export const knownBrowsers = keyed('known_browsers', ['tokenHash'], {
  tokenHash: word(64, { withheld: true }),
  accountId: id('account'),
  lastAt: moment(),
});

export const passwordLinks = keyed('password_links', ['tokenHash'], {
  tokenHash: word(64, { withheld: true }),
  accountId: id('account'),
  createdAt: moment(),
  expiresAt: moment(),
  usedAt: orNull(moment()),
});

export const passkeys = table('passkeys', {
  accountId: id('account'),
  credentialId: word(500, { withheld: true, unique: true }),
  publicKey: bytes(1000, { withheld: true }),
  counter: big(),
  transports: orNull(word(100)),
  name: name(60),
  createdAt: moment(),
  lastAt: orNull(moment()),
});

export const appCodes = keyed('app_codes', ['accountId'], {
  accountId: id('account'),
  secretSealed: word(400, { withheld: true }),
  confirmedAt: orNull(moment()),
  lastStep: big({ hasDefault: true }),
});

export const recoveryCodes = keyed('recovery_codes', ['accountId', 'codeHash'], {
  accountId: id('account'),
  codeHash: word(64, { withheld: true }),
  usedAt: orNull(moment()),
});

export const challenges = keyed('challenges', ['tokenHash'], {
  tokenHash: word(64, { withheld: true }),
  accountId: orNull(id('account')),
  purpose: word(12),
  body: word(300, { withheld: true }),
  expiresAt: moment(),
});

export const signIns = keyed('sign_ins', ['personId'], {
  personId: id('person'),
  firstAt: moment(),
  lastAt: moment(),
  way: word(10),
});

/** On which days of the district somebody signed in. */
export const signInDays = keyed('sign_in_days', ['day', 'personId'], {
  day: day(),
  personId: id('person'),
});

export const signOn = keyed('sign_on', ['subject'], {
  subject: exact(250),
  personId: id('person'),
  at: moment(),
});

export const attempts = keyed('attempts', ['bucket'], {
  bucket: word(160),
  until: time(),
  hits: count(),
});

export const invitations = table('invitations', {
  tokenHash: word(64, { withheld: true, unique: true }),
  personId: id('person'),
  email: exact(254),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
  expiresAt: moment(),
  usedAt: orNull(moment()),
  sentAt: orNull(moment()),
  lastError: orNull(name(1000)),
});

export const sealKeys = keyed('seal_keys', ['id'], {
  id: word(16),
  createdAt: moment(),
  retiredAt: orNull(moment()),
});
