/** Restores a backup into an empty database, and checks one by restoring it next to the real database. */
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { createGunzip } from 'node:zlib';
import type { Connection } from 'mariadb';
import type { Keys } from '../auth/keys';
import { unsealText } from '../auth/seal';
import type { Config } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { migrate } from '../db/migrate';
import { migrations } from '../db/migrations';
import { connectTo } from './connect';
import { openedKey } from './key';
import {
  BackupError,
  checkFiles,
  damaged,
  type Manifest,
  readManifest,
  sealedKeyFile,
  tableFile,
  type TableOf,
} from './manifest';
import { countedOf, shapesOf } from './write';

/** Letters of rows that are sent at once; and rows. */
const mostLetters = 8e6;
const mostRows = 4000;

/** Throws BackupError for one that a newer Sheaf has made. */
function mustBeKnown({ migrations: seen }: Manifest): string {
  const known = new Set(migrations.map(({ name }) => name));
  const newer = seen.filter((name) => !known.has(name));
  if (newer.length > 0)
    throw new BackupError(
      `This backup was made by a newer Sheaf (${newer.join(', ')}). Restore it with that version, or one after it.`,
    );
  return seen.at(-1)!;
}

async function* rowsIn(folder: string, { name }: TableOf): AsyncGenerator<(string | null)[]> {
  const gunzip = createReadStream(tableFile(folder, name)).pipe(createGunzip());
  for await (const line of createInterface({ input: gunzip, crlfDelay: Infinity }))
    yield JSON.parse(line) as (string | null)[];
}

async function fill(connection: Connection, folder: string, table: TableOf): Promise<void> {
  const { name, columns } = table;
  const sql = `INSERT INTO \`${name}\` (${columns.map((column) => `\`${column.name}\``).join(', ')}) VALUES (${columns
    .map(({ isBytes }) => (isBytes ? 'UNHEX(?)' : '?'))
    .join(', ')})`;
  let rows: (string | null)[][] = [];
  let letters = 0;
  const send = async () => {
    if (rows.length > 0) await connection.batch(sql, rows);
    [rows, letters] = [[], 0];
  };
  for await (const row of rowsIn(folder, table)) {
    rows.push(row);
    for (const value of row) letters += value?.length ?? 0;
    if (letters > mostLetters || rows.length >= mostRows) await send();
  }
  await send();
}

/** Fills the database, which has no tables. Throws BackupError where it does not come to what the backup says. */
async function fillAll(database: Config['database'], folder: string, made: Manifest): Promise<void> {
  const until = mustBeKnown(made);
  const db = new Db(database, 2, jobSeconds);
  const connection = await connectTo(database);
  try {
    await migrate(db, until);
    const shapes = await shapesOf(connection);
    const odd = made.tables.find(({ name, columns }) => {
      const there = shapes.get(name)?.columns;
      return JSON.stringify(there) !== JSON.stringify(columns);
    });
    const missing = [...shapes.keys()].find((name) => !made.tables.some((table) => table.name === name));
    if (odd ?? missing) throw damaged('manifest.json');
    await connection.query('SET FOREIGN_KEY_CHECKS = 0');
    // What migrating has put there stands in the backup too.
    for (const name of shapes.keys()) await connection.query(`DELETE FROM \`${name}\``);
    for (const table of made.tables) {
      await connection.beginTransaction();
      await fill(connection, folder, table);
      await connection.commit();
    }
    for (const table of made.tables) {
      const { rows, content } = await countedOf(connection, table.name, shapes.get(table.name)!);
      if (rows !== table.rows || content !== table.content)
        throw new BackupError(
          `${table.name} does not match the backup: ${rows} rows instead of ${table.rows}, or other contents.`,
        );
    }
    await migrate(db);
  } finally {
    await connection.end();
    await db.close();
  }
}

/** Opens one sealed password. Throws BackupError where the key is another one; false: there is none to open. */
async function opensOne(database: Config['database'], keys: Keys): Promise<boolean> {
  const connection = await connectTo(database);
  try {
    const [row] = await connection.query<{ personId: string; secretSealed: string }[]>(
      'SELECT personId, secretSealed FROM accounts WHERE secretSealed IS NOT NULL LIMIT 1',
    );
    if (!row) return false;
    unsealText(keys, row.personId, row.secretSealed);
    return true;
  } catch (error) {
    throw new BackupError(`The key does not open what is sealed in this backup: ${(error as Error).message}.`, {
      cause: error,
    });
  } finally {
    await connection.end();
  }
}

const tablesIn = async (connection: Connection, name: string): Promise<string[]> =>
  (
    await connection.query<{ t: string }[]>(
      'SELECT TABLE_NAME AS t FROM information_schema.TABLES WHERE TABLE_SCHEMA = ?',
      [name],
    )
  ).map(({ t }) => t);

/** Creates the database if needed and does the work in it. If the work fails, the database is emptied again. */
async function inEmpty<T>(
  database: Config['database'],
  name: string,
  work: (inside: Config['database']) => Promise<T>,
): Promise<T> {
  const outside = await connectTo(database, null);
  try {
    const [there] = await outside.query<unknown[]>('SELECT 1 FROM information_schema.SCHEMATA WHERE SCHEMA_NAME = ?', [
      name,
    ]);
    if (!there) await outside.query(`CREATE DATABASE \`${name}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci`);
    const tables = await tablesIn(outside, name);
    if (tables.length > 0)
      throw new BackupError(
        `The database ${name} is not empty: ${tables.length} tables are in it. Nothing was changed. Restore into an empty one, or into another data folder.`,
      );
    return await work({ ...database, name }).catch(async (error: unknown) => {
      await emptied(outside, name);
      throw error;
    });
  } finally {
    await outside.end();
  }
}

async function emptied(connection: Connection, name: string): Promise<void> {
  await connection.query('SET FOREIGN_KEY_CHECKS = 0');
  for (const table of await tablesIn(connection, name)) await connection.query(`DROP TABLE \`${name}\`.\`${table}\``);
}

/** The key that lies in the backup. null: it lies apart. Throws BackupError where the passphrase does not open it. */
export function keyIn(folder: string, passphrase: string | undefined): Keys | null {
  const file = sealedKeyFile(folder);
  if (!existsSync(file) || passphrase === undefined) return null;
  return openedKey(readFileSync(file), passphrase);
}

/** Fills the configuration's database, which must be empty. On any error it is empty again. */
export async function restoreBackup(database: Config['database'], folder: string): Promise<Manifest> {
  const made = readManifest(folder);
  await checkFiles(folder, made);
  await inEmpty(database, database.name, (inside) => fillAll(inside, folder, made));
  return made;
}

/** `opened`: true if a sealed password opened, false if there was none, null if there was no key to check. */
export interface Verified {
  made: Manifest;
  opened: boolean | null;
}

/** Restores the backup beside the real database, compares all of it, opens one sealed password, and takes it away again. */
export async function verifyBackup(database: Config['database'], folder: string, keys: Keys | null): Promise<Verified> {
  const made = readManifest(folder);
  await checkFiles(folder, made);
  const beside = `${database.name}_verify`;
  const outside = await connectTo(database, null);
  try {
    // Left over from a check that was killed.
    await outside.query(`DROP DATABASE IF EXISTS \`${beside}\``);
    return await inEmpty(database, beside, async (inside) => {
      await fillAll(inside, folder, made);
      return { made, opened: keys && (await opensOne(inside, keys)) };
    });
  } finally {
    await outside.query(`DROP DATABASE IF EXISTS \`${beside}\``);
    await outside.end();
  }
}
