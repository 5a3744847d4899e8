/** What fields hold of moments: the wall time of the district; empty for none. */
import { momentOf, wallTimeIn } from '#core/time/index';
import { today, zone } from './place';

export const toField = (moment: string | null): string => (moment === null ? '' : wallTimeIn(zone.value, moment));
export const fromField = (value: string): string | null => (value ? momentOf(zone.value, value) : null);

/** This hour, on the day that the server says is today. */
export const nowThere = (): string => momentOf(zone.value, today.value + wallTimeIn(zone.value, Date.now()).slice(10));
