import { expect, it } from 'vitest';
import { type Goal, goalOf, type Piece, progressOf, standingOf } from './index';

const piece = (dueAt: string | null, closesAt: string | null = null, opensAt = '2026-09-01T08:00:00.000Z'): Piece => ({
  ...{ opensAt, dueAt, closesAt, paused: 0 },
});
const at = (day: number) => `2026-09-${String(day).padStart(2, '0')}T15:00:00.000Z`;

it('is done, late, missing, open or to come, by when it is due, else by when it closes', () => {
  const of = (one: Piece, doneAt: string | null, now = at(10)) => progressOf(one, doneAt, now);
  expect([of(piece(at(9)), at(9)), of(piece(at(9)), at(10)), of(piece(at(9)), null)]).toEqual([
    ...['done', 'late', 'missing'],
  ]);
  expect([of(piece(at(12)), null), of(piece(null), null), of(piece(null, at(10)), null)]).toEqual([
    ...['open', 'open', 'missing'],
  ]);
  expect([of(piece(at(9), at(20)), at(15)), of(piece(null, null, at(11)), null)]).toEqual(['late', 'coming']);
});

it('is behind the child’s own goals, else those of the class, and never in what nothing tells of', () => {
  interface One {
    piece: Piece;
    doneAt: string | null;
  }
  const done: One = { piece: piece(at(3)), doneAt: at(4) };
  const missing: One = { piece: piece(at(5)), doneAt: null };
  const ahead: One = { piece: piece(at(20)), doneAt: at(6) };
  const goal: Goal = { minutes: 60, share: 50 };
  const stand = (pieces: One[], minutes: number | null, of = goal) => standingOf(pieces, minutes, of, at(10));
  expect(stand([done, missing], 60)).toEqual({ done: 1, due: 2, behind: [], isJudged: true });
  // What is done before it is due makes up for nothing that was due.
  expect(stand([missing, ahead], 59)).toEqual({ done: 0, due: 1, behind: ['minutes', 'share'], isJudged: true });
  // Of minutes nothing tells, and nothing was due yet: neither behind nor on track.
  expect(stand([ahead], null)).toEqual({ done: 0, due: 0, behind: [], isJudged: false });
  expect(stand([missing], 0, { minutes: null, share: null })).toMatchObject({ behind: [], isJudged: false });
  // 2 of 3 are 66.7 percent.
  expect([66, 67].map((share) => stand([done, done, missing], 99, { minutes: 1, share }).behind)).toEqual([
    [],
    ['share'],
  ]);
  expect(goalOf({ minutes: 20, share: null }, goal)).toEqual({ minutes: 20, share: 50 });
});
