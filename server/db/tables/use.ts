/** What products tell of their use. */
import { count, day, exact, id, keyed, moment, name, orNull, small, word } from '#core/entities/declare';

export const productKeys = keyed('product_keys', ['productId'], {
  productId: id('product'),
  name: word(40, { unique: true }),
  keyHash: word(64),
  createdBy: id('person', { stays: true }),
  createdAt: moment(),
  lastAt: orNull(moment()),
});

export const statements = keyed('statements', ['id'], {
  id: word(36),
  contentHash: word(64),
  productId: id('product'),
  day: day(),
});

export const useDays = keyed('use_days', ['productId', 'day', 'personId'], {
  productId: id('product'),
  day: day(),
  personId: id('person'),
  times: count(),
  seconds: count(),
});

export const useStrays = keyed('use_strays', ['productId', 'who'], {
  productId: id('product'),
  who: exact(254),
  times: count(),
  lastOn: day(),
});

export const lastUses = keyed('last_uses', ['productId', 'personId'], {
  personId: id('person'),
  productId: id('product'),
  usedOn: day(),
});

export const results = keyed('results', ['materialId', 'personId', 'at'], {
  materialId: id('material'),
  personId: id('person'),
  at: moment(),
  finished: small(),
  permille: orNull(count()),
  seconds: orNull(count()),
});

export const missedWords = keyed('missed_words', ['productId', 'word', 'personId'], {
  productId: id('product'),
  word: name(120),
  personId: id('person'),
  times: count(),
  missedAt: moment(),
  knownAt: orNull(moment()),
});

export const levels = keyed('levels', ['productId', 'skill', 'personId'], {
  productId: id('product'),
  skill: name(120),
  personId: id('person'),
  band: small(),
  seenOn: day(),
});
