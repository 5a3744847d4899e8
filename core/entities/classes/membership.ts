import { day, entity, id, orNull, type RowOf } from '../declare';

export const membership = entity(
  'memberships',
  {
    personId: id('person'),
    groupId: id('group'),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
  },
  { ends: 'ends' },
);
export type Membership = RowOf<typeof membership>;
