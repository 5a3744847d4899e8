/**
 * Days and hours of a place. A day is yyyy-mm-dd and has no hour; a moment is ISO 8601 in UTC with milliseconds, so
 * that moments compare as text; a wall time is yyyy-mm-ddThh:mm, as the clocks of a zone show it. Zones are those of the
 * IANA database, of which the runtime has a copy. Rules for wall times that do not occur, or occur twice, are those of
 * ECMAScript's Temporal ("compatible").
 */
import { dayIn } from './shown';

export { dayIn, wallTimeIn } from './shown';
export { momentOf, onDay, startOf } from './zones';

const dayMs = 86_400_000;

/** So many days later; earlier for a negative number. */
export const addDays = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + days * dayMs).toISOString().slice(0, 10);

/** How many days `to` comes after `from`. */
export const daysBetween = (from: string, to: string): number => (Date.parse(to) - Date.parse(from)) / dayMs;

/** Whether the runtime knows the zone by this name; offsets such as "+01:00" are no zones. */
export function isZone(zone: string): boolean {
  if (!/^[A-Za-z]/.test(zone)) return false;
  try {
    new Intl.DateTimeFormat('en-US', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

/** "Aug 24", or "Aug 24, 2026" where it is not of the year of `today`. */
export function dayWords(day: string, today: string, locale = 'en-US'): string {
  const year = day.slice(0, 4) === today.slice(0, 4) ? undefined : 'numeric';
  return new Date(day).toLocaleDateString(locale, { month: 'short', day: 'numeric', year, timeZone: 'UTC' });
}
/** "Mon" */
export const weekdayWords = (day: string, locale = 'en-US'): string =>
  new Date(day).toLocaleDateString(locale, { weekday: 'short', timeZone: 'UTC' });
/** "Aug" */
export const monthWords = (day: string, locale = 'en-US'): string =>
  new Date(day).toLocaleDateString(locale, { month: 'short', timeZone: 'UTC' });
/** "Aug 24, 8:00 AM" as the clocks of the zone show it, with the year as above. */
export const momentWords = (zone: string, moment: string, today: string, locale = 'en-US'): string =>
  `${dayWords(dayIn(zone, moment), today, locale)}, ${timeWords(zone, moment, locale)}`;
/** "8:00 AM" */
export const timeWords = (zone: string, moment: string, locale = 'en-US'): string =>
  new Date(moment).toLocaleTimeString(locale, { hour: 'numeric', minute: '2-digit', timeZone: zone });
