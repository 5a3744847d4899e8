/**
 * A reading remembered, and found again: for the source it came from in its next file, and for any file of the same
 * shape, which is the headings in their line or, where there are none, the number of columns and what they hold.
 */
import { say } from '#core/messages/say';
import type { Encoding } from './decode';
import { fold } from '#core/names/index';
import { type Field, fieldLabels } from './fields';
import { fieldOfCells } from './guess';
import type { Hints, OpenFile, Reading } from './reading';
import type { RawRecord } from './split';
import type { DateOrder } from './values';

type Holds = 'date' | 'email' | 'grade' | 'number' | 'role' | 'text';

export interface Remembered {
  /** `holds`: without headings, what the cells look like. */
  columns: { header: string; field: Field; holds?: Holds }[];
  /** Null if the file had no headings; then columns are known by their place. */
  headings: boolean;
  /** Line of the headings, counted from 1; absent in what was remembered before it was kept. */
  headerLine?: number | null;
  dateOrder: DateOrder | null;
  /** Where a person chose it. */
  encoding?: Encoding;
  sheet: string | null;
}

export const remember = ({ reading, records }: Pick<OpenFile, 'reading' | 'records'>): Remembered => ({
  columns: reading.columns.map(({ header, field, index }) => ({
    header,
    field,
    ...(reading.headerLine === null ? { holds: holdsOf(records, index) } : {}),
  })),
  headings: reading.headerLine !== null,
  headerLine: reading.headerLine,
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
    else if (header !== '' && field === 'skip') changed.push(say('intake.theColumnIsNewAndSkipped', { header }));
    else if (header !== '') changed.push(say('intake.theColumnIsNewIt', { header, field: fieldLabels[field] }));
  }
  for (const [, list] of before)
    for (const { header, field } of list)
      if (header !== '' && field !== 'skip')
        changed.push(say('intake.theColumnIsMissing', { header, field: fieldLabels[field] }));
  return { hints, changed };
}

const kinds: Partial<Record<Field, Holds>> = {
  birthDate: 'date',
  email: 'email',
  guardianEmail: 'email',
  grade: 'grade',
  number: 'number',
  role: 'role',
};
/** Names, classes and notes are all text: which of them it is can differ from file to file. */
const holdsOf = (records: readonly RawRecord[], index: number): Holds =>
  kinds[fieldOfCells(records.slice(0, 400).map(({ cells }) => cells[index] ?? '')).field] ?? 'text';

/** What files of one shape have alike. */
export const shapeOf = ({ columns, headings, headerLine }: Remembered): string =>
  JSON.stringify(
    headings ? [headerLine, ...columns.map(({ header }) => fold(header))] : columns.map(({ holds }) => holds),
  );

/** Of readings remembered, the newest first, the one whose shape this file has; null: none. `file` was read without hints. */
export function recognize<R extends Remembered>(readings: readonly R[], file: OpenFile): R | null {
  const { reading, titles, records } = file;
  const headings = { line: reading.headerLine ?? 0, cells: reading.columns.map(({ header }) => header) };
  const all = [...titles, ...(reading.headerLine === null ? [] : [headings]), ...records];
  const byLine = new Map(all.slice(0, 60).map(({ line, cells }) => [line, cells]));
  const width = Math.max(...all.slice(0, 60).map(({ cells }) => cells.length));
  return (
    readings.find(({ columns, headings: has, headerLine }) => {
      if (!has) return columns.length === width && columns.every(({ holds }, i) => holds === holdsOf(all, i));
      const cells = byLine.get(headerLine ?? -1);
      return (
        cells !== undefined &&
        columns.every(({ header }, i) => fold(header) === fold(cells[i] ?? '')) &&
        cells.slice(columns.length).every((cell) => cell.trim() === '')
      );
    }) ?? null
  );
}
