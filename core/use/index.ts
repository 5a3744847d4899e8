/**
 * Use, as products tell of it: a record says who worked on a day in which product, how often and how long, what they
 * finished with what share of the points, and on which of three levels they are in a skill. Everything that is shown
 * of use is counted from such records.
 */
import { addDays } from '#core/time/index';

export * from './record';
export * from './shape';
export * from './statements';
export * from './figures';

/** The Monday of the week that the day is in. Days are yyyy-mm-dd. */
export function weekOf(day: string): string {
  const weekday = (new Date(Date.parse(day)).getUTCDay() + 6) % 7;
  return addDays(day, -weekday);
}

/** All weeks from one day to another, by their Mondays; a week that only begins to be asked for is one too. */
export function weeksBetween(from: string, to: string): string[] {
  const weeks: string[] = [];
  for (let monday = weekOf(from); monday <= to; monday = addDays(monday, 7)) weeks.push(monday);
  return weeks;
}
