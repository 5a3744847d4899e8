import { day, entity, id, name, type RowOf } from '../declare';

/** A part of a school year, from its first day to its last, both included. */
export const term = entity('terms', {
  yearId: id('year'),
  name: name(60),
  begins: day(),
  ends: day(),
});
export type Term = RowOf<typeof term>;
