import { count, day, entity, id, late, name, oneOf, orNull, type RowOf, word } from '../declare';

/** `template`: of teachers alone, who keep set work in it for the classes of others. */
export const classKinds = ['homeroom', 'course', 'template'] as const;
export type ClassKind = (typeof classKinds)[number];
export const classColors = ['straw', 'stem', 'rust', 'dusk', 'ink'] as const;
export const policies = { discuss: ['teachers', 'all'], invite: ['teachers', 'coordinators'] } as const;

export const schoolClass = entity(
  'classes',
  {
    schoolId: id('school'),
    name: name(120),
    kind: oneOf(classKinds, 10, { untold: true }),
    grade: orNull(word(5)),
    subject: orNull(name(80)),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
    /** When it meets, in the school's own words: "2", "Mon A". */
    period: late(orNull(name(20))),
    /** By which it is told apart at a glance; one of classColors. */
    color: late(orNull(word(10))),
    /** Who may write to the class, and who may bring others in; null: the teachers alone. */
    discuss: late(orNull(word(12))),
    invite: late(orNull(word(12))),
    /** What is expected of each of its students: minutes in products in seven days, percent of what was due done. */
    goalMinutes: late(orNull(count())),
    goalShare: late(orNull(count())),
  },
  { ends: 'ends' },
);
export type SchoolClass = RowOf<typeof schoolClass>;
