import { day, entity, id, oneOf, orNull, type RowOf } from '../declare';

export const enrollment = entity(
  'enrollments',
  {
    personId: id('person'),
    classId: id('class'),
    role: oneOf(['student', 'teacher'], 10, { untold: true }),
    begins: day({ untold: true }),
    ends: orNull(day({ untold: true })),
  },
  {
    tellsBegin: true,
    ends: 'ends',
    openOnce: { key: 'oneEnrollment', fields: ['personId', 'classId'], message: 'plan.inClassAlready' },
  },
);
export type Enrollment = RowOf<typeof enrollment>;
