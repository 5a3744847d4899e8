/** From what clocks of a zone show to a moment: by ECMAScript's Temporal, apart from the rest since it is large. */
import { Temporal } from 'temporal-polyfill';
import { wallTimeIn } from './shown';

/**
 * The moment at which the clocks of the zone show a wall time (or a day's first). One that clocks skip is as much later
 * as they skip; of one that comes twice it is the first.
 */
export const momentOf = (zone: string, wallTime: string): string =>
  new Date(Temporal.PlainDateTime.from(wallTime).toZonedDateTime(zone).epochMilliseconds).toISOString();

/** The first moment of a day: not midnight where clocks go forward at midnight. */
export const startOf = (zone: string, day: string): string =>
  new Date(Temporal.PlainDate.from(day).toZonedDateTime(zone).epochMilliseconds).toISOString();

/** The same wall time on another day. */
export const onDay = (zone: string, day: string, at: number): number =>
  Date.parse(momentOf(zone, `${day}${wallTimeIn(zone, at).slice(10)}`)) + (at % 60_000);
