/** A connection of the driver's own, for rows as they are written and in streams. */
import { type Connection, createConnection } from 'mariadb';
import type { Config } from '../config';
import { Hosts, tlsOf } from '../db/hosts';

/** `name`: of another database in the place of the configuration's; null: of none. */
export async function connectTo(
  database: Config['database'],
  name: string | null = database.name,
): Promise<Connection> {
  const { host, port, others = [], user, password } = database;
  const at = await new Hosts([{ host, port }, ...others]).choose();
  return createConnection({
    ...at,
    user,
    password,
    ...(name === null ? {} : { database: name }),
    ...(database.tls ? { ssl: tlsOf(database) } : {}),
    bigIntAsNumber: true,
    initSql: [
      'SET NAMES utf8mb4 COLLATE utf8mb4_uca1400_as_ci',
      "SET time_zone = '+00:00'",
      'SET max_statement_time = 0',
    ],
  });
}
