import { entity, name, type RowOf, word } from '../declare';

/** There is one. Its settings are its table's own, see server/district. */
export const district = entity('district', {
  name: name(200),
  /** IANA: the days and hours of everything are those of this place. */
  zone: word(64),
});
export type DistrictRow = RowOf<typeof district>;
