/**
 * Text to records. The delimiter is the one that gives the most columns most evenly over the first lines.
 * Records keep the line of the file on which they start, since that is how people find them again.
 */
import { say } from '#core/messages/say';
import Papa from 'papaparse';
import { Refusal } from './decode';
import { asItWas } from './write';

export type Delimiter = ',' | ';' | '\t' | '|';
export const delimiters: Delimiter[] = [',', ';', '\t', '|'];

export interface RawRecord {
  /** The line of the decoded text where the record starts, counted from 1. */
  line: number;
  cells: string[];
}

export const limits = { lineLength: 200_000, columns: 512, rows: 1_000_000 };

export function guessDelimiter(text: string): { delimiter: Delimiter; confidence: number } {
  const sample = text.slice(0, 40_000);
  let best = { delimiter: ',' as Delimiter, score: 0 };
  let second = 0;
  for (const delimiter of delimiters) {
    const { data } = Papa.parse<string[]>(sample, { delimiter, preview: 60 });
    const widths = new Map<number, number>();
    for (const row of data) if (row.length > 1) widths.set(row.length, (widths.get(row.length) ?? 0) + 1);
    // The most usual width, by how many lines have it, by the columns it gives.
    let score = 0;
    for (const [width, lines] of widths) score = Math.max(score, (lines / data.length) * Math.min(width, 12));
    if (score > best.score) {
      second = best.score;
      best = { delimiter, score };
    } else second = Math.max(second, score);
  }
  if (best.score === 0) return { delimiter: ',', confidence: 0.3 };
  return { delimiter: best.delimiter, confidence: 1 - second / (best.score + second) };
}

/** All records, blank ones left out. Throws Refusal beyond the limits. */
export function split(text: string, delimiter: Delimiter): RawRecord[] {
  refuseLongLines(text);
  const { data, errors } = Papa.parse<string[]>(text, { delimiter });
  // The last record, if a quotation mark in it has no second.
  const open = errors.some(({ code }) => code === 'MissingQuotes') ? data.length - 1 : -1;
  const records: RawRecord[] = [];
  let line = 1;
  for (const [at, cells] of data.entries()) {
    if (at === open && cells.some((cell) => /[\r\n]/.test(cell)))
      throw new Refusal('open-quote', say('intake.theQuotationMarkThatOpens2', { line }));
    if (cells.length > limits.columns) {
      throw new Refusal(
        'too-wide',
        say('intake.lineHasColumnsTheMost', { line, count: cells.length, most: limits.columns }),
      );
    }
    if (cells.some((cell) => cell.trim() !== '')) records.push({ line, cells: cells.map(asItWas) });
    line++;
    for (const cell of cells)
      if (cell.includes('\n') || cell.includes('\r')) line += cell.split(/\r\n|\r|\n/).length - 1;
  }
  if (records.length > limits.rows) {
    throw new Refusal('too-long', say('intake.theFileHasRowsThe', { count: records.length, most: limits.rows }));
  }
  return records;
}

function refuseLongLines(text: string): void {
  let start = 0;
  for (let line = 1; start < text.length; line++) {
    let end = text.indexOf('\n', start);
    if (end < 0) end = text.length;
    const length = end - start;
    // Files of old machines end their lines with a lone return.
    if (length > limits.lineLength && !text.slice(start, start + limits.lineLength).includes('\r')) {
      throw new Refusal('long-line', say('intake.lineTooLong', { line, length, most: limits.lineLength }));
    }
    start = end + 1;
  }
}
