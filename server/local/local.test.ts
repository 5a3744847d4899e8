/** Starting on a machine of one's own: what is said when it cannot, and what a start that was killed leaves. */
import { execFile, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { createConnection } from 'mariadb';
import { afterAll, describe, expect, it } from 'vitest';
import { alone } from '../config';
import { freePorts } from '../testing/ports';
import { ServerProcess } from '../testing/process';
import { keysFrom } from '../auth/keys';
import { makeDatabase, portIsFree, startMariaDb } from './mariadb';

const run = promisify(execFile);
const folder = mkdtempSync(join(tmpdir(), 'sheaf-local-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The database takes the port 6 above, what comes with it those between. */
const freePort = () => freePorts(7);
async function taken<T>(port: number, work: () => Promise<T>): Promise<T> {
  const squatter = createServer().listen(port, '127.0.0.1');
  await new Promise((ready) => squatter.once('listening', ready));
  try {
    return await work();
  } finally {
    await new Promise((closed) => squatter.close(closed));
  }
}

describe('a private database', () => {
  it('opens only to its own user, with its password in a file for its owner alone', async () => {
    const port = await freePort();
    const db = await startMariaDb(folder, port);
    try {
      const good = await createConnection({ host: '127.0.0.1', port, user: db.user, password: db.password });
      await good.query('CREATE DATABASE sheaf_x');
      await expect(good.query('CREATE DATABASE other')).rejects.toThrow(/denied/i);
      await good.end();
      await expect(createConnection({ host: '127.0.0.1', port, user: 'root' })).rejects.toThrow(/denied/i);
      await expect(createConnection({ host: '127.0.0.1', port, user: 'sheaf', password: 'x' })).rejects.toThrow(
        /denied/i,
      );
      expect(statSync(join(folder, 'database.password')).mode & 0o077).toBe(0);
    } finally {
      await db.stop();
    }
  });

  it('is started again after a start that was killed, with its data', async () => {
    const port = await freePort();
    const first = await startMariaDb(folder, port);
    const pid = first.process.pid!;
    // Its starter is gone without a word; the instance runs on.
    const second = await startMariaDb(folder, port);
    try {
      expect(existsSync(`/proc/${pid}`) && readFileSync(`/proc/${pid}/stat`, 'utf8').split(' ')[2] !== 'Z').toBe(false);
      const connection = await createConnection({
        host: '127.0.0.1',
        port,
        user: second.user,
        password: second.password,
      });
      expect(await connection.query("SHOW DATABASES LIKE 'sheaf_x'")).toHaveLength(1);
      await connection.end();
    } finally {
      await second.stop();
    }
  });

  it('says which port is taken', async () => {
    const port = await freePort();
    await taken(port, () =>
      expect(startMariaDb(join(folder, 'other'), port)).rejects.toThrow(
        `Port ${port} on 127.0.0.1, which the database needs, is taken`,
      ),
    );
  });
});

describe('a start', () => {
  const launch = (env: Record<string, string>) =>
    run(process.execPath, [resolve('dist/server/launch.js')], { env: { ...process.env, ...env } });
  it('fails with one clear line when the port is taken', async () => {
    const port = await freePort();
    await taken(port, async () => {
      const error = (await launch({ SHEAF_PORT: String(port), SHEAF_DATA: join(folder, 'never') }).catch(
        (e: unknown) => e,
      )) as { stderr: string; code: number };
      expect([error.code, error.stderr.trim()]).toEqual([
        1,
        `Port ${port} on 127.0.0.1 is taken. Stop what uses it, or set SHEAF_PORT to another one.`,
      ]);
    });
  });

  it('with Ctrl-C ends server and database, and the next one finds its data', async () => {
    const port = await freePort();
    const data = join(folder, 'start');
    for (const round of [1, 2]) {
      const child = spawn(process.execPath, [resolve('dist/server/launch.js')], {
        env: { ...process.env, SHEAF_PORT: String(port), SHEAF_DATA: data, SHEAF_TODAY: '2026-08-17' },
        stdio: ['ignore', 'pipe', 'pipe'],
      });
      let output = '';
      child.stdout.on('data', (piece: Buffer) => (output += piece.toString()));
      for (
        let tries = 0;
        !(await fetch(`http://127.0.0.1:${port}/healthz`).catch(() => null))?.ok && tries < 1200;
        tries++
      )
        await new Promise((wait) => setTimeout(wait, 50));
      // Up or down is for anyone, the rest for coordinators.
      expect(await (await fetch(`http://127.0.0.1:${port}/healthz`)).json()).toEqual({ status: 'ok' });
      expect(output).toMatch(/Set-up code, which the first run asks for: [0-9A-Z]{8}\n/);
      child.kill('SIGINT');
      await new Promise((ended) => child.once('exit', ended));
      expect(output).toContain('ended; the data is kept');
      expect(output.includes('001-register')).toBe(round === 1);
      expect([await portIsFree(port), await portIsFree(port + 6)]).toEqual([true, true]);
    }
  });
});

describe('a server whose database goes away', () => {
  it('says so, stays up, and goes on when it is back', async () => {
    const [port, serverFolder] = [await freePort(), join(folder, 'away')];
    const first = await startMariaDb(serverFolder, port);
    await makeDatabase(first, 'sheaf_away');
    const { host, user, password } = first;
    const config = {
      port: 0,
      dataFolder: serverFolder,
      url: '',
      today: () => '2026-08-17',
      key: keysFrom([Buffer.alloc(32, 7)]),
      ...alone,
      database: { host, port, user, password, name: 'sheaf_away' },
    };
    const server = await ServerProcess.start(config);
    const health = async () => {
      const response = await fetch(`${server.base}/healthz`);
      return [response.status, JSON.stringify(await response.json())] as const;
    };
    try {
      expect((await health())[0]).toBe(200);
      await first.stop();
      const [status, text] = await health();
      expect([status, text]).toEqual([503, expect.stringContaining('The database isn’t responding')]);
      const asked = await fetch(`${server.base}/api/me`, { headers: { Cookie: `sheaf=${'A'.repeat(26)}` } });
      expect([asked.status, asked.headers.get('retry-after'), await asked.json()]).toEqual([
        503,
        '5',
        { error: expect.stringContaining('can’t reach its database') as string, away: true },
      ]);
      const second = await startMariaDb(serverFolder, port);
      try {
        for (let tries = 0; (await health())[0] !== 200 && tries < 300; tries++)
          await new Promise((wait) => setTimeout(wait, 100));
        expect((await health())[0]).toBe(200);
        expect(server.isUp).toBe(true);
      } finally {
        await server.stop();
        await second.stop();
      }
    } finally {
      await server.stop();
    }
  });
});
