/** The database of `./run start`, for commands that are given beside it or while it does not run. */
import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Config } from '../config';
import { makeDatabase, portIsFree, startMariaDb } from './mariadb';

/**
 * Does the work with the configuration's database. Where the environment names none it is the data folder's own, which
 * is started meanwhile if it does not run. `makes`: also where the data folder has none yet.
 */
export async function withDatabase<T>(
  config: Config,
  work: () => Promise<T>,
  { makes = false }: { makes?: boolean } = {},
): Promise<T> {
  const password = resolve(config.dataFolder, 'database.password');
  if (process.env.SHEAF_DB_HOSTS || !(makes || existsSync(password))) return work();
  const port = config.port + 6;
  const started = (await portIsFree(port)) ? await startMariaDb(config.dataFolder, port) : null;
  Object.assign(config.database, { port, others: [], user: 'sheaf', password: readFileSync(password, 'utf8').trim() });
  try {
    if (started) await makeDatabase(started, config.database.name);
    return await work();
  } finally {
    await started?.stop();
  }
}
