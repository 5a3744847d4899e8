import { day, entity, name, type RowOf } from '../declare';

/** A school year of the district; the one that begins last is this one. */
export const year = entity('school_years', {
  /** "2026–27" */
  name: name(40),
  begins: day({ untold: true, unique: true }),
  ends: day({ untold: true }),
});
export type SchoolYear = RowOf<typeof year>;
