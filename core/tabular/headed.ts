/** A short list with headings of its own: a cell is asked for by what it is, whatever the order of the columns. */
import { say } from '#core/messages/say';
import Papa from 'papaparse';

export interface Headed<F extends string> {
  rows: string[][];
  /** The row's cell, trimmed; empty where the list has no such column. */
  cell: (row: readonly string[], field: F) => string;
}

/** `headings`: the words, in small letters, by which a column is known. Throws RangeError that names needed ones that are missing. */
export function readHeaded<F extends string>(
  text: string,
  headings: Record<F, readonly string[]>,
  needed: readonly NoInfer<F>[],
): Headed<F> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: 'greedy' });
  const [head = [], ...rows] = data;
  const at = new Map<F, number>();
  for (const field of Object.keys(headings) as F[])
    at.set(
      field,
      head.findIndex((cell) => headings[field].includes(cell.trim().toLowerCase())),
    );
  const missing = needed.filter((field) => at.get(field)! < 0);
  if (missing.length > 0)
    throw new RangeError(
      say('intake.lineHasNoHeadingFor', {
        list: missing.join(' and '),
        known: missing.map((field) => headings[field].join(', ')).join('; '),
      }),
    );
  return { rows, cell: (row, field) => row[at.get(field)!]?.trim() ?? '' };
}
