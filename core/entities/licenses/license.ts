import { count, day, entity, exact, id, orNull, type RowOf, small } from '../declare';

export const license = entity(
  'licenses',
  {
    productId: id('product'),
    /** Whose; null: the district's. */
    schoolId: orNull(id('school')),
    /** null: site-wide. */
    seats: orNull(count()),
    begins: day({ untold: true }),
    /** The first day on which it no longer holds. */
    ends: day({ untold: true }),
    costCents: orNull(count()),
    orderNumber: orNull(exact(60)),
    /** 1: for trying out. */
    trial: small({ untold: true }),
  },
  { tellsBegin: true },
);
export type License = RowOf<typeof license>;
