import { count, day, entity, id, name, orNull, type RowOf } from '../declare';

export const cart = entity(
  'carts',
  {
    schoolId: id('school'),
    name: name(60),
    slots: count(),
    room: orNull(name(40)),
    ends: orNull(day({ untold: true })),
  },
  { ends: 'ends' },
);
export type Cart = RowOf<typeof cart>;
