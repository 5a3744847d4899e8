/**
 * Worked examples: how lists are read, column by column and row by row, as `worked.txt` tells it. Whoever changes what
 * is said there looks at each line that changes.
 */
import { inEnglish } from '#core/messages/languages';
import { thrown, asRead } from '#core/messages/expect';
import { readFileSync } from 'node:fs';
import { zipSync } from 'fflate';
import { expect, it } from 'vitest';
import {
  asItWas,
  carriedOver,
  dateAsWritten,
  type DateOrder,
  dateOrders,
  fieldOfCells,
  fieldOfHeader,
  gradeLabel,
  guessDateOrder,
  type Hints,
  isStaff,
  isZip,
  lettersToDigits,
  open,
  parseGrade,
  parseRole,
  questionsOf,
  readDate,
  readHeaded,
  readRows,
  recall,
  Refusal,
  remember,
  type RowRules,
  unpack,
  writeDate,
} from './index';

const any: RowRules = { numberDigits: null, bornFrom: '1940-01-01', bornTo: '2024-01-01', grades: [] };
const bytes = (text: string) => new TextEncoder().encode(text);
const share = (n: number) => Number(n.toFixed(3));
/** Fields of an object that say something. */
const said = (row: object): string =>
  Object.entries(row)
    .filter(([, value]) => value !== null && value !== '' && value !== undefined)
    .map(([key, value]) => `${key}=${String(value)}`)
    .join(' ');

/** How a list is read, in lines. */
function told(file: Uint8Array, hints: Hints = {}, rules = any, most = 6): string[] {
  const opened = open(file, hints);
  const { reading } = opened;
  const { rows, problems, leftOut } = readRows(opened, {}, rules);
  return [
    `${reading.format} ${reading.encoding} ${share(reading.encodingConfidence)}, ${JSON.stringify(reading.delimiter)} ${share(reading.delimiterConfidence)}, headings in line ${reading.headerLine}, ${opened.titles.length} titles`,
    `dates ${reading.dateOrder} ${share(reading.dateOrderConfidence)}, once a block: ${reading.fillDown.join() || 'nothing'}`,
    ...reading.columns.map((c) => `column ${c.index} “${c.header}” ${c.field} ${share(c.confidence)}`),
    ...rows.slice(0, most).map((row) => `row ${said(row)}`),
    `${rows.length} rows, left out: ${leftOut.join(' ') || 'none'}`,
    ...problems
      .slice(0, 40)
      .map(
        (p) =>
          `${p.stops ? 'stops' : 'note'} ${p.line}/${p.column} ${p.code}: ${p.message}${p.repair === undefined ? '' : ` → ${p.repair}`}`,
      ),
    ...questionsOf(opened, { rows, problems, leftOut }, hints.sheet === undefined ? [] : ['Other']).map(
      (q) => `asks ${q.code}: ${q.message} [${q.options.join(' | ')}]`,
    ),
  ];
}
const lines = (...rows: string[]) => bytes(rows.join('\n'));

it('lists are read as these are', async () => {
  const out: string[] = [];
  const show = (title: string, file: Uint8Array, hints?: Hints, rules?: RowRules) => {
    let text: string[];
    try {
      text = told(file, hints, rules);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      text = [`refused ${error.code}: ${error.message}`];
    }
    out.push(`# ${title}`, ...text, '');
  };
  const school: RowRules = {
    numberDigits: 6,
    bornFrom: '2008-01-01',
    bornTo: '2022-12-31',
    grades: ['KG', '01', '02', '03', '04', '05'],
  };
  for (const name of [
    'skerry-middle-students.csv',
    'lantern-point-students.csv',
    'marrow-bay-students.csv',
    'outer-isles-high-students.txt',
    'gull-sound-students.csv',
    'lantern-point-bus-list.csv',
  ])
    show(name, readFileSync(`demo/files/${name}`), {}, { ...school, grades: [] });
  show(
    'every trouble of a row',
    lines(
      'Student ID,Last name,First name,Middle,DOB,Grade,Class,School,Email,Guardian,Role',
      '004117,Abara,Tomi,J,2016-01-09,3,3A,Lantern Point,t@x.example,g@x.example,student',
      '4118,Abara,Ola,,2016-01-09,3rd,3A,,t x@x.example,nobody,pupil',
      'O04119,BASAK,Lin,,2016-13-09,Year 9,3A,,"a,b@x.example",,Students',
      '00-41-20,Bj0rk,W1n,,09/01/2016,grade twelve,3A,,,,teacher',
      '41,,Ines,,2001-01-01,K,3A,,,,',
      'X41,Moyo,,,2O16-O1-O9,pre-k,3A,,,,aide',
      '1.2E+05,=cmd,+x,-7,soon,14,3A,,,,parent',
      '4123.0,Müller,JosÃ©,,31.02.2016,0,3A,,,,wizard',
      '004117,Abara,Tomi,J,2016-01-09,3,3A,Lantern Point,t@x.example,g@x.example,student',
      '004117,Ode,Kai,,2016-01-09,3,3A,,,,',
      ',Nu,Ber,,2016-01-09,3,3A,,,,',
      `004124,${'L'.repeat(201)},Long,,2016-01-09,3,${'c'.repeat(121)},,,,`,
      '004125,Lost\ufffd,Let,,2016-01-09,3,3A,,,,,more,cells',
    ),
    {},
    school,
  );
  show(
    'numbers of any form',
    lines('id,last,first', '004117,A,Ann', '004118,B,Bea', '4119,C,Cid', '19,D,Dov', '1.5e+5,E,Eve', '004120,F,Fay'),
  );
  show(
    'blocks with titles, totals and lines',
    lines(
      'School roll,,,,',
      'Class: 3A – Ms Ode,,,,',
      'Surname,Forename,Number,Born,Sex',
      'Abara,Tomi,1117,09/01/2016,m',
      '-----,-----,,,',
      'Grade 4,,,,',
      'Moyo,Deniz,1021,18/02/2014,f',
      'Surname,Forename,Number,Born,Sex',
      'Total,2,,,',
      'Printed by the office on the twelfth of May for all of us,,,,',
      '17,,,,',
      'Ode,,,,',
    ),
  );
  show(
    'grades once a block',
    lines(
      'Grade,Name,Number',
      '3,"Abara, Tomi",1',
      ',"Moyo, Deniz",2',
      ',"Ode, Kai",3',
      ',"Voss, Ida",4',
      '4,"Nu, Ber",5',
    ),
  );
  show(
    'grades once a block, told otherwise',
    lines('Grade,Name,Number', '3,"Abara, Tomi",1', ',"Moyo, Deniz",2', ',"Ode, Kai",3', ',"Voss, Ida",4'),
    { fillDown: false },
  );
  show(
    'no headings',
    lines('1117;Abara;Thomas;25.01.2016;3a', '1118;Moyo;Emily;03.04.2016;3b', '1119;Ode;James;11.12.2015;3a'),
  );
  show('no headings, names alone', lines('Abara,Tomi', 'Moyo,Deniz', 'Ode,Kai'));
  show('no known word above digits', lines('foo,bar,baz', 'Abara,Thomas,7', 'Moyo,Emily,8'));
  show(
    'a counted list',
    lines('No.,Full name,Yr', '1,Tomi Abara,3', '2,Deniz van der Moyo,3', '1,"ODE, Kai",4', '2,Ida Maria Voss,4'),
  );
  show('whole names beside their parts', lines('Name,First,Last', 'Tomi Abara,Tomi,Abara', 'Deniz Moyo,Deniz,Moyo'));
  show('several people a row', lines('Student 1,Student 2,Class', 'Tomi Abara,Deniz Moyo,3A', 'Kai Ode,Ida Voss,3B'));
  show('days or months first', lines('last,first,dob', 'A,Ann,03/04/2016', 'B,Bea,05/06/2015'));
  show('days or months first, told', lines('last,first,dob', 'A,Ann,03/04/2016', 'B,Bea,05/06/2015'), {
    dateOrder: 'mdy',
    sheet: 'x',
  });
  show(
    'months in words and days counted',
    lines('last,first,dob', 'A,Ann,3 Apr 2016', 'B,Bea,5-June-2015', 'C,Cid,42378'),
  );
  show('columns told', lines('a,b,c', 'Abara,Tomi,3', 'Moyo,Deniz,4'), {
    headerLine: 1,
    columns: { 0: 'familyName', 1: 'givenName', 2: 'grade' },
  });
  show('headings in a line that is empty', lines('a,b', '', 'x,y'), { headerLine: 2 });
  show(
    'headings of other tongues',
    lines(
      'Apellidos;Nombre;Fecha de nacimiento;Grado;Escuela;Correo',
      'García López;Ana;14/05/2017;1;Norte;a@x.example',
      'Peña;José;30/01/2017;K;Sur;b@x.example',
    ),
  );
  show('numbers of two lengths', lines('id,last,first', '0011,A,Ann', '0012,B,Bea', '12345,C,Cid', '12,D,Dov'));
  show('numbers of three digits', lines('id,last,first', '011,A,Ann', '012,B,Bea', '12,C,Cid'));
  show('numbers without zeros', lines('id,last,first', '1011,A,Ann', '1012,B,Bea', '12,C,Cid'));
  show('two columns with a total', lines('Name,Grade', 'Tomi Abara,3', 'Total,1', 'Deniz Moyo,4'));
  show(
    'three columns with a remark',
    lines(
      'Name,Grade,Class',
      'Tomi Abara,3,3A',
      'Everyone else is on the other list of this office,,',
      'Deniz Moyo,4,4A',
    ),
  );
  show(
    'four columns with a name alone',
    lines('Name,Grade,Class,Born', 'Tomi Abara,3,3A,2016-01-01', 'Deniz Moyo,,,', ',3,,', '!,,,'),
  );
  show(
    'titles of what a column says',
    lines(
      'Grade,Name,Number',
      '3,Tomi Abara,1',
      'Grade 4,,',
      ',Deniz Moyo,2',
      ',Kai Ode,3',
      'Class 4B,,',
      ',Ida Voss,4',
    ),
  );
  show('grades on most rows', lines('Grade,Name', '3,Tomi Abara', '3,Deniz Moyo', '3,Kai Ode', ',Ida Voss', ',Ber Nu'));
  show('a first person without grade', lines('Grade,Name', ',Tomi Abara', '3,Deniz Moyo', ',Kai Ode', ',Ida Voss'));
  show('headings that are told to be none', lines('Name,Grade', 'Tomi Abara,3', 'Deniz Moyo,4'), { headerLine: null });
  show(
    'whole names, family first, no headings',
    lines('"Abara, Tomi",1117', '"Moyo, Deniz",1118', '"Van der Berg, Ines",1119'),
  );
  show('whole names in capitals', lines('Name,Grade', '"ABARA, Tomi",3', 'DENIZ MOYO,4', '"MO, Kai",4'));
  show(
    'numbers with marks',
    lines('id,last,first', '004-117,A,Ann', '00A117,B,Bea', '4 117,C,Cid', '0041177,D,Dov'),
    {},
    school,
  );
  show(
    'a name in two columns, one of figures',
    lines('Last,First,Note', 'Abara,Tomi,1', '7,8,2', 'Moyo,,3', 'Ode,Kai,4'),
  );
  show(
    'staff beside students',
    lines(
      'Role,Last,First,Student number,Born,Grade',
      'Teacher,Abara,Tomi,,1980-01-09,',
      'student,Moyo,Deniz,,1980-01-09,3',
      'Pupil,Ode,Kai,004117,2016-01-09,3',
      'Mother,Ode,Una,,1984-01-09,',
      'Coach,Voss,Ida,,,',
    ),
    {},
    school,
  );
  show('nothing', lines(''));
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});

it('values are read as these are', async () => {
  const out: string[] = [];
  const dates = [
    '2016-02-29',
    '2015-02-29',
    '29/02/2016',
    '02/29/2016',
    '1.2.16',
    '3 Apr 2016',
    'April 3, 2016',
    '3-abril-2016',
    '20160409',
    '18991231',
    '42378',
    '42378.0',
    '60',
    '2016-04-09T00:00:00',
    '2016-04-09 0:00',
    '31/04/2016',
    '9/9/99',
    '9/9/30',
    '2016/4/9',
    'x',
    '',
    '0/1/2016',
    '1/0/2016',
    '32/1/2016',
    '1/13/2016',
    '12/13/2016',
  ];
  for (const date of dates)
    out.push(
      `date “${date}”: ${dateOrders.map((order) => `${order} ${readDate(date, order) ?? '-'} ${dateAsWritten(date, order) ?? '-'}`).join(', ')}`,
    );
  for (const order of dateOrders)
    out.push(`written ${order}: ${writeDate('2016-04-09', order)} ${writeDate('2016-04-09', order, '.')}`);
  for (const cells of [
    ['13/04/2016', '04/05/2016'],
    ['04/13/2016', '04/05/2016'],
    ['04/05/2016'],
    ['04.05.2016'],
    ['04-05-2016'],
    ['2016-04-05'],
    ['42378', '42379'],
    ['x'],
    [],
    ['13/04/2016', '04/13/2016', '01/02/2016'],
  ]) {
    const { order, confidence } = guessDateOrder(cells);
    out.push(`order of ${cells.join(' ')}: ${order satisfies DateOrder} ${share(confidence)}`);
  }
  for (const text of [
    'K',
    'kg',
    'R',
    'Pre-K',
    'TK',
    '0',
    '00',
    '1st',
    '2nd',
    '3rd',
    '04',
    '5.0',
    'Grade 6',
    'Yr. 7',
    'level 8',
    'ninth',
    'ten',
    'XI',
    '12 grade',
    '13',
    '14',
    'UG',
    'ps',
    'other',
    '',
    '3A',
    'class 3',
  ])
    out.push(`grade “${text}”: ${parseGrade(text) ?? '-'} ${gradeLabel(parseGrade(text))}`);
  for (const text of ['Student', 'PUPILS', 'co-teacher', 'Faculty', 'aide', 'Parents', 'mother', 'coach', ''])
    out.push(`role “${text}”: ${parseRole(text) ?? '-'}, staff ${isStaff(text)}`);
  for (const text of ['O041', 'l2', 'I3o', 'abc', '123', '-7', "'=1", '=1', "it's"])
    out.push(`letters “${text}”: ${lettersToDigits(text) ?? '-'}, as it was “${asItWas(text)}”`);
  for (const text of [
    'StudentID',
    'Student: Last Name',
    'Legal surname (as on passport)',
    'DoB',
    'HMRM',
    'e-mail',
    'Parent/Guardian Email',
    'user_role',
    'Year group',
    'Stu #',
    'blood type',
    'Name',
    '',
  ])
    out.push(`heading “${text}”: ${said(fieldOfHeader(text) ?? {}) || '-'}`);
  const cells = [
    ['2016-01-09', '2015-02-03', 'x', '2011-01-01', '2011-01-01', '2011-01-01'],
    ['a@x.example', 'b@x.example'],
    ['a@x.example', 'a@x.example', 'b@x.example'],
    ['3', '4', 'K'],
    Array.from({ length: 15 }, (_, i) => String(i)),
    ['A1234', 'A1235', 'A1236'],
    ['student', 'teacher', 'student'],
    ['Abara, Tomi', 'Moyo, Deniz'],
    ['3A', '3B', 'KA', '4C'],
    ['Tomi Abara', 'Deniz Moyo'],
    ['Thomas', 'Emily', 'James'],
    ['Abara', 'Moyo', 'Ode'],
    ['Red', 'Red', 'Red', 'Red', 'Blue', 'Blue'],
    ['!!', '??', '##'],
    [],
  ];
  for (const list of cells) out.push(`cells ${list.join(' ')}: ${said(fieldOfCells(list))}`);
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked-values.txt');
});

it('a reading is remembered, and what a person put right is put right again', () => {
  const first = open(lines('Surname,Forename,Born,Note', 'Abara,Tomi,03/04/2016,x', 'Moyo,Deniz,05/06/2015,y'), {
    dateOrder: 'dmy',
    columns: { 3: 'className' },
  });
  const kept = remember(first);
  expect(kept).toMatchObject({ headings: true, dateOrder: 'dmy', sheet: null });
  const next = open(lines('Forename,Surname,Born,Remark', 'Tomi,Abara,03/04/2016,x'));
  const { hints, changed } = recall(kept, next.reading);
  expect(hints).toEqual({ columns: { 0: 'givenName', 1: 'familyName', 2: 'birthDate' }, dateOrder: 'dmy' });
  expect(changed.map(inEnglish)).toEqual([
    'The column “Remark” is new and is not imported.',
    'The column “Note” (class) is missing.',
  ]);
  const bare = remember(open(lines('Abara,Tomi,3', 'Moyo,Deniz,4'), { headerLine: null }));
  expect(recall({ ...bare, dateOrder: null }, next.reading)).toEqual({
    hints: { columns: {} },
    changed: ['It had 3 columns and now has 4.'],
  });
  expect(recall(bare, open(lines('Ode,Kai,5'), { headerLine: null }).reading).hints.columns).toEqual(
    Object.fromEntries(bare.columns.map(({ field }, i) => [i, field])),
  );
  const sheet = { ...kept, sheet: 'Roll' };
  expect(recall(sheet, { ...next.reading, sheets: ['Roll', 'Other'] }).hints.sheet).toBe('Roll');
  expect(recall(sheet, { ...next.reading, sheets: ['Other'] }).changed[0]).toEqual('The sheet “Roll” is missing.');

  const before = open(
    lines('Surname,Forename,Note', 'Abara,Tomi,bus one', 'Abara,Tomi,bus two', 'Moyo,Deniz,walks', 'Ode,Kai,asks'),
  );
  const now = open(
    lines('Note,Forename,Surname', 'new,Kai,Ode', 'on foot,Tomi,Abara', 'boat,Tomi,Abara', 'walks,Dennis,Moyo'),
  );
  const right = { repairs: { 2: { 0: 'Abarra' }, 3: { 1: 'Tom' }, 4: { 0: 'Moyoo' }, 5: { 2: 'note' } }, leftOut: [5] };
  expect(carriedOver(before, right, now)).toEqual({
    repairs: { 3: { 2: 'Abarra' }, 4: { 1: 'Tom' } },
    leftOut: [2],
  });
  expect(carriedOver(before, right, open(lines('Surname,Grade', 'Abara,3')))).toEqual({ repairs: {}, leftOut: [] });
});

it('archives are known by their first bytes, and one that grows beyond measure is refused', () => {
  const first = (...start: number[]) => isZip(Uint8Array.from(start));
  // APPNOTE.TXT of the zip format, 4.3.7 and 4.3.16: a local header, and the end of an archive that is empty.
  expect([
    first(0x50, 0x4b, 3, 4),
    first(0x50, 0x4b, 5, 6),
    first(0x50, 0x4b, 7, 8),
    first(0x50, 0x4c, 3, 4),
    first(0x51, 0x4b, 3, 4),
  ]).toEqual([true, true, false, false, false]);
  const packed = (name: string, size: number) => zipSync({ [name]: new Uint8Array(size) });
  expect(unpack(packed('a/list.csv', 19_000_000)).map(({ name, bytes: b }) => [name, b.length])).toEqual([
    ['a/list.csv', 19_000_000],
  ]);
  expect(thrown(() => unpack(packed('list.csv', 30_000_000)))).toContain('Unpacked, “list.csv” would take 30 MB');
  for (const name of ['/x', '\\\\x', 'c:x', '../x', 'a/../x', 'a/..', '..'])
    expect(thrown(() => unpack(zipSync({ [name]: Uint8Array.of(1) })))).toContain('a path that leads outside');
  const fine = zipSync({
    'a..b/c..csv': Uint8Array.of(1),
    '.hidden': Uint8Array.of(1),
    '__MACOSX/x': Uint8Array.of(1),
    'x/.y': Uint8Array.of(1),
  });
  expect(unpack(fine).map(({ name }) => name)).toEqual(['a..b/c..csv']);
});

it('a short list with headings is asked by what it holds', () => {
  const headings = { code: ['code', 'id'], day: ['day'], note: ['note'] };
  const { rows, cell } = readHeaded('\ufeff Day ,ID\n 2026-01-02 , a1 \n\n,b2', headings, ['code', 'day']);
  expect(rows.map((row) => [cell(row, 'code'), cell(row, 'day'), cell(row, 'note')])).toEqual([
    ['a1', '2026-01-02', ''],
    ['b2', '', ''],
  ]);
  expect(thrown(() => readHeaded('x,y\n1,2', headings, ['code', 'day']))).toContain(
    'Line 1 has no heading for code and day. Known headings: code, id; day.',
  );
});
