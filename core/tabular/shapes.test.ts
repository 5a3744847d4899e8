/** Every shape of file that offices hand over, and what is hostile. */
import { inEnglish } from '#core/messages/languages';
import { rejected } from '#core/messages/expect';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import writeWorkbook from 'write-excel-file/node';
import {
  carriedOver,
  open,
  openSource,
  questionsOf,
  readRows,
  recall,
  Refusal,
  remember,
  rivalSheets,
  type RowRules,
  split,
  writeCsv,
} from './index';
import { harmless } from './write';

const rules: RowRules = { numberDigits: null, bornFrom: '1940-01-01', bornTo: '2024-01-01', grades: [] };
const bytes = (text: string) => new TextEncoder().encode(text);
const read = (text: string) => {
  const file = open(bytes(text));
  const rows = readRows(file, {}, rules);
  return {
    file,
    ...rows,
    people: rows.rows.map((r) => [r.line, r.familyName, r.givenName, r.birthDate, r.grade, r.className]),
  };
};
const workbook = async (sheets: Record<string, (string | number | Date | null)[][]>) => {
  const cell = (value: string | number | Date | null) =>
    value === null ? null : value instanceof Date ? { value, type: Date, format: 'dd/mm/yyyy' } : { value };
  const list = Object.entries(sheets).map(([sheet, rows]) => ({ sheet, data: rows.map((row) => row.map(cell)) }));
  return new Uint8Array(await writeWorkbook(list as never).toBuffer());
};
const refusal = async (data: Uint8Array): Promise<string> =>
  openSource(data).then(
    () => 'read',
    (error: unknown) => (error instanceof Refusal ? error.code : String(error)),
  );

describe('a list', () => {
  it('without headings is told from its cells', () => {
    const { file, people } = read(
      '4117,Abara,Thomas,2016-01-09,3,3B\n4120,Anstruther,Emily,2017-05-04,3,3A\n4093,Moyo,James,2015-11-30,4,4A',
    );
    expect(file.reading).toMatchObject({ headerLine: null });
    expect(people[0]).toEqual([1, 'Abara', 'Thomas', '2016-01-09', '03', '3B']);
  });

  it('with blocks, whole names, totals, remarks, repeated headings and lines drawn is its people alone, and says what it left out', () => {
    const { people, leftOut, problems } = read(
      [
        'School roll,,,',
        'Grade,Name,Number,DOB',
        '3,"Abara, Tomi",1117,09/01/2016',
        ',"Anstruther, Wren Ada",1120,25/05/2017',
        '---,---,---,---',
        'Grade,Name,Number,DOB',
        '4,"van der Berg, Ines",1093,30/11/2015',
        ',"Moyo, Deniz",1021,18/02/2014',
        'Total,4,,',
        'Printed on 12 May by the office,,,',
      ].join('\n'),
    );
    expect(people).toEqual([
      [3, 'Abara', 'Tomi', '2016-01-09', '03', ''],
      [4, 'Anstruther', 'Wren', '2017-05-25', '03', ''],
      [7, 'van der Berg', 'Ines', '2015-11-30', '04', ''],
      [8, 'Moyo', 'Deniz', '2014-02-18', '04', ''],
    ]);
    expect(leftOut).toEqual([5, 6, 9, 10]);
    expect(problems.filter((p) => p.stops)).toEqual([]);
  });

  it('with a title over each class has the class of the title', () => {
    const { people } = read(
      'Surname,Forename,Number\nClass 3A,,\nAbara,Tomi,1117\nHomeroom: 3B – Ms Ode,,\nMoyo,Deniz,1021',
    );
    expect(people.map((p) => [p[1], p[5]])).toEqual([
      ['Abara', '3A'],
      ['Moyo', '3B'],
    ]);
  });

  it('with a title above its headings, or no headings at all, has the class of the title; counted rows are no numbers', () => {
    const titled = read(
      'Class: 3A  Teacher: K. Ode,,\nNo.,Name,Born\n1,"Abara, Tomi",25/01/2016\n2,"Moyo, Deniz",03/04/2016',
    );
    expect(titled.file.reading.columns.map(({ field }) => field)).toEqual(['skip', 'fullName', 'birthDate']);
    expect(titled.people).toEqual([
      [3, 'Abara', 'Tomi', '2016-01-25', null, '3A'],
      [4, 'Moyo', 'Deniz', '2016-04-03', null, '3A'],
    ]);
    const bare = read('Grade 3\nTomi Abara\nDeniz Moyo\nGrade 4\nWren Anstruther\nGrade Moyo');
    expect(bare.people.map((p) => [p[0], p[1], p[4]])).toEqual([
      [2, 'Abara', '03'],
      [3, 'Moyo', '03'],
      [5, 'Anstruther', '04'],
      [6, 'Moyo', '04'],
    ]);
    expect(read('Class list 2026,\nlast,first\nAbara,Tomi').people[0]).toEqual([3, 'Abara', 'Tomi', null, null, '']);
  });

  it('says its delimiter itself, in the words of other tongues too; staff among students have no grade of a block', () => {
    const { file, people } = read('sep=;\nNachname;Vorname;Geburtsdatum;Klasse\nAbara;Tomi;25.01.2016;3a');
    expect(file.reading).toMatchObject({ delimiter: ';', headerLine: 2, dateOrder: 'dmy' });
    expect(people).toEqual([[3, 'Abara', 'Tomi', '2016-01-25', null, '3a']]);
    const mixed = 'first,last,role,grades\nTomi,Abara,student,3\nKai,Ode,teacher,\nIda,Voss,administrator,';
    expect(read(mixed).people.map((p) => p[4])).toEqual(['03', null, null]);
  });

  it('with days as spreadsheets count them, dates of its own order and ISO dates among them', () => {
    // Practice of spreadsheets: day 1 is 1900-01-01, 60 a day that never was, so 42378 is 2016-01-09.
    expect(read('last,first,dob\nAbara,Tomi,42378\nMoyo,Deniz,41234').people.map((p) => p[3])).toEqual([
      '2016-01-09',
      '2012-11-21',
    ]);
    expect(read('last,first,dob\nAbara,Tomi,25/01/2016\nMoyo,Deniz,2012-11-21').people.map((p) => p[3])).toEqual([
      '2016-01-25',
      '2012-11-21',
    ]);
  });

  it('asks where the file cannot tell: the order of its dates, its names', () => {
    const codes = (text: string) => {
      const file = open(bytes(text));
      return questionsOf(file, readRows(file, {}, rules)).map((q) => q.code);
    };
    expect(codes('last,first,dob\nAbara,Tomi,03/04/2016\nMoyo,Deniz,05/06/2015')).toEqual(['date-order']);
    expect(codes('last,first,dob\nAbara,Tomi,03/04/2016\nMoyo,Deniz,25/06/2015')).toEqual([]);
    expect(codes('last,first,dob\nAbara,Tomi,03.04.2016\nMoyo,Deniz,05.06.2015')).toEqual([]);
    expect(codes('class,student 1,student 2\n3A,Tomi Abara,Wren Moyo\n3B,Ines Ode,Lin Cove')).toEqual(['one-a-row']);
    expect(codes('id,dob\n1,2016-04-03\n2,2015-06-05')).toEqual(['names']);
  });

  it('says of each row what is lost or doubled, and mends what is plain', () => {
    const { problems, rows } = read(
      [
        'id,last,first',
        '004117,Abara,Tomi',
        '004117,Abara,Tomi',
        '4120,BjÃ¶rk,Wren',
        '004093,Moyo,Ines',
        '004093,Ode,Ada',
        '1.23E+08,Basak,Ola',
        '004999,"=cmd|x",Zed',
      ].join('\n'),
    );
    expect(problems.map((p) => [p.line, p.code, p.stops])).toEqual([
      [3, 'repeated', false],
      [4, 'mis-decoded', false],
      [4, 'number-short', false],
      [6, 'duplicate', true],
      [7, 'digits-lost', true],
      [8, 'formula', true],
    ]);
    expect(rows.find((r) => r.line === 4)).toMatchObject({ familyName: 'Björk', number: '004120' });
  });

  it('stops rows in which something is longer than the register keeps it, to the letter', () => {
    const row = (given: string, email: string) => `Reef,${given},2015-09-01,${email}`;
    const rows = [
      row('A'.padEnd(200, 'a'), 'b'.repeat(242).concat('@mail.example')),
      row('A'.padEnd(201, 'a'), ''),
      row('Ada', 'b'.repeat(300).concat('@mail.example')),
    ];
    const { problems } = read(`Surname,Forename,DOB,E-mail\n${rows.join('\n')}`);
    expect(
      problems.filter(({ code }) => code === 'too-long').map(({ line, stops, message }) => [line, stops, message]),
    ).toEqual([
      [2, true, 'The email has 255 characters. The most allowed is 254.'],
      [3, true, 'The given name has 201 characters. The most allowed is 200.'],
      [4, true, 'The email has 313 characters. The most allowed is 254.'],
    ]);
  });

  it('is remembered by its headings, wherever they stand next time', () => {
    const before = open(bytes('A,B,C\nAbara,Tomi,03/04/2016'), {
      headerLine: 1,
      columns: { 0: 'familyName', 1: 'givenName', 2: 'birthDate' },
      dateOrder: 'mdy',
    });
    const { hints, changed } = recall(
      remember(before),
      open(bytes('C,A,X,B\n03/04/2016,Abara,7,Tomi'), { headerLine: 1 }).reading,
    );
    expect(hints).toEqual({ columns: { 0: 'birthDate', 1: 'familyName', 3: 'givenName' }, dateOrder: 'mdy' });
    expect(changed.map(inEnglish)).toEqual([expect.stringContaining('“X” is new')]);
    const gone = recall(remember(before), open(bytes('A,B\nAbara,Tomi'), { headerLine: 1 }).reading);
    expect(gone.changed.map(inEnglish)).toEqual([expect.stringContaining('“C” (birth date) is missing')]);
  });

  it('has put right again what was put right in the one before it, row for row as it came', () => {
    const list = (rows: string) => open(bytes(`Surname,Forename,DOB\n${rows}`));
    const before = list('Reef,Ada,2015-99-01\nCove,Orla,2015-01-02\nCove,Orla,2015-01-02\nGale,Ivo,2015-03-04');
    const right = { repairs: { 2: { 2: '2015-09-01' }, 5: { 0: 'Gayle' } }, leftOut: [4] };
    // Others came between, one of the two that are alike is gone, and the last says something else.
    const now = list(
      'Hythe,Una,2015-05-05\nCove,Orla,2015-01-02\nCove,Orla,2015-01-02\nReef,Ada,2015-99-01\nGale,Ivo,2015-03-05',
    );
    expect(carriedOver(before, right, now)).toEqual({ repairs: { 5: { 2: '2015-09-01' } }, leftOut: [4] });
    expect(carriedOver(before, right, list('Cove,Orla,2015-01-02')).leftOut).toEqual([]);
    expect(carriedOver(before, right, before)).toEqual(right);
    // Under other words, in another order, with a day of export beside it.
    const other = open(bytes('Exported,DOB,Surname,Forename\n17 Aug,2015-99-01,Reef,Ada'));
    expect(carriedOver(before, right, other)).toEqual({ repairs: { 2: { 1: '2015-09-01' } }, leftOut: [] });
    const fewer = open(bytes('Surname,Forename\nReef,Ada'));
    expect(carriedOver(before, right, fewer)).toEqual({ repairs: {}, leftOut: [] });
  });

  it('written as CSV reads back, and nothing in it runs', () => {
    const rows = [
      ['=1+1', '-5', '@x', 'a"b', ' c', '+44 20'],
      ['-SUM(A1)', 'ok', '', 'x,y', 'z', '1'],
    ];
    const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(writeCsv(['a', 'b', 'c', 'd', 'e', 'f'], rows));
    expect(text).toBe(`\ufeffa,b,c,d,e,f\r\n'=1+1,-5,'@x,"a""b"," c",'+44 20\r\n'-SUM(A1),ok,,"x,y",z,1\r\n`);
    // Whatever stands in a cell, marks and apostrophes at every place among it.
    const cell = fc
      .array(fc.constantFrom('=', '-', '+', '@', "'", ';', '|', '\t', ' ', '\n', 'a', '5', '\uff1d'), { maxLength: 8 })
      .map((letters) => letters.join(''));
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 5 }), (cells) => {
        const said = cells.map(([one, other]) => ['x', one, other]);
        const read = split(new TextDecoder().decode(writeCsv(['a', 'b', 'c'], said)), ',');
        expect(read.slice(1).map((record) => record.cells)).toEqual(said);
        for (const one of said.flat()) expect(harmless(one)).not.toMatch(/^\s*[=+@\uff1d]|[;|\t]\s*[=+\-@\uff1d]/);
      }),
      { numRuns: 500 },
    );
  });
});

describe('a workbook', () => {
  it('gives the sheet that reads like people, its dates and its numbers, and names the others that do', async () => {
    const people = (first: string) => [
      ['Number', 'Last name', 'First name', 'DOB'],
      ['004117', 'Abara', first, new Date('2016-01-09')],
      ['004121', 'Ode', 'Ada', new Date('2016-02-09')],
      [4120, 'Moyo', 'Deniz', new Date('2017-05-25')],
    ];
    // As a part of a larger buffer, which is how small files come from a disk or a database.
    const inPool = (whole: Uint8Array) => {
      const pool = Buffer.alloc(whole.length + 100);
      pool.set(whole, 100);
      return pool.subarray(100);
    };
    const data = inPool(await workbook({ Notes: [['Made by the office'], ['do not edit']], Pupils: people('Tomi') }));
    const source = await openSource(data);
    if (source.kind !== 'tables') throw new Error('no tables');
    const [table] = source.tables;
    expect(table!.reading).toMatchObject({
      format: 'xlsx',
      sheet: 'Pupils',
      sheets: ['Notes', 'Pupils'],
      encoding: null,
    });
    expect(readRows(table!, {}, rules).rows.map((r) => [r.line, r.number, r.birthDate])).toEqual([
      [2, '004117', '2016-01-09'],
      [3, '004121', '2016-02-09'],
      [4, '004120', '2017-05-25'],
    ]);
    expect(await rivalSheets(data, table!.reading)).toEqual([]);
    const two = await workbook({ One: people('Tomi'), Two: people('Ada') });
    const chosen = await openSource(two, { sheet: 'Two' });
    expect(chosen.kind === 'tables' && chosen.tables[0]!.records[0]!.cells[2]).toBe('Ada');
    expect(await rivalSheets(two, chosen.kind === 'tables' ? chosen.tables[0]!.reading : table!.reading)).toEqual([
      'One',
    ]);
    expect(await rejected(openSource(two, { sheet: 'Three' }))).toContain('no sheet “Three”');
  });
});

describe('an archive', () => {
  it('gives its lists by name and leaves out what is none', async () => {
    const source = await openSource(
      zipSync({
        'a/one.csv': bytes('last,first\nAbara,Tomi\nMoyo,Ada'),
        'two.csv': bytes('last,first\nOde,Ines\nCove,Lin'),
        'readme.txt': bytes('Dear all,\nhere are the lists\nof this year'),
      }),
    );
    if (source.kind !== 'tables') throw new Error('no tables');
    expect(source.tables.map((t) => t.entry)).toEqual(['a/one.csv', 'two.csv']);
    expect(source.skipped.map((s) => s.entry)).toEqual(['readme.txt']);
  });

  it('that is hostile is refused before anything is unpacked', async () => {
    expect(await refusal(zipSync({ '../../evil.csv': bytes('a,b\n1,2') }))).toBe('path');
    expect(await refusal(zipSync({ 'x/..\\..\\evil.csv': bytes('a,b\n1,2') }))).toBe('path');
    expect(await refusal(zipSync({ 'bomb.csv': new Uint8Array(40_000_000) }))).toBe('too-large');
    expect(
      await refusal(zipSync(Object.fromEntries(Array.from({ length: 2100 }, (_, i) => [`${i}.csv`, bytes('a')])))),
    ).toBe('too-many');
    expect(await refusal(zipSync({ 'a.csv': bytes('a,b\n1,2') }).subarray(0, 40))).toBe('broken-archive');
    const wide = await workbook({ Wide: [Array.from({ length: 16_000 }, (_, i) => `c${i}`)] });
    expect(await refusal(wide)).toBe('too-wide');
    // A sheet of a million rows, as long as it says to be: refused by its size, before it is read.
    const sheet = zipSync(
      {
        'xl/workbook.xml': bytes('<workbook/>'),
        'xl/worksheets/sheet1.xml': new Uint8Array(130_000_000).map((_, i) => 60 + (i % 40)),
      },
      { level: 1 },
    );
    expect(await refusal(sheet)).toMatch(/too-l/);
  });
});
