import { count, entity, id, name, oneOf, orNull, type RowOf, word } from '../declare';

export const materialKinds = ['book', 'lesson', 'practice', 'test'] as const;
export type MaterialKind = (typeof materialKinds)[number];

/** What a product offers. */
export const material = entity(
  'materials',
  {
    productId: id('product'),
    title: name(200),
    kind: oneOf(materialKinds, 10, { untold: true }),
    /** For which grades; null: for those of its product. */
    lowGrade: orNull(word(5)),
    highGrade: orNull(word(5)),
    subject: orNull(name(80)),
    /** How long it takes as a rule. */
    minutes: orNull(count()),
    /** What it takes beside a screen: "headphones". */
    needs: orNull(name(120)),
    /** Where it opens, an IRI; its records name it by this. One only in a product. */
    address: word(300),
  },
  { unique: { byAddress: { fields: ['productId', 'address'] } } },
);
export type Material = RowOf<typeof material>;
