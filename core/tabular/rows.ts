/**
 * Records to typed rows. What a cell cannot be read as is a problem with its line, its column, what to do, and
 * where one is plain, a proposed repair. A row with a problem that stops waits; the others are unhurt by it.
 */
import { isShouted, splitName, tidy, undoMisdecoding, unshout } from '#core/names/index';
import type { Field } from './fields';
import { fieldLabels } from './fields';
import type { OpenFile, Reading } from './reading';
import type { RawRecord } from './split';
import {
  type DateOrder,
  dateOrders,
  type Grade,
  gradeLabel,
  lettersToDigits,
  parseGrade,
  readDate,
  writeDate,
} from './values';

/** Corrected cells: by the record's line, then by the column's index. */
export type Repairs = Record<number, Record<number, string>>;

export interface RowRules {
  /** Student numbers as the register writes them: so many digits; null: in any form. */
  numberDigits: number | null;
  /** Birth dates outside these are questioned; yyyy-mm-dd. */
  bornFrom: string;
  bornTo: string;
  /** Grades that the school has; empty: any. */
  grades: string[];
}

export interface TypedRow {
  line: number;
  number: string;
  familyName: string;
  givenName: string;
  middleName: string;
  birthDate: string | null;
  grade: Grade | null;
  className: string;
  schoolName: string;
  email: string;
  guardianEmail: string;
}

export interface Problem {
  line: number;
  /** Index of the column, or null if the row as a whole is meant. */
  column: number | null;
  code: string;
  message: string;
  /** True: the row waits until this is mended. False: a note. */
  stops: boolean;
  /** What the cell should probably hold. */
  repair?: string;
}

export interface ReadRows {
  rows: TypedRow[];
  problems: Problem[];
  /** Lines left out with a note: totals, remarks at the end. */
  leftOut: number[];
}

export function readRows(file: OpenFile, repairs: Repairs, rules: RowRules): ReadRows {
  const { reading, records } = file;
  const column = new Map<Field, number>();
  for (const { field, index } of reading.columns) if (field !== 'skip') column.set(field, index);
  const result: ReadRows = { rows: [], problems: [], leftOut: [] };
  const lineOfNumber = new Map<string, number>();
  for (const record of records) {
    if (isRemark(record, reading)) {
      result.leftOut.push(record.line);
      continue;
    }
    const reader = new RowReader(record, repairs[record.line] ?? {}, column, reading, rules);
    const row = reader.read();
    if (row.number !== '' && reader.numberReads) {
      const earlier = lineOfNumber.get(row.number);
      if (earlier === undefined) lineOfNumber.set(row.number, row.line);
      else
        reader.problem(
          'number',
          'duplicate',
          `The number ${row.number} stands in line ${earlier} too. Correct one of them, or empty this one’s number.`,
        );
    }
    result.rows.push(row);
    result.problems.push(...reader.problems);
  }
  return result;
}

/** "Total 345", "printed 12 May": one or two cells filled in a table of four columns or more, and words like these. */
function isRemark(record: RawRecord, reading: Reading): boolean {
  if (reading.columns.length < 4) return false;
  const filled = record.cells.filter((cell) => cell.trim() !== '');
  return (
    filled.length <= 2 &&
    /^\W*(total|sum|count|number of|printed|exported|created|end of|page|students:|note)\b/i.test(filled[0] ?? '')
  );
}

class RowReader {
  readonly problems: Problem[] = [];
  /** The number is one of the register's. */
  numberReads = false;
  constructor(
    private readonly record: RawRecord,
    private readonly repaired: Record<number, string>,
    private readonly column: Map<Field, number>,
    private readonly reading: Reading,
    private readonly rules: RowRules,
  ) {}

  private cell(field: Field): string {
    const index = this.column.get(field);
    if (index === undefined) return '';
    return tidy(this.repaired[index] ?? this.record.cells[index] ?? '');
  }

  problem(field: Field | null, code: string, message: string, repair?: string | null, stops = true): void {
    const column = field === null ? null : (this.column.get(field) ?? null);
    this.problems.push({ line: this.record.line, column, code, message, stops, ...(repair ? { repair } : {}) });
  }

  read(): TypedRow {
    const extra = this.record.cells.slice(this.reading.columns.length).filter((cell) => cell.trim() !== '');
    if (extra.length > 0) {
      this.problem(
        null,
        'ragged',
        `This row has more cells than there are headings (“${extra[0]}”). A comma inside a cell needs quotes around the cell.`,
      );
    }
    const whole = this.column.has('fullName') ? splitName(this.name('fullName')) : null;
    const familyName = this.column.has('familyName') ? this.name('familyName') : (whole?.familyName ?? '');
    const givenName = this.column.has('givenName') ? this.name('givenName') : (whole?.givenName ?? '');
    if (familyName === '') this.problem(this.nameField('familyName'), 'no-family-name', 'The family name is empty.');
    if (givenName === '') this.problem(this.nameField('givenName'), 'no-given-name', 'The given name is empty.');
    return {
      line: this.record.line,
      number: this.number(),
      familyName,
      givenName,
      middleName: this.column.has('middleName') ? this.name('middleName') : (whole?.middleName ?? ''),
      birthDate: this.birthDate(),
      grade: this.grade(),
      className: this.cell('className'),
      schoolName: this.cell('schoolName'),
      email: this.email('email'),
      guardianEmail: this.email('guardianEmail'),
    };
  }

  private nameField = (field: Field): Field => (this.column.has(field) ? field : 'fullName');

  private name(field: Field): string {
    const text = this.cell(field);
    const mended = undoMisdecoding(text);
    if (mended) this.problem(field, 'mis-decoded', `“${text}” was written with another encoding.`, mended);
    else if (text.includes('\ufffd'))
      this.problem(field, 'mis-decoded', `A letter of “${text}” was lost on the way. Type the name.`);
    else if (/\d/.test(text))
      this.problem(
        field,
        'digit-in-name',
        `“${text}” has a digit in it.`,
        text.replace(/0/g, 'o').replace(/1/g, 'l').replace(/\d/g, ''),
      );
    else if (isShouted(text) && text.length > 3)
      this.problem(field, 'capitals', `“${text}” is in capitals.`, unshout(text), false);
    return text;
  }

  private number(): string {
    const text = this.cell('number');
    const { numberDigits } = this.rules;
    if (text === '') {
      if (this.column.has('number'))
        this.problem(
          'number',
          'no-number',
          'The student number is empty: it can be matched by name and birth date alone.',
          null,
          false,
        );
      return '';
    }
    const shortened = /^\d+(\.\d+)?e\+?\d+$/i.test(text);
    this.numberReads = numberDigits === null ? !shortened : text.length === numberDigits && /^\d+$/.test(text);
    if (this.numberReads) return text;
    const digits = lettersToDigits(text) ?? text.replace(/[\s.-]/g, '');
    const padded =
      numberDigits !== null && /^\d+$/.test(digits) && digits.length < numberDigits && digits.length >= numberDigits - 4
        ? digits.padStart(numberDigits, '0')
        : null;
    if (shortened) {
      this.problem(
        'number',
        'digits-lost',
        `“${text}” is a number that a spreadsheet shortened: its last digits are lost. Type it from the register.`,
      );
    } else if (padded) {
      this.problem(
        'number',
        'number-short',
        `“${text}” has ${digits.length} digits; the register’s numbers have ${numberDigits}.`,
        padded,
      );
    } else {
      this.problem(
        'number',
        'number-form',
        `“${text}” is no number of the register: ${numberDigits} digits are expected.`,
        digits.length === numberDigits && /^\d+$/.test(digits) ? digits : null,
      );
    }
    return text;
  }

  private birthDate(): string | null {
    const text = this.cell('birthDate');
    if (text === '') return null;
    const { dateOrder } = this.reading;
    const date = readDate(text, dateOrder);
    if (date === null) {
      const { repair, why } = repairDate(text, dateOrder);
      this.problem('birthDate', 'date', `“${text}” ${why}`, repair);
      return null;
    }
    if (date < this.rules.bornFrom || date > this.rules.bornTo) {
      this.problem('birthDate', 'date-range', `Born ${date}? That is outside of what a student of today can be.`);
      return null;
    }
    return date;
  }

  private grade(): Grade | null {
    const text = this.cell('grade');
    if (text === '') return null;
    const grade = parseGrade(text);
    const { grades } = this.rules;
    const span =
      grades.length > 0 ? ` The school has grades ${gradeLabel(grades[0]!)} to ${gradeLabel(grades.at(-1)!)}.` : '';
    if (grade === null) this.problem('grade', 'grade', `“${text}” is no grade.${span}`);
    else if (grades.length > 0 && !grades.includes(grade)) {
      this.problem('grade', 'grade-range', `Grade ${gradeLabel(grade)} is not taught here.${span}`);
      return null;
    }
    return grade;
  }

  private email(field: Field): string {
    const text = this.cell(field);
    if (text === '' || /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text)) return text;
    const mended = text.replace(/\s+/g, '').replace(/,/g, '.');
    this.problem(
      field,
      'email',
      `“${text}” is no address (${fieldLabels[field]}); it is left out.`,
      /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(mended) ? mended : null,
      false,
    );
    return '';
  }
}

function repairDate(text: string, order: DateOrder): { repair: string | null; why: string } {
  const separator = text.match(/[./-]/)?.[0] ?? '/';
  const letters = lettersToDigits(text);
  if (letters && readDate(letters, order)) return { repair: letters, why: 'has letters among its digits.' };
  for (const other of dateOrders) {
    const date = other === order ? null : readDate(text, other);
    if (date)
      return {
        repair: writeDate(date, order, separator),
        why: 'is written in another order than the rest of the column.',
      };
  }
  if (/^\d+[./-]\d+[./-]\d+$/.test(text))
    return { repair: null, why: 'is no day of the calendar. Type the birth date.' };
  return { repair: null, why: 'is no date. Type the birth date, or empty the cell.' };
}
