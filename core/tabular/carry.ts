/** What a person put right in a file that a feed sent, put right again in its next one, where the row came as it was. */
import type { OpenFile } from './reading';
import type { Repairs } from './rows';

export interface PutRight {
  repairs: Repairs;
  /** Lines that are not taken. */
  leftOut: number[];
}

type Rows = Pick<OpenFile, 'records' | 'reading'>;
const headings = ({ reading }: Rows): string => JSON.stringify(reading.columns.map(({ header }) => header));
const rowKey = (cells: readonly string[]): string => JSON.stringify(cells);

/** By the lines of `now`. Of rows that are alike the first goes with the first; under other headings nothing is carried over. */
export function carriedOver(before: Rows, { repairs, leftOut }: PutRight, now: Rows): PutRight {
  const carried: PutRight = { repairs: {}, leftOut: [] };
  if (headings(before) !== headings(now)) return carried;
  const out = new Set(leftOut);
  const wanted = new Set<string>();
  for (const { line, cells } of before.records) if (repairs[line] || out.has(line)) wanted.add(rowKey(cells));
  const lines = new Map<string, number[]>();
  for (const { line, cells } of before.records) {
    const key = rowKey(cells);
    if (wanted.has(key)) lines.set(key, [...(lines.get(key) ?? []), line]);
  }
  for (const { line, cells } of now.records) {
    const then = lines.get(rowKey(cells))?.shift();
    if (then === undefined) continue;
    const repaired = repairs[then];
    if (repaired) carried.repairs[line] = { ...repaired };
    if (out.has(then)) carried.leftOut.push(line);
  }
  return carried;
}
