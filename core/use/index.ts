/**
 * Use, as products tell of it: a record says who worked on a day in which product, how often and how long, what they
 * finished with what share of the points, and on which of three levels they are in a skill. Everything that is shown
 * of use is counted from such records.
 */
export * from './record';
export * from './statements';
export * from './figures';

/** The Monday of the week that the day is in. Days are yyyy-mm-dd. */
export function weekOf(day: string): string {
  const at = Date.parse(day);
  const weekday = (new Date(at).getUTCDay() + 6) % 7;
  return new Date(at - weekday * 86_400_000).toISOString().slice(0, 10);
}

/** All weeks from one day to another, by their Mondays; a week that only begins to be asked for is one too. */
export function weeksBetween(from: string, to: string): string[] {
  const weeks: string[] = [];
  for (let at = Date.parse(weekOf(from)); at <= Date.parse(to); at += 7 * 86_400_000)
    weeks.push(new Date(at).toISOString().slice(0, 10));
  return weeks;
}
