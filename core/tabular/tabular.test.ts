import { inEnglish } from '#core/messages/languages';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  type Delimiter,
  delimiters,
  type Encoding,
  fieldOfHeader,
  guessDateOrder,
  open,
  parseGrade,
  readDate,
  readRows,
  Refusal,
  type RowRules,
  sureOrder,
  split,
} from './index';

const rules: RowRules = { numberDigits: 6, bornFrom: '2004-01-01', bornTo: '2023-01-01', grades: [] };
const bytes = (text: string) => new TextEncoder().encode(text);

function encode(text: string, encoding: Encoding, mark: boolean): Uint8Array {
  if (encoding === 'utf-8') return bytes((mark ? '\ufeff' : '') + text);
  if (encoding === 'windows-1252') return Uint8Array.from(text, (c) => c.charCodeAt(0));
  const units = (mark ? '\ufeff' : '') + text;
  const out = new Uint8Array(units.length * 2);
  const view = new DataView(out.buffer);
  for (let i = 0; i < units.length; i++) view.setUint16(i * 2, units.charCodeAt(i), encoding === 'utf-16le');
  return out;
}

describe('a table', () => {
  const people = [
    ['Surname', 'Forename', 'DOB', 'Student number', 'Yr', 'Form'],
    ['Müller', 'Zoé', '14/05/2017', '004117', '3', '3B'],
    ['O"Hara, jr', 'Ann;\tLee', '02/11/2016', '000042', '3', '3A'],
    ['Peña', 'José', '30/01/2017', '104120', 'K', 'KA'],
  ];
  const quote = (cell: string) => `"${cell.replaceAll('"', '""')}"`;
  const cases: [Encoding, boolean][] = [
    ['utf-8', true],
    ['utf-8', false],
    ['utf-16le', true],
    ['utf-16le', false],
    ['utf-16be', true],
    ['utf-16be', false],
    ['windows-1252', false],
  ];

  it('is read the same in every encoding, delimiter and line end, with titles above it', () => {
    for (const [encoding, mark] of cases) {
      for (const delimiter of delimiters) {
        for (const lineEnd of ['\n', '\r\n', '\r']) {
          for (const titles of [[], ['Lantern Point School', 'all students']]) {
            const text = [...titles, ...people.map((row) => row.map(quote).join(delimiter))].join(lineEnd);
            const file = open(encode(text, encoding, mark));
            const { rows, problems } = readRows(file, {}, rules);
            expect(file.reading).toMatchObject({
              encoding,
              delimiter,
              headerLine: titles.length + 1,
              dateOrder: 'dmy',
            });
            expect(problems).toEqual([]);
            expect(
              rows.map((r) => [
                r.line - titles.length,
                r.familyName,
                r.givenName,
                r.birthDate,
                r.number,
                r.grade,
                r.className,
              ]),
            ).toEqual([
              [2, 'Müller', 'Zoé', '2017-05-14', '004117', '03', '3B'],
              [3, 'O"Hara, jr', 'Ann; Lee', '2016-11-02', '000042', '03', '3A'],
              [4, 'Peña', 'José', '2017-01-30', '104120', 'KG', 'KA'],
            ]);
          }
        }
      }
    }
  });

  it('keeps every cell through quoting, as RFC 4180 has it, and says on which line a record starts', () => {
    // Published: RFC 4180, 2.5 to 2.7: quotes around cells with line breaks, delimiters and doubled quotes.
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '"', ',', ';', '\n', '\r\n', ' ', '0') });
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 12 }),
        fc.constantFrom<Delimiter>(',', ';'),
        (table, delimiter) => {
          const rows = table.filter((row) => row.some((c) => c.trim() !== ''));
          const text = [['family name', 'given name', 'id'], ...rows]
            .map((row) => row.map(quote).join(delimiter))
            .join('\r\n');
          const file = open(bytes(text), { delimiter, headerLine: 1 });
          expect(file.records.map((r) => r.cells)).toEqual(rows);
          let line = 2;
          for (const [i, row] of rows.entries()) {
            expect(file.records[i]!.line).toBe(line);
            line += 1 + row.join('').split('\n').length - 1;
          }
        },
      ),
    );
  });

  it('is not swallowed by a quotation mark that never closes, which alone in its line is a letter like others', () => {
    const said = (text: string) => {
      try {
        return split(text, ',').map(({ cells }) => cells);
      } catch (error) {
        return inEnglish((error as Refusal).message);
      }
    };
    expect(said('a,b\n1,2\n3,"4\n5,6\n')).toMatch(/in line 3 is never closed/);
    expect(said('a,b\n1,2\n3,"4')).toEqual([
      ['a', 'b'],
      ['1', '2'],
      ['3', '4'],
    ]);
  });

  it('has the letters of Windows-1252 that ISO 8859-1 lacks', () => {
    // Published: the encoding's table (WHATWG Encoding, index windows-1252): 8A Š, 9A š, 92 ’, 80 €.
    const file = open(
      Uint8Array.from([...bytes('name,id\n'), 0x8a, 0x69, 0x9a, 0x92, 0x80, 0xe9, ...bytes(',1\nb,2')]),
    );
    expect(file.records[0]!.cells[0]).toBe('Šiš’€é');
  });

  it('says what it is not', () => {
    const refusal = (data: Uint8Array): string => {
      try {
        open(data);
        return 'read';
      } catch (error) {
        return error instanceof Refusal ? error.code : 'another error';
      }
    };
    expect(refusal(new Uint8Array())).toBe('empty');
    expect(refusal(bytes('  \r\n \n'))).toBe('empty');
    expect(refusal(Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]))).toBe('not-a-table');
    expect(refusal(Uint8Array.from([1, 2, 0, 0, 7, 0, 0, 200, 13, 10, 0, 0, 0, 3]))).toBe('not-text');
    expect(refusal(bytes(`name,id\n${'x'.repeat(5_000_000)}`))).toBe('long-line');
    expect(refusal(bytes(`${'a,'.repeat(16_000)}\n1`))).toBe('too-wide');
  });
});

describe('student numbers', () => {
  const read = (number: string, numberDigits: number | null) => {
    const { rows, problems } = readRows(
      open(bytes(`surname,forename,id\nCove,Ada,${number}`)),
      {},
      { ...rules, numberDigits },
    );
    return [rows[0]!.number, problems[0]?.code ?? null, problems[0]?.repair ?? null];
  };
  it('keep their zeros, are mended where it is plain what they were, and may have any form', () => {
    expect(read('004117', 6)).toEqual(['004117', null, null]);
    expect(read('4117', 6)).toEqual(['4117', 'number-short', '004117']);
    expect(read('OO4117', 6)).toEqual(['OO4117', 'number-form', '004117']);
    expect(read('00-41-17', 6)).toEqual(['00-41-17', 'number-form', '004117']);
    expect(read('12', 12)).toEqual(['12', 'number-form', null]);
    expect(read('4.12E+03', 6)).toEqual(['4.12E+03', 'digits-lost', null]);
    expect(read('K-77/b', null)).toEqual(['K-77/b', null, null]);
    expect(read('4.12E+11', null)).toEqual(['4.12E+11', 'digits-lost', null]);
  });
});

describe('columns', () => {
  it('are told from their cells where the headings say nothing', () => {
    const text =
      'aa,bb,cc,dd,ee\n' +
      Array.from(
        { length: 30 },
        (_, i) =>
          `"Abara, Tomi",${String(4000 + i).padStart(6, '0')},2017-03-${String((i % 28) + 1).padStart(2, '0')},Grade ${i % 5},tomi${i}@home.example`,
      ).join('\n');
    const { reading } = open(bytes(text));
    expect(reading.columns.map((c) => c.field)).toEqual(['fullName', 'number', 'birthDate', 'grade', 'email']);
    expect(reading.columns.every((c) => c.confidence < 0.9)).toBe(true);
    const { rows } = readRows(open(bytes(text)), {}, rules);
    expect(rows[0]).toMatchObject({ familyName: 'Abara', givenName: 'Tomi', number: '004000' });
  });

  it('stand once: the surer heading keeps the field, and what a person says goes before both', () => {
    const text =
      'House,Set,Surname,First\nTern,3A,Abara,Tomi\nTern,3B,Basak,Deniz\nSkua,3A,Cove,Ada\nTern,3A,Dunmore,Ines\nSkua,3B,Eastwick,Owen\nTern,3B,Fairley,Elin';
    const guessed = open(bytes(text)).reading.columns.map((c) => c.field);
    expect(guessed.filter((f) => f === 'className').length).toBeLessThanOrEqual(1);
    const told = open(bytes(text), { columns: { 0: 'skip', 1: 'className' } }).reading.columns;
    expect(told.map((c) => [c.field, c.confidence === 1])).toEqual([
      ['skip', true],
      ['className', true],
      ['familyName', false],
      ['givenName', false],
    ]);
  });

  it('are known by the words of many offices', () => {
    // Common practice: headings as exports have them.
    const known = {
      SURNAME: 'familyName',
      'Legal First Name': 'givenName',
      'Student #': 'number',
      student_number: 'number',
      DateOfBirth: 'birthDate',
      'D.O.B.': 'birthDate',
      'Year Group': 'grade',
      HomeRoom: 'className',
      'Parent/Guardian Email': 'guardianEmail',
      'Guardian’s e-mail': 'guardianEmail',
      'Student: Last Name': 'familyName',
    };
    for (const [header, field] of Object.entries(known))
      expect([header, fieldOfHeader(header)?.field]).toEqual([header, field]);
    expect(fieldOfHeader('Bus route')).toBeNull();
  });
});

describe('dates', () => {
  it('read back what the calendar writes, in each order', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1950-01-01'), max: new Date('2035-12-31'), noInvalidDate: true }),
        (date) => {
          const iso = date.toISOString().slice(0, 10);
          const [y, m, d] = iso.split('-') as [string, string, string];
          expect(readDate(iso, 'ymd')).toBe(iso);
          expect(readDate(`${Number(d)}.${Number(m)}.${y}`, 'dmy')).toBe(iso);
          expect(readDate(`${m}/${d}/${y}`, 'mdy')).toBe(iso);
          const named = new Intl.DateTimeFormat('en-GB', {
            day: 'numeric',
            month: 'long',
            year: 'numeric',
            timeZone: 'UTC',
          }).format(date);
          expect(readDate(named, 'dmy')).toBe(iso);
        },
      ),
    );
  });
  it('refuse days that there are not, and leave the order open where nothing decides it', () => {
    expect(['31/02/2017', '29/02/2017', '00/01/2017', '12/13/2017x', ''].map((t) => readDate(t, 'dmy'))).toEqual([
      null,
      null,
      null,
      null,
      null,
    ]);
    expect(readDate('29/02/2016', 'dmy')).toBe('2016-02-29');
    expect(guessDateOrder(['01/02/2017', '03/04/2017'])).toEqual({ order: 'mdy', confidence: 0.5 });
    // A few that read in one order alone decide for all others; where some speak against them, it is asked.
    const either = Array.from({ length: 57 }, (_, i) => `0${1 + (i % 9)}/0${1 + (i % 7)}/2016`);
    const told = (...more: string[]) => {
      const { order, confidence } = guessDateOrder([...either, ...more]);
      return [order, confidence >= sureOrder];
    };
    expect(told('13/04/2016', '28/05/2016', '31/12/2016')).toEqual(['dmy', true]);
    expect(told('04/13/2016')).toEqual(['mdy', true]);
    expect(told('13/04/2016', '28/05/2016', '04/13/2016')).toEqual(['dmy', false]);
    expect(guessDateOrder(['01/02/2017', '23/04/2017']).order).toBe('dmy');
    expect(guessDateOrder(['01/02/2017', '03/24/2017']).order).toBe('mdy');
  });
  it('read grades in the words people use', () => {
    const spoken = {
      '3': '03',
      '3rd': '03',
      'Grade 3': '03',
      'Year 03': '03',
      third: '03',
      III: '03',
      K: 'KG',
      Kindergarten: 'KG',
      '0': 'KG',
      'Pre-K': 'PK',
      '12': '12',
      UG: 'UG',
      '77': null,
      house: null,
    };
    for (const [text, grade] of Object.entries(spoken)) expect([text, parseGrade(text)]).toEqual([text, grade]);
  });
});

describe('the middle school’s export', () => {
  const data = readFileSync('demo/files/skerry-middle-students.csv');
  const hints = { columns: { 5: 'skip', 6: 'className' } as const };
  const middle = { ...rules, grades: ['06', '07', '08'] };

  it('has 31 rows with a problem, most of them with a repair that mends it', () => {
    const file = open(data, hints);
    expect(file.reading).toMatchObject({ encoding: 'windows-1252', delimiter: ';', headerLine: 4, dateOrder: 'dmy' });
    const { problems } = readRows(file, {}, middle);
    const stopping = problems.filter((p) => p.stops);
    expect(new Set(stopping.map((p) => p.line)).size).toBe(31);
    const repairable = stopping.filter((p) => p.repair !== undefined && p.column !== null);
    const repairs = Object.fromEntries(repairable.map((p) => [p.line, { [p.column!]: p.repair! }]));
    const after = readRows(file, repairs, middle).problems.filter((p) => p.stops);
    expect(repairable.length).toBe(19);
    expect(after.length).toBe(stopping.length - repairable.length);
    expect(after.map((p) => p.code).sort()).toEqual([
      'date',
      'digits-lost',
      'digits-lost',
      'grade',
      'grade',
      'grade',
      'no-family-name',
      'no-family-name',
      'no-given-name',
      'no-given-name',
      'ragged',
      'ragged',
    ]);
  });
});
