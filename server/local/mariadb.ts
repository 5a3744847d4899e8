/**
 * A MariaDB of one's own: an instance on loopback with its data in a folder of the project. The system's instance
 * is never touched. The application's user has a generated password; root is locked to the socket.
 */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { resolve } from 'node:path';
import { createConnection } from 'mariadb';
import { shortOf } from './disk';

export interface LocalDatabase {
  host: string;
  port: number;
  user: string;
  password: string;
  stop: () => Promise<void>;
  process: ChildProcess;
}

export const portIsFree = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });

/** Of 50 ms each. One that joins a cluster is first sent all that the others have. */
const mostTries = 1200;
const isRoot = process.getuid?.() === 0;
const asUser = isRoot ? ['--user=root'] : [];
/** Files of a fresh instance take about 150 MB; below this a start would only fail later and worse. */
const leastFreeBytes = 400_000_000;

export interface StartOptions {
  /** What is committed outlives a power cut. */
  lasting?: boolean;
  /** More words for the command line. */
  args?: readonly string[];
  /** That of the cluster which it joins: its users come from there. */
  password?: string;
  /** A folder of programs that come before the machine's own. */
  programs?: string;
}

/** Throws an Error with one clear line when the port is taken, the disk full or MariaDB missing. */
export async function startMariaDb(
  folder: string,
  port: number,
  { lasting = true, args = [], password: known, programs }: StartOptions = {},
): Promise<LocalDatabase> {
  mkdirSync(folder, { recursive: true });
  const short = shortOf(folder, leastFreeBytes);
  if (short) throw new Error(`${short} Free some, or set SHEAF_DATA to another folder.`);
  await endLeftOver(resolve(folder, 'mariadb'));
  if (!(await portIsFree(port)))
    throw new Error(
      `Port ${port} on 127.0.0.1, which the database needs, is taken. Stop what uses it, or set SHEAF_PORT (the database takes the port 6 above).`,
    );
  const data = resolve(folder, 'mariadb');
  const socket = `/tmp/sheaf-${port}-${process.pid}.sock`;
  // A server that starts removes the temporary tables that it finds, also those of another one that is at work.
  const temporary = resolve(folder, 'temporary');
  mkdirSync(temporary, { recursive: true });
  const path = [programs, process.env.PATH].filter(Boolean).join(':');
  const env = { ...process.env, TMPDIR: temporary, PATH: path };
  const passwordFile = resolve(folder, 'database.password');
  if (!existsSync(resolve(data, 'mysql'))) {
    rmSync(data, { recursive: true, force: true });
    try {
      execFileSync(
        'mariadb-install-db',
        ['--no-defaults', ...asUser, `--datadir=${data}`, '--auth-root-authentication-method=normal', '--skip-test-db'],
        { stdio: ['ignore', 'ignore', 'pipe'], env },
      );
    } catch (error) {
      const reason =
        error instanceof Error && 'code' in error && error.code === 'ENOENT'
          ? 'mariadb-install-db is not installed (Debian package mariadb-server).'
          : String(error);
      throw new Error(`The database could not be set up: ${reason}`, { cause: error });
    }
    rmSync(passwordFile, { force: true });
  }
  if (known) writeFileSync(passwordFile, known, { mode: 0o600 });
  const log = openSync(resolve(folder, 'mariadb.log'), 'a');
  const child = spawn(
    'mariadbd',
    [
      '--no-defaults',
      ...asUser,
      `--datadir=${data}`,
      `--tmpdir=${temporary}`,
      `--socket=${socket}`,
      `--pid-file=${data}/m.pid`,
      '--bind-address=127.0.0.1',
      `--port=${port}`,
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_uca1400_as_ci',
      '--max-allowed-packet=256M',
      '--innodb-buffer-pool-size=512M',
      '--innodb-log-file-size=256M',
      `--innodb-flush-log-at-trx-commit=${lasting ? 1 : 0}`,
      '--skip-log-bin',
      // As newer servers have it by default.
      '--loose-innodb-snapshot-isolation=ON',
      '--performance-schema=OFF',
      '--local-infile=ON',
      ...args,
    ],
    { stdio: ['ignore', log, log], detached: true, env },
  );
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  const stop = async () => {
    if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM');
    await ended;
  };
  try {
    const password = await openTo(socket, child, passwordFile);
    return { host: '127.0.0.1', port, user: 'sheaf', password, stop, process: child };
  } catch (error) {
    await stop();
    throw new Error(
      `The database did not start: ${error instanceof Error ? error.message : error}. See ${folder}/mariadb.log.`,
      { cause: error },
    );
  }
}

/** An instance of this very folder that outlived its starter (which was killed) is ended, as another cannot open the data. */
async function endLeftOver(data: string): Promise<void> {
  const pidFile = resolve(data, 'm.pid');
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, 'utf8').trim());
  const isOurs = () => {
    try {
      return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(`--datadir=${data}`);
    } catch {
      return false;
    }
  };
  if (!isOurs()) return;
  process.kill(pid, 'SIGTERM');
  for (let tries = 0; isOurs() && tries < 400; tries++) await new Promise((wait) => setTimeout(wait, 50));
}

/** Waits until the instance answers, and makes the application's user if there is none. Returns its password. */
async function openTo(socket: string, child: ChildProcess, passwordFile: string): Promise<string> {
  if (existsSync(passwordFile)) {
    const password = readFileSync(passwordFile, 'utf8').trim();
    const connection = await patiently(() => createConnection({ socketPath: socket, user: 'sheaf', password }), child);
    await connection.end();
    return password;
  }
  const password = randomBytes(18).toString('hex');
  const connection = await patiently(() => createConnection({ socketPath: socket, user: 'root' }), child);
  for (const host of ['localhost', '127.0.0.1']) {
    await connection.query(`CREATE OR REPLACE USER 'sheaf'@'${host}' IDENTIFIED BY '${password}'`);
    await connection.query(`GRANT ALL PRIVILEGES ON \`sheaf%\`.* TO 'sheaf'@'${host}'`);
  }
  await connection.query('ALTER USER root@localhost IDENTIFIED VIA unix_socket');
  await connection.query("DELETE FROM mysql.global_priv WHERE User = 'root' AND Host <> 'localhost'");
  await connection.query('FLUSH PRIVILEGES');
  await connection.end();
  writeFileSync(passwordFile, password, { mode: 0o600 });
  return password;
}

async function patiently<T>(attempt: () => Promise<T>, child: ChildProcess): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await attempt();
    } catch (error) {
      if (child.exitCode !== null || child.signalCode !== null || tries > mostTries) throw error;
      await new Promise((wait) => setTimeout(wait, 50));
    }
  }
}

/** Makes the named database if there is none. `empty`: drops it first. */
export async function makeDatabase(
  db: Pick<LocalDatabase, 'host' | 'port' | 'user' | 'password'>,
  name: string,
  empty = false,
): Promise<void> {
  const connection = await createConnection({ host: db.host, port: db.port, user: db.user, password: db.password });
  if (empty) await connection.query(`DROP DATABASE IF EXISTS \`${name}\``);
  await connection.query(
    `CREATE DATABASE IF NOT EXISTS \`${name}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci`,
  );
  await connection.end();
}
