import { day, entity, id, orNull, type RowOf, word } from '../declare';

/** A person's place at a school. */
export const affiliation = entity(
  'affiliations',
  {
    personId: id('person'),
    schoolId: id('school'),
    grade: orNull(word(5)),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
  },
  { ends: 'ends' },
);
export type Affiliation = RowOf<typeof affiliation>;
