/**
 * Writes a backup while Sheaf is in use: all tables as they are at one moment, since they are read in one transaction
 * that sees nothing of what comes after its beginning. The folder appears under its name once it is whole.
 */
import { nowIso } from '../clock';
import { createHash } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import type { Connection } from 'mariadb';
import type { Keys } from '../auth/keys';
import type { Config } from '../config';
import { shortOf } from '../local/disk';
import { ofMigrations } from '../db/migrate';
import { connectTo } from './connect';
import { sealedKey } from './key';
import {
  BackupError,
  type Manifest,
  manifestFile,
  sealedKeyFile,
  sumOfFile,
  tableFile,
  type TableOf,
  writtenManifest,
} from './manifest';

type Columns = TableOf['columns'];
interface Shape {
  columns: Columns;
  key: string[];
}

/** Every table by its name, with what is written of it: what the database makes by itself is not. */
export async function shapesOf(connection: Connection): Promise<Map<string, Shape>> {
  const rows = await connection.query<{ t: string; c: string; type: string; made: string | null; k: string | null }[]>(
    `SELECT c.TABLE_NAME AS t, c.COLUMN_NAME AS c, c.DATA_TYPE AS type, c.GENERATION_EXPRESSION AS made, k.ORDINAL_POSITION AS k
     FROM information_schema.COLUMNS c LEFT JOIN information_schema.KEY_COLUMN_USAGE k
       ON k.TABLE_SCHEMA = c.TABLE_SCHEMA AND k.TABLE_NAME = c.TABLE_NAME AND k.COLUMN_NAME = c.COLUMN_NAME AND k.CONSTRAINT_NAME = 'PRIMARY'
     WHERE c.TABLE_SCHEMA = DATABASE() ORDER BY c.TABLE_NAME, c.ORDINAL_POSITION`,
  );
  const shapes = new Map<string, Shape & { places: number[] }>();
  for (const { t, c, type, made, k } of rows) {
    if (ofMigrations.has(t)) continue;
    const shape = shapes.get(t) ?? { columns: [], key: [], places: [] };
    shapes.set(t, shape);
    if (made === null) shape.columns.push({ name: c, isBytes: /blob|binary/.test(type) });
    if (k !== null) shape.key[Number(k) - 1] = c;
  }
  return shapes;
}

/** The rows of a table as lines, each a list of texts, in the order of its key; many lines a piece. */
async function* linesOf(connection: Connection, table: string, { columns, key }: Shape): AsyncGenerator<string> {
  const list = columns.map(({ name, isBytes }) => (isBytes ? `HEX(\`${name}\`) AS \`${name}\`` : `\`${name}\``));
  const order = (key.length > 0 ? key : columns.map(({ name }) => name)).map((name) => `\`${name}\``);
  const rows = connection.queryStream({
    sql: `SELECT ${list.join(', ')} FROM \`${table}\` ORDER BY ${order.join(', ')}`,
    rowsAsArray: true,
    // As the database writes them: no number is rounded, no day is moved.
    typeCast: (field) => field.string(),
  });
  let piece = '';
  for await (const row of rows) {
    piece += `${JSON.stringify(row)}\n`;
    if (piece.length < 1 << 20) continue;
    yield piece;
    piece = '';
  }
  if (piece) yield piece;
}

interface Counted {
  rows: number;
  content: string;
}
const counting = () => {
  const hash = createHash('sha256');
  let rows = 0;
  const see = (piece: string): string => {
    hash.update(piece);
    for (let at = piece.indexOf('\n'); at >= 0; at = piece.indexOf('\n', at + 1)) rows++;
    return piece;
  };
  return { see, told: (): Counted => ({ rows, content: hash.digest('hex') }) };
};

/** How many rows the table has, and what they come to. */
export async function countedOf(connection: Connection, table: string, shape: Shape): Promise<Counted> {
  const { see, told } = counting();
  for await (const piece of linesOf(connection, table, shape)) see(piece);
  return told();
}

async function writeTable(connection: Connection, folder: string, name: string, shape: Shape): Promise<TableOf> {
  const { see, told } = counting();
  const file = tableFile(folder, name);
  await pipeline(
    linesOf(connection, name, shape),
    new Transform({ transform: (piece: Buffer, _, next) => next(null, see(piece.toString())) }),
    createGzip({ level: 4 }),
    createWriteStream(file, { mode: 0o600, flags: 'wx' }),
  );
  return { name, columns: shape.columns, ...told(), file: (await sumOfFile(file))! };
}

/** Bytes that the database's tables take. */
export async function sizeOf(connection: Connection): Promise<number> {
  const [row] = await connection.query<{ bytes: string | number | null }[]>(
    'SELECT SUM(DATA_LENGTH) AS bytes FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()',
  );
  return Number(row?.bytes ?? 0);
}
/** Throws BackupError where the disk has less than this. */
export function mustHold(folder: string, bytes: number): void {
  const short = shortOf(folder, bytes);
  if (short) throw new BackupError(short);
}

export interface BackupOptions {
  /** Seals the key by this and puts it beside the tables. */
  key?: { keys: Keys; passphrase: string };
  /** Called once the moment is fixed of which the backup will tell. */
  begun?: () => Promise<void> | void;
}

/**
 * Writes the folder `to`, which must not be there. Returns what stands in it. Throws BackupError, with nothing left
 * behind, where it is there already, or the disk is short, or the passphrase.
 */
export async function writeBackup(
  database: Config['database'],
  to: string,
  { key, begun }: BackupOptions = {},
): Promise<Manifest> {
  if (existsSync(to)) throw new BackupError(`${to} already exists. Choose a new folder; nothing was written.`);
  const sealed = key && sealedKey(key.keys, key.passphrase);
  mkdirSync(dirname(resolve(to)), { recursive: true });
  const connection = await connectTo(database);
  const partial = `${resolve(to)}.partial`;
  try {
    // Compressed it is a third or less; half is asked for.
    mustHold(dirname(partial), (await sizeOf(connection)) / 2 + 10e6);
    rmSync(partial, { recursive: true, force: true });
    mkdirSync(partial, { mode: 0o700 });
    await connection.query('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ');
    await connection.query('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY');
    const madeAt = nowIso();
    await begun?.();
    const migrations = await connection.query<{ name: string }[]>('SELECT name FROM migrations ORDER BY name');
    const keys = await connection.query<{ id: string }[]>('SELECT id FROM seal_keys ORDER BY id');
    const tables: TableOf[] = [];
    for (const [name, shape] of await shapesOf(connection))
      tables.push(await writeTable(connection, partial, name, shape));
    const made: Manifest = {
      ...{ format: 1, madeAt, tables },
      migrations: migrations.map(({ name }) => name),
      keys: keys.map(({ id }) => id),
    };
    if (sealed) writeFileSync(sealedKeyFile(partial), sealed, { mode: 0o600 });
    writeFileSync(manifestFile(partial), writtenManifest(made), { mode: 0o600 });
    renameSync(partial, resolve(to));
    return made;
  } catch (error) {
    rmSync(partial, { recursive: true, force: true });
    throw error;
  } finally {
    await connection.end();
  }
}
