/**
 * The files that the offices of Skerry Isles hand over, each in its own shape and with its own troubles. Made from
 * the scenario, so that they are about the children who are on record.
 */
import { pick, type Random, randomFrom } from '#core/random/index';
import { familyNames, givenNames } from './names';
import type { Scenario } from './scenario';
import type { DemoStudent } from './student';

export interface DemoFile {
  name: string;
  bytes: Uint8Array;
}

type Cells = string[];
const ascii = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/[^A-Za-z]/g, '')
    .toLowerCase();
const dmy = (iso: string | null): string => (iso ?? '').split('-').reverse().join('/');
const csv = (rows: Cells[], delimiter: string): string =>
  rows
    .map((row) =>
      row
        .map((cell) => (cell.includes(delimiter) || cell.includes('"') ? `"${cell.replaceAll('"', '""')}"` : cell))
        .join(delimiter),
    )
    .join('\r\n') + '\r\n';
const utf8 = (text: string, bom = false): Uint8Array => new TextEncoder().encode((bom ? '\ufeff' : '') + text);
const utf16 = (text: string): Uint8Array => {
  const units = `\ufeff${text}`;
  const bytes = new Uint8Array(units.length * 2);
  for (let i = 0; i < units.length; i++) bytes.set([units.charCodeAt(i) & 255, units.charCodeAt(i) >> 8], i * 2);
  return bytes;
};

/** Windows-1252; letters that it lacks lose their accent, as in the programs that write it. */
const windows1252 = (text: string): Uint8Array =>
  Uint8Array.from(
    [...text].flatMap((char) => {
      const special = '€\0‚ƒ„…†‡ˆ‰Š‹Œ\0Ž\0\0‘’“”•–—˜™š›œ\0žŸ'.indexOf(char);
      if (special > 0 || char === '€') return [0x80 + special];
      const code = char.codePointAt(0)!;
      if (code < 256) return [code];
      return [
        ...({ Ł: 'L', ł: 'l', Đ: 'D', đ: 'd', ı: 'i' }[char] ?? char.normalize('NFD').replace(/[\u0300-\u036f]/g, '')),
      ].map((c) => c.charCodeAt(0) & 255);
    }),
  );

export function makeFiles(scenario: Scenario): DemoFile[] {
  const at = (code: string) => scenario.students.filter(({ schoolId }) => schoolId === scenario.schools[code]!.id);
  const [lantern, gull] = [at('LAN'), at('GUL')];
  // Three children who moved from Gull Sound to Lantern Point stand in both schools' exports.
  const moved = gull.filter(({ grade }) => grade === '04').slice(3, 6);
  return [
    { name: 'skerry-middle-students.csv', bytes: middleSchool(at('SKM'), scenario.students) },
    { name: 'lantern-point-students.csv', bytes: lanternPoint(lantern, moved) },
    { name: 'lantern-point-bus-list.csv', bytes: busList(lantern) },
    { name: 'gull-sound-students.csv', bytes: gullSound(gull) },
    { name: 'outer-isles-high-students.txt', bytes: outerIsles(at('OIH')) },
    { name: 'marrow-bay-students.csv', bytes: marrowBay(at('MAR')) },
  ];
}

const freshNames = (r: Random) => ({ given: pick(r, givenNames), family: pick(r, familyNames) });

/**
 * Own headings, three lines of title, semicolons, Windows-1252, days before months; houses that look like classes;
 * and 31 rows with a problem of the kinds that offices make.
 */
function middleSchool(students: DemoStudent[], all: DemoStudent[]): Uint8Array {
  const r = randomFrom(6);
  const rows: Cells[] = students.map((s) => [
    s.number ?? '',
    s.familyName,
    s.givenName,
    dmy(s.birthDate),
    String(Number(s.grade)),
    pick(r, ['Tern', 'Skua', 'Heron', 'Petrel']),
    s.className,
    s.guardianEmail ?? '',
  ]);
  // A summer's changes: six left, forty are in another class, nine new ones came.
  rows.splice(100, 6);
  const sections = 'ABCDEF';
  for (let i = 0; i < 40; i++) {
    const row = rows[(i * 10 + 3) % rows.length]!;
    row[6] = `${row[4]}${sections[(sections.indexOf(row[6]!.at(-1)!) + 1) % 6]}`;
  }
  for (let i = 0; i < 9; i++) {
    const { given, family } = freshNames(r);
    const grade = 6 + (i % 3);
    rows.splice(20 + i * 41, 0, [
      String(8000 + i * 7).padStart(6, '0'),
      family,
      given,
      `${String(10 + i).padStart(2, '0')}/0${1 + i}/${2020 - grade}`,
      String(grade),
      'Tern',
      `${grade}${sections[i % 6]}`,
      '',
    ]);
  }
  // A number that was given again: it belongs to a high-school student of another name and birth date.
  const other = all.find(({ grade, number }) => grade === '12' && number !== null)!;
  rows.splice(77, 0, [other.number!, 'Tideswell', 'Juno', '19/07/2014', '6', 'Skua', '6B', '']);
  plantProblems(rows);
  const titles = ['Skerry Middle School', 'Roll on opening day, all years', ''].map((title) => [
    title,
    '',
    '',
    '',
    '',
    '',
    '',
    '',
  ]);
  const header = ['Pupil ref', 'Surname', 'Forename', 'Born', 'Yr', 'House', 'Set', 'Home contact'];
  return windows1252(csv([...titles, header, ...rows], ';'));
}

function plantProblems(rows: Cells[]): void {
  let at = 11;
  const next = (): Cells => {
    at += 13;
    return rows[at % rows.length]!;
  };
  const each = (times: number, spoil: (row: Cells) => void) => {
    for (let i = 0; i < times; i++) spoil(next());
  };
  each(6, (row) => (row[0] = row[0]!.replace(/^0+/, '')));
  each(3, (row) => (row[0] = row[0]!.replace('0', 'O')));
  each(2, (row) => (row[0] = '4,12E+03'.replace(',', '.')));
  each(5, (row) => (row[3] = row[3]!.replace('0', 'o')));
  each(1, (row) => (row[3] = '31/02/2014'));
  each(2, (row) => (row[3] = row[3]!.replace('0', 'O')));
  each(3, (row) => (row[4] = '66'));
  each(2, (row) => (row[1] = ''));
  each(2, (row) => (row[2] = ''));
  each(3, (row) => (row[1] = 'Gr0ßkopf'));
  each(2, (row) => row.push('moved in spring'));
}

/** Comma, UTF-8, headings as everybody writes them; with the three who moved here. */
function lanternPoint(students: DemoStudent[], moved: DemoStudent[]): Uint8Array {
  const r = randomFrom(3);
  const rows: Cells[] = [...students, ...moved].map((s) => [
    s.familyName,
    s.givenName,
    s.number ?? '',
    dmy(s.birthDate),
    String(s.grade === 'KG' ? 'K' : Number(s.grade)),
    s.className,
    s.guardianEmail ?? '',
  ]);
  for (let i = 0; i < 31; i++) rows[i * 9]![5] = rows[i * 9]![5]!.replace(/[AB]$/, (c) => (c === 'A' ? 'B' : 'A'));
  for (let i = 0; i < 12; i++) {
    const { given, family } = freshNames(r);
    rows.push([
      family,
      given,
      String(8200 + i * 3).padStart(6, '0'),
      `0${1 + (i % 9)}/1${i % 3}/2020`,
      'K',
      `K${'ABC'[i % 3]}`,
      `${ascii(family)}@home.example`,
    ]);
  }
  return utf8(
    csv(
      [['Family name', 'Given name', 'Student number', 'Date of birth', 'Grade', 'Class', 'Guardian e-mail'], ...rows],
      ',',
    ),
  );
}

/** As drivers write names: no numbers, short forms, initials, no birthday for half of them. */
function busList(students: DemoStudent[]): Uint8Array {
  const named = (grades: string[]) =>
    students.filter(({ grade, guardianEmail }) => grades.includes(grade) && guardianEmail);
  const plain = named(['01', '02', '03']).slice(0, 28);
  const hasty = named(['04', '05', 'KG']).slice(0, 46);
  const rows = [
    ...plain.map((s) => [s.familyName, s.givenName, dmy(s.birthDate), String(Number(s.grade)), s.guardianEmail!]),
    ...hasty.map((s, i) => [
      i % 3 === 2 ? ascii(s.familyName).slice(0, 5) : s.familyName,
      i % 3 === 1 ? s.givenName : `${s.givenName[0]}.`,
      i % 3 === 2 ? dmy(s.birthDate).replace(/^\d\d/, (d) => String((Number(d) % 28) + 1).padStart(2, '0')) : '',
      i % 3 === 1 ? '' : String(Number(s.grade) || 'K'),
      '',
    ]),
  ];
  return utf8(csv([['Last name', 'First name', 'Birthday', 'Year', 'Parent e-mail'], ...rows], ','));
}

/** Cut short by a filter that somebody forgot: a third of the school is missing. */
function gullSound(students: DemoStudent[]): Uint8Array {
  const rows = students
    .filter((_, i) => i % 3 !== 1)
    .map((s) => [
      s.number ?? '',
      `${s.familyName}, ${s.givenName}`,
      s.birthDate ?? '',
      s.grade === 'KG' ? 'Kindergarten' : `Grade ${Number(s.grade)}`,
      s.className,
    ]);
  return utf8(csv([['No', 'Student name', 'DOB', 'Year level', 'Homeroom'], ...rows], ','), true);
}

/** Tabs, UTF-16, months before days, names in capitals. */
function outerIsles(students: DemoStudent[]): Uint8Array {
  const mdy = (iso: string | null) =>
    iso ? `${Number(iso.slice(5, 7))}/${Number(iso.slice(8))}/${iso.slice(0, 4)}` : '';
  const rows = students.map((s) => [
    s.number ?? '',
    s.familyName.toUpperCase(),
    s.givenName.toUpperCase(),
    mdy(s.birthDate),
    s.grade,
    s.className,
  ]);
  return utf16(csv([['ID', 'LAST NAME', 'FIRST NAME', 'BIRTHDATE', 'GRADE', 'HOMEROOM'], ...rows], '\t'));
}

/** Semicolons, day.month.year, spreadsheet's numbers without their zeros, a total at the end. */
function marrowBay(students: DemoStudent[]): Uint8Array {
  const rows: Cells[] = students.map((s) => [
    String(Number(s.number)),
    s.familyName,
    s.givenName,
    (s.birthDate ?? '').split('-').reverse().join('.'),
    s.grade === 'KG' ? 'K' : String(Number(s.grade)),
    s.className,
  ]);
  return utf8(
    csv(
      [
        ['Student no.', 'Last name', 'First name', 'Birthday', 'Grade', 'Class'],
        ...rows,
        [`Total ${rows.length}`, '', '', '', '', ''],
      ],
      ';',
    ),
  );
}
