import { day, entity, id, name, type RowOf } from '../declare';

/** Days of a school year on which there is no school. The last one is of them. */
export const dayOff = entity('days_off', {
  yearId: id('year'),
  name: name(60),
  begins: day(),
  ends: day(),
});
export type DayOff = RowOf<typeof dayOff>;
