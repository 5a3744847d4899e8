import { count, day, entity, exact, id, late, moment, name, oneOf, orNull, type RowOf, small } from '../declare';

/** When a child sees the right answers: once done, once it is closed, or not. */
export const answersShown = ['done', 'closed', 'never'] as const;
export type AnswersShown = (typeof answersShown)[number];

/** A material that a class, a group of it, or some of it are to work on. */
export const work = entity(
  'set_work',
  {
    classId: id('class'),
    materialId: id('material'),
    title: name(200),
    /** `some`: its assignees alone. */
    whom: oneOf(['class', 'group', 'some'], 6),
    groupId: orNull(id('group')),
    opensAt: moment(),
    /** Until when it is expected; what is done later is late, and it stays open until it closes. null: at no time. */
    dueAt: orNull(moment()),
    /** null: stays open. */
    closesAt: orNull(moment()),
    /** Time limit; null: none. */
    minutes: orNull(count()),
    /** What children type before it opens; null: nothing. */
    entryWord: orNull(exact(40)),
    /** 1: shut for the moment. */
    paused: small(),
    answers: oneOf(answersShown, 8),
    /** The day on which it was taken back. */
    ends: orNull(day({ untold: true })),
    /** 1: in the library of the class, there to be opened and not expected of anybody; null: assigned. */
    library: late(orNull(small())),
  },
  { ends: 'ends' },
);
export type SetWork = RowOf<typeof work>;
