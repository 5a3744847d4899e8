/** Workbooks (XLSX): the cells of each sheet as text, as a person would have exported them. */
import { say } from '#core/messages/say';
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
/** The reader makes room for every cell from A1 to the farthest one, empty or not. */
const mostRoom = 12_000_000;

/** True for a zip that is a workbook. */
export const isWorkbook = (names: string[]): boolean => names.some((name) => /^xl\/workbook\.xml$/i.test(name));

/** All sheets with their filled rows; `line` is the row of the sheet, from 1. Throws Refusal. */
export async function readWorkbook(bytes: Uint8Array): Promise<Sheet[]> {
  // The sheets are measured before the reader takes them whole.
  const packed = unpack(bytes, (name, size) => {
    const isSheet = /^xl\/worksheets\/[^/]+\.xml$/i.test(name);
    if (isSheet && size > mostSheetBytes)
      throw new Refusal(
        'too-long',
        say('intake.theSheetHasMbOf', { name: name.split('/').at(-1), size: Math.round(size / 1e6) }),
      );
    return isSheet;
  });
  for (const sheet of packed) {
    const { columns, rows } = extentOf(sheet.bytes);
    if (columns * rows > mostRoom)
      throw new Refusal(
        'too-wide',
        say('intake.theSheetHasCellsAs', { name: sheet.name.split('/').at(-1), columns, rows }),
      );
  }
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
    throw new Refusal('broken-workbook', say('intake.theWorkbookIsDamagedSave'));
  }
  return sheets.map(({ sheet, data }) => {
    const records: RawRecord[] = [];
    data.forEach((row, i) => {
      const cells = row.map(cellText);
      while (cells.length > 0 && cells.at(-1) === '') cells.pop();
      if (cells.length > sheetLimits.columns)
        throw new Refusal(
          'too-wide',
          say('intake.rowOfHasColumnsThe', { row: i + 1, sheet, count: cells.length, most: sheetLimits.columns }),
        );
      if (cells.length > 0) records.push({ line: i + 1, cells });
    });
    return { name: sheet, records };
  });
}

/** The farthest column and row that any cell of a sheet's XML names: attributes such as r="B12", or r="12" of a row. */
function extentOf(xml: Uint8Array): { columns: number; rows: number } {
  let [columns, rows] = [0, 0];
  for (let i = 1; i + 3 < xml.length; i++) {
    if (xml[i] !== 0x72 || xml[i + 1] !== 0x3d || xml[i - 1]! > 0x20) continue;
    const quote = xml[i + 2];
    if (quote !== 0x22 && quote !== 0x27) continue;
    let [column, row, at] = [0, 0, i + 3];
    for (; xml[at]! >= 0x41 && xml[at]! <= 0x5a && column < 1e6; at++) column = column * 26 + xml[at]! - 0x40;
    for (; xml[at]! >= 0x30 && xml[at]! <= 0x39 && row < 1e9; at++) row = row * 10 + xml[at]! - 0x30;
    if (xml[at] !== quote) continue;
    columns = Math.max(columns, column);
    rows = Math.max(rows, row);
  }
  return { columns, rows };
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
