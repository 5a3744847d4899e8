/** Starts one private MariaDB for the whole run, its data in a folder of the project that is emptied first. */
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { portIsFree, startMariaDb } from '../local/mariadb';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  export interface ProvidedContext {
    database: { host: string; port: number; user: string; password: string };
  }
}

export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = resolve(`.test-data/${project.name}`);
  rmSync(folder, { recursive: true, force: true });
  // Each project its own range, as they start at the same time.
  let port = project.name === 'browser' ? 18_350 : 18_300;
  while (!(await portIsFree(port))) port++;
  const database = await startMariaDb(folder, port);
  const { host, user, password } = database;
  project.provide('database', { host, port, user, password });
  return () => database.stop();
}
