/**
 * Against what clocks did: changes of the IANA time zone database, release 2025b (files northamerica, europe,
 * australasia, southamerica; their rules for the dates below from memory), and the Gregorian calendar's rule for leap
 * days.
 */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { addDays, dayIn, daysBetween, isZone, momentOf, onDay, startOf, wallTimeIn } from './index';

it('a moment belongs to the day that its place has', () => {
  for (const [zone, at, day] of [
    // Late in the evening of the east coast it is tomorrow in UTC, in winter from 7 PM on, in summer from 8 PM on.
    ['America/New_York', '2026-11-30T04:59:59.999Z', '2026-11-29'],
    ['America/New_York', '2026-11-30T05:00:00.000Z', '2026-11-30'],
    ['America/New_York', '2026-08-17T03:59:00.000Z', '2026-08-16'],
    // Half hours and quarters.
    ['Asia/Kolkata', '2026-08-16T18:30:00.000Z', '2026-08-17'],
    ['Asia/Kathmandu', '2026-08-16T18:14:59.999Z', '2026-08-16'],
    ['Asia/Kathmandu', '2026-08-16T18:15:00.000Z', '2026-08-17'],
    ['Pacific/Kiritimati', '2026-12-31T10:00:00.000Z', '2027-01-01'],
    // Samoa had no December 30, 2011.
    ['Pacific/Apia', '2011-12-30T09:59:59.000Z', '2011-12-29'],
    ['Pacific/Apia', '2011-12-30T10:00:00.000Z', '2011-12-31'],
    // A leap day.
    ['America/Los_Angeles', '2028-03-01T07:59:00.000Z', '2028-02-29'],
  ] as const)
    expect([zone, at, dayIn(zone, at), dayIn(zone, Date.parse(at))]).toEqual([zone, at, day, day]);
});

it('an hour that clocks skip is told by how much they skip, one that comes twice is the first', () => {
  // Spring 2027 and autumn 2026 in the United States; Lord Howe moves by half an hour.
  expect(momentOf('America/New_York', '2027-03-14T02:30')).toBe('2027-03-14T07:30:00.000Z');
  expect(wallTimeIn('America/New_York', '2027-03-14T07:30:00.000Z')).toBe('2027-03-14T03:30');
  expect(momentOf('America/New_York', '2026-11-01T01:30')).toBe('2026-11-01T05:30:00.000Z');
  expect(wallTimeIn('America/New_York', '2026-11-01T06:30:00.000Z')).toBe('2026-11-01T01:30');
  expect(momentOf('Australia/Lord_Howe', '2026-10-04T02:15')).toBe('2026-10-03T15:45:00.000Z');
  // Clocks of Santiago went from midnight to one.
  expect(startOf('America/Santiago', '2026-09-06')).toBe('2026-09-06T04:00:00.000Z');
  expect(startOf('Europe/London', '2026-10-25')).toBe('2026-10-24T23:00:00.000Z');
});

const zones = fc.constantFrom(
  ...['UTC', 'America/New_York', 'America/Santiago', 'Europe/London', 'Asia/Kathmandu', 'Australia/Lord_Howe'],
);
const moments = fc.integer({ min: Date.UTC(1990, 0, 1), max: Date.UTC(2037, 11, 31) });

it('days begin when the moment before them was of the day before, and moving a moment keeps its hour', () => {
  fc.assert(
    fc.property(zones, moments, fc.integer({ min: -400, max: 400 }), (zone, at, days) => {
      const day = dayIn(zone, at);
      const starts = Date.parse(startOf(zone, day));
      expect([dayIn(zone, starts), dayIn(zone, starts - 1)]).toEqual([day, addDays(day, -1)]);
      expect(starts).toBeLessThanOrEqual(at);
      const there = addDays(day, days);
      const moved = onDay(zone, there, at);
      expect(dayIn(zone, moved)).toBe(there);
      const [was, is] = [wallTimeIn(zone, at), wallTimeIn(zone, moved)];
      // Only an hour that the clocks skip that day becomes another.
      const same = `${there}${was.slice(10)}`;
      if (wallTimeIn(zone, momentOf(zone, same)) === same) expect(is).toBe(same);
    }),
    { numRuns: 500 },
  );
});

it('days are counted by the calendar, whatever clocks do', () => {
  for (const [from, days, to] of [
    ['2026-03-07', 2, '2026-03-09'],
    ['2028-02-28', 1, '2028-02-29'],
    ['2027-02-28', 1, '2027-03-01'],
    ['2100-02-28', 1, '2100-03-01'],
    ['2026-11-01', -1, '2026-10-31'],
    ['2026-08-17', 364, '2027-08-16'],
  ] as const) {
    expect(addDays(from, days)).toBe(to);
    expect(daysBetween(from, to)).toBe(days);
  }
});

it('zones are names of the database, no offsets', () => {
  for (const zone of ['America/New_York', 'Pacific/Chatham', 'UTC']) expect(isZone(zone)).toBe(true);
  for (const zone of ['', '+01:00', '-0500', 'Mars/Olympus', 'America/Nowhere', "x'; DROP"])
    expect(isZone(zone)).toBe(false);
});
