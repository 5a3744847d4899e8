import { day, entity, id, name, orNull, type RowOf, small } from '../declare';

/** A class has a cart in a period of a weekday, from a day to a day. */
export const booking = entity(
  'bookings',
  {
    cartId: id('cart'),
    classId: id('class'),
    /** 1: Monday to 5: Friday. */
    weekday: small(),
    period: name(20),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
  },
  { ends: 'ends' },
);
export type Booking = RowOf<typeof booking>;
