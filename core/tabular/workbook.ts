/** Workbooks (XLSX): the cells of each sheet as text, as a person would have exported them. */
import { unpack } from './archive';
import { Refusal } from './decode';
import type { RawRecord } from './split';

export interface Sheet {
  name: string;
  records: RawRecord[];
}

/** A sheet's XML beyond this is refused: about half a million rows of people. */
const mostSheetBytes = 120_000_000;
export const sheetLimits = { columns: 512 };

/** True for a zip that is a workbook. */
export const isWorkbook = (names: string[]): boolean => names.some((name) => /^xl\/workbook\.xml$/i.test(name));

/** All sheets with their filled rows; `line` is the row of the sheet, from 1. Throws Refusal. */
export async function readWorkbook(bytes: Uint8Array): Promise<Sheet[]> {
  // The sheets are measured before the reader takes them whole.
  unpack(bytes, (name, size) => {
    if (/^xl\/worksheets\/[^/]+\.xml$/i.test(name) && size > mostSheetBytes)
      throw new Refusal(
        'too-long',
        `The sheet ${name.split('/').at(-1)} holds ${Math.round(size / 1e6)} MB of cells, more than a workbook of people can have. Save the sheet as CSV and open that.`,
      );
    return false;
  });
  // Most files are none, and need not wait for its reader.
  const { default: readWorkbookFile } = await import('read-excel-file/universal');
  let sheets;
  try {
    // A copy of its own: the bytes may be a part of a larger buffer, and a Buffer's slice would share that.
    sheets = await readWorkbookFile<string>(new Uint8Array(bytes).buffer, {
      parseNumber: (text: string) => text,
      trim: false,
    });
  } catch {
    throw new Refusal(
      'broken-workbook',
      'The workbook is damaged and cannot be read. Save the sheet as CSV and open that.',
    );
  }
  return sheets.map(({ sheet, data }) => {
    const records: RawRecord[] = [];
    data.forEach((row, i) => {
      const cells = row.map(cellText);
      while (cells.length > 0 && cells.at(-1) === '') cells.pop();
      if (cells.length > sheetLimits.columns)
        throw new Refusal(
          'too-wide',
          `Row ${i + 1} of “${sheet}” has ${cells.length} columns; ${sheetLimits.columns} is the most.`,
        );
      if (cells.length > 0) records.push({ line: i + 1, cells });
    });
    return { name: sheet, records };
  });
}

function cellText(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) {
    const iso = Number.isNaN(value.getTime()) ? '' : value.toISOString();
    return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso;
  }
  const text = typeof value === 'string' ? value : String(value as number | boolean);
  // 4117.0 is what some writers make of a whole number.
  return /^\d+\.0+$/.test(text) ? text.replace(/\.0+$/, '') : text;
}
