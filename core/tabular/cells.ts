/**
 * Cells as they are copied between spreadsheets: lines of cells with tabs between them, quoted where a cell itself has
 * a tab, a quotation mark or a line break.
 */
import Papa from 'papaparse';

/** Rows of cells as text for the clipboard. */
export const cellsToText = (rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(rows as string[][], { delimiter: '\t', newline: '\n' })}\n`;

/** Text from the clipboard as rows of cells; the line break that ends it begins no row. */
export function textToCells(text: string): string[][] {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  return lines === '' ? [['']] : Papa.parse<string[]>(lines, { delimiter: '\t', newline: '\n' }).data;
}

/** Rows and columns, both ends within. */
export interface Range {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/**
 * Where copied cells go: one cell fills the range, and a block as high and wide as fits into the range is repeated in
 * it; otherwise the block begins at the range's corner. `beyond` counts cells that lie outside of the sheet.
 */
export function spread(
  block: readonly (readonly string[])[],
  { top, bottom, left, right }: Range,
  sheet: { rows: number; columns: number },
): { cells: { row: number; column: number; text: string }[]; beyond: number } {
  const [high, wide] = [block.length, Math.max(0, ...block.map(({ length }) => length))];
  const cells: { row: number; column: number; text: string }[] = [];
  if (wide === 0) return { cells, beyond: 0 };
  const times = (has: number, size: number) => (has % size === 0 ? has / size : 1);
  const [down, across] = [times(bottom - top + 1, high), times(right - left + 1, wide)];
  let beyond = 0;
  for (let i = 0; i < high * down; i++)
    for (let j = 0; j < wide * across; j++) {
      const [row, column] = [top + i, left + j];
      if (row >= sheet.rows || column >= sheet.columns) beyond++;
      else cells.push({ row, column, text: block[i % high]![j % wide] ?? '' });
    }
  return { cells, beyond };
}

/** Every place of a text in another, without regard to capitals, replaced. */
export const replaceIn = (text: string, find: string, by: string): string =>
  text.replace(new RegExp(find.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), 'giu'), () => by);
