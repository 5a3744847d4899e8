import { day, entity, id, orNull, type RowOf } from '../declare';

export const seat = entity(
  'seats',
  {
    personId: id('person'),
    licenseId: id('license'),
    begins: day({ untold: true }),
    /** null: with its license. */
    ends: orNull(day({ untold: true })),
  },
  { tellsBegin: true, ends: 'ends' },
);
export type Seat = RowOf<typeof seat>;
