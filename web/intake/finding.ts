/** Moves to the next row with a problem, or to the row of a line. Rows are loaded page by page as they are needed. */
import type { Ref } from 'vue';
import type { IntakeRow } from '../../server/contract';
import { call } from '@/api';
import { type Only, pageSize } from './rows';

interface Sheet {
  id: string;
  total: Ref<number>;
  only: () => Only | null;
  /** Index of the row that the cursor is on. */
  here: () => number;
  rowAt: (index: number) => IntakeRow | undefined;
  load: (page: number) => Promise<void>;
  settled: () => Promise<void>;
  isOut: (row: IntakeRow) => boolean;
  /** Puts the cursor there, on what is wrong with the row if anything is. */
  reach: (index: number, row?: IntakeRow) => void;
}

export function useFinding({ id, total, only, here, rowAt, load, settled, isOut, reach }: Sheet) {
  /** The nearest problem among the loaded rows; null if a row that is not loaded could be nearer. */
  function problemAtHand(direction: 1 | -1): number | null {
    for (let index = here() + direction; ; index += direction) {
      const row = rowAt(index);
      if (!row) return null;
      if (row.problems.length > 0 && !isOut(row)) return index;
    }
  }
  async function toProblem(direction: 1 | -1): Promise<void> {
    const near = problemAtHand(direction);
    if (near !== null) return reach(near, rowAt(near)!);
    await settled();
    const query = { line: rowAt(here())?.line ?? 0, back: direction < 0, only: only() ?? undefined };
    const found = await call('GET /api/intakes/:id/problem', { id, query });
    if (!found) return;
    await load(Math.floor(found.index / pageSize));
    reach(found.index, found.row);
  }
  /**
   * Moves to a line of the file, as a plan or Today names it, or to the next row if that line is empty. A binary search
   * over the rows, which are sorted by line; it begins where the line would be if no lines were empty.
   */
  async function toLine(line: number): Promise<void> {
    // The total is known only once the first page is loaded.
    await load(0);
    let [low, high] = [0, Math.max(0, total.value - 1)];
    let index = Math.min(line, high);
    while (low < high) {
      await load(Math.floor(index / pageSize));
      const row = rowAt(index);
      if (!row || row.line === line) break;
      if (row.line < line) low = index + 1;
      else high = index;
      index = Math.floor((low + high) / 2);
    }
    await load(Math.floor(index / pageSize));
    reach(index);
  }
  return { toProblem, toLine };
}
