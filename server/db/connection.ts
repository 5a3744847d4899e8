/**
 * The database: Sequelize over MariaDB, with the few helpers that everything uses. Rows come and go as plain
 * objects; hot paths send rows in batches on the transaction's own connection.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import {
  type QueryOptions,
  type QueryOptionsWithType,
  QueryTypes,
  Sequelize,
  Transaction,
  type TransactionOptions,
} from 'sequelize';
import type { Config } from '../config';
import { CommitLost, GivenWay, hasGivenWay, isAway } from './away';
import { type Connection, Hosts, tlsOf } from './hosts';
import { type Models, modelsOf } from './models';

export type Param = string | number | null | Buffer | string[] | number[];
export type Params = Record<string, Param>;
export type Tx = Transaction;

/** The driver's own connection, for what Sequelize has no word for: many rows with one statement, and rows as they come. */
interface Driver {
  batch(sql: string, rows: unknown[][]): Promise<{ affectedRows: number }>;
  query<T>(sql: string | { sql: string; typeCast: false }, values: unknown[]): Promise<T>;
}
/** Which connection each transaction is on: the one that was taken from the pool for its beginning. */
class Drivers {
  private readonly of = new WeakMap<Tx, Driver>();
  private readonly beginning = new AsyncLocalStorage<{ taken: Driver | null }>();
  private readonly clustered = new WeakMap<Driver, boolean>();

  taken(connection: Driver): void {
    const at = this.beginning.getStore();
    if (at) at.taken ??= connection;
  }
  async begin(sequelize: Sequelize, options: TransactionOptions): Promise<Tx> {
    const at = { taken: null as Driver | null };
    const tx = await this.beginning.run(at, () => sequelize.transaction(options));
    this.of.set(tx, at.taken!);
    return tx;
  }
  within<T>(sequelize: Sequelize, options: TransactionOptions, work: (tx: Tx) => Promise<T>): Promise<T> {
    const at = { taken: null as Driver | null };
    return this.beginning.run(at, () =>
      sequelize.transaction(options, (tx) => {
        this.of.set(tx, at.taken!);
        return work(tx);
      }),
    );
  }
  /** Whether the server belongs to a cluster, in which another one can write a row first. Asked once per connection. */
  async isClustered(driver: Driver): Promise<boolean> {
    let is = this.clustered.get(driver);
    if (is === undefined) {
      const [row] = await driver.query<{ Value: string }[]>("SHOW VARIABLES LIKE 'wsrep_on'", []);
      is = row?.Value === 'ON';
      this.clustered.set(driver, is);
    }
    return is;
  }
  under(transaction: Tx): Driver {
    const driver = this.of.get(transaction);
    if (!driver) throw new Error('This transaction was not begun by Db.');
    return driver;
  }
}

/** So often a transaction begins again: after giving way, and while the database is away (about 15 seconds). */
const mostWays = 12;
const mostAway = 9;
/** And a statement outside of one. */
const mostAlone = 3;
/** From 20 ms to 4 s, by chance longer or shorter, so that two that met do not meet again. */
export const pauseAfter = (tries: number): Promise<void> =>
  new Promise((next) => setTimeout(next, Math.min(4000, 20 * 2 ** tries) * (0.5 + Math.random())));

/** So long a statement of somebody who waits for its answer may take, and one of a job; in seconds. */
const mostSeconds = 60;
export const jobSeconds = 900;
/** What is asked beforehand is sent within this, where a connection is free. */
const longestSendMs = 50;
/** And the question whether the database is there. */
const probeSeconds = 5;

const readCommitted = { isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED };

const connect = (
  database: Config['database'],
  hosts: Hosts,
  drivers: Drivers,
  poolSize: number,
  seconds: number,
  acquireMs = 60_000,
): Guarded =>
  new Guarded(database.name, database.user, database.password, {
    host: database.host,
    port: database.port,
    dialect: 'mariadb',
    logging: false,
    pool: {
      max: poolSize,
      min: 0,
      idle: 20_000,
      acquire: acquireMs,
      validate: (connection) => hosts.holds(connection as Connection),
    },
    hooks: {
      beforeConnect: async (config) => {
        if (!hosts.areSeveral) return;
        const chosen = await hosts.choose();
        config.host = chosen.host;
        config.port = String(chosen.port);
      },
      afterConnect: async (connection, config) => {
        if (hosts.areSeveral)
          await hosts.joined(connection as Connection, { host: config.host ?? '', port: Number(config.port) });
      },
      afterPoolAcquire: (connection) => {
        drivers.taken(connection as Driver);
      },
    },
    dialectOptions: {
      dateStrings: true,
      bigIntAsNumber: true,
      insertIdAsNumber: true,
      connectTimeout: 10_000,
      ssl: tlsOf(database),
      initSql: [
        'SET NAMES utf8mb4 COLLATE utf8mb4_uca1400_as_ci',
        "SET time_zone = '+00:00'",
        `SET max_statement_time = ${seconds}`,
        // Long lists of ids are looked up by the index, not made into a table that is joined the wrong way round.
        'SET in_predicate_conversion_threshold = 0',
        // Many ids come as few texts.
        'SET group_concat_max_len = 16777216',
        // What another server was told that it is kept is seen here too.
        ...(hosts.areSeveral ? ['SET wsrep_sync_wait = 1'] : []),
      ],
    },
  });

/** Sequelize, with what holds for every statement, of models too. */
class Guarded extends Sequelize {
  /** Before a statement outside a transaction. */
  mustBeFree: (sql: string) => void = () => {};
  /** The database was away. */
  wasAway: () => void = () => {};

  /** Outside a transaction what gave way is done again, and what only reads also when the connection broke: reading twice does no harm. */
  override query = (async (statement: string | { query: string; values: unknown[] }, options: QueryOptions = {}) => {
    const sql = typeof statement === 'string' ? statement : statement.query;
    if (!options.transaction) this.mustBeFree(sql);
    const reads = !options.transaction && options.type === QueryTypes.SELECT;
    for (let tries = 1; ; tries++)
      try {
        return await super.query(statement, options as QueryOptionsWithType<QueryTypes.RAW>);
      } catch (error) {
        if (isAway(error)) this.wasAway();
        // A statement by itself that had to give way was undone whole.
        const mayAgain = !options.transaction && (hasGivenWay(error) || (reads && isAway(error)));
        if (!mayAgain || tries >= mostAlone) throw error;
        await pauseAfter(tries);
      }
  }) as Sequelize['query'];
}

export class Db {
  readonly sequelize: Guarded;
  /** Every table; what is not measured to need SQL of its own is read and written by them. */
  readonly models: Models;
  private readonly hosts: Hosts;
  private readonly drivers = new Drivers();
  private readonly sending = new Set<Promise<void>>();
  private probing: Guarded | null = null;
  /** The transaction in which the code at work is. */
  private readonly within = new AsyncLocalStorage<Tx | null>();
  /**
   * Whether asking for a second connection in a transaction is an error, as it is in tests: where all connections are
   * taken by those who wait for a second one, nobody goes on.
   */
  static isStrict = false;

  /** `seconds`: how long one statement may take. */
  constructor(
    private readonly config: Config['database'],
    poolSize = 8,
    seconds = mostSeconds,
  ) {
    this.hosts = new Hosts([{ host: config.host, port: config.port }, ...(config.others ?? [])]);
    this.sequelize = connect(config, this.hosts, this.drivers, poolSize, seconds);
    this.sequelize.mustBeFree = (sql) => this.mustBeFree(undefined, sql);
    this.sequelize.wasAway = () => this.hosts.fails();
    this.models = modelsOf(this.sequelize);
  }

  /**
   * Whether the database answers, asked on a connection kept for this alone: all others may be busy. The number of
   * migrations, and the database's version.
   */
  async probe(): Promise<{ migrations: number; version: string }> {
    this.probing ??= connect(this.config, this.hosts, new Drivers(), 1, probeSeconds, probeSeconds * 1000);
    const [row] = await this.probing.query<{ migrations: number; version: string }>(
      'SELECT COUNT(*) AS migrations, VERSION() AS version FROM migrations',
      { type: QueryTypes.SELECT },
    );
    return row!;
  }

  private mustBeFree(transaction: Tx | undefined, sql: string): void {
    if (!transaction && Db.isStrict && this.within.getStore())
      throw new Error(`A second connection is asked for within a transaction: ${sql.slice(0, 80)}`);
  }

  /** For what is written down beside the transaction at work, and need not be: on a connection of its own, if one is free. */
  beside<T>(work: () => T): T {
    return this.within.run(null, work);
  }

  select<T extends object>(sql: string, replacements: Params = {}, transaction?: Tx): Promise<T[]> {
    return this.sequelize.query<T>(sql, { replacements, type: QueryTypes.SELECT, transaction });
  }

  async one<T extends object>(sql: string, replacements: Params = {}, transaction?: Tx): Promise<T | null> {
    return (await this.select<T>(sql, replacements, transaction))[0] ?? null;
  }

  /** Number of rows affected. */
  async run(sql: string, replacements: Params = {}, transaction?: Tx): Promise<number> {
    const [result] = await this.sequelize.query(sql, { replacements, transaction });
    return (result as { affectedRows?: number } | undefined)?.affectedRows ?? 0;
  }

  /** One statement for many rows, `?` for each value, within the transaction. */
  async batch(sql: string, rows: unknown[][], transaction: Tx): Promise<void> {
    if (rows.length === 0) return;
    const connection = this.drivers.under(transaction);
    await connection.batch(sql, rows);
    if (!(await this.drivers.isClustered(connection))) return;
    // Where another server of a cluster was first, the transaction is undone, and the database's answer to many rows at
    // once is nevertheless that they are written (seen with MariaDB 10.11): all that follows would be kept by itself.
    const [now] = await connection.query<{ within: number }[]>('SELECT @@in_transaction AS within', []);
    if (now?.within !== 1) throw new GivenWay();
  }

  /** One statement with `?` for each value, however many they are; the number of rows that it changed. */
  async update(sql: string, values: unknown[], transaction: Tx): Promise<number> {
    const connection = this.drivers.under(transaction);
    return (await connection.query<{ affectedRows: number }>(sql, values)).affectedRows;
  }

  /**
   * Statements that are one transaction, sent as one: a round trip in the place of one for each. `?` for each value.
   * What goes wrong undoes all of them, and is thrown.
   */
  async atomic(statements: readonly (readonly [sql: string, ...values: Param[]])[]): Promise<void> {
    this.mustBeFree(undefined, statements[0]?.[0] ?? '');
    await this.sequelize.query(
      `BEGIN NOT ATOMIC DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END; START TRANSACTION; ${statements.map(([sql]) => `${sql};`).join(' ')} COMMIT; END`,
      { replacements: statements.flatMap(([, ...values]) => values) },
    );
  }

  /**
   * Many rows as the driver gives them, in half the time of `select`; `?` for each value, `(?)` for a list of them.
   * Without a transaction on a connection of its own.
   */
  async rows<T extends object>(
    sql: string,
    values: (Param | readonly string[])[] = [],
    transaction?: Tx,
  ): Promise<T[]> {
    if (transaction) return this.drivers.under(transaction).query<T[]>({ sql, typeCast: false }, values);
    this.mustBeFree(undefined, sql);
    let isSent = () => {};
    const sent = new Promise<void>((done) => (isSent = done));
    this.sending.add(sent);
    const over = () => {
      isSent();
      this.sending.delete(sent);
    };
    return this.drivers
      .within(this.sequelize, {}, (tx) => {
        const rows = this.drivers.under(tx).query<T[]>({ sql, typeCast: false }, values);
        // The driver writes what it is told in the next turn.
        setImmediate(over);
        return rows;
      })
      .finally(over);
  }

  /**
   * Until the statements of `rows` are with the database: who computes next would otherwise keep them from being sent.
   * Some may wait for a connection that others have, so not for long.
   */
  async sent(): Promise<void> {
    await Promise.race([Promise.all(this.sending), new Promise((next) => setTimeout(next, longestSendMs))]);
  }

  /**
   * Read committed: what a transaction relies on it locks and reads as it is now, so nothing hangs on a view of the
   * past, which newer servers refuse to write over. `work` is done again, with growing pauses, when the transaction had
   * to give way to another one or the database went away before the end: so it may do nothing that outlives it. Throws
   * CommitLost where only the last answer is missing.
   */
  async transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T> {
    this.mustBeFree(undefined, 'BEGIN');
    for (let tries = 1; ; tries++) {
      let isCommitting = false;
      try {
        return await this.drivers.within(this.sequelize, readCommitted, async (tx) => {
          const made = await this.within.run(tx, () => work(tx));
          isCommitting = true;
          return made;
        });
      } catch (error) {
        if (isAway(error)) this.hosts.fails();
        if (isCommitting && isAway(error)) throw new CommitLost(error);
        const again = hasGivenWay(error) ? tries < mostWays : isAway(error) && tries < mostAway;
        if (!again) throw error;
        await pauseAfter(tries);
      }
    }
  }

  /** One that its caller ends, beside the transaction at work. */
  begin(): Promise<Tx> {
    return this.drivers.begin(this.sequelize, readCommitted);
  }

  async close(): Promise<void> {
    await this.probing?.close();
    await this.sequelize.close();
  }
}
