/**
 * What lists hold besides people: totals and remarks, headings that come again, lines drawn between rows; and what
 * stands once for a block of rows, in its first row or as a title above it.
 */
import { say } from '#core/messages/say';
import type { Field } from './fields';
import type { Reading } from './reading';
import type { RawRecord } from './split';
import { isCode, isRemark, titleOf } from './titles';
import { isStaff } from './values';

/** How many digits nearly all numbers of a column have, where some begin with zero: shorter ones have lost theirs. */
export function usualDigits(records: RawRecord[], index: number | undefined): number | null {
  if (index === undefined) return null;
  const counts = new Map<number, number>();
  let zeros = 0;
  let total = 0;
  for (const { cells } of records) {
    const cell = (cells[index] ?? '').trim();
    if (!/^\d+$/.test(cell)) continue;
    total++;
    counts.set(cell.length, (counts.get(cell.length) ?? 0) + 1);
    if (cell.startsWith('0')) zeros++;
  }
  const [length, count] = [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [0, 0];
  return length > 3 && zeros > 0 && count >= total * 0.6 && length === Math.max(...counts.keys()) ? length : null;
}

/** Why the record is no row of people, in words; '' for what needs none (a block's title); null for a row. */
export function remarkOf(
  record: RawRecord,
  reading: Reading,
  column: Map<Field, number>,
  blocks: Blocks,
): string | null {
  const filled = record.cells.filter((cell) => cell.trim() !== '');
  const [first = ''] = filled;
  if (filled.every((cell) => /^[-=_*.\s]+$/.test(cell))) return say('intake.aLineBetweenRowsIt');
  if (reading.headerLine !== null && filled.length > 1) {
    const headings = reading.columns.filter(({ header }) => header !== '');
    if (headings.length > 1 && headings.every(({ index, header }) => (record.cells[index] ?? '').trim() === header))
      return say('intake.theHeadingsAgainTheyWere');
  }
  if (filled.length > 2) return null;
  const title = titleOf(filled);
  // Among few columns a name could read like a title: "Grade Moyo".
  if (title && (reading.columns.length > 2 || isCode(title.value))) {
    blocks.title(title.word, title.value);
    return '';
  }
  if (reading.columns.length < 3) return null;
  const names = (['familyName', 'givenName', 'fullName'] as const).filter(
    (field) => column.has(field) && (record.cells[column.get(field)!] ?? '').trim() !== '',
  );
  if (isRemark(first)) return say('intake.aTotalOrANote', { text: first.trim().slice(0, 60) });
  const sentence = filled.length === 1 && (first.length > 40 || /^\d+$/.test(first.trim()) || names.length === 0);
  // Among few columns somebody's name may stand alone; nobody's is a sentence.
  return sentence && (reading.columns.length > 3 || first.length > 40)
    ? say('intake.aNoteItWasSkipped', { text: first.trim().slice(0, 60) })
    : null;
}

/** What stands once, above or on the first row of a block of rows, and holds for all of them. */
export class Blocks {
  private readonly held = new Map<Field, string>();
  private readonly columns: [Field, number][];
  constructor(
    reading: Reading,
    private readonly column: Map<Field, number>,
  ) {
    this.columns = reading.fillDown.flatMap((field) =>
      column.has(field) ? [[field, column.get(field)!] as [Field, number]] : [],
    );
  }

  /** Titles above the headings, for the first block: what no column says. */
  begin(titles: RawRecord[]): void {
    for (const { cells } of titles) {
      const title = titleOf(cells.filter((cell) => cell.trim() !== ''));
      if (title && !this.column.has(fieldOf(title.word))) this.title(title.word, title.value);
    }
  }

  title(word: string, value: string): void {
    const field = fieldOf(word);
    if (!this.column.has(field)) {
      // A column of its own, behind all others, which only titles fill.
      this.column.set(field, titleColumn - this.columns.length);
      this.columns.push([field, this.column.get(field)!]);
    }
    if (this.columns.some(([known]) => known === field)) this.held.set(field, value);
  }

  /** The row's repairs, with what the block says put in where its cells are empty. */
  fill(record: RawRecord, repaired: Record<number, string>): Record<number, string> {
    let filled = repaired;
    const role = this.column.get('role');
    // A block of students may have its teacher among them, who has no grade.
    if (role !== undefined && isStaff(repaired[role] ?? record.cells[role] ?? '')) return repaired;
    for (const [field, index] of this.columns) {
      const own = (repaired[index] ?? record.cells[index] ?? '').trim();
      if (own !== '') this.held.set(field, own);
      else if (this.held.has(field)) filled = { ...filled, [index]: this.held.get(field)! };
    }
    return filled;
  }
}

const fieldOf = (word: string): Field => (word === 'grade' || word === 'year' ? 'grade' : 'className');

/** Index of a column that no file has. */
const titleColumn = 100_000;
