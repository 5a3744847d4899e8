import { day, entity, exact, id, name, oneOf, orNull, type RowOf } from '../declare';

export const groupKinds = ['days', 'level', 'project', 'other'] as const;
export type GroupKind = (typeof groupKinds)[number];

/** People of a class, or of several classes of a school. */
export const group = entity(
  'class_groups',
  {
    schoolId: id('school'),
    /** null: across classes. */
    classId: orNull(id('class')),
    name: name(120),
    kind: oneOf(groupKinds, 10, { untold: true }),
    /** JSON of a GroupRule: whoever it fits is in it, now and later; null: by hand. */
    rule: orNull(exact(500, { coded: true })),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
  },
  { ends: 'ends' },
);
export type Group = RowOf<typeof group>;
