/** A table as a file: CSV or a workbook, in which nothing runs: a workbook's cells say that they are text. */
import { speechOf } from '#core/messages/languages';
import { spokenIn } from '#core/messages/say';
import { writeCsv } from '#core/tabular/index';
import type { PaperMaker, Table } from '../papers/maker';

/** Headings are English, so that a file can be imported again; what its rows say is as well. */
const inEnglishAll = (rows: Table['rows']): Table['rows'] => spokenIn(rows, speechOf('en-US'));

export interface ExportFile {
  name: string;
  type: string;
  bytes: Uint8Array;
}

export const csvFile = (name: string, { header, rows }: Table): ExportFile => ({
  name: `${name}.csv`,
  type: 'text/csv; charset=utf-8',
  bytes: writeCsv(header, inEnglishAll(rows)),
});

export const workbookFile = async (papers: PaperMaker, name: string, table: Table): Promise<ExportFile> => ({
  name: `${name}.xlsx`,
  type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  bytes: await papers.workbook({ ...table, rows: inEnglishAll(table.rows) }),
});
