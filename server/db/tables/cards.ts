/** Prints, with the cards of each. */
import { big, bytes, count, id, keyed, moment, note, orNull, table, word } from '#core/entities/declare';

export const prints = table('prints', {
  byPersonId: id('person', { stays: true }),
  at: moment(),
  paper: word(10),
  what: note(),
  cards: count(),
  sealedPdf: orNull(bytes(null, { withheld: true })),
  fetchUntil: moment(),
  version: big({ hasDefault: true }),
});

export const printedCards = keyed('printed_cards', ['printId', 'personId'], {
  printId: id('prints'),
  personId: id('person'),
  secretVersion: count(),
  tokenHash: word(64, { withheld: true, unique: true }),
  voidedAt: orNull(moment()),
  face: orNull(word(16)),
});
