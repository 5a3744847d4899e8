/** Files and folders as the command line is given them. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { isZip, Refusal, unpack } from '#core/tabular/index';

/** Throws Refusal, code 'unreadable'. */
export function readFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new Refusal(
      'unreadable',
      `${path} cannot be opened: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

export const isFolder = (path: string): boolean => statSync(path, { throwIfNoEntry: false })?.isDirectory() ?? false;

/** The CSV files of a folder or a zip, read one by one as they are asked for, so that they need not all be held at once. */
export function openFolder(path: string): { names: string[]; file: (name: string) => Uint8Array | null } {
  if (isFolder(path)) {
    const names = readdirSync(path).filter((name) => /\.csv$/i.test(name));
    return { names, file: (name) => (names.includes(name) ? readFile(join(path, name)) : null) };
  }
  const bytes = readFile(path);
  if (!isZip(bytes)) throw new Refusal('no-bundle', `${path} is neither a folder nor a zip archive.`);
  const entries: string[] = [];
  unpack(bytes, (name) => entries.push(name) < 0);
  const byName = new Map(entries.filter((name) => /\.csv$/i.test(name)).map((name) => [name.split('/').at(-1)!, name]));
  return {
    names: [...byName.keys()],
    file: (name) =>
      byName.has(name) ? (unpack(bytes, (entry) => entry === byName.get(name))[0]?.bytes ?? null) : null,
  };
}
