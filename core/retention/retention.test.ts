import fc from 'fast-check';
import { expect, it } from 'vitest';
import { addMonths, dueFrom, dueOn, retentionError, usualRetention } from './index';

it('counts months by the calendar, and calls due what is older', () => {
  expect([addMonths('2026-01-31', 1), addMonths('2024-01-31', 1), addMonths('2026-08-17', -36)]).toEqual([
    '2026-02-28',
    '2024-02-29',
    '2023-08-17',
  ]);
  expect(addMonths('2026-12-15', 1)).toBe('2027-01-15');
  const day = fc.integer({ min: 0, max: 20_000 }).map((n) => new Date(n * 86_400_000).toISOString().slice(0, 10));
  fc.assert(
    fc.property(day, day, fc.integer({ min: 1, max: 120 }), (of, today, months) => {
      const kept = { ...usualRetention, leavers: months };
      const due = of <= dueFrom('leavers', kept, today);
      // Never before its time but for the missing days at the end of a month, and always from then on.
      if (today >= dueOn('leavers', kept, of)) expect(due).toBe(true);
      if (due) expect(Date.parse(dueOn('leavers', kept, of)) - Date.parse(today)).toBeLessThanOrEqual(3 * 86_400_000);
    }),
  );
  expect(retentionError(usualRetention)).toBeNull();
  expect(retentionError({ ...usualRetention, files: 40 })).toContain('files');
  expect(retentionError({ ...usualRetention, use: 37 })).toContain('use');
});
