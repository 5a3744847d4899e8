/**
 * Retention: each kind of data is kept for so many months from its day (when somebody left, when a file was taken in),
 * then it is due to be purged. Days are yyyy-mm-dd.
 */
import { say } from '#core/messages/say';
export const retentionKinds = ['leavers', 'files', 'requests', 'use', 'trail'] as const;
export type RetentionKind = (typeof retentionKinds)[number];
/** Months. */
export type Retention = Record<RetentionKind, number>;

/** A district's own law goes before these: they are set where nobody has chosen yet. */
export const usualRetention: Retention = { leavers: 36, files: 12, requests: 6, use: 24, trail: 36 };

export const retentionWords: Record<RetentionKind, string> = {
  leavers: say('retention.peopleWhoLeftWithEverything'),
  files: say('retention.importedListsThatAreDone'),
  requests: say('retention.joinRequestsThatWereResolved'),
  use: say('retention.productUsageResultsAndLevels'),
  trail: say('retention.theLogPrintsPasswordsShown'),
};

/** The day so many months later or, with a negative number, earlier; the last day of the month where there is no such day. */
export function addMonths(day: string, months: number): string {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  const first = new Date(Date.UTC(year, month - 1 + months, 1));
  const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
  return new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth(), Math.min(date, last)))
    .toISOString()
    .slice(0, 10);
}

/** What is of this day or older is due. */
export const dueFrom = (kind: RetentionKind, retention: Retention, today: string): string =>
  addMonths(today, -retention[kind]);

/** When something of the day is due; the first day on which `dueFrom` reaches it is this one, or up to three days before. */
export const dueOn = (kind: RetentionKind, retention: Retention, day: string): string =>
  addMonths(day, retention[kind]);

/** What is wrong with the times, in words; null: nothing. Files name people, so they go before them. */
export function retentionError(retention: Retention): string | null {
  if (retention.files > retention.leavers) return say('retention.filesListsContainNamesSo');
  if (retention.use > retention.leavers) return say('retention.useUsageIsAboutPeople');
  return null;
}
