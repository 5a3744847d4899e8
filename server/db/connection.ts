/**
 * The database: Sequelize over MariaDB, with the few helpers that everything uses. Rows come and go as plain
 * objects; hot paths send rows in batches on the transaction's own connection.
 */
import { QueryTypes, Sequelize, Transaction } from 'sequelize';
import type { Config } from '../config';

export type Param = string | number | null | Buffer | string[] | number[];
export type Params = Record<string, Param>;
export type Tx = Transaction;

interface Batcher {
  batch(sql: string, rows: unknown[][]): Promise<{ affectedRows: number }>;
  query<T>(sql: string | { sql: string; typeCast: false }, values: unknown[]): Promise<T>;
}
interface Connections {
  getConnection(options: { type: 'read' }): Promise<Batcher>;
  releaseConnection(connection: Batcher): void;
}

export class Db {
  readonly sequelize: Sequelize;

  constructor({ host, port, name, user, password }: Config['database'], poolSize = 8) {
    this.sequelize = new Sequelize(name, user, password, {
      host,
      port,
      dialect: 'mariadb',
      logging: false,
      pool: { max: poolSize, min: 0, idle: 20_000, acquire: 60_000 },
      dialectOptions: {
        dateStrings: true,
        bigIntAsNumber: true,
        insertIdAsNumber: true,
        connectTimeout: 10_000,
        initSql: [
          'SET NAMES utf8mb4 COLLATE utf8mb4_uca1400_as_ci',
          "SET time_zone = '+00:00'",
          // Long lists of ids are looked up by the index, not made into a table that is joined the wrong way round.
          'SET in_predicate_conversion_threshold = 0',
          // Many ids come as few texts.
          'SET group_concat_max_len = 16777216',
        ],
      },
    });
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
    const { connection } = transaction as unknown as { connection: Batcher };
    await connection.batch(sql, rows);
  }

  /** One statement with `?` for each value, however many they are; the number of rows that it changed. */
  async update(sql: string, values: unknown[], transaction: Tx): Promise<number> {
    const { connection } = transaction as unknown as { connection: Batcher };
    return (await connection.query<{ affectedRows: number }>(sql, values)).affectedRows;
  }

  /**
   * Statements that are one transaction, sent as one: a round trip in the place of one for each. `?` for each value.
   * What goes wrong undoes all of them, and is thrown.
   */
  async atomic(statements: readonly (readonly [sql: string, ...values: Param[]])[]): Promise<void> {
    const connections = this.sequelize.connectionManager as unknown as Connections;
    const connection = await connections.getConnection({ type: 'read' });
    try {
      await connection.query(
        `BEGIN NOT ATOMIC DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END; START TRANSACTION; ${statements.map(([sql]) => `${sql};`).join(' ')} COMMIT; END`,
        statements.flatMap(([, ...values]) => values),
      );
    } finally {
      connections.releaseConnection(connection);
    }
  }

  /** Many rows as the driver gives them, in half the time of `select`; `?` for each value, `(?)` for a list of them. */
  async rows<T extends object>(sql: string, values: Param[] = []): Promise<T[]> {
    const connections = this.sequelize.connectionManager as unknown as Connections;
    const connection = await connections.getConnection({ type: 'read' });
    try {
      return await connection.query<T[]>({ sql, typeCast: false }, values);
    } finally {
      connections.releaseConnection(connection);
    }
  }

  /**
   * Read committed: what a transaction relies on it locks and reads as it is now, so nothing hangs on a view of the
   * past, which newer servers refuse to write over.
   */
  transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T> {
    return this.sequelize.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED }, work);
  }

  close(): Promise<void> {
    return this.sequelize.close();
  }
}
