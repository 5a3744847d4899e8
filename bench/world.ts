/** A database of its own with a district and schools in it, for one table of the bench. */
import { keysFrom } from '#server/auth/keys';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { alone, type Config } from '#server/config';
import { Db, jobSeconds } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import type { DemoSignIn } from '#server/demo';
import { district, makeDistrict, yearFrom } from '#server/district';
import type { Tools } from '#core/intake/index';
import { planningTools } from '#server/intake/snapshot.queries';
import { type LocalDatabase, makeDatabase } from '#server/local/mariadb';
import { mint } from '#server/plans/mint';
import { ServerProcess } from '#server/testing/process';

export const today = '2026-08-17';

export async function freshConfig(database: LocalDatabase, name: string, dataFolder: string): Promise<Config> {
  await makeDatabase(database, name, true);
  return {
    port: 0,
    dataFolder,
    url: 'http://127.0.0.1',
    today: () => today,
    key: keysFrom([randomBytes(32)]),
    ...alone,
    database: { ...database, name },
  };
}

/** The built server as a process of its own, over the demo. */
export async function demoServer(database: LocalDatabase, name: string) {
  const dataFolder = mkdtempSync(join(tmpdir(), 'sheaf-bench-'));
  const config = await freshConfig(database, name, dataFolder);
  const server = await ServerProcess.start(config, { args: ['--demo'] });
  const db = new Db(config.database, 2, jobSeconds);
  return {
    config,
    server,
    db,
    signIns: JSON.parse(readFileSync(join(dataFolder, 'demo-sign-ins.json'), 'utf8')) as DemoSignIn[],
    close: async (): Promise<void> => {
      await db.close();
      await server.stop();
      rmSync(dataFolder, { recursive: true, force: true });
    },
  };
}

/** Migrated, with nothing in it. */
export async function emptyDatabase(database: LocalDatabase, name: string): Promise<{ db: Db; config: Config }> {
  const config = await freshConfig(database, name, '');
  const db = new Db(config.database, 8, jobSeconds);
  await migrate(db);
  return { db, config };
}

export async function benchWorld(
  database: LocalDatabase,
  name: string,
  schools: { name: string; code: string }[],
): Promise<{ db: Db; tools: Tools; config: Config }> {
  const { db, config } = await emptyDatabase(database, name);
  await db.transaction(async (tx) => {
    await makeDistrict(db, { name: 'Bench', zone: 'UTC', year: yearFrom(today) }, tx);
    await db.batch(
      "INSERT INTO schools (id, name, code, kind, lowGrade, highGrade) VALUES (?, ?, ?, 'k8', 'KG', '12')",
      schools.map((school) => [mint(), school.name, school.code]),
      tx,
    );
    // Without one who can sign in nothing could be undone that is about people.
    const coordinator = mint();
    await db.batch(
      "INSERT INTO people (id, role, givenName, familyName, status) VALUES (?, 'staff', 'Bench', 'Coordinator', 'active')",
      [[coordinator]],
      tx,
    );
    await db.batch(
      "INSERT INTO accounts (id, personId, username, role, status, secretVersion, passwordHash) VALUES (?, ?, 'bench', 'district', 'active', 1, 'none')",
      [[mint(), coordinator]],
      tx,
    );
  });
  return { db, config, tools: await planningTools(db, config, (await district(db))!) };
}
