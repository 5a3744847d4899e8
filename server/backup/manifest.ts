/** What stands in a backup: a folder with a file for each table, and one that says what they hold. */
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { z } from 'zod';

/** Something is wrong with a backup, or with where it is to go; in words for the operator. */
export class BackupError extends Error {}

const sum = z.string().regex(/^[0-9a-f]{64}$/);
const table = z.strictObject({
  name: z.string().regex(/^\w+$/),
  /** In the order of each row. Bytes are written as hexadecimal digits. */
  columns: z.array(z.strictObject({ name: z.string().regex(/^\w+$/), isBytes: z.boolean() })).min(1),
  rows: z.number().int().min(0),
  /** SHA-256 of the rows as they are written, in the order of their keys. */
  content: sum,
  /** SHA-256 of the file, which is compressed. */
  file: sum,
});
const manifest = z.strictObject({
  format: z.literal(1),
  madeAt: z.iso.datetime(),
  /** The migrations that this database had seen, in order. */
  migrations: z.array(z.string().max(100)).min(1),
  /** Ids of the keys by which it is sealed. */
  keys: z.array(z.string().regex(/^[0-9a-f]{16}$/)),
  tables: z.array(table),
});
export type Manifest = z.infer<typeof manifest>;
export type TableOf = Manifest['tables'][number];

export const manifestFile = (folder: string): string => resolve(folder, 'manifest.json');
export const tableFile = (folder: string, name: string): string => resolve(folder, `${name}.jsonl.gz`);
export const sealedKeyFile = (folder: string): string => resolve(folder, 'key.sealed');

/** The manifest as text, with a line that shows whether a letter of it was changed. */
export function writtenManifest(made: Manifest): string {
  const text = JSON.stringify(made, null, 1);
  return `${text}\n${sumOf(text)}\n`;
}

/** Throws BackupError where there is none, or where it is not as it was written. */
export function readManifest(folder: string): Manifest {
  const file = manifestFile(folder);
  if (!existsSync(file)) throw new BackupError(`${folder} is not a backup: it has no manifest.json.`);
  const text = readFileSync(file, 'utf8');
  const [, body = '', line] = /^([\s\S]*)\n([0-9a-f]{64})\n$/.exec(text) ?? [];
  if (line === undefined || sumOf(body) !== line) throw damaged('manifest.json');
  const parsed = manifest.safeParse(JSON.parse(body));
  if (!parsed.success)
    throw new BackupError(`${folder} was made by another version of Sheaf, whose backups this one cannot read.`);
  return parsed.data;
}

export const damaged = (what: string): BackupError =>
  new BackupError(
    `This backup is damaged: ${what} was changed after it was written. Use another copy, or an earlier backup.`,
  );

export const sumOf = (text: string): string => createHash('sha256').update(text).digest('hex');
/** SHA-256 of a file; null: it is not there. */
export async function sumOfFile(file: string): Promise<string | null> {
  if (!existsSync(file)) return null;
  const hash = createHash('sha256');
  for await (const piece of createReadStream(file)) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** Throws BackupError unless every file is there and as it was written. */
export async function checkFiles(folder: string, { tables }: Manifest): Promise<void> {
  for (const { name, file } of tables) {
    const there = await sumOfFile(tableFile(folder, name));
    if (there === null)
      throw new BackupError(`This backup is incomplete: ${name}.jsonl.gz is missing. Use another copy.`);
    if (there !== file) throw damaged(`${name}.jsonl.gz`);
  }
}
