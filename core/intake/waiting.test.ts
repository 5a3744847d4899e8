import { say } from '#core/messages/say';
import { expect, it } from 'vitest';
import { linesOf, reasonsOf } from './waiting';

it('tells each reason once, and counts every row', () => {
  const waiting = [
    { line: 9, message: 'No school.' },
    { line: 3, message: 'Ada or Ida?' },
    { line: 2, message: 'No school.' },
    { line: 7, message: 'Bo or Bob?' },
  ];
  expect(reasonsOf(waiting, 3)).toEqual([
    { line: 2, rows: 2, message: 'No school.' },
    { line: 3, rows: 1, message: 'Ada or Ida?' },
    { line: 7, rows: 1, message: 'Bo or Bob?' },
  ]);
  // In the order of their first lines, whichever came first.
  expect(reasonsOf(waiting.slice(0, 2), 3).map(({ line }) => line)).toEqual([3, 9]);
  const [school, rest] = reasonsOf(waiting, 2);
  expect([school!.rows, rest]).toEqual([2, { line: 3, rows: 2, message: say('intake.eachForItsOwnReason') }]);
});

it('names the first line, and how many more', () => {
  expect([1, 2, 3, 6000].map((rows) => linesOf({ line: 9, rows }))).toEqual([
    'line 9',
    'line 9 and another',
    'line 9 and 2 others',
    'line 9 and 5,999 others',
  ]);
  expect(linesOf({ line: 4 })).toEqual('line 4');
});
