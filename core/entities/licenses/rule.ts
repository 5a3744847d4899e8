import { day, entity, id, late, name, note, oneOf, orNull, type RowOf, small, word } from '../declare';

/** Who is entitled to a product: everyone for whom all that it names holds. */
export const rule = entity(
  'entitlements',
  {
    productId: id('product'),
    role: oneOf(['student', 'teacher'], 10, { untold: true }),
    schoolId: orNull(id('school')),
    grade: orNull(word(5)),
    subject: orNull(name(80)),
    classId: orNull(id('class')),
    /** 3: lessons stop without it; 2: is taught with it; 1: good to have. */
    urgency: small({ untold: true }),
    begins: orNull(day({ untold: true })),
    ends: orNull(day({ untold: true })),
    /** JSON of RuleTerms, see core/licenses: lists where a field above names one, and exceptions; null: neither. */
    terms: late(orNull(note({ coded: true }))),
  },
  { ends: 'ends' },
);
export type Rule = RowOf<typeof rule>;
