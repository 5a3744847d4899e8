/** The built server as a process of its own, which can be asked, measured and killed. */
import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { writtenKeys } from '../auth/keys';
import type { Config } from '../config';
import { freePorts } from './ports';

/** Of 50 ms each: one that fills a database with the demo takes its time. */
const mostTries = 2400;

export class ServerProcess {
  private output = '';
  private isEnding = false;
  private constructor(
    readonly base: string,
    private readonly child: ChildProcess,
  ) {}

  /** Starts `dist/server/main.js` on a free port and waits until /healthz answers. */
  static async start(
    config: Config,
    extra: { args?: string[]; port?: number; host?: string } = {},
  ): Promise<ServerProcess> {
    const port = extra.port ?? (await freePorts());
    const { host, port: dbPort, others = [], name, user, password } = config.database;
    const env = {
      ...process.env,
      SHEAF_PORT: String(port),
      SHEAF_DATA: config.dataFolder,
      ...(extra.host ? { SHEAF_URL: `http://${extra.host}:${port}` } : {}),
      SHEAF_KEY: writtenKeys(config.key).trim(),
      SHEAF_TODAY: config.today(),
      ...(config.directory
        ? { SHEAF_DIRECTORY_URL: config.directory.url, SHEAF_DIRECTORY_TOKEN: config.directory.token }
        : {}),
      ...(config.mail ? { SHEAF_MAIL_URL: config.mail.url } : {}),
      ...(config.signOn
        ? { SHEAF_SIGN_ON_URL: config.signOn.issuer, SHEAF_SIGN_ON_SECRET: config.signOn.clientSecret }
        : {}),
      SHEAF_DB_HOSTS: [{ host, port: dbPort }, ...others].map((at) => `${at.host}:${at.port}`).join(','),
      SHEAF_DB_NAME: name,
      SHEAF_DB_USER: user,
      SHEAF_DB_PASSWORD: password,
    };
    const child = spawn(process.execPath, [resolve('dist/server/main.js'), ...(extra.args ?? [])], {
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    const server = new ServerProcess(`http://${extra.host ?? '127.0.0.1'}:${port}`, child);
    child.stdout?.on('data', (piece: Buffer) => (server.output += piece.toString()));
    child.stderr?.on('data', (piece: Buffer) => (server.output += piece.toString()));
    // One that ends by itself says why, as nobody else can.
    child.once('exit', (code, signal) => {
      if (!server.isEnding)
        console.error(`the server ended by itself (${code ?? signal}): ${server.output.slice(-4000)}`);
    });
    for (let tries = 0; ; tries++) {
      if (child.exitCode !== null || tries > mostTries) {
        await server.kill();
        throw new Error(`the server did not start: ${server.output}`);
      }
      const answer = await fetch(`${server.base}/healthz`).catch(() => null);
      if (answer?.ok) return server;
      await new Promise((wait) => setTimeout(wait, 50));
    }
  }

  get log(): string {
    return this.output;
  }
  /** Resident memory of the whole process with all of its threads, in megabytes: now, and at its highest so far. */
  memory(): { now: number; peak: number } {
    const status = readFileSync(`/proc/${this.child.pid}/status`, 'utf8');
    const mb = (key: string) => Number(status.match(new RegExp(`${key}:\\s+(\\d+)`))?.[1] ?? 0) / 1024;
    return { now: mb('VmRSS'), peak: mb('VmHWM') };
  }
  get isUp(): boolean {
    return this.child.exitCode === null && this.child.signalCode === null;
  }
  private end(signal: NodeJS.Signals): Promise<void> {
    if (!this.isUp) return Promise.resolve();
    this.isEnding = true;
    const ended = new Promise<void>((done) => this.child.once('exit', () => done()));
    this.child.kill(signal);
    return ended;
  }
  kill = (): Promise<void> => this.end('SIGKILL');
  stop = (): Promise<void> => this.end('SIGTERM');

  async signIn(username: string, secret: string): Promise<Remote> {
    const response = await fetch(`${this.base}/api/sign-in`, {
      method: 'POST',
      headers: { Origin: this.base, 'Content-Type': 'application/json' },
      body: JSON.stringify({ username, secret }),
    });
    const cookie = response.headers.get('set-cookie')?.split(';')[0];
    if (!cookie) throw new Error(`cannot sign in: ${await response.text()}`);
    return new Remote(this.base, cookie);
  }
}

export class Remote {
  constructor(
    private readonly base: string,
    readonly cookie: string,
  ) {}
  send = (method: string, path: string, body?: unknown): Promise<Response> => {
    const raw = body instanceof Uint8Array;
    return fetch(this.base + path, {
      method,
      headers: {
        Origin: this.base,
        Cookie: this.cookie,
        ...(body === undefined || raw ? {} : { 'Content-Type': 'application/json' }),
      },
      body: body === undefined ? undefined : raw ? new Uint8Array(body) : JSON.stringify(body),
    });
  };
  call = async <T>(method: string, path: string, body?: unknown): Promise<T & { error?: string }> =>
    (await (await this.send(method, path, body)).json()) as T & { error?: string };
  get = <T>(path: string): Promise<T & { error?: string }> => this.call<T>('GET', path);
  post = <T>(path: string, body?: unknown): Promise<T & { error?: string }> => this.call<T>('POST', path, body);
}

/** A stand-in as a process of its own. */
export class StandIn {
  private constructor(
    private readonly child: ChildProcess,
    readonly base: string,
  ) {}

  static async start(name: string, args: string[], port?: number): Promise<StandIn> {
    port ??= await freePorts();
    const child = spawn(
      process.execPath,
      ['--import', 'tsx', `standins/${name}/main.ts`, '--port', String(port), ...args],
      { stdio: ['ignore', 'ignore', 'inherit'] },
    );
    const standIn = new StandIn(child, `http://127.0.0.1:${port}`);
    for (let tries = 0; tries < 150; tries++) {
      if (
        await fetch(`${standIn.base}/healthz`).then(
          (r) => r.ok,
          () => false,
        )
      )
        return standIn;
      await new Promise((next) => setTimeout(next, 100));
    }
    child.kill('SIGKILL');
    throw new Error(`the stand-in ${name} does not start`);
  }
  stop = (): void => void this.child.kill('SIGKILL');

  async post<T>(path: string): Promise<T> {
    return (await (await fetch(this.base + path, { method: 'POST' })).json()) as T;
  }
  /** A collection of the register's, whole. */
  async get<T>(path: string): Promise<T> {
    const token = await fetch(`${this.base}/token`, {
      method: 'POST',
      headers: { Authorization: `Basic ${Buffer.from('sheaf:ferry-timetable').toString('base64')}` },
      body: new URLSearchParams({ grant_type: 'client_credentials' }),
    });
    const { access_token } = (await token.json()) as { access_token: string };
    const answer = await fetch(`${this.base}/ims/oneroster/rostering/v1p2/${path}?limit=5000`, {
      headers: { Authorization: `Bearer ${access_token}` },
    });
    return (await answer.json()) as T;
  }
  users = async (): Promise<{ roles: { role: string }[] }[]> =>
    (await this.get<{ users: { roles: { role: string }[] }[] }>('users')).users;
}
