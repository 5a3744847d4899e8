/**
 * Sheaf as a district runs it, by docs/operating.md: its blocks are used as they stand there, with the addresses and
 * folders of this machine put in. Two servers behind a proxy with TLS, over a database of three nodes with TLS.
 */
import { type ChildProcess, execFile, execFileSync, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { request } from 'node:https';
import { resolve } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Cluster, startCluster } from '#server/testing/cluster';
import { freePorts } from '#server/testing/ports';

const folder = resolve('.test-data/production');
const inFolder = (name: string): string => resolve(folder, name);
const text = readFileSync('docs/operating.md', 'utf8');
/** A block of the document, by the name of its file. */
function block(name: string): string {
  const [, body] = new RegExp(`\`\`\`\\w+ file=${name.replace('.', '\\.')}\\n([\\s\\S]*?)\`\`\``).exec(text) ?? [];
  if (!body) throw new Error(`docs/operating.md has no block for ${name}`);
  return body;
}
/** The block with what is of this machine put in; each must stand in it. */
const put = (name: string, ...changes: [is: string, becomes: string][]): string =>
  changes.reduce((body, [is, becomes]) => {
    if (!body.includes(is)) throw new Error(`${name} does not say ${is}`);
    return body.replaceAll(is, becomes);
  }, block(name));

const password = randomBytes(12).toString('hex');
let cluster: Cluster;
let proxy: ChildProcess;
let port: number;
let ca: Buffer;
interface Server {
  port: number;
  env: Record<string, string>;
  child: ChildProcess;
  output: string;
}
const servers: Server[] = [];

/** A certificate for these names, signed by the authority of this test. */
function certificate(name: string, names: string): void {
  const openssl = (...args: string[]) => execFileSync('openssl', args, { cwd: folder, stdio: 'pipe' });
  openssl(
    'req',
    '-newkey',
    'rsa:2048',
    '-nodes',
    '-subj',
    `/CN=${name}`,
    '-keyout',
    `${name}.key`,
    '-out',
    `${name}.csr`,
  );
  writeFileSync(inFolder(`${name}.ext`), `subjectAltName=${names}\n`);
  const signing = ['-CA', 'ca.pem', '-CAkey', 'ca.key', '-CAcreateserial', '-days', '2', '-extfile', `${name}.ext`];
  openssl('x509', '-req', '-in', `${name}.csr`, ...signing, '-out', `${name}.pem`);
}

const settings = (body: string): Record<string, string> =>
  Object.fromEntries(
    body
      .split('\n')
      .filter((line) => /^\w+=/.test(line))
      .map((line) => [line.slice(0, line.indexOf('=')), line.slice(line.indexOf('=') + 1)]),
  );

/** As the unit says it: the command of ExecStart, with the environment's file. */
function start(env: Record<string, string>): Server {
  const [, command = ''] = /^ExecStart=(.*)$/m.exec(block('sheaf.service')) ?? [];
  const [, ...args] = command.split(' ');
  const child = spawn(process.execPath, args, {
    env: { PATH: process.env.PATH, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const server: Server = { port: Number(env.SHEAF_PORT), env, child, output: '' };
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (piece: Buffer) => (server.output += piece.toString()));
  return server;
}
const healthy = async (at: Server): Promise<boolean> =>
  (await fetch(`http://127.0.0.1:${at.port}/healthz`).catch(() => null))?.ok ?? false;
async function comesUp(server: Server): Promise<void> {
  for (let tries = 0; !(await healthy(server)); tries++) {
    if (server.child.exitCode !== null || tries > 1200) throw new Error(`a server does not start: ${server.output}`);
    await new Promise((wait) => setTimeout(wait, 100));
  }
}
const ended = (child: ChildProcess, signal: NodeJS.Signals): Promise<void> =>
  new Promise((done) => {
    if (child.exitCode !== null || child.signalCode !== null) return done();
    child.once('exit', () => done());
    child.kill(signal);
  });

interface Answer {
  status: number;
  headers: IncomingMessage['headers'];
  body: Record<string, unknown>;
  raw: string;
}
let cookie = '';
/** By the public address, as a browser asks. */
const ask = (method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> =>
  new Promise((done, failed) => {
    const sent = request(
      {
        ...{ host: '127.0.0.1', port, servername: 'sheaf.example', ca, method, path },
        headers: {
          Host: `sheaf.example:${port}`,
          Origin: `https://sheaf.example:${port}`,
          Cookie: cookie,
          ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...headers,
        },
      },
      (answer) => {
        let raw = '';
        answer.on('data', (piece: Buffer) => (raw += piece.toString()));
        answer.on('end', () => {
          const isJson = answer.headers['content-type']?.startsWith('application/json');
          const read = isJson ? (JSON.parse(raw) as Record<string, unknown>) : {};
          done({ status: answer.statusCode ?? 0, headers: answer.headers, body: read, raw });
        });
      },
    );
    sent.once('error', failed);
    sent.end(body === undefined ? undefined : JSON.stringify(body));
  });

beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  execFileSync(
    'openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-subj',
      '/CN=Test authority',
      '-days',
      '2',
      '-keyout',
      'ca.key',
      '-out',
      'ca.pem',
    ],
    { cwd: folder, stdio: 'pipe' },
  );
  certificate('database', 'IP:127.0.0.1');
  certificate('sheaf.example', 'DNS:sheaf.example');
  ca = readFileSync(inFolder('ca.pem'));
  cluster = await startCluster(folder, {
    args: [
      `--ssl-ca=${inFolder('ca.pem')}`,
      `--ssl-cert=${inFolder('database.pem')}`,
      `--ssl-key=${inFolder('database.key')}`,
    ],
    first: put('sheaf.sql', ['a-long-password', password], ["'sheaf'@", "'district'@"]),
  });
  port = await freePorts(3);
  const [one, two, three] = cluster.nodes.map(({ at }) => `${at.host}:${at.port}`) as [string, string, string];
  const hosts = 'db1.example:3306,db2.example:3306,db3.example:3306';
  const key = randomBytes(32).toString('hex');
  for (const [i, order] of [
    [one, two, three],
    [two, three, one],
  ].entries())
    servers.push(
      start({
        ...settings(
          put(
            'sheaf.env',
            ['https://sheaf.example', `https://sheaf.example:${port}`],
            ['10.0.0.5', '127.0.0.1'],
            ['0.0.0.0', '127.0.0.1'],
            // The nodes have a user of the first name already.
            ['SHEAF_DB_USER=sheaf', 'SHEAF_DB_USER=district'],
            ['/srv/sheaf/data', inFolder(`data-${i + 1}`)],
            ['0'.repeat(64), key],
            [hosts, order.join(',')],
            ['a-long-password', password],
            ['/etc/sheaf/database-ca.pem', inFolder('ca.pem')],
          ),
        ),
        SHEAF_PORT: String(port + 1 + i),
      }),
    );
  const site = put(
    'sheaf.conf',
    ['10.0.0.11:8200', `127.0.0.1:${port + 1}`],
    ['10.0.0.12:8200', `127.0.0.1:${port + 2}`],
    ['listen 443 ssl', `listen 127.0.0.1:${port} ssl`],
    ['/etc/sheaf/', `${folder}/`],
  );
  writeFileSync(
    inFolder('nginx.conf'),
    `daemon off; pid ${inFolder('nginx.pid')}; error_log ${inFolder('nginx.log')}; worker_processes 1;
events {}
http { access_log off; ${['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((of) => `${of}_temp_path ${inFolder(of)};`).join(' ')}
${site}}\n`,
  );
  proxy = spawn('nginx', ['-p', folder, '-c', inFolder('nginx.conf')], { stdio: 'ignore' });
  for (const server of servers) await comesUp(server);
});
afterAll(async () => {
  if (proxy) await ended(proxy, 'SIGTERM');
  for (const { child } of servers) await ended(child, 'SIGTERM');
  await cluster?.stop();
});

it('is set up by its public address, with the code that both servers print', async () => {
  const codes = servers.map(({ output }) => /asks for: ([0-9A-Z]{8})/.exec(output)?.[1]);
  expect(codes[0]).toMatch(/^\w{8}$/);
  expect(codes[1]).toBe(codes[0]);
  const form = {
    district: 'Skerry Isles Unified',
    ...{ givenName: 'Rose', familyName: 'Adeyemi', username: 'radeyemi', password: 'lantern-harbor-42' },
    ...{ zone: 'America/Chicago', yearBegins: '2026-08-26', yearEnds: '2027-06-10' },
    code: codes[0],
  };
  expect((await ask('POST', '/api/setup', { ...form, code: 'WRONG123' })).status).toBe(403);
  expect(await ask('POST', '/api/setup', form)).toMatchObject({ status: 200 });
  const signedIn = await ask('POST', '/api/sign-in', { username: 'radeyemi', secret: form.password });
  const [set = ''] = signedIn.headers['set-cookie'] ?? [];
  expect(set).toMatch(/; Secure/i);
  expect(signedIn.headers['strict-transport-security']).toBeDefined();
  cookie = set.split(';')[0]!;
  // Another page is refused, whatever Host the proxy hands on.
  const elsewhere = { Origin: 'https://elsewhere.example', Host: 'elsewhere.example' };
  expect((await ask('POST', '/api/sheaf/let-go', { all: true }, elsewhere)).status).toBe(403);
});

const made: string[] = [];
/** A school more: a plan that is applied at once. */
async function make(name: string): Promise<Answer> {
  const answer = await ask('POST', '/api/schools', schoolForm(name));
  if (answer.status === 200) made.push(name);
  return answer;
}
const schoolForm = (name: string) => ({
  ...{ name, code: name.replaceAll(' ', '-'), kind: 'k8', lowGrade: 'KG', highGrade: '05', door: null },
});

it('goes on while one of its servers and one node of its database are killed', async () => {
  for (let i = 0; i < 10; i++) expect((await make(`Before ${i}`)).status).toBe(200);
  await ended(servers[0]!.child, 'SIGKILL');
  const first = await Promise.all(Array.from({ length: 5 }, (_, i) => make(`Alone ${i}`)));
  await cluster.nodes[1].kill();
  const second: Answer[] = [];
  for (let i = 0; i < 10; i++) second.push(await make(`Fewer ${i}`));
  // The proxy may tell of a server that has just died; whoever was told 200 has their school.
  expect([...first, ...second].filter(({ status }) => ![200, 502, 503].includes(status))).toEqual([]);
  expect(second.at(-1)!.status).toBe(200);
  servers[0] = start(servers[0]!.env);
  await comesUp(servers[0]);
  await cluster.nodes[1].start();
  for (let i = 0; i < 10; i++) expect((await make(`After ${i}`)).status).toBe(200);
  const { schools } = (await ask('GET', '/api/me')).body as { schools: { name: string }[] };
  const there = new Set(schools.map(({ name }) => name));
  expect(made.filter((name) => !there.has(name))).toEqual([]);
});

it('is backed up and the backup tried, as the nightly script says', async () => {
  writeFileSync(
    inFolder('sheaf.env'),
    Object.entries(servers[0]!.env)
      .map(([name, value]) => `${name}='${value}'\n`)
      .join(''),
  );
  writeFileSync(inFolder('backup-passphrase'), 'seven grey seals\n');
  const script = put(
    'nightly.sh',
    ['/srv/sheaf/app', resolve('.')],
    ['/srv/sheaf/backups', inFolder('backups')],
    ['/etc/sheaf', folder],
  );
  const { stdout } = await promisify(execFile)('bash', ['-euc', script]);
  expect(stdout).toMatch(/rows of \d+ tables as they were at /);
  expect(stdout).toMatch(/can be restored and match the backup/);
});

it('has a unit that the system takes', async () => {
  const unit = put(
    'sheaf.service',
    ['/usr/bin/node', process.execPath],
    ['User=sheaf\n', ''],
    ['/srv/sheaf/app', resolve('.')],
    ['/srv/sheaf/data', folder],
    ['/etc/sheaf', folder],
  );
  writeFileSync(inFolder('sheaf.service'), unit);
  const said = await promisify(execFile)('systemd-analyze', ['verify', inFolder('sheaf.service')]).then(
    ({ stderr }) => stderr,
    (error: { code?: string; stderr?: string }) => (error.code === 'ENOENT' ? '' : (error.stderr ?? 'failed')),
  );
  expect(said.split('\n').filter((line) => line.includes('sheaf.service'))).toEqual([]);
});
