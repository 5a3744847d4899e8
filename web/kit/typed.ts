/** A day, or a moment of it, as people type it. */
import dayjs from 'dayjs';
import customParseFormat from 'dayjs/plugin/customParseFormat';

dayjs.extend(customParseFormat);

const days = ['MMM D, YYYY', 'MMM D YYYY', 'MMMM D, YYYY', 'YYYY-MM-DD', 'M/D/YYYY', 'M/D/YY', 'M-D-YYYY', 'M.D.YYYY'];
const hours = ['h:mm A', 'h:mmA', 'h A', 'hA', 'H:mm'];

/**
 * As 2026-08-17, or with `at` as 2026-08-17T15:00, where `at` is the hour of a day that is typed without one; null if it
 * cannot be read. The month comes before the day, as it is written in the United States.
 */
export function readTyped(typed: string, at?: string): string | null {
  const text = typed
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/\b([ap])\.?m\.?$/i, (_, half: string) => `${half.toUpperCase()}M`);
  const isRead = (format: string) => {
    const read = dayjs(text, format, true);
    return read.isValid() ? read : null;
  };
  for (const day of days) {
    const whole = isRead(day);
    if (whole) return whole.format('YYYY-MM-DD') + (at ? `T${at}` : '');
    if (!at) continue;
    for (const hour of hours) {
      const moment = isRead(`${day} ${hour}`) ?? isRead(`${day}, ${hour}`);
      if (moment) return moment.format('YYYY-MM-DDTHH:mm');
    }
  }
  return null;
}
