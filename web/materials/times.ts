/** Moments: ISO 8601 in UTC on the wire, the hour of this place in fields and in words. */
const two = (n: number): string => String(n).padStart(2, '0');

/** As a `datetime-local` field has it; empty for none. */
export function toField(iso: string | null): string {
  if (iso === null) return '';
  const at = new Date(iso);
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;
}
export const fromField = (value: string): string | null => (value ? new Date(value).toISOString() : null);

/** "Sep 4, 8:00 AM" */
export const inWords = (iso: string): string =>
  new Date(iso).toLocaleString('en-US', { month: 'short', day: 'numeric', hour: 'numeric', minute: '2-digit' });

/** Now, on the day that the server says is today. */
export function nowOn(today: string): string {
  const now = new Date();
  return new Date(`${today}T${two(now.getHours())}:${two(now.getMinutes())}`).toISOString();
}
