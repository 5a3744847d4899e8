import { count, day, entity, id, late, oneOf, orNull, type RowOf } from '../declare';

export const enrollment = entity(
  'enrollments',
  {
    personId: id('person'),
    classId: id('class'),
    role: oneOf(['student', 'teacher'], 10, { untold: true }),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
    /** Of this student, where it is another than that of the class. */
    goalMinutes: late(orNull(count())),
    goalShare: late(orNull(count())),
  },
  {
    tellsBegin: true,
    ends: 'ends',
    openOnce: { key: 'oneEnrollment', fields: ['personId', 'classId'], message: 'plan.inClassAlready' },
  },
);
export type Enrollment = RowOf<typeof enrollment>;
