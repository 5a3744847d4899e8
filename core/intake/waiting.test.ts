import { expect, it } from 'vitest';
import { reasonsOf } from './waiting';

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
  const [school, rest] = reasonsOf(waiting, 2);
  expect([school!.rows, rest]).toEqual([
    2,
    { line: 3, rows: 2, message: expect.stringContaining('row by row') as string },
  ]);
});
