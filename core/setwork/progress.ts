/** How far students are with what they are assigned, and who is behind the goals of their class or their own. */
import type { SetWork } from '#core/entities/index';
import { phaseOf } from './phase';

/** null: none. */
export interface Goal {
  /** Minutes in products in seven days. */
  minutes: number | null;
  /** Of the assignments that were due, so many percent done. */
  share: number | null;
}
/** `missing`: was due, or closed, and is not done; `late`: done after it was due. */
export type Progress = 'done' | 'late' | 'missing' | 'open' | 'coming';
export type Piece = Pick<SetWork, 'opensAt' | 'dueAt' | 'closesAt' | 'paused'>;

/** Until when it was expected; null: at no time. */
const expectedBy = ({ dueAt, closesAt }: Piece): string | null => dueAt ?? closesAt;

export function progressOf(piece: Piece, doneAt: string | null, now: string): Progress {
  const by = expectedBy(piece);
  if (doneAt !== null) return by !== null && doneAt > by ? 'late' : 'done';
  if (by !== null && by <= now) return 'missing';
  return phaseOf(piece, now) === 'coming' ? 'coming' : 'open';
}

/** A child's own goals, where they have some, go before those of the class. */
export const goalOf = (own: Goal, ofClass: Goal): Goal => ({
  minutes: own.minutes ?? ofClass.minutes,
  share: own.share ?? ofClass.share,
});

export interface Standing {
  /** Of those that were due. */
  done: number;
  due: number;
  behind: ('minutes' | 'share')[];
  /** There is a goal, and something tells how far from it the student is. */
  isJudged: boolean;
}
/**
 * `pieces`: those that are for the child. `minutes`: of the last seven days; null: nothing tells of them, so nobody is
 * behind in them. A student who had nothing due yet is not behind in the share.
 */
export function standingOf(
  pieces: readonly { piece: Piece; doneAt: string | null }[],
  minutes: number | null,
  goal: Goal,
  now: string,
): Standing {
  const expected = pieces.filter(({ piece }) => (expectedBy(piece) ?? '9') <= now);
  const done = expected.filter(({ doneAt }) => doneAt !== null).length;
  const isTimed = goal.minutes !== null && minutes !== null;
  const isCounted = goal.share !== null && expected.length > 0;
  return {
    done,
    due: expected.length,
    behind: [
      ...(isTimed && minutes < goal.minutes! ? (['minutes'] as const) : []),
      ...(isCounted && done * 100 < goal.share! * expected.length ? (['share'] as const) : []),
    ],
    isJudged: isTimed || isCounted,
  };
}
