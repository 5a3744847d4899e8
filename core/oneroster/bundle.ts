/**
 * A bundle of the open roster standard: its manifest, its files, and what is wrong with them. Nothing is left away:
 * files and columns that Sheaf has no use for are carried through.
 */
import { Refusal } from '#core/tabular/decode';
import { type FileName, fieldsOf, fileNames, leftOutFiles, spec, type Version } from './spec';
import { RosterTable, writeTable } from './table';

export interface Bundle {
  version: Version;
  /** Property and value, as the manifest has them. */
  manifest: [string, string][];
  /** By file name as it stands in the archive; the manifest is not among them. */
  tables: Map<string, RosterTable>;
  /** Files that hold changes only. */
  delta: Set<string>;
}

export interface RosterProblem {
  file: string;
  /** Where the record starts, counted from 1; null for the file as a whole. */
  line: number | null;
  column: string | null;
  code: 'manifest' | 'column' | 'required' | 'value' | 'reference' | 'duplicate' | 'left-out' | 'encoding';
  message: string;
  /** False: the record cannot be taken over. */
  imported: boolean;
}

/** Throws Refusal if there is no manifest or nothing that it promises. `files` by name, folders left away. */
export function readBundle(files: Map<string, Uint8Array>): Bundle {
  const find = (name: string) => [...files].find(([key]) => key.toLowerCase() === name.toLowerCase())?.[1];
  const manifestBytes = find('manifest.csv');
  if (!manifestBytes)
    throw new Refusal(
      'no-manifest',
      'There is no manifest.csv: this is no bundle of the roster standard. Open its lists one by one.',
    );
  const table = new RosterTable(manifestBytes);
  const manifest: [string, string][] = [];
  table.each(([property = '', value = '']) => manifest.push([property.trim(), value.trim()]));
  const facts = new Map(manifest);
  const version: Version = facts.get('oneroster.version') === '1.2' ? '1.2' : '1.1';
  const bundle: Bundle = { version, manifest, tables: new Map(), delta: new Set() };
  for (const [name, bytes] of files) {
    if (name.toLowerCase() === 'manifest.csv' || !/\.csv$/i.test(name)) continue;
    const table = new RosterTable(bytes);
    if (table.openQuote !== null)
      throw new Refusal(
        'open-quote',
        `${name}: the quotation mark that begins a cell in line ${table.openQuote} is never closed, so that all that follows would be one cell. Have the bundle exported again.`,
      );
    bundle.tables.set(name, table);
    if (facts.get(`file.${name.replace(/\.csv$/i, '')}`) === 'delta') bundle.delta.add(name);
  }
  if (bundle.tables.size === 0)
    throw new Refusal('empty-bundle', 'The bundle holds a manifest and no files. Have it exported again.');
  return bundle;
}

/** The bundle's files with its manifest, as they came. */
export function writeBundle(bundle: Bundle): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>([['manifest.csv', writeTable(['propertyName', 'value'], bundle.manifest)]]);
  for (const [name, { bytes }] of bundle.tables) files.set(name, bytes);
  return files;
}

export const tableOf = (bundle: Bundle, file: FileName): RosterTable | null => bundle.tables.get(file) ?? null;

/** The bundle with cells of users.csv put right: by the line where the record starts, by index of the column. */
export function withRepairs(bundle: Bundle, repairs: Record<number, Record<number, string>>): Bundle {
  const users = tableOf(bundle, 'users.csv');
  if (!users || Object.keys(repairs).length === 0) return bundle;
  const records = new Map<number, string[]>();
  for (let i = 0; i < users.count; i++) {
    const repaired = repairs[users.lineOf(i)];
    if (!repaired) continue;
    const cells = users.cells(i);
    for (const [column, text] of Object.entries(repaired)) cells[Number(column)] = text;
    records.set(
      i,
      Array.from(cells, (cell) => cell ?? ''),
    );
  }
  const tables = new Map(bundle.tables);
  for (const [name, table] of tables) if (table === users) tables.set(name, users.with(records));
  return { ...bundle, tables };
}

/** Fields without which a record says nothing that could be taken over; what is wrong elsewhere is reported, and the rest of the record holds. */
const needed: Partial<Record<FileName, readonly string[]>> = {
  'orgs.csv': ['sourcedId', 'name', 'type'],
  'academicSessions.csv': ['sourcedId'],
  'courses.csv': ['sourcedId'],
  'classes.csv': ['sourcedId', 'title', 'schoolSourcedId'],
  'users.csv': ['sourcedId', 'orgSourcedIds', 'role', 'givenName', 'familyName'],
  'roles.csv': ['userSourcedId', 'role', 'orgSourcedId'],
  'enrollments.csv': ['classSourcedId', 'userSourcedId', 'role'],
  'demographics.csv': ['sourcedId'],
};

/** Letters that the register keeps, where rows of people do not say it: of a class's name and of what it teaches. */
export const longest: Partial<Record<FileName, Record<string, number>>> = {
  'classes.csv': { title: 120, subjects: 80 },
  'courses.csv': { title: 80, subjects: 80 },
};

export interface Checked {
  /**
   * Everything that is wrong, at most so many for each kind in each file, and what comes beyond counted in a last line;
   * but each user that cannot be taken over.
   */
  problems: RosterProblem[];
  /** Lines that cannot be taken over, all of them, by file. */
  refused: Map<FileName, Set<number>>;
}

export function checkBundle(bundle: Bundle, most = 1000): Checked {
  const problems: RosterProblem[] = [];
  const refused = new Map<FileName, Set<number>>();
  checkManifest(bundle, problems);
  const ids = new Map<FileName, Set<string>>();
  for (const file of fileNames) ids.set(file, idsOf(bundle, file));
  for (const file of fileNames) {
    const table = tableOf(bundle, file);
    if (table) refused.set(file, checkTable(bundle, file, table, ids, problems, most));
  }
  return { problems, refused };
}

function checkManifest(bundle: Bundle, problems: RosterProblem[]): void {
  const say = (column: string, message: string) =>
    problems.push({ file: 'manifest.csv', line: null, column, code: 'manifest', message, imported: true });
  const facts = new Map(bundle.manifest);
  const stated = facts.get('oneroster.version');
  if (stated !== '1.1' && stated !== '1.2')
    say(
      'oneroster.version',
      `The version is ${stated ? `“${stated}”` : 'not stated'}; it is read as ${bundle.version}.`,
    );
  for (const [property, value] of facts) {
    if (!property.startsWith('file.') || property === 'file.') continue;
    const name = `${property.slice(5)}.csv`;
    const there = bundle.tables.has(name);
    if ((value === 'bulk' || value === 'delta') && !there)
      say(property, `${name} is promised (${value}) and not there.`);
    if (value === 'absent' && there) say(property, `${name} is said to be absent and is there; it is read.`);
  }
  for (const name of bundle.tables.keys()) {
    if (leftOutFiles[name])
      problems.push({
        file: name,
        line: null,
        column: null,
        code: 'left-out',
        message: `${name} is carried through and not taken over: ${leftOutFiles[name]}.`,
        imported: true,
      });
    else if (!(fileNames as readonly string[]).includes(name))
      say(name, `${name} is no file of the standard; it is carried through and not read.`);
  }
}

function idsOf(bundle: Bundle, file: FileName): Set<string> {
  const ids = new Set<string>();
  const table = tableOf(bundle, file);
  // Enrollments are referred to by nothing.
  if (!table || file === 'enrollments.csv') return ids;
  const at = table.column('sourcedId');
  table.each((cells) => ids.add(cells[at] ?? ''));
  return ids;
}

function checkTable(
  bundle: Bundle,
  file: FileName,
  table: RosterTable,
  ids: Map<FileName, Set<string>>,
  problems: RosterProblem[],
  most: number,
): Set<number> {
  const refused = new Set<number>();
  const counts = new Map<string, number>();
  const needs = (name: string): boolean => needed[file]?.includes(name) ?? false;
  const say = (
    line: number | null,
    column: string | null,
    code: RosterProblem['code'],
    message: string,
    imported = false,
  ) => {
    if (line !== null && !imported) refused.add(line);
    const each = file === 'users.csv' && !imported;
    const count = (counts.get(code) ?? 0) + Number(!each);
    counts.set(code, count);
    if (each || count <= most) problems.push({ file, line, column, code, message, imported });
  };
  const isDelta = bundle.delta.has(file);
  const fields = fieldsOf(file, bundle.version).map((field) => ({ ...field, at: table.column(field.name) }));
  for (const { name, required, at } of fields) {
    if (at < 0 && required) say(null, name, 'column', `${file} lacks the column ${name}, which the standard requires.`);
  }
  const at = table.column('sourcedId');
  const seen = new Set<string>();
  const usersFile = file === 'demographics.csv' ? ids.get('users.csv')! : null;
  table.each((cells, line) => {
    if (cells.length !== table.header.length)
      say(line, null, 'value', `The record has ${cells.length} cells where the headings are ${table.header.length}.`);
    const id = at < 0 ? '' : (cells[at] ?? '');
    if (id !== '') {
      if (seen.has(id)) say(line, 'sourcedId', 'duplicate', `The sourcedId ${id} stands in an earlier record too.`);
      seen.add(id);
    }
    if (usersFile && id !== '' && !usersFile.has(id) && !bundle.delta.has('users.csv'))
      say(line, 'sourcedId', 'reference', `users.csv has no record ${id}, whose demographics these are.`);
    for (const field of fields) {
      if (field.at < 0) continue;
      const value = cells[field.at] ?? '';
      if (value === '') {
        if (field.required) say(line, field.name, 'required', `${field.name} is empty.`, !needs(field.name));
        continue;
      }
      const letters = longest[file]?.[field.name];
      if (letters && value.length > letters)
        say(
          line,
          field.name,
          'value',
          `${field.name} has ${value.length} letters; ${letters} are the most.`,
          !needs(field.name),
        );
      if (field.words && !field.words.includes(value as never))
        say(line, field.name, 'value', `“${value}” is no ${field.name} of the standard.`, !needs(field.name));
      if (field.kind === 'date' && !/^\d{4}-\d\d-\d\d$/.test(value))
        say(line, field.name, 'value', `“${value}” is no date (yyyy-mm-dd).`, !needs(field.name));
      if (field.kind === 'bool' && value !== 'true' && value !== 'false')
        say(line, field.name, 'value', `“${value}” is neither true nor false.`, true);
      if (field.refers) {
        // Changes may refer to what came in an earlier bundle.
        if (isDelta || bundle.delta.has(field.refers)) continue;
        const known = ids.get(field.refers)!;
        const named = (field.list ? value.split(',') : [value]).map((one) => one.trim());
        const isLost = needs(field.name) && !named.some((one) => known.has(one));
        for (const one of named)
          if (!known.has(one))
            say(
              line,
              field.name,
              'reference',
              `${field.name} refers to ${one}, which is not in ${field.refers}.`,
              !isLost,
            );
      }
    }
  });
  for (const [code, count] of counts)
    if (count > most)
      problems.push({
        file,
        line: null,
        column: null,
        code: code as RosterProblem['code'],
        message: `and ${count - most} more of this kind in ${file}.`,
        imported: false,
      });
  return refused;
}

/** Every field of the standard with what becomes of it: what the documentation's table is made from. */
export const coverage = (version: Version): { file: FileName; field: string; into: string | null; why: string }[] =>
  fileNames
    .filter((file) => !spec[file].only || spec[file].only === version)
    .flatMap((file) =>
      fieldsOf(file, version).map(({ name, into, why }) => ({ file, field: name, into, why: why ?? '' })),
    );
