/**
 * Days and hours on pages: those of the district, whatever zone the browser is in. Moments are ISO 8601 in UTC; fields
 * hold the wall time of the district.
 */
import { computed, shallowRef } from 'vue';
import { locale } from './words';
import * as time from '#core/time/index';

const place = shallowRef({ zone: 'UTC', today: '1970-01-01' });
/** What the server says is the district's time zone, and its day. */
export const keepPlace = (zone: string, today: string): void => void (place.value = { zone, today });
export const zone = computed(() => place.value.zone);
export const today = computed(() => place.value.today);

/** "Aug 24" */
export const dayWords = (day: string): string => time.dayWords(day, place.value.today, locale);
/** The day of a moment, "Aug 24". */
export const dayOfWords = (moment: string): string => dayWords(time.dayIn(zone.value, moment));
/** "Aug 24, 8:00 AM" */
export const momentWords = (moment: string): string => time.momentWords(zone.value, moment, place.value.today, locale);
/** "Mon, Aug 24, 8:00 AM" */
export const weekdayMomentWords = (moment: string): string =>
  `${time.weekdayWords(time.dayIn(zone.value, moment), locale)}, ${momentWords(moment)}`;
/** "Mon" for 1, as ISO 8601 counts the days of a week. */
export const weekdayName = (weekday: number): string => time.weekdayWords(`2026-06-0${weekday}`, locale);
/** "8:00 AM" */
export const timeWords = (moment: string): string => time.timeWords(zone.value, moment, locale);

/** As a field for a wall time has it; empty for none. */
export const toField = (moment: string | null): string => (moment === null ? '' : time.wallTimeIn(zone.value, moment));
export const fromField = (value: string): string | null => (value ? time.momentOf(zone.value, value) : null);

/** This hour, on the day that the server says is today. */
export const nowThere = (): string =>
  time.momentOf(zone.value, place.value.today + time.wallTimeIn(zone.value, Date.now()).slice(10));
