/**
 * Records to typed rows. What a cell cannot be read as is a problem with its line, its column, what to do, and
 * where one is plain, a proposed repair. A row with a problem that stops waits; the others are unhurt by it.
 */
import { say } from '#core/messages/say';
import { entities, type PersonField, personFields, type RecordRow } from '#core/entities/index';
import { isShouted, splitName, tidy, undoMisdecoding, unshout } from '#core/names/index';
import { Blocks, remarkOf, usualDigits } from './blocks';
import type { Field } from './fields';
import { fieldLabels } from './fields';
import type { OpenFile, Reading } from './reading';
import type { RawRecord } from './split';
import {
  type DateOrder,
  dateOrders,
  type Grade,
  gradeLabel,
  dateAsWritten,
  isStaff,
  lettersToDigits,
  parseGrade,
  parseRole,
  readDate,
  type RowRole,
  writeDate,
} from './values';

/** Corrected cells: by the record's line, then by the column's index. */
export type Repairs = Record<number, Record<number, string>>;

export interface RowRules {
  /** Student numbers as the register writes them: so many digits; null: in any form. */
  numberDigits: number | null;
  /** Birth dates of students outside these are questioned; yyyy-mm-dd. */
  bornFrom: string;
  bornTo: string;
  /** Grades that the school has; empty: any. */
  grades: string[];
  /** What a person said of all rows that say nothing of it themselves. */
  whole?: { grade?: Grade | undefined; className?: string | undefined } | undefined;
  /** What a person said of every cell of a column, by its index; a corrected cell comes before it. */
  fills?: Readonly<Record<number, string>> | undefined;
}

export interface TypedRow extends RecordRow {
  line: number;
  grade: Grade | null;
  className: string;
  schoolName: string;
  role: RowRole | null;
  /** A birth date that no calendar has or that is out of range, as written, yyyy-mm-dd: for comparing only. */
  birthAsWritten: string | null;
}

/** Kinds of problems in a list; those of a bundle's records have names of their own. */
export type ListProblem =
  | ('number-short' | 'number-form' | 'digits-lost' | 'no-number' | 'date' | 'date-range' | 'grade' | 'grade-range')
  | ('role' | 'role-guardian' | 'no-family-name' | 'no-given-name' | 'mis-decoded' | 'digit-in-name' | 'capitals')
  | ('email' | 'duplicate' | 'ragged' | 'too-long' | 'left-out' | 'repeated' | 'formula' | 'vague');

export interface Problem {
  line: number;
  /** Index of the column, or null if the row as a whole is meant. */
  column: number | null;
  code: ListProblem | `roster-${string}`;
  message: string;
  /** True: the row waits until this is mended. False: a note. */
  stops: boolean;
  /** What the cell should probably hold. */
  repair?: string;
}

export interface ReadRows {
  rows: TypedRow[];
  problems: Problem[];
  /** Lines left out, each with a note among the problems: totals, remarks, headings repeated, rows that say nothing new. */
  leftOut: number[];
}

/** A file need not be about people: then a row need not name one. */
export type About = 'people' | 'enrollments' | 'classes';

export function readRows(file: OpenFile, repairs: Repairs, rules: RowRules, about: About = 'people'): ReadRows {
  const { reading, records } = file;
  const column = new Map<Field, number>();
  for (const { field, index } of reading.columns) if (field !== 'skip') column.set(field, index);
  const blocks = new Blocks(reading, column);
  blocks.begin(file.titles);
  const digits = rules.numberDigits === null ? usualDigits(records, column.get('number')) : null;
  const result: ReadRows = { rows: [], problems: [], leftOut: [] };
  const byNumber = new Map<string, TypedRow>();
  const leaveOut = (line: number, code: ListProblem, message: string) => {
    result.leftOut.push(line);
    result.problems.push({ line, column: null, code, message, stops: false });
  };
  for (const record of records) {
    const remark = remarkOf(record, reading, column, blocks);
    if (remark !== null) {
      if (remark !== '') leaveOut(record.line, 'left-out', remark);
      continue;
    }
    const repaired = blocks.fill(record, { ...rules.fills, ...repairs[record.line] });
    const reader = new RowReader(record, repaired, column, reading, rules, digits, about);
    const row = reader.read();
    for (const { field, message } of tooLong(row)) reader.problem(field, 'too-long', message);
    const earlier = row.number !== '' && reader.numberReads ? byNumber.get(row.number) : undefined;
    if (earlier && about === 'people') {
      if (says(earlier) === says(row)) {
        leaveOut(row.line, 'repeated', say('intake.sameAsLineItIs', { line: earlier.line }));
        continue;
      }
      reader.problem(
        'number',
        'duplicate',
        say('intake.lineAlsoHasTheNumber', { number: row.number, line: earlier.line }),
      );
    } else if (row.number !== '' && reader.numberReads) byNumber.set(row.number, row);
    result.rows.push(row);
    result.problems.push(...reader.problems);
  }
  return result;
}

/** Letters that the register keeps of each. */
const longest: [Exclude<PersonField, 'birthDate'> | 'className', number][] = [
  ...personFields.flatMap((field) => {
    const { longest: most } = entities.person.fields[field];
    return field === 'birthDate' || most === null ? [] : [[field, most] as [typeof field, number]];
  }),
  ['className', entities.class.fields.name.longest!],
];

/** What of a row is longer than the register keeps it, in words. */
export function tooLong(row: TypedRow): { field: Field; message: string }[] {
  return longest.flatMap(([field, most]) => {
    const { length } = row[field];
    if (length <= most) return [];
    return { field, message: say('intake.theHasCharactersTheMost', { field: fieldLabels[field], length, most }) };
  });
}

/** Fields of which a cell is read by itself, as a name or an address. */
const plainFields = personFields.flatMap((field) => {
  const { reads } = entities.person.fields[field].facts;
  return field === 'birthDate' || field === 'familyName' || field === 'givenName' || !reads
    ? []
    : [[field, reads] as [typeof field, typeof reads]];
});

/** What programs write for a letter that they do not have: the replacement character of Unicode, or "Nguy?n". */
const lostLetter = /\ufffd|\p{L}\?|\?\p{L}/u;

/** What a row says, its line left aside. */
const says = (row: TypedRow): string => JSON.stringify({ ...row, line: 0 });

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
    /** Digits that nearly all numbers of this file have, where the register says nothing. */
    private readonly usualDigits: number | null,
    private readonly about: About,
  ) {}

  private cell(field: Field): string {
    const index = this.column.get(field);
    if (index === undefined) return '';
    return tidy(this.repaired[index] ?? this.record.cells[index] ?? '');
  }

  problem(field: Field | null, code: ListProblem, message: string, repair?: string | null, stops = true): void {
    const index = field === null ? undefined : this.column.get(field);
    const column = index === undefined || index > 1000 ? null : index;
    this.problems.push({ line: this.record.line, column, code, message, stops, ...(repair ? { repair } : {}) });
  }

  read(): TypedRow {
    const extra = this.record.cells.slice(this.reading.columns.length).filter((cell) => cell.trim() !== '');
    if (extra.length > 0) {
      this.problem(null, 'ragged', say('intake.thisRowHasMoreCells', { extra: extra[0] }));
    }
    const whole = this.column.has('fullName') ? splitName(this.name('fullName')) : null;
    const familyName = this.column.has('familyName') ? this.name('familyName') : (whole?.familyName ?? '');
    const givenName = this.column.has('givenName') ? this.name('givenName') : (whole?.givenName ?? '');
    if (this.about === 'people' && familyName === '')
      this.problem(this.nameField('familyName'), 'no-family-name', say('intake.theFamilyNameIsMissing'));
    if (this.about === 'people' && givenName === '')
      this.problem(this.nameField('givenName'), 'no-given-name', say('intake.theGivenNameIsMissing'));
    const number = this.number();
    const texts = { number, familyName, givenName } as Record<Exclude<PersonField, 'birthDate'>, string>;
    for (const [field, reads] of plainFields)
      texts[field] = this.column.has(field)
        ? reads === 'email'
          ? this.email(field)
          : this.name(field)
        : (field === 'middleName' && whole?.middleName) || '';
    const birth = this.birthDate();
    const { whole: all } = this.rules;
    const row = {
      line: this.record.line,
      ...texts,
      ...birth,
      grade: this.cell('grade') === '' ? (all?.grade ?? null) : this.grade(),
      className: this.cell('className') || (all?.className ?? ''),
      schoolName: this.cell('schoolName'),
      role: this.role(),
    };
    // A name and a class are enough; that they may not be later is pointed out.
    if (
      this.about === 'people' &&
      number === '' &&
      birth.birthDate === null &&
      birth.birthAsWritten === null &&
      row.className
    )
      if (!isStaff(this.cell('role'))) this.problem(null, 'vague', say('intake.noNumberOrBirthDate'), null, false);
    return row;
  }

  private nameField = (field: Field): Field => (this.column.has(field) ? field : 'fullName');

  private name(field: Field): string {
    const text = this.cell(field);
    const mended = undoMisdecoding(text);
    if (mended) {
      this.problem(field, 'mis-decoded', say('intake.wasSavedInAnotherEncoding', { text, mended }), mended, false);
      return mended;
    }
    if (/^[=+@]|^-[^\p{L}]/u.test(text))
      this.problem(field, 'formula', say('intake.isAFormulaNotA', { text: text.slice(0, 40) }));
    else if (lostLetter.test(text)) this.problem(field, 'mis-decoded', say('intake.aLetterInWasLost', { text }));
    else if (/\d/.test(text))
      this.problem(
        field,
        'digit-in-name',
        say('intake.hasADigitInIt', { text }),
        text.replace(/0/g, 'o').replace(/1/g, 'l').replace(/\d/g, ''),
      );
    else {
      // "OKAFOR, Ada": of a whole name the family name alone may be in capitals.
      const shouted = field === 'fullName' ? (text.match(/^[^,]+(?=,)/)?.[0] ?? text) : text;
      if (isShouted(shouted) && shouted.length > 3)
        this.problem(
          field,
          'capitals',
          say('intake.isInCapitals', { text: shouted }),
          text.replace(shouted, unshout(shouted)),
          false,
        );
    }
    return text;
  }

  private number(): string {
    // 4117.0 is what some writers make of a whole number.
    const text = this.cell('number').replace(/^(\d+)\.0+$/, '$1');
    const { numberDigits } = this.rules;
    if (text === '') {
      if (this.column.has('number') && !isStaff(this.cell('role')))
        this.problem('number', 'no-number', say('intake.noStudentNumberThisRow'), null, false);
      return '';
    }
    const shortened = /^\d+(\.\d+)?e\+?\d+$/i.test(text);
    const { usualDigits } = this;
    if (usualDigits !== null && /^\d+$/.test(text) && text.length < usualDigits && text.length >= usualDigits - 4) {
      const padded = text.padStart(usualDigits, '0');
      this.problem(
        'number',
        'number-short',
        say('intake.hasDigitsButTheOthers', { text, count: text.length, usual: usualDigits, padded }),
        padded,
        false,
      );
      this.numberReads = true;
      return padded;
    }
    this.numberReads = numberDigits === null ? !shortened : text.length === numberDigits && /^\d+$/.test(text);
    if (this.numberReads) return text;
    const digits = lettersToDigits(text) ?? text.replace(/[\s.-]/g, '');
    const padded =
      numberDigits !== null && /^\d+$/.test(digits) && digits.length < numberDigits && digits.length >= numberDigits - 4
        ? digits.padStart(numberDigits, '0')
        : null;
    if (shortened) {
      this.problem('number', 'digits-lost', say('intake.aSpreadsheetShortenedSoIts', { text }));
    } else if (padded) {
      this.problem(
        'number',
        'number-short',
        say('intake.hasDigitsButStudentNumbers', { text, count: digits.length, usual: numberDigits }),
        padded,
      );
    } else {
      this.problem(
        'number',
        'number-form',
        say('intake.isNotAStudentNumber', { text, usual: numberDigits }),
        digits.length === numberDigits && /^\d+$/.test(digits) ? digits : null,
      );
    }
    return text;
  }

  private birthDate(): Pick<TypedRow, 'birthDate' | 'birthAsWritten'> {
    const text = this.cell('birthDate');
    const none = { birthDate: null, birthAsWritten: null };
    if (text === '') return none;
    const { dateOrder } = this.reading;
    const date = readDate(text, dateOrder);
    if (date === null) {
      const { repair, why } = repairDate(text, dateOrder);
      this.problem('birthDate', 'date', `“${text}” ${why}`, repair);
      return { ...none, birthAsWritten: dateAsWritten(text, dateOrder) };
    }
    if ((date < this.rules.bornFrom || date > this.rules.bornTo) && !isStaff(this.cell('role'))) {
      this.problem('birthDate', 'date-range', say('intake.bornThatIsOutsideThe', { date }));
      return { ...none, birthAsWritten: date };
    }
    return { birthDate: date, birthAsWritten: null };
  }

  private grade(): Grade | null {
    const text = this.cell('grade');
    if (text === '') return null;
    const grade = parseGrade(text);
    const { grades } = this.rules;
    const span =
      grades.length > 0
        ? ` ${say('intake.schoolHasGrades', { from: gradeLabel(grades[0]!), to: gradeLabel(grades.at(-1)!) })}`
        : '';
    if (grade === null) this.problem('grade', 'grade', say('intake.notAGrade', { text }) + span);
    else if (grades.length > 0 && !grades.includes(grade)) {
      this.problem('grade', 'grade-range', say('intake.gradeNotTaught', { grade: gradeLabel(grade) }) + span);
      return null;
    }
    return grade;
  }

  /** Nobody becomes a student because their role could not be read. */
  private role(): RowRole | null {
    const text = this.cell('role');
    const role = parseRole(text);
    if (role === 'guardian') this.problem('role', 'role-guardian', say('intake.isAGuardianListsAdd', { text }));
    else if (role === null && text !== '') this.problem('role', 'role', say('intake.isNotAKnownRole', { text }));
    return role;
  }

  private email(field: Field): string {
    const text = this.cell(field);
    if (text === '' || /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text)) return text;
    const mended = text.replace(/\s+/g, '').replace(/,/g, '.');
    this.problem(
      field,
      'email',
      say('intake.isNotAValidIt', { text, field: fieldLabels[field] }),
      /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(mended) ? mended : null,
      false,
    );
    return '';
  }
}

function repairDate(text: string, order: DateOrder): { repair: string | null; why: string } {
  const separator = text.match(/[./-]/)?.[0] ?? '/';
  const letters = lettersToDigits(text);
  if (letters && readDate(letters, order)) return { repair: letters, why: say('intake.hasLettersAmongItsDigits') };
  for (const other of dateOrders) {
    const date = other === order ? null : readDate(text, other);
    if (date)
      return {
        repair: writeDate(date, order, separator),
        why: say('intake.isWrittenInAnotherOrder'),
      };
  }
  if (/^\d+[./-]\d+[./-]\d+$/.test(text)) return { repair: null, why: say('intake.isNotOnTheCalendar') };
  return { repair: null, why: say('intake.isNotADateType') };
}
