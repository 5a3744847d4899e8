/**
 * Days and hours on pages: those of the district, whatever zone the browser is in. Moments are ISO 8601 in UTC.
 */
import { locale } from './words';
import * as time from '#core/time/index';
import { today, zone } from './place';

/** "Aug 24" */
export const dayWords = (day: string): string => time.dayWords(day, today.value, locale);
/** The day of a moment, "Aug 24". */
export const dayOfWords = (moment: string): string => dayWords(time.dayIn(zone.value, moment));
/** "Aug 24, 8:00 AM" */
export const momentWords = (moment: string): string => time.momentWords(zone.value, moment, today.value, locale);
/** "Mon, Aug 24, 8:00 AM" */
export const weekdayMomentWords = (moment: string): string =>
  `${time.weekdayWords(time.dayIn(zone.value, moment), locale)}, ${momentWords(moment)}`;
/** "Mon" for 1, as ISO 8601 counts the days of a week. */
export const weekdayName = (weekday: number): string => time.weekdayWords(`2026-06-0${weekday}`, locale);
/** "8:00 AM" */
export const timeWords = (moment: string): string => time.timeWords(zone.value, moment, locale);
