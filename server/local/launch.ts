/** One start for a machine of one's own: a private MariaDB, then the server; Ctrl-C ends both, the server first. */
import { type ChildProcess, fork } from 'node:child_process';
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { demoKey } from '#demo/product';
import { makeDatabase, portIsFree, startMariaDb } from './mariadb';

/** A server that died is started again after pauses that grow, up to this; one that ran so long begins with the first again. */
const mostPauseMs = 30_000;
const steadyMs = 60_000;

const ownFiles = ['mariadb', 'mariadb.log', 'database.password', 'seal.key', 'demo-sign-ins.json', 'directory.jsonl'];

/** The outside services of the demo, simulated; each is told to the server as the real one would be. */
async function standIns(folder: string, port: number): Promise<{ env: NodeJS.ProcessEnv; stop: () => void }> {
  const at = (n: number) => `http://127.0.0.1:${port + n}`;
  const back = `${at(0)}/api/sign-on/back`;
  const wanted: [name: string, n: number, args: string[], env: NodeJS.ProcessEnv, say: string][] = [
    [
      'directory',
      11,
      ['--data', resolve(folder, 'directory.jsonl')],
      { SHEAF_DIRECTORY_URL: `${at(11)}/scim/v2`, SHEAF_DIRECTORY_TOKEN: 'harbor-light' },
      'a directory',
    ],
    ['mailbox', 12, [], { SHEAF_MAIL_URL: `smtp://127.0.0.1:${port + 13}` }, `a mailbox, its letters at ${at(12)}`],
    [
      'sign-on',
      14,
      ['--back', back],
      { SHEAF_SIGN_ON_URL: at(14), SHEAF_SIGN_ON_SECRET: 'tide-table' },
      'a single sign-on',
    ],
    [
      'product',
      15,
      ['--to', `${at(0)}/xapi`, '--key', demoKey],
      { SHEAF_DEMO_PRODUCTS: at(15) },
      'the products that children open',
    ],
  ];
  const started: { child: ChildProcess; say: string }[] = [];
  let env: NodeJS.ProcessEnv = {};
  for (const [name, n, args, more, say] of wanted) {
    // Whoever set the real one keeps it; where the port is taken the demo does without.
    if (Object.keys(more).some((key) => process.env[key]) || !(await portIsFree(port + n))) continue;
    const child = fork(resolve(`standins/${name}/main.ts`), ['--port', String(port + n), ...args], {
      execArgv: ['--import', 'tsx'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    started.push({ child, say });
    env = { ...env, ...more };
  }
  if (started.length > 0) console.log(`simulated beside it: ${started.map(({ say }) => say).join('; ')}`);
  return { env, stop: () => started.forEach(({ child }) => child.kill()) };
}

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
  const from = performance.now();
  const database = await startMariaDb(folder, port + 6);
  console.log(
    `database up on 127.0.0.1:${database.port} in ${((performance.now() - from) / 1000).toFixed(1)} s, its data in ${folder}`,
  );
  await makeDatabase(database, 'sheaf');
  const main = resolve(import.meta.dirname, import.meta.filename.endsWith('.ts') ? '../main.ts' : './main.js');
  const outside = process.argv.includes('--demo') ? await standIns(folder, port) : null;
  const env = {
    ...process.env,
    ...outside?.env,
    SHEAF_DATA: folder,
    SHEAF_PORT: String(port),
    SHEAF_DB_HOSTS: `127.0.0.1:${database.port}`,
    SHEAF_DB_USER: database.user,
    SHEAF_DB_PASSWORD: database.password,
    SHEAF_DB_NAME: 'sheaf',
  };
  let server: ChildProcess | null = null;
  let asked = false;
  let wake = () => {};
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.on(signal, () => {
      if (!asked) server?.kill('SIGTERM');
      asked = true;
      wake();
    });
  }
  let code = 0;
  for (let died = 0; !asked;) {
    const started = performance.now();
    let wasUp = false;
    server = fork(
      main,
      process.argv.slice(2).filter((arg) => arg !== '--fresh'),
      { env, stdio: 'inherit' },
    );
    server.on('message', (message) => {
      if (message !== 'up') return;
      wasUp = true;
      console.log(
        `ready after ${((performance.now() - started + (died === 0 ? started - from : 0)) / 1000).toFixed(1)} s; Ctrl-C ends it`,
      );
    });
    code = await new Promise<number>((done) => server!.once('exit', (status) => done(status ?? 1)));
    // One that never came up says why, and would say it again.
    if (asked || !wasUp) break;
    died = performance.now() - started > steadyMs ? 1 : died + 1;
    const pauseMs = Math.min(mostPauseMs, 1000 * 2 ** (died - 1));
    console.error(`the server ended by itself; it is started again in ${pauseMs / 1000} s`);
    await new Promise<void>((done) => {
      const timer = setTimeout(done, pauseMs);
      wake = () => {
        clearTimeout(timer);
        done();
      };
    });
  }
  outside?.stop();
  await database.stop();
  if (asked) console.log('ended; the data is kept');
  process.exit(asked ? 0 : code);
}

launch().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
