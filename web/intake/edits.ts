/** What is done to the cells of a file as one does in a spreadsheet; all of it stands in the draft. */
import type { Ref } from 'vue';
import { cellsToText, type Range, replaceIn, spread, textToCells } from '#core/tabular/cells';
import type { Field } from '#core/tabular/fields';
import type { Column } from '#core/tabular/index';
import type { Draft, IntakeCell, IntakeRow } from '../../server/contract';

/** Of so many rows at most a range is copied or changed; a whole column is filled by one value. */
export const mostRows = 5000;

export interface Cell {
  row: IntakeRow;
  column: number;
  text: string;
}

interface Sheet {
  draft: Ref<Draft>;
  change: (edit: (draft: Draft) => void) => void;
  total: Ref<number>;
  columns: Ref<readonly Column[]>;
  /** Rows by their indices, both ends within, as soon as they are there. */
  between: (top: number, bottom: number) => Promise<IntakeRow[]>;
}

export function useEdits({ draft, change, total, columns, between }: Sheet) {
  /** As the file has it, or as all cells of the column are to be. */
  const stands = (row: IntakeRow, column: number): string => draft.value.fills?.[column] ?? row.cells[column] ?? '';
  const shown = (row: IntakeRow, column: number): string =>
    draft.value.repairs[row.line]?.[column] ?? stands(row, column);
  /** What stood in a cell before it was changed; null: it was not. */
  const former = (row: IntakeRow, column: number): string | null => {
    const was = row.cells[column] ?? '';
    return shown(row, column) === was ? null : was;
  };

  function put(cells: readonly Cell[]): void {
    if (cells.length === 0) return;
    change((d) => {
      for (const { row, column, text } of cells) {
        const own = { ...d.repairs[row.line] };
        if (text === (d.fills?.[column] ?? row.cells[column] ?? '')) delete own[column];
        else own[column] = text;
        if (Object.keys(own).length > 0) d.repairs[row.line] = own;
        else delete d.repairs[row.line];
      }
    });
  }
  const placed = (range: Range) => columns.value.slice(range.left, range.right + 1).map(({ index }) => index);

  const copied = (rows: readonly IntakeRow[], range: Range): string =>
    cellsToText(rows.map((row) => placed(range).map((column) => shown(row, column))));
  /** Returns how many of the copied cells lie outside of the sheet. */
  async function paste(text: string, range: Range): Promise<number> {
    const size = { rows: total.value, columns: columns.value.length };
    const { cells, beyond } = spread(textToCells(text), range, size);
    const rows = await between(range.top, Math.max(range.top, ...cells.map(({ row }) => row)));
    put(
      cells.map(({ row, column, text: now }) => ({
        row: rows[row - range.top]!,
        column: columns.value[column]!.index,
        text: now,
      })),
    );
    return beyond;
  }
  async function clear(range: Range): Promise<void> {
    const rows = await between(range.top, range.bottom);
    put(rows.flatMap((row) => placed(range).map((column) => ({ row, column, text: '' }))));
  }
  /** The first row's cells into all below it; of one row, what stands above it. */
  async function fillDown(range: Range): Promise<void> {
    const top = range.top === range.bottom ? Math.max(0, range.top - 1) : range.top;
    const [first, ...rows] = await between(top, range.bottom);
    if (first) put(rows.flatMap((row) => placed(range).map((column) => ({ row, column, text: shown(first, column) }))));
  }
  /** Every cell of a column; null: as the file has them. What was corrected in it by hand gives way. */
  const fillColumn = (column: number, text: string | null) =>
    change((d) => {
      d.fills ??= {};
      if (text === null) delete d.fills[column];
      else d.fills[column] = text;
      for (const [line, cells] of Object.entries(d.repairs)) {
        delete cells[column];
        if (Object.keys(cells).length === 0) delete d.repairs[Number(line)];
      }
    });
  /** A line in or out of a list of lines. */
  const toggle = (list: 'leftOut' | 'apart', line: number) =>
    change((d) => {
      const lines = d[list] ?? [];
      d[list] = lines.includes(line) ? lines.filter((other) => other !== line) : [...lines, line];
    });
  /** What a column is. A field stands once: the column that had it gives it up. */
  const setField = (index: number, field: Field) =>
    change((d) => {
      const told = { ...d.hints.columns };
      if (field !== 'skip')
        for (const column of columns.value)
          if (column.index !== index && column.field === field) told[column.index] = 'skip';
      told[index] = field;
      d.hints.columns = told;
    });
  /** A text by another one in cells that were found. */
  async function replace(cells: readonly IntakeCell[], find: string, by: string): Promise<void> {
    const rows = new Map<number, IntakeRow>();
    for (const { index, line } of cells) if (!rows.has(line)) rows.set(line, (await between(index, index))[0]!);
    put(cells.map(({ line, column, text }) => ({ row: rows.get(line)!, column, text: replaceIn(text, find, by) })));
  }
  return { shown, former, put, copied, paste, clear, fillDown, fillColumn, toggle, setField, replace };
}
