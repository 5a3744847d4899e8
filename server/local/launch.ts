/** One start for a machine of one's own: a private MariaDB, then the server; Ctrl-C ends both, the server first. */
import { fork } from 'node:child_process';
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { makeDatabase, portIsFree, startMariaDb } from './mariadb';

const ownFiles = ['mariadb', 'mariadb.log', 'database.password', 'seal.key', 'demo-sign-ins.json'];

async function launch(): Promise<void> {
  const folder = resolve(process.env.SHEAF_DATA ?? 'data');
  const port = Number(process.env.SHEAF_PORT ?? 8200);
  if (process.argv.includes('--fresh')) {
    console.log(`starting over: what Sheaf keeps in ${folder} is removed`);
    // Only its own: the folder may be one that holds other things too.
    for (const name of ownFiles) rmSync(resolve(folder, name), { recursive: true, force: true });
  }
  if (!(await portIsFree(port)))
    throw new Error(`Port ${port} on 127.0.0.1 is taken. Stop what uses it, or set SHEAF_PORT to another one.`);
  const from = Date.now();
  const database = await startMariaDb(folder, port + 6);
  console.log(
    `database up on 127.0.0.1:${database.port} in ${((Date.now() - from) / 1000).toFixed(1)} s, its data in ${folder}`,
  );
  await makeDatabase(database, 'sheaf');
  const main = resolve(import.meta.dirname, import.meta.filename.endsWith('.ts') ? '../main.ts' : './main.js');
  const env = {
    ...process.env,
    SHEAF_DATA: folder,
    SHEAF_PORT: String(port),
    SHEAF_DB_PORT: String(database.port),
    SHEAF_DB_USER: database.user,
    SHEAF_DB_PASSWORD: database.password,
    SHEAF_DB_NAME: 'sheaf',
  };
  const server = fork(main, process.argv.slice(2), { env, stdio: 'inherit' });
  server.on('message', (message) => {
    if (message === 'up') console.log(`ready after ${(performance.now() / 1000).toFixed(1)} s; Ctrl-C ends it`);
  });
  let asked = false;
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.on(signal, () => {
      if (!asked) server.kill('SIGTERM');
      asked = true;
    });
  }
  const code = await new Promise<number>((done) => server.once('exit', (status) => done(status ?? 1)));
  await database.stop();
  if (asked) console.log('ended; the data is kept');
  process.exit(asked ? 0 : code);
}

launch().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
