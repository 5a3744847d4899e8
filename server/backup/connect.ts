/** A connection of the driver's own, for rows as they are written and in streams. */
import { type Connection, createConnection } from 'mariadb';
import type { Config } from '../config';
import { Hosts } from '../db/hosts';

/** `name`: of another database in the place of the configuration's; null: of none. */
export async function connectTo(
  { host, port, others = [], name: own, user, password, tls }: Config['database'],
  name: string | null = own,
): Promise<Connection> {
  const at = await new Hosts([{ host, port }, ...others]).choose();
  return createConnection({
    ...at,
    user,
    password,
    ...(name === null ? {} : { database: name }),
    ...(tls ? { ssl: tls.ca === undefined ? true : { ca: tls.ca } } : {}),
    bigIntAsNumber: true,
    initSql: [
      'SET NAMES utf8mb4 COLLATE utf8mb4_uca1400_as_ci',
      "SET time_zone = '+00:00'",
      'SET max_statement_time = 0',
    ],
  });
}
