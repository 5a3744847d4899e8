// The browser is somewhere else.
process.env.TZ = 'Asia/Tokyo';
import { expect, it } from 'vitest';
import { dayOfWords, dayWords, momentWords, timeWords, weekdayMomentWords } from './time';
import { keepPlace } from './place';
import { fromField, nowThere, toField } from './fields';

it('days and hours on pages are the district’s, wherever the browser is', () => {
  expect(new Date('2026-08-17T00:00:00Z').getHours()).toBe(9);
  keepPlace('America/New_York', '2026-08-17');
  const at = '2026-08-18T03:30:00.000Z';
  expect([momentWords(at), dayOfWords(at), timeWords(at)]).toEqual(['Aug 17, 11:30 PM', 'Aug 17', '11:30 PM']);
  expect(weekdayMomentWords(at)).toBe('Mon, Aug 17, 11:30 PM');
  expect(dayWords('2027-01-04')).toBe('Jan 4, 2027');
  expect(toField(at)).toBe('2026-08-17T23:30');
  expect(fromField('2026-08-17T23:30')).toBe(at);
  // The hour that clocks skip in March.
  expect(fromField('2027-03-14T02:30')).toBe('2027-03-14T07:30:00.000Z');
  expect([toField(null), fromField('')]).toEqual(['', null]);
  expect(toField(nowThere()).slice(0, 10)).toBe('2026-08-17');
  keepPlace('Asia/Kathmandu', '2026-08-17');
  expect(momentWords(at)).toBe('Aug 18, 9:15 AM');
});
