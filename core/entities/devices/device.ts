import { count, day, entity, exact, id, name, oneOf, orNull, type RowOf } from '../declare';

export const conditions = ['good', 'worn', 'broken', 'repair', 'missing', 'retired'] as const;
export type DeviceCondition = (typeof conditions)[number];

export const device = entity('devices', {
  /** On its label; one only in the district. */
  tag: exact(40, { unique: true }),
  serial: orNull(exact(60)),
  model: name(80),
  schoolId: id('school'),
  boughtOn: orNull(day()),
  warrantyEnds: orNull(day()),
  /** The first day without updates; from then on it is not given out. */
  updatesEnd: orNull(day()),
  condition: oneOf(conditions, 10, { untold: true }),
  /** Where it stays when nobody has it: a cart's slot, a room, or with neither the store. */
  cartId: orNull(id('cart')),
  slot: orNull(count()),
  room: orNull(name(40)),
});
export type Device = RowOf<typeof device>;
