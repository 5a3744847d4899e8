/** What can be given out, and what must be replaced when. */
import type { Device } from '#core/entities/index';

/** Fit to be given to somebody on that day. */
export const canBeGiven = ({ condition, updatesEnd }: Pick<Device, 'condition' | 'updatesEnd'>, day: string): boolean =>
  (condition === 'good' || condition === 'worn') && (updatesEnd === null || updatesEnd > day);

/** Whole years from a day to another, at least 0; `until` null: 20, as good as for ever. */
export function yearsUntil(day: string, until: string | null): number {
  if (until === null) return 20;
  const years = Number(until.slice(0, 4)) - Number(day.slice(0, 4)) - (until.slice(5) < day.slice(5) ? 1 : 0);
  return Math.max(0, years);
}

/** The first day on which a device should no longer be in use: no more updates, or its years are over. */
export function replaceOn(
  { boughtOn, updatesEnd }: Pick<Device, 'boughtOn' | 'updatesEnd'>,
  years: number,
): string | null {
  const aged = boughtOn === null ? null : `${Number(boughtOn.slice(0, 4)) + years}${boughtOn.slice(4)}`;
  if (aged === null || updatesEnd === null) return aged ?? updatesEnd;
  return aged < updatesEnd ? aged : updatesEnd;
}

export interface Refresh {
  /** School year in which they are due, by the calendar year in which it begins; what is overdue counts for this one. */
  year: number;
  model: string;
  count: number;
}
/** Devices to be replaced, by school year and model. School years begin on the given month and day (mm-dd). */
export function refresh(
  devices: readonly Pick<Device, 'model' | 'boughtOn' | 'updatesEnd' | 'condition'>[],
  { today, begins, years }: { today: string; begins: string; years: number },
): Refresh[] {
  const yearOf = (day: string) => Number(day.slice(0, 4)) - (day.slice(5) < begins ? 1 : 0);
  const counts = new Map<string, Refresh>();
  for (const device of devices) {
    if (device.condition === 'retired' || device.condition === 'missing') continue;
    const on = replaceOn(device, years);
    if (on === null) continue;
    const year = Math.max(yearOf(on), yearOf(today));
    const key = `${year}|${device.model}`;
    const at = counts.get(key) ?? { year, model: device.model, count: 0 };
    at.count++;
    counts.set(key, at);
  }
  return [...counts.values()].sort((a, b) => a.year - b.year || a.model.localeCompare(b.model, 'en'));
}
