/** What a person put right in a file that a feed sent, put right again in its next one, where the row came as it was. */
import type { Column, OpenFile } from './reading';
import type { Repairs } from './rows';

export interface PutRight {
  repairs: Repairs;
  /** Lines that are not taken. */
  leftOut: number[];
}

type Rows = Pick<OpenFile, 'records' | 'reading'>;
const isRead = ({ field }: Column): boolean => field !== 'skip';
/** A column by what it is, whatever its heading and its place; one that is not read by its heading. */
const nameOf = (column: Column): string => (isRead(column) ? column.field : `=${column.header}`);

/**
 * By the lines of `now`. A row is as it was when the cells that are read are: a day of export in another column does not
 * matter. Of rows that are alike the first goes with the first. A cell is put right where it came as it was, too. Where
 * the columns that are read are others, nothing is carried over.
 */
export function carriedOver(before: Rows, { repairs, leftOut }: PutRight, now: Rows): PutRight {
  const carried: PutRight = { repairs: {}, leftOut: [] };
  const read = before.reading.columns.filter(isRead).map(nameOf).sort();
  const place = (file: Rows) => new Map(file.reading.columns.map((column) => [nameOf(column), column.index]));
  const [was, is] = [place(before), place(now)];
  if (read.join() !== now.reading.columns.filter(isRead).map(nameOf).sort().join()) return carried;
  const keyOf = (cells: readonly string[], at: Map<string, number>): string =>
    JSON.stringify(read.map((name) => cells[at.get(name)!] ?? ''));

  const out = new Set(leftOut);
  const wanted = new Set<string>();
  for (const { line, cells } of before.records) if (repairs[line] || out.has(line)) wanted.add(keyOf(cells, was));
  const rows = new Map<string, Rows['records']>();
  for (const record of before.records) {
    const key = keyOf(record.cells, was);
    if (wanted.has(key)) rows.set(key, [...(rows.get(key) ?? []), record]);
  }
  const names = new Map(before.reading.columns.map((column) => [column.index, nameOf(column)]));
  for (const { line, cells } of now.records) {
    const then = rows.get(keyOf(cells, is))?.shift();
    if (then === undefined) continue;
    const repaired = Object.entries(repairs[then.line] ?? {}).flatMap(([index, text]) => {
      const at = is.get(names.get(Number(index)) ?? '');
      return at !== undefined && (cells[at] ?? '') === (then.cells[Number(index)] ?? '') ? [[at, text] as const] : [];
    });
    if (repaired.length > 0) carried.repairs[line] = Object.fromEntries(repaired);
    if (out.has(then.line)) carried.leftOut.push(line);
  }
  return carried;
}
