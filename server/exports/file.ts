/** A table as a file: CSV or a workbook, in which nothing runs: a workbook's cells say that they are text. */
import writeWorkbook from 'write-excel-file/node';
import { writeCsv } from '#core/tabular/index';

export interface Table {
  header: string[];
  rows: (string | number | null)[][];
}
export interface ExportFile {
  name: string;
  type: string;
  bytes: Uint8Array;
}

export const csvFile = (name: string, { header, rows }: Table): ExportFile => ({
  name: `${name}.csv`,
  type: 'text/csv; charset=utf-8',
  bytes: writeCsv(header, rows),
});

export const workbookFile = async (name: string, table: Table): Promise<ExportFile> => ({
  name: `${name}.xlsx`,
  type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  bytes: await workbook(table),
});

/** Text stays text, also where it looks like a number: zeros in front are kept. */
async function workbook({ header, rows }: Table): Promise<Uint8Array> {
  const cell = (value: string | number | null) =>
    value === null || value === ''
      ? null
      : typeof value === 'number'
        ? { value, type: Number }
        : { value, type: String };
  const data = [header.map((value) => ({ value, fontWeight: 'bold' as const })), ...rows.map((row) => row.map(cell))];
  return new Uint8Array(await writeWorkbook(data).toBuffer());
}
