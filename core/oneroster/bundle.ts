/**
 * A bundle of the open roster standard: its manifest, its files, and what is wrong with them. Nothing is left away:
 * files and columns that Sheaf has no use for are carried through.
 */
import { say } from '#core/messages/say';
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
  if (!manifestBytes) throw new Refusal('no-manifest', say('intake.thereIsNoManifestCsv'));
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
      throw new Refusal('open-quote', say('intake.theQuotationMarkThatOpens', { name, line: table.openQuote }));
    bundle.tables.set(name, table);
    if (facts.get(`file.${name.replace(/\.csv$/i, '')}`) === 'delta') bundle.delta.add(name);
  }
  if (bundle.tables.size === 0) throw new Refusal('empty-bundle', say('intake.theBundleHasAManifest'));
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

/** Letters that the register keeps, where rows of people do not note it: of a class's name and of what it teaches. */
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
  const note = (column: string, message: string) =>
    problems.push({ file: 'manifest.csv', line: null, column, code: 'manifest', message, imported: true });
  const facts = new Map(bundle.manifest);
  const stated = facts.get('oneroster.version');
  if (stated !== '1.1' && stated !== '1.2')
    note(
      'oneroster.version',
      stated
        ? say('intake.versionRead', { stated, version: bundle.version })
        : say('intake.versionMissing', { version: bundle.version }),
    );
  for (const [property, value] of facts) {
    if (!property.startsWith('file.') || property === 'file.') continue;
    const name = `${property.slice(5)}.csv`;
    const there = bundle.tables.has(name);
    if ((value === 'bulk' || value === 'delta') && !there)
      note(property, say('intake.theManifestListsButIt', { name, value }));
    if (value === 'absent' && there) note(property, say('intake.theManifestSaysIsAbsent', { name }));
  }
  for (const name of bundle.tables.keys()) {
    if (leftOutFiles[name])
      problems.push({
        file: name,
        line: null,
        column: null,
        code: 'left-out',
        message: say('intake.isKeptInTheBundle', { name, why: leftOutFiles[name] }),
        imported: true,
      });
    else if (!(fileNames as readonly string[]).includes(name)) note(name, say('intake.isNotPartOfThe', { name }));
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
  const note = (
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
    if (at < 0 && required) note(null, name, 'column', say('intake.isMissingTheColumnWhich', { file, name }));
  }
  const at = table.column('sourcedId');
  const seen = new Set<string>();
  const usersFile = file === 'demographics.csv' ? ids.get('users.csv')! : null;
  table.each((cells, line) => {
    if (cells.length !== table.header.length)
      note(
        line,
        null,
        'value',
        say('intake.theRecordHasCellsBut', { count: cells.length, headings: table.header.length }),
      );
    const id = at < 0 ? '' : (cells[at] ?? '');
    if (id !== '') {
      if (seen.has(id)) note(line, 'sourcedId', 'duplicate', say('intake.theSourcedidIsAlsoIn', { id }));
      seen.add(id);
    }
    if (usersFile && id !== '' && !usersFile.has(id) && !bundle.delta.has('users.csv'))
      note(line, 'sourcedId', 'reference', say('intake.usersCsvHasNoRecord', { id }));
    for (const field of fields) {
      if (field.at < 0) continue;
      const value = cells[field.at] ?? '';
      if (value === '') {
        if (field.required)
          note(line, field.name, 'required', say('intake.isEmpty', { name: field.name }), !needs(field.name));
        continue;
      }
      const letters = longest[file]?.[field.name];
      if (letters && value.length > letters)
        note(
          line,
          field.name,
          'value',
          say('intake.hasCharactersTheMostAllowed', { name: field.name, count: value.length, most: letters }),
          !needs(field.name),
        );
      if (field.words && !field.words.includes(value as never))
        note(line, field.name, 'value', say('intake.isNotAOfThe', { value, name: field.name }), !needs(field.name));
      if (field.kind === 'date' && !/^\d{4}-\d\d-\d\d$/.test(value))
        note(line, field.name, 'value', say('intake.isNotADateYyyy', { value }), !needs(field.name));
      if (field.kind === 'bool' && value !== 'true' && value !== 'false')
        note(line, field.name, 'value', say('intake.mustBeTrueOrFalse', { value }), true);
      if (field.refers) {
        // Changes may refer to what came in an earlier bundle.
        if (isDelta || bundle.delta.has(field.refers)) continue;
        const known = ids.get(field.refers)!;
        const named = (field.list ? value.split(',') : [value]).map((one) => one.trim());
        const isLost = needs(field.name) && !named.some((one) => known.has(one));
        for (const one of named)
          if (!known.has(one))
            note(
              line,
              field.name,
              'reference',
              say('intake.refersToWhichIsNot', { name: field.name, one, file: field.refers }),
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
        message: say('intake.andMoreLikeThisIn', { most: count - most, file }),
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
