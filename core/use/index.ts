/**
 * Use, as products tell of it: a record says who worked on a day in which product, how often and how long, what they
 * finished with what share of the points, and on which of three levels they are in a skill. Everything that is shown
 * of use is counted from such records.
 */
export * from './statements';

export interface UseRecord {
  /** By username, number or address. */
  who: string;
  /** ISO 8601 in UTC. */
  at: string;
  seconds: number;
  /** The material, by its address. */
  address: string | null;
  finished: boolean;
  /** Share of the points, 0 to 1. */
  share: number | null;
  level: { skill: string; band: Band } | null;
}
/** 1: not yet, 2: nearly, 3: there. */
export type Band = 1 | 2 | 3;
export const bandWords: Record<Band, string> = { 1: 'not yet', 2: 'nearly', 3: 'there' };

/** The level of a share of the points: by thirds. */
export const bandOf = (share: number): Band => (share < 1 / 3 ? 1 : share < 2 / 3 ? 2 : 3);

/** Finished so quickly that it was not worked on: less than this share of the time that it takes as a rule. */
export const hurriedShare = 1 / 3;
/** From how many finished materials on somebody is said to hurry. */
export const hurriedLeast = 3;

/**
 * Whether somebody hurries through: `quick` of the `timed` materials that they finished, and for which the time is
 * known, took less than the share above; half of them and no fewer than three make it.
 */
export const hurries = (timed: number, quick: number): boolean => timed >= hurriedLeast && quick * 2 >= timed;

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
