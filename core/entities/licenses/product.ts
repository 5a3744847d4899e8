import { entity, id, name, orNull, type RowOf, word } from '../declare';

/** What can be licensed: a book, a course of lessons, a practice. */
export const product = entity(
  'products',
  {
    name: name(120),
    publisher: orNull(name(120)),
    edition: orNull(name(40)),
    /** For which grades; null: for any. */
    lowGrade: orNull(word(5)),
    highGrade: orNull(word(5)),
    subject: orNull(name(80)),
    /** The older edition whose place it takes. */
    supersedes: orNull(id('product')),
  },
  { unique: { byName: { fields: ['name', 'edition'] } } },
);
export type Product = RowOf<typeof product>;
