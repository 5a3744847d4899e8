/** `read`: how a file is understood, whom it holds and what is wrong with it, as one JSON object or in words. */
import { inEnglish, speechOf } from '#core/messages/languages';
import { spokenIn } from '#core/messages/say';
import { clock } from '../clock';
import { recordOf, type RecordRow } from '#core/entities/index';
import {
  type About,
  openSource,
  type Problem,
  type Question,
  questionsOf,
  type ReadRows,
  readRows,
  Refusal,
  type RowRole,
  type RowRules,
  rivalSheets,
  type Table,
  type TypedRow,
} from '#core/tabular/index';
import { fileNames, checkBundle, readBundle, rosterPeople } from '#core/oneroster/index';
import { isFolder, openFolder, readFile } from './files';

export const kindsOfFile = ['auto', 'people', 'staff', 'classes', 'enrollments'] as const;
type As = (typeof kindsOfFile)[number];

interface PersonOut extends RecordRow {
  line: number;
  entry?: string;
  grade: string | null;
  school: string;
  className: string;
  role: RowRole;
}

interface ProblemOut {
  line: number | null;
  entry?: string;
  column: string | null;
  code: string;
  message: string;
  imported: boolean;
  repair?: string;
}

interface ReadOut {
  outcome: 'accepted' | 'accepted-with-reports' | 'needs-answer' | 'refused';
  reason: string | null;
  questions: Question[];
  reading: Record<string, unknown> | null;
  people: PersonOut[];
  /** For a file about classes. */
  classes?: {
    line: number;
    entry?: string;
    name: string;
    grade: string | null;
    school: string;
    subject: string;
    teacher: string;
  }[];
  /** For a bundle of the roster standard: records by file. */
  counts?: Record<string, number>;
  problems: ProblemOut[];
}

/** Exit status: 0, or 2 if the file is refused. */
export async function read(path: string, options: { as: As; sheet?: string; json: boolean }): Promise<number> {
  let out: ReadOut;
  try {
    out = spokenIn(await readWhole(path, options), speechOf('en-US'));
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    out = {
      outcome: 'refused',
      reason: inEnglish(error.message),
      questions: [],
      reading: null,
      people: [],
      problems: [],
    };
  }
  if (options.json) process.stdout.write(`${JSON.stringify(out, null, 1)}\n`);
  else if (out.outcome === 'refused') console.error(out.reason);
  else inWords(path, out);
  return out.outcome === 'refused' ? 2 : 0;
}

async function readWhole(path: string, options: { as: As; sheet?: string }): Promise<ReadOut> {
  if (isFolder(path)) {
    const folder = openFolder(path);
    return readRoster(new Map(folder.names.map((name) => [name, folder.file(name)!])));
  }
  const bytes = readFile(path);
  const source = await openSource(bytes, options.sheet === undefined ? {} : { sheet: options.sheet });
  if (source.kind === 'bundle') return readRoster(source.files);
  const { tables } = source;
  const rivals =
    options.sheet === undefined && tables.length === 1 && tables[0]!.entry === null
      ? await rivalSheets(bytes, tables[0]!.reading)
      : [];
  return readTables(path, tables, source.skipped, options.as, rivals);
}

/** Without a register nothing is known of numbers, and students may be of any age. */
export function looseRules(): RowRules {
  const year = Number(clock.today().slice(0, 4));
  return { numberDigits: null, bornFrom: `${year - 90}-01-01`, bornTo: `${year - 2}-12-31`, grades: [] };
}

function aboutOf(as: As, table: Table): About {
  if (as === 'classes' || as === 'enrollments') return as;
  if (as !== 'auto') return 'people';
  const has = (field: string) => table.reading.columns.some((column) => column.field === field);
  const named = has('fullName') || has('familyName') || has('givenName');
  if (!named && has('className')) return has('number') ? 'enrollments' : 'classes';
  return 'people';
}

function readTables(
  path: string,
  tables: Table[],
  skipped: { entry: string; message: string }[],
  as: As,
  rivals: string[],
): ReadOut {
  const read = tables.map((table) => {
    const about = aboutOf(as, table);
    return { table, about, rows: readRows(table, {}, looseRules(), about) };
  });
  const main = read.reduce((best, one) => (one.rows.rows.length > best.rows.rows.length ? one : best));
  const { reading } = main.table;
  const whole = reading.columns.some(({ field }) => field === 'fullName');
  if (
    as === 'auto' &&
    reading.columns.length < 2 &&
    !(whole && (reading.headerLine !== null || main.rows.rows.length > 3))
  )
    throw new Refusal(
      'no-people',
      'Nothing in the file reads like a list of people. Choose another file, or export it with headings.',
    );
  const questions = read
    .filter(({ about }) => about === 'people')
    .flatMap(({ table, rows }) => questionsOf(table, rows, rivals))
    .filter((question, i, list) => list.findIndex((other) => other.code === question.code) === i);
  const problems: ProblemOut[] = [
    ...skipped.map(({ entry, message }) => ({
      line: null,
      entry,
      column: null,
      code: 'not-a-table',
      message,
      imported: false,
    })),
    ...read.flatMap(({ table, rows }) => rows.problems.map((problem) => problemOut(problem, table, rows))),
  ];
  const stopped = read.map(({ rows }) => new Set(rows.problems.filter((p) => p.stops).map((p) => p.line)));
  const about = main.about;
  const out: ReadOut = {
    outcome: questions.length > 0 ? 'needs-answer' : problems.length > 0 ? 'accepted-with-reports' : 'accepted',
    reason: questions[0]?.message ?? null,
    questions,
    reading: readingOut(main.table),
    people:
      about === 'classes'
        ? []
        : read.flatMap(({ table, rows }, i) =>
            rows.rows
              .filter(({ line }) => !stopped[i]!.has(line))
              .map((row) =>
                personOut(row, table.entry, as === 'staff' || looksLikeStaff(path, table) ? 'staff' : 'student'),
              ),
          ),
    problems,
  };
  if (about === 'classes') out.classes = read.flatMap(({ table, rows }) => classesOf(table, rows));
  return out;
}

function looksLikeStaff(path: string, { reading, entry }: Table): boolean {
  if (reading.columns.some(({ field }) => field === 'grade' || field === 'guardianEmail')) return false;
  if (reading.columns.some(({ header }) => /\b(student|pupil|learner|child)/i.test(header))) return false;
  const words = [
    path.split('/').at(-1)!,
    entry ?? '',
    reading.sheet ?? '',
    // Whoever has a teacher in a column beside the name is not one.
    ...reading.columns.filter(({ field }) => field !== 'teacher').map((c) => c.header),
  ].join(' ');
  return /\b(staff|teachers?|employees?|faculty|department|job title|position)\b/i.test(words.replaceAll('_', ' '));
}

const personOut = (row: TypedRow, entry: string | null, role: RowRole): PersonOut => ({
  line: row.line,
  ...(entry === null ? {} : { entry }),
  ...recordOf(row),
  grade: row.grade,
  school: row.schoolName,
  className: row.className,
  role: row.role ?? role,
});

function problemOut(
  { line, column, code, message, stops, repair }: Problem,
  { entry, reading }: Table,
  rows: ReadRows,
): ProblemOut {
  const heading = column === null ? null : (reading.columns[column]?.header ?? '');
  return {
    line,
    ...(entry === null ? {} : { entry }),
    column: column === null ? null : heading || `column ${column + 1}`,
    code,
    message,
    imported: !stops && !rows.leftOut.includes(line),
    ...(repair === undefined ? {} : { repair }),
  };
}

function classesOf(table: Table, rows: ReadRows): NonNullable<ReadOut['classes']> {
  const cell = (line: number, field: string) => {
    const index = table.reading.columns.find((column) => column.field === field)?.index;
    return index === undefined ? '' : (table.records.find((record) => record.line === line)?.cells[index] ?? '').trim();
  };
  return rows.rows.map((row) => ({
    line: row.line,
    ...(table.entry === null ? {} : { entry: table.entry }),
    name: row.className,
    grade: row.grade,
    school: row.schoolName,
    subject: cell(row.line, 'subject'),
    teacher: cell(row.line, 'teacher'),
  }));
}

const readingOut = ({ reading, entry }: Table): Record<string, unknown> => ({
  format: reading.format,
  ...(entry === null ? {} : { entry }),
  encoding: reading.encoding,
  delimiter: reading.delimiter,
  sheet: reading.sheet,
  headerLine: reading.headerLine,
  dateOrder: reading.dateOrder,
  fillDown: reading.fillDown,
  columns: reading.columns.map(({ header, field, confidence }) => ({
    header,
    field,
    confidence: Math.round(confidence * 100) / 100,
  })),
});

function readRoster(files: Map<string, Uint8Array>): ReadOut {
  const bundle = readBundle(files);
  const { problems: found, refused } = checkBundle(bundle);
  const problems = found.map(({ file, line, column, code, message, imported }): ProblemOut => ({
    line,
    entry: file,
    column,
    code,
    message,
    imported,
  }));
  const bad = refused.get('users.csv');
  return {
    outcome: problems.length > 0 ? 'accepted-with-reports' : 'accepted',
    reason: null,
    questions: [],
    reading: {
      format: `oneroster-${bundle.version}`,
      encoding: 'utf-8',
      delimiter: ',',
      sheet: null,
      headerLine: 1,
      dateOrder: 'ymd',
      mode: bundle.delta.size > 0 ? 'delta' : 'bulk',
      columns: (bundle.tables.get('users.csv')?.header ?? []).map((header) => ({
        header,
        field: header,
        confidence: 1,
      })),
    },
    people: rosterPeople(bundle)
      .filter(({ line, deleted }) => !bad?.has(line) && !deleted)
      .map((person) => ({
        line: person.line,
        entry: 'users.csv',
        ...recordOf(person),
        grade: person.grade,
        school: person.school,
        className: person.className,
        // Of whom the roles say no word of the standard nothing is known.
        role: person.role ?? 'guardian',
      })),
    counts: Object.fromEntries(
      [...bundle.tables].sort(([a], [b]) => order(a) - order(b)).map(([name, table]) => [name, table.count]),
    ),
    problems,
  };
}

const order = (name: string): number => {
  const at = (fileNames as readonly string[]).indexOf(name);
  return at < 0 ? 99 : at;
};

function inWords(path: string, out: ReadOut): void {
  const { reading, people, problems, questions, counts } = out;
  console.log(
    `${path}: ${[reading?.format, reading?.encoding, reading?.sheet, `headings in line ${reading?.headerLine ?? 'none'}`, `dates ${reading?.dateOrder}`].filter(Boolean).join(', ')}`,
  );
  if (counts) for (const [file, count] of Object.entries(counts)) console.log(`  ${file.padEnd(24)} ${count}`);
  else
    for (const { header, field, confidence } of reading?.columns as {
      header: string;
      field: string;
      confidence: number;
    }[])
      console.log(`  ${(header || '—').padEnd(28)} ${field.padEnd(14)} ${confidence.toFixed(2)}`);
  for (const { message, options } of questions) console.log(`  ? ${message} (${options.join(', ')})`);
  console.log(`${people.length} people, ${problems.length} problems`);
  for (const { line, entry, message } of problems.slice(0, 200))
    console.log(`  ${entry ? `${entry} ` : ''}${line === null ? '' : `line ${line}: `}${message}`);
}
