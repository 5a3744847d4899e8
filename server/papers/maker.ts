/** Makes what is printed without secrets, and workbooks: whole files from plain values. Runs in the papers' thread. */
import writeWorkbook from 'write-excel-file/node';
import {
  codeSheets,
  type DeviceLabel,
  deviceLabelSheets,
  type Layout,
  type Measure,
  type Paper,
  posterSheet,
  type Sheet,
  testSheet,
} from '#core/cards/index';
import { pdfOf } from '../cards/pdf';
import { measure } from '../cards/type';

export type Drawing =
  | { kind: 'labels'; labels: DeviceLabel[]; order: { paper: Paper; skip: number; code: 'bars' | 'qr' } }
  | { kind: 'poster'; content: Parameters<typeof posterSheet>[0]; paper: Paper }
  | { kind: 'codes'; codes: { text: string; label: string }[]; paper: Paper }
  | { kind: 'test'; layout: Layout; paper: Paper };

export interface Table {
  header: string[];
  rows: (string | number | null)[][];
}
export interface PaperMaker {
  /** A PDF. */
  draw(drawing: Drawing): Promise<Uint8Array>;
  /** A workbook. */
  workbook(table: Table): Promise<Uint8Array>;
}

function sheetsOf(drawing: Drawing, measured: Measure): [Iterable<Sheet>, Paper, string] {
  switch (drawing.kind) {
    case 'labels':
      return [deviceLabelSheets(drawing.labels, drawing.order, measured), drawing.order.paper, 'Labels of devices'];
    case 'poster':
      return [[posterSheet(drawing.content, drawing.paper, measured)], drawing.paper, drawing.content.title];
    case 'codes':
      return [codeSheets(drawing.codes, drawing.paper, measured), drawing.paper, 'Codes to scan'];
    case 'test':
      return [[testSheet(drawing.layout, drawing.paper, measured)], drawing.paper, 'Test page'];
  }
}

const cell = (value: string | number | null) =>
  value === null || value === '' ? null : typeof value === 'number' ? { value, type: Number } : { value, type: String };

export const papers: PaperMaker = {
  draw: async (drawing) => new Uint8Array(await pdfOf(...sheetsOf(drawing, measure))),
  /** Text stays text, also where it looks like a number: zeros in front are kept. */
  workbook: async ({ header, rows }) => {
    const data = [header.map((value) => ({ value, fontWeight: 'bold' as const })), ...rows.map((row) => row.map(cell))];
    return new Uint8Array(await writeWorkbook(data).toBuffer());
  },
};
