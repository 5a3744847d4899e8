/** Starts one private MariaDB for the whole run, its data in a folder of the project that is emptied first, and fills what tests copy. */
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { startMariaDb } from '../local/mariadb';
import { freePorts } from './ports';
import { makeTemplates, type Templates } from './templates';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  export interface ProvidedContext {
    database: { host: string; port: number; user: string; password: string };
    templates: Templates;
  }
}

export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = resolve(`.test-data/${project.name}`);
  rmSync(folder, { recursive: true, force: true });
  const port = await freePorts();
  const database = await startMariaDb(folder, port, { lasting: false });
  const { host, user, password } = database;
  project.provide('database', { host, port, user, password });
  project.provide('templates', await makeTemplates({ host, port, user, password }));
  return () => database.stop();
}
