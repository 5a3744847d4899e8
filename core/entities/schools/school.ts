import { entity, exact, name, orNull, type RowOf, word } from '../declare';

export const school = entity('schools', {
  name: name(200),
  /** What rosters call it, by which they are matched first; null: nobody said. */
  code: orNull(exact(20, { unique: true })),
  /** primary, k8, middle, high, evening */
  kind: word(20, { untold: true }),
  lowGrade: word(5),
  highGrade: word(5),
  /** The last part of its own sign-in address; null: it has none. */
  door: orNull(word(30, { unique: true })),
  /** The ways of signing in that it offers, apart by commas; null: all. */
  ways: orNull(word(60)),
  /** What its cards say at the foot; null: how to sign in. */
  cardText: orNull(name(60)),
});
export type School = RowOf<typeof school>;
