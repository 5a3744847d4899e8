/** Days as whole numbers, counted from 1970-01-01: what is compared a million times is no text. */
export type Day = number;

/** Later than every day of a school year; stands for "goes on". */
export const never: Day = 1_000_000;

const known = new Map<string, Day>();
/** yyyy-mm-dd as a day; null: `never`. */
export function dayOf(date: string | null): Day {
  if (date === null) return never;
  let day = known.get(date);
  if (day === undefined) known.set(date, (day = Math.round(Date.parse(`${date}T00:00:00Z`) / 86_400_000)));
  return day;
}
export const dateOf = (day: Day): string => new Date(day * 86_400_000).toISOString().slice(0, 10);
