/** A reading remembered for the source it came from, and found again in the next file of that source. */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import type { Field } from './fields';
import type { Hints, Reading } from './reading';
import type { DateOrder } from './values';

export interface Remembered {
  columns: { header: string; field: Field }[];
  /** Null if the file had no headings; then columns are known by their place. */
  headings: boolean;
  dateOrder: DateOrder | null;
  sheet: string | null;
}

export const remember = (reading: Reading): Remembered => ({
  columns: reading.columns.map(({ header, field }) => ({ header, field })),
  headings: reading.headerLine !== null,
  dateOrder: reading.columns.some(({ field }) => field === 'birthDate') ? reading.dateOrder : null,
  sheet: reading.sheet,
});

/** Hints for a file that was read without any, and what is no longer as it was, in words. */
export function recall(remembered: Remembered, reading: Reading): { hints: Hints; changed: string[] } {
  const hints: Hints = { columns: {} };
  const changed: string[] = [];
  if (remembered.dateOrder) hints.dateOrder = remembered.dateOrder;
  if (remembered.sheet !== null && reading.sheets.includes(remembered.sheet)) hints.sheet = remembered.sheet;
  else if (remembered.sheet !== null) changed.push(say('intake.theSheetIsMissing', { sheet: remembered.sheet }));
  if (!remembered.headings) {
    if (reading.columns.length === remembered.columns.length)
      remembered.columns.forEach(({ field }, index) => (hints.columns![index] = field));
    else
      changed.push(say('intake.itHadColumnsAndNow', { count: remembered.columns.length, now: reading.columns.length }));
    return { hints, changed };
  }
  const before = new Map<string, { header: string; field: Field }[]>();
  for (const column of remembered.columns) {
    const key = fold(column.header);
    before.set(key, [...(before.get(key) ?? []), column]);
  }
  for (const { header, index, field } of reading.columns) {
    const known = before.get(fold(header))?.shift();
    if (known) hints.columns![index] = known.field;
    else if (header !== '') changed.push(say('intake.theColumnIsNewIt', { header, field }));
  }
  for (const [, list] of before)
    for (const { header, field } of list)
      if (header !== '' && field !== 'skip') changed.push(say('intake.theColumnIsMissing', { header, field }));
  return { hints, changed };
}
