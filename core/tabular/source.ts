/**
 * Whatever comes in, as tables: text, a workbook with its sheets, an archive of either, or a bundle of the open
 * roster standard (told by its manifest), which is handed on as it is.
 */
import { say } from '#core/messages/say';
import { isZip, unpack } from './archive';
import { Refusal } from './decode';
import { fieldOfHeader } from './guess';
import { type Hints, open, type OpenFile, openRecords, type Reading } from './reading';
import { isWorkbook, readWorkbook, type Sheet } from './workbook';

export interface Table extends OpenFile {
  /** The entry's name within an archive. */
  entry: string | null;
}

export type Source =
  | { kind: 'tables'; tables: Table[]; skipped: { entry: string; message: string }[] }
  | { kind: 'bundle'; files: Map<string, Uint8Array> };

/** Throws Refusal with what is wrong and what to do. `hints` hold for the one table, or for each. */
export async function openSource(bytes: Uint8Array, hints: Hints = {}): Promise<Source> {
  if (!isZip(bytes)) return { kind: 'tables', tables: [{ ...open(bytes, hints), entry: null }], skipped: [] };
  const names: string[] = [];
  unpack(bytes, (name) => names.push(name) < 0);
  if (isWorkbook(names))
    return { kind: 'tables', tables: [{ ...openSheet(await readWorkbook(bytes), hints), entry: null }], skipped: [] };
  const isBundle = names.some((name) => /(^|\/)manifest\.csv$/i.test(name));
  const entries = unpack(bytes, (name) => (isBundle ? /\.csv$/i.test(name) : true));
  if (isBundle) return { kind: 'bundle', files: new Map(entries.map((e) => [e.name.split('/').at(-1)!, e.bytes])) };
  const tables: Table[] = [];
  const skipped: { entry: string; message: string }[] = [];
  for (const { name, bytes: content } of entries) {
    try {
      if (isZip(content)) {
        const inner: string[] = [];
        unpack(content, (n) => inner.push(n) < 0);
        if (!isWorkbook(inner)) throw new Refusal('nested', say('intake.anArchiveInsideTheArchive'));
        tables.push({ ...openSheet(await readWorkbook(content), hints), entry: name });
      } else tables.push({ ...open(content, hints), entry: name });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      skipped.push({ entry: name, message: error.message });
    }
  }
  // Beside lists of people, a text that explains them is no list.
  const lists = tables.filter((table) => fitness(table) >= 1000);
  if (lists.length > 0)
    for (const table of tables.splice(0, tables.length, ...lists))
      if (!lists.includes(table)) skipped.push({ entry: table.entry!, message: say('intake.itDoesNotLookLike') });
  if (tables.length === 0) {
    const [first] = skipped;
    throw new Refusal(
      'no-table',
      first
        ? say('intake.nothingInTheArchiveIs', { entry: first.entry, message: first.message })
        : say('intake.theArchiveIsEmpty'),
    );
  }
  return { kind: 'tables', tables, skipped };
}

/** The asked sheet, or the one that reads best as a list of people. */
function openSheet(sheets: Sheet[], hints: Hints): OpenFile {
  const filled = sheets.filter(({ records }) => records.length > 0);
  if (filled.length === 0) throw new Refusal('empty', say('intake.theWorkbookIsEmptyExport'));
  const source = {
    format: 'xlsx' as const,
    encoding: null,
    encodingConfidence: 1,
    delimiter: null,
    delimiterConfidence: 1,
    sheets: filled.map(({ name }) => name),
  };
  if (hints.sheet !== undefined) {
    const asked = filled.find(({ name }) => name === hints.sheet);
    if (!asked)
      throw new Refusal(
        'no-sheet',
        say('intake.noSuchSheet', { sheet: hints.sheet, sheets: filled.map(({ name }) => `“${name}”`) }),
      );
    return openRecords(asked.records, hints, { ...source, sheet: asked.name });
  }
  const opened = filled.map((sheet) => openRecords(sheet.records, hints, { ...source, sheet: sheet.name }));
  return opened.reduce((best, file) => (fitness(file) > fitness(best) ? file : best));
}

/** How much a table reads like a list of people: names and something else, by its rows. */
export function fitness({ reading, records }: OpenFile): number {
  const has = (field: string) => reading.columns.some((column) => column.field === field);
  const named = has('fullName') || (has('familyName') && has('givenName'));
  const more = ['number', 'birthDate', 'grade', 'className', 'email'].filter(has).length;
  // A letter is a column of words without a heading, too.
  const isProse = reading.columns.length < 2 && reading.headerLine === null;
  return (named && !isProse ? 1000 : 0) * (1 + more) + Math.min(records.length, 900);
}

/** Sheets of the workbook, besides the chosen one, that read like people as well. */
export async function rivalSheets(bytes: Uint8Array, chosen: Reading): Promise<string[]> {
  if (chosen.sheets.length < 2) return [];
  return (await readWorkbook(bytes))
    .filter(({ name, records }) => name !== chosen.sheet && records.length > 1)
    .filter(({ records }) => {
      const known = records
        .slice(0, 25)
        .map(({ cells }) => cells.filter((cell) => (fieldOfHeader(cell)?.confidence ?? 0) > 0.9).length);
      return Math.max(...known) >= 2;
    })
    .map(({ name }) => name);
}
