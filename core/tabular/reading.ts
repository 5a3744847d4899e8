/**
 * How a file is understood: encoding, delimiter, the line of the header, what each column is, the order of its
 * dates. Everything is guessed with a confidence and everything can be told instead (hints).
 */
import { say } from '#core/messages/say';
import { decode, type Encoding, Refusal } from './decode';
import type { Field } from './fields';
import { fieldOfCells, fieldOfHeader } from './guess';
import { type Delimiter, guessDelimiter, type RawRecord, split } from './split';
import { titleOf } from './titles';
import { type DateOrder, guessDateOrder, isStaff } from './values';

export interface Hints {
  encoding?: Encoding;
  delimiter?: Delimiter;
  /** The sheet of a workbook. */
  sheet?: string;
  /** Line of the header, counted from 1; null: there is none. */
  headerLine?: number | null;
  /** What a column is, by its index from 0. */
  columns?: Record<number, Field>;
  dateOrder?: DateOrder;
  /** False: an empty grade, class or school is empty and not the one above. */
  fillDown?: boolean;
}

export interface Column {
  index: number;
  header: string;
  field: Field;
  /** Between 0 and 1; 1 when told. */
  confidence: number;
}

export type Format = 'csv' | 'tsv' | 'xlsx' | 'bundle';

export interface Reading {
  format: Format;
  /** Null for a workbook. */
  encoding: Encoding | null;
  encodingConfidence: number;
  /** Null for a workbook. */
  delimiter: Delimiter | null;
  delimiterConfidence: number;
  /** The workbook's sheet, and all of its sheets that hold anything. */
  sheet: string | null;
  sheets: string[];
  headerLine: number | null;
  columns: Column[];
  dateOrder: DateOrder;
  dateOrderConfidence: number;
  /** Fields that stand only on the first row of a block and hold for the rows below it. */
  fillDown: Field[];
}

export interface OpenFile {
  reading: Reading;
  /** Records below the header. */
  records: RawRecord[];
  /** The cells of the lines above the header: titles and the like. */
  titles: RawRecord[];
}

const sampleRows = 400;

/** Reads text: CSV, TSV, pasted cells. Throws Refusal with what is wrong and what to do. */
export function open(bytes: Uint8Array, hints: Hints = {}): OpenFile {
  const { text, encoding, confidence } = decode(bytes, hints.encoding);
  // Spreadsheets write the delimiter into a first line: "sep=;".
  const said = text.match(/^\W{0,2}sep=([,;\t|])\W{0,2}[\r\n]/i)?.[1] as Delimiter | undefined;
  const guessed = said ? { delimiter: said, confidence: 1 } : guessDelimiter(text);
  const delimiter = hints.delimiter ?? guessed.delimiter;
  const records = split(text, delimiter).filter(({ line }) => !said || line > 1);
  return openRecords(records, hints, {
    format: delimiter === '\t' ? 'tsv' : 'csv',
    encoding,
    encodingConfidence: confidence,
    delimiter,
    delimiterConfidence: hints.delimiter ? 1 : guessed.confidence,
    sheet: null,
    sheets: [],
  });
}

type Source = Omit<Reading, 'headerLine' | 'columns' | 'dateOrder' | 'dateOrderConfidence' | 'fillDown'>;

/** Reads records that are parted into cells already. Throws Refusal. */
export function openRecords(all: RawRecord[], hints: Hints, source: Source): OpenFile {
  const headerIndex =
    hints.headerLine === null
      ? -1
      : hints.headerLine !== undefined
        ? all.findIndex((r) => r.line === hints.headerLine)
        : findHeader(all);
  if (hints.headerLine !== undefined && hints.headerLine !== null && headerIndex < 0) {
    throw new Refusal('no-header', say('intake.lineIsEmptyChooseAnother', { line: hints.headerLine }));
  }
  const header = headerIndex >= 0 ? all[headerIndex]! : null;
  const records = all.slice(headerIndex + 1);
  // Titles between rows say nothing about what a column is.
  const rows = records.filter(({ cells }) => !titleOf(cells.filter((cell) => cell.trim() !== '')));
  const columns = guessColumns(header?.cells ?? [], rows, hints.columns ?? {});
  const dateColumn = columns.find((column) => column.field === 'birthDate');
  const dates = dateColumn
    ? guessDateOrder(records.map((r) => r.cells[dateColumn.index] ?? ''))
    : { order: 'ymd' as DateOrder, confidence: 1 };
  return {
    records,
    titles: all.slice(0, Math.max(0, headerIndex)),
    reading: {
      ...source,
      headerLine: header?.line ?? null,
      columns,
      dateOrder: hints.dateOrder ?? dates.order,
      dateOrderConfidence: hints.dateOrder ? 1 : dates.confidence,
      fillDown: hints.fillDown === false ? [] : blockFields(columns, records),
    },
  };
}

/** At most `count` of the records, from all over the list. */
function evenly(records: RawRecord[], count: number): RawRecord[] {
  if (records.length <= count) return records;
  const step = records.length / count;
  return Array.from({ length: count }, (_, i) => records[Math.floor(i * step)]!);
}

/** Fields of which the first row of a block alone is filled: the first person has it, and most of the others do not. */
function blockFields(columns: Column[], records: RawRecord[]): Field[] {
  const cell = ({ cells }: RawRecord, index: number) => (cells[index] ?? '').trim();
  const names = columns.filter(({ field }) => field === 'fullName' || field === 'familyName' || field === 'givenName');
  const role = columns.find(({ field }) => field === 'role');
  const people = records.filter(
    (record) =>
      names.some(({ index, header }) => /\p{L}/u.test(cell(record, index)) && cell(record, index) !== header) &&
      !(role && isStaff(cell(record, role.index))),
  );
  if (people.length < 3) return [];
  return columns
    .filter(({ field, index }) => {
      if (field !== 'grade' && field !== 'className' && field !== 'schoolName') return false;
      const filled = people.filter((record) => cell(record, index) !== '');
      return cell(people[0]!, index) !== '' && filled.length <= people.length * 0.55;
    })
    .map(({ field }) => field);
}

/** Index of the record that reads like headings among the first 25: the most known words, at least two. -1: none. */
function findHeader(records: RawRecord[]): number {
  let best = { index: -1, score: 1.5 };
  records.slice(0, 25).forEach(({ cells }, index) => {
    const filled = cells.filter((cell) => cell.trim() !== '');
    if (filled.length < 2) return;
    const known = filled.map(fieldOfHeader).reduce((sum, guess) => sum + (guess?.confidence ?? 0), 0);
    if (known > best.score && known > filled.length * 0.2) best = { index, score: known };
  });
  if (best.index >= 0) return best.index;
  // No known word: a first line without digits above lines with digits still reads like headings.
  const [first, second] = [records[0], records[1]];
  const digits = (record: RawRecord) => record.cells.some((cell) => /\d/.test(cell));
  return first && second && first.cells.length > 1 && !digits(first) && digits(second) ? 0 : -1;
}

/** "No." above 1, 2, 3, perhaps from 1 again: the rows are counted, nobody is numbered. */
function counts(title: string, cells: string[]): boolean {
  if (!/^(no|nr|#|s\/?n|row|line)?\W*$/i.test(title)) return false;
  const filled = cells.map((cell) => cell.trim()).filter((cell) => /^\d+$/.test(cell));
  return (
    filled.length > 1 && filled.every((cell, i) => Number(cell) === 1 || Number(cell) === Number(filled[i - 1]) + 1)
  );
}

function guessColumns(header: string[], all: RawRecord[], told: Record<number, Field>): Column[] {
  const sample = evenly(all, sampleRows);
  const records = all.slice(0, sampleRows);
  // Beyond the headings a column counts only if many rows fill it; a cell here and there is a row out of step.
  let width = sample.reduce((most, record) => Math.max(most, record.cells.length), header.length);
  const filled = (index: number) => sample.filter((record) => (record.cells[index] ?? '').trim() !== '').length;
  while (width > header.length && filled(width - 1) <= sample.length / 5) width--;
  const columns: Column[] = Array.from({ length: width }, (_, index) => {
    const title = (header[index] ?? '').trim();
    if (told[index]) return { index, header: title, field: told[index], confidence: 1 };
    const cells = sample.map((record) => record.cells[index] ?? '');
    const first = records.map((record) => record.cells[index] ?? '');
    if (counts(title, first)) return { index, header: title, field: 'skip', confidence: 0.9 };
    const byHeader = fieldOfHeader(title);
    const byCells = fieldOfCells(cells);
    // A heading that is only partly known ("Pupil ref") gives way to cells that are plain.
    const guess =
      byHeader && (byHeader.confidence > 0.9 || byCells.confidence < 0.65 || byCells.field === byHeader.field)
        ? byHeader
        : // What a heading calls otherwise is not a name because its cells are words.
          title !== '' && byCells.confidence < 0.65 && /^(given|family|middle|full)Name$/.test(byCells.field)
          ? { field: 'skip' as Field, confidence: 0.3 }
          : byCells;
    return { index, header: title, ...guess };
  });
  // A field stands once: the surest column keeps it, the told one first.
  for (const column of columns) {
    if (column.field === 'skip') continue;
    const rivals = columns
      .filter((other) => other.field === column.field)
      .sort((a, b) => b.confidence - a.confidence || a.index - b.index);
    for (const rival of rivals.slice(1)) {
      rival.field = 'skip';
      rival.confidence = Math.min(rival.confidence, 0.4);
    }
  }
  nameParts(columns, header.length === 0);
  return columns;
}

/** A whole name beside its parts is left out; without headings, two columns of names are given and family name. */
function nameParts(columns: Column[], noHeader: boolean): void {
  const of = (field: Field) => columns.find((column) => column.field === field);
  const whole = of('fullName');
  if (whole && whole.confidence < 1 && of('familyName') && of('givenName')) whole.field = 'skip';
  if (!noHeader) return;
  const [given, family] = [of('givenName'), of('familyName')];
  const other = columns.find(({ field, confidence }) => field === 'skip' && confidence === 0.4);
  if (given && !family && other) other.field = 'familyName';
  if (family && !given && other) other.field = 'givenName';
}
