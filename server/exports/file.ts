/** A table as a file: CSV or a workbook, in which nothing runs: a workbook's cells say that they are text. */
import { writeCsv } from '#core/tabular/index';
import type { PaperMaker, Table } from '../papers/maker';

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

export const workbookFile = async (papers: PaperMaker, name: string, table: Table): Promise<ExportFile> => ({
  name: `${name}.xlsx`,
  type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  bytes: await papers.workbook(table),
});
