/**
 * Brings the database's tables up to date with umzug; what ran is kept in the table `migrations`. One program at a time
 * does it. Each statement stands by itself and how far one came is written down, so that a start that was killed in the
 * middle is gone on with by the next one.
 */
import { SequelizeStorage, Umzug } from 'umzug';
import { randomUUID } from 'node:crypto';
import { hasGivenWay } from './away';
import type { Db } from './connection';
import { type Migration, migrations } from './migrations';

/** So long one program waits for another one to be through; large tables take minutes. */
const lockSeconds = 3600;
/**
 * What the database says when a statement was done already: a table, column or key that is there (1050, 1060, 1061), or
 * one to be dropped that is not (1051, 1091); of rows, that they are there (1062).
 */
const doneAlready = new Set([1050, 1060, 1061, 1051, 1091]);
function wasDone(sql: string, error: unknown): boolean {
  const { errno, original } = error as { errno?: number; original?: { errno?: number } };
  const number = original?.errno ?? errno ?? 0;
  return doneAlready.has(number) || (number === 1062 && sql.startsWith('INSERT'));
}

/**
 * Names of the migrations that ran now. `until`: the last one that is to run. Throws an Error in words when a newer
 * program has been at work on this database.
 */
export async function migrate(db: Db, until?: string): Promise<string[]> {
  return db.transaction(async (tx) => {
    // The lock is the connection's, and goes with it; on a cluster it holds on one node alone.
    const lock = await db.one<{ ok: number | null }>(
      `SET STATEMENT max_statement_time = 0 FOR SELECT GET_LOCK(CONCAT('sheaf-migrate-', DATABASE()), ${lockSeconds}) AS ok`,
      {},
      tx,
    );
    if (lock?.ok !== 1)
      throw new Error('Another start has been bringing the tables up to date for an hour. Look whether it still runs.');
    try {
      return await db.beside(() => inCluster(db, () => run(db, until)));
    } finally {
      await db.one("SELECT RELEASE_LOCK(CONCAT('sheaf-migrate-', DATABASE())) AS ok", {}, tx);
    }
  });
}

/** The cluster's lock expires after this time if its holder dies; it is renewed this often, and waited for this often. */
const heldSeconds = 30;
const heldAgainMs = 5_000;
const askedAgainMs = 500;

/** On a cluster, a row serves as the lock: its holder renews it while it works. */
async function inCluster<T>(db: Db, work: () => Promise<T>): Promise<T> {
  const cluster = await db.one<{ on: number }>('SELECT @@wsrep_on AS `on`').catch(() => null);
  if (!cluster?.on) return work();
  await db.run(
    'CREATE TABLE IF NOT EXISTS migration_lock (only TINYINT PRIMARY KEY, holder CHAR(36) CHARACTER SET ascii NOT NULL, until DATETIME(3) NOT NULL)',
  );
  const holder = randomUUID();
  const [now, later] = ['UTC_TIMESTAMP(3)', `DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${heldSeconds} SECOND)`];
  const take = async (): Promise<boolean> => {
    try {
      await db.run(`DELETE FROM migration_lock WHERE until < ${now}`);
      await db.run(`INSERT INTO migration_lock (only, holder, until) VALUES (1, :holder, ${later})`, { holder });
      return true;
    } catch (error) {
      // Another one has it, or was first with it.
      const { errno, original } = error as { errno?: number; original?: { errno?: number } };
      if ((original?.errno ?? errno) !== 1062 && !hasGivenWay(error)) throw error;
      return false;
    }
  };
  while (!(await take())) await new Promise((next) => setTimeout(next, askedAgainMs));
  const renewal = setInterval(() => {
    db.run(`UPDATE migration_lock SET until = ${later} WHERE holder = :holder`, { holder }).catch(() => {});
  }, heldAgainMs);
  try {
    return await work();
  } finally {
    clearInterval(renewal);
    await db.run('DELETE FROM migration_lock WHERE holder = :holder', { holder });
  }
}

/** Tables that migrating makes for itself. */
export const ofMigrations: ReadonlySet<string> = new Set(['migrations', 'migration_steps', 'migration_lock']);

async function run(db: Db, until?: string): Promise<string[]> {
  await db.run(
    'CREATE TABLE IF NOT EXISTS migration_steps (name VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, done INT NOT NULL)',
  );
  const umzug = new Umzug({
    migrations: migrations.map((migration) => ({ name: migration.name, up: () => step(db, migration) })),
    storage: new SequelizeStorage({ sequelize: db.sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  const known = new Set(migrations.map(({ name }) => name));
  const newer = (await db.select<{ name: string }>('SELECT name FROM migrations').catch(() => [])).filter(
    ({ name }) => !known.has(name),
  );
  if (newer.length > 0)
    throw new Error(
      `This database was brought up to date by a newer Sheaf (${newer.map(({ name }) => name).join(', ')}). Start that version, or one after it; nothing was changed.`,
    );
  return (await umzug.up(until ? { to: until } : undefined)).map(({ name }) => name);
}

async function step(db: Db, { name, statements }: Migration): Promise<void> {
  const keep = (done: number) =>
    db.run('REPLACE INTO migration_steps (name, done) VALUES (:name, :done)', { name, done });
  const before = await db.one<{ done: number }>('SELECT done FROM migration_steps WHERE name = :name', { name });
  const from = before?.done ?? 0;
  if (!before) await keep(0);
  for (let i = from; i < statements.length; i++) {
    const sql = statements[i]!;
    // A large table may take its time.
    await db.run(`SET STATEMENT max_statement_time = 0 FOR ${sql}`).catch((error: unknown) => {
      // The one at which a start was killed may have been through.
      if (!before || i > from || !wasDone(sql, error)) throw error;
    });
    await keep(i + 1);
  }
}
