import { day, entity, id, name, type RowOf } from '../declare';

/** Days of a school year without school, from the first to the last, both included. */
export const dayOff = entity('days_off', {
  yearId: id('year'),
  name: name(60),
  begins: day(),
  ends: day(),
});
export type DayOff = RowOf<typeof dayOff>;
