/** A file as it came in, opened: one list, or a bundle of the roster standard whose users stand for its rows. */
import { say } from '#core/messages/say';
import { type Bundle, type Checked, classesOf, readBundle, userFields } from '#core/oneroster/index';
import {
  type Field,
  type Hints,
  type OpenFile,
  openRecords,
  openSource,
  type Problem,
  Refusal,
  tooLong,
  type TypedRow,
} from '#core/tabular/index';
import type { IntakePreview } from '../contract';

/** An opened file: a list, or a bundle whose users stand for its rows. */
export interface Opened {
  file: OpenFile;
  bundle: Bundle | null;
  /** What is no longer as the feed remembers it. */
  changed: string[];
}

/** One table of a file or an archive; of a bundle, its users. Throws Refusal. */
export async function openTable(bytes: Uint8Array, hints: Hints): Promise<Pick<Opened, 'file' | 'bundle'>> {
  const source = await openSource(bytes, hints);
  if (source.kind === 'tables') {
    const [first, ...more] = source.tables;
    if (more.length > 0)
      throw new Refusal('several', say('intake.theArchiveHasListsUnpack', { count: more.length + 1 }));
    return { file: first!, bundle: null };
  }
  const bundle = readBundle(source.files);
  const users = bundle.tables.get('users.csv');
  if (!users) throw new Refusal('no-users', say('intake.theBundleHasNoUsers'));
  const records: { line: number; cells: string[] }[] = [{ line: 1, cells: users.header }];
  users.each((cells, line) => records.push({ line, cells }));
  const columns: Record<number, Field> = Object.fromEntries(users.header.map((_, index) => [index, 'skip' as Field]));
  const named: [Field, string][] = [...userFields, ['grade', 'grades'], ['role', 'role']];
  for (const [field, name] of named) if (users.column(name) >= 0) columns[users.column(name)] = field;
  return {
    file: openRecords(
      records,
      { headerLine: 1, columns, fillDown: false },
      {
        format: 'bundle',
        encoding: 'utf-8',
        encodingConfidence: 1,
        delimiter: ',',
        delimiterConfidence: 1,
        sheet: null,
        sheets: [],
      },
    ),
    bundle,
  };
}

/** Problems of users.csv by line and column; those of other files hang on its first record, so that none is lost. */
export function bundleProblems(checked: Checked, { reading, records }: OpenFile): Problem[] {
  return checked.problems.map(({ file, line, column, code, message, imported }) => {
    const own = file === 'users.csv' && line !== null;
    const index = reading.columns.find(({ header }) => header === column)?.index ?? null;
    const where = own ? '' : line === null ? `${file}: ` : `${say('intake.fileAndLine', { file, line })}: `;
    return {
      line: own ? line : (records[0]?.line ?? 1),
      column: own ? index : null,
      code: `roster-${code}`,
      message: `${where}${message}`,
      stops: own && !imported,
    };
  });
}

/** Users of whom something is longer than the register keeps it. */
export const tooLongUsers = (rows: readonly TypedRow[], { reading }: OpenFile): Problem[] =>
  rows.flatMap((row) =>
    tooLong(row).map(({ field, message }) => ({
      line: row.line,
      column: reading.columns.find((column) => column.field === field)?.index ?? null,
      code: 'too-long',
      message,
      stops: true,
    })),
  );

export function bundleFacts(bundle: Bundle): IntakePreview['bundle'] {
  const counts = Object.fromEntries([...bundle.tables].map(([name, table]) => [name, table.count]));
  return { counts, classes: classesOf(bundle) };
}
