/** The demo scenario and the empty register, each made once for a whole run; every test gets a copy. */
import { randomBytes } from 'node:crypto';
import { createConnection } from 'mariadb';
import { type Keys, keysFrom, writtenKeys } from '../auth/keys';
import { alone, type Config } from '../config';
import { Db } from '../db/connection';
import { migrate } from '../db/migrate';
import { type DemoSignIn, loadDemo } from '../demo';
import { type LocalDatabase, makeDatabase } from '../local/mariadb';

type At = Pick<LocalDatabase, 'host' | 'port' | 'user' | 'password'>;

export const testDay = '2026-08-17';
export const base = 'http://127.0.0.1:8200';

/** What the copies have in common. */
export interface Templates {
  /** By which the demo's secrets are sealed, in hexadecimal digits. */
  key: string;
  signIns: DemoSignIn[];
}

const nameOf = (demo: boolean): string => (demo ? 'sheaf_template_demo' : 'sheaf_template_empty');

export const configOf = (at: At, name: string, key: Keys): Config => ({
  port: 8200,
  dataFolder: '.test-data',
  url: base,
  today: () => testDay,
  key,
  ...alone,
  database: { host: at.host, port: at.port, user: at.user, password: at.password, name },
});

export async function makeTemplates(at: At): Promise<Templates> {
  const key = keysFrom([randomBytes(32)]);
  let signIns: DemoSignIn[] = [];
  for (const demo of [false, true]) {
    const config = configOf(at, nameOf(demo), key);
    await makeDatabase(at, config.database.name, true);
    const db = new Db(config.database);
    await migrate(db);
    if (demo) signIns = await loadDemo(db, config);
    await db.close();
  }
  return { key: writtenKeys(key).trim(), signIns };
}

/** Makes the database `name` anew as a copy, its tables with all their keys and rows. */
export async function copyTemplate(at: At, demo: boolean, name: string): Promise<void> {
  await makeDatabase(at, name, true);
  const { host, port, user, password } = at;
  const connection = await createConnection({ host, port, user, password, database: name });
  try {
    await connection.query('SET FOREIGN_KEY_CHECKS = 0, UNIQUE_CHECKS = 0');
    const from = nameOf(demo);
    const tables = await connection.query<Record<string, string>[]>(`SHOW TABLES FROM ${from}`);
    for (const table of tables.map((row) => Object.values(row)[0]!)) {
      const [made] = await connection.query<Record<string, string>[]>(`SHOW CREATE TABLE ${from}.\`${table}\``);
      await connection.query(made!['Create Table']!);
      // What the database makes by itself is not written.
      const columns = await connection.query<{ c: string }[]>(
        "SELECT COLUMN_NAME AS c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND IS_GENERATED = 'NEVER' ORDER BY ORDINAL_POSITION",
        [from, table],
      );
      const list = columns.map(({ c }) => `\`${c}\``).join(', ');
      await connection.query(`INSERT INTO \`${table}\` (${list}) SELECT ${list} FROM ${from}.\`${table}\``);
    }
  } finally {
    await connection.end();
  }
}
