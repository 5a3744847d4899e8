/** Brings the database's tables up to date with umzug; what ran is kept in the table `migrations`. */
import { SequelizeStorage, Umzug } from 'umzug';
import type { Db } from './connection';
import { migrations } from './migrations';

/** Names of the migrations that ran now. */
export async function migrate(db: Db): Promise<string[]> {
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({ name, up: () => up(db) })),
    storage: new SequelizeStorage({ sequelize: db.sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  return (await umzug.up()).map(({ name }) => name);
}
