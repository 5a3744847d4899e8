/** A database of its own with a district and schools in it, for one table of the bench. */
import { keysFrom } from '#server/auth/keys';
import { randomBytes } from 'node:crypto';
import { alone, type Config } from '#server/config';
import { Db } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { district, makeDistrict, yearFrom } from '#server/district';
import type { Tools } from '#core/intake/index';
import { planningTools } from '#server/intake/snapshot';
import { type LocalDatabase, makeDatabase } from '#server/local/mariadb';
import { mint } from '#server/plans/mint';

export const today = '2026-08-17';

export async function benchWorld(
  database: LocalDatabase,
  name: string,
  schools: { name: string; code: string }[],
): Promise<{ db: Db; tools: Tools; config: Config }> {
  await makeDatabase(database, name, true);
  const config: Config = {
    port: 0,
    dataFolder: '',
    url: 'http://127.0.0.1',
    today: () => today,
    key: keysFrom([randomBytes(32)]),
    ...alone,
    database: { ...database, name },
  };
  const db = new Db(config.database);
  await migrate(db);
  await db.transaction(async (tx) => {
    await makeDistrict(db, 'Bench', { year: yearFrom(today) }, tx);
    await db.batch(
      "INSERT INTO schools (id, name, code, kind, lowGrade, highGrade) VALUES (?, ?, ?, 'k8', 'KG', '12')",
      schools.map((school) => [mint(), school.name, school.code]),
      tx,
    );
  });
  return { db, config, tools: await planningTools(db, config, (await district(db))!) };
}
