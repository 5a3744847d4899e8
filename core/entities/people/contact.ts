import { entity, exact, id, name, orNull, type RowOf } from '../declare';

/** Whom a school reaches for a child: a guardian, an aunt who fetches them. Siblings share them. */
export const contact = entity('contacts', {
  personId: id('person'),
  name: orNull(name(200)),
  email: orNull(name(254)),
  phone: orNull(exact(40)),
  relation: orNull(name(40)),
});
export type Contact = RowOf<typeof contact>;
