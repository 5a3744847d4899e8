/**
 * The time as Sheaf writes it down. SHEAF_TODAY moves the day and leaves the hour, so that what is done on a set day
 * stands under that day in the ledger, the trail and the year ribbon.
 */
const dayMs = 86_400_000;
const set = process.env.SHEAF_TODAY;
const offsetMs =
  set && /^\d{4}-\d{2}-\d{2}$/.test(set)
    ? Math.round((Date.parse(set) - Math.floor(Date.now() / dayMs) * dayMs) / dayMs) * dayMs
    : 0;

/** ISO 8601 in UTC with milliseconds. */
export const nowIso = (): string => isoIn(0);
export const isoIn = (ms: number): string => new Date(Date.now() + offsetMs + ms).toISOString();
