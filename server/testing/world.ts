/** A database of one's own with the demo scenario in it, the application called without a socket, and people signed in. */
import { inject } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { readKeys } from '../auth/keys';
import { makeApp } from '../api/app';
import type { Services } from '../services';
import type { Config } from '../config';
import { Db } from '../db/connection';
import type { DemoSignIn } from '../demo';
import { Reader } from '../intake/reader';
import { LicenseDesk } from '../licenses/desk';
import { Roll } from '../people/roll';
import { papers } from '../papers/maker';
import { UseDesk } from '../use/figures';
import { YearDesk } from '../year/plan';
import { renew, renewEveryMs } from '../jobs/queue';
import { performJob, workOnce } from '../jobs/work';
import { checksumOf } from './checksum';
import { base, configOf, copyTemplate, testDay } from './templates';

Db.isStrict = true;

export { base, testDay };

export interface Answer<T = Record<string, unknown>> {
  status: number;
  body: T & { error?: string };
}

export class World {
  private constructor(
    readonly db: Db,
    readonly config: Config,
    readonly services: Services,
    readonly app: ReturnType<typeof makeApp>,
    readonly signIns: DemoSignIn[],
  ) {}

  /** `connections`: at most so many to the database at once. */
  static async open(name: string, options: { demo?: boolean; connections?: number } = {}): Promise<World> {
    const [at, templates] = [inject('database'), inject('templates')];
    const demo = options.demo ?? true;
    const config = configOf(at, `sheaf_${name}`, readKeys(templates.key));
    await copyTemplate(at, demo, config.database.name);
    const db = new Db(config.database, options.connections);
    const signIns = demo ? templates.signIns : [];
    const services: Services = {
      db,
      config,
      nudge: () => {},
      intake: new Reader(db, config),
      roll: new Roll(db, config.today),
      licenses: new LicenseDesk(db, config),
      year: new YearDesk(db, config),
      use: new UseDesk(db, config),
      papers,
    };
    return new World(db, config, services, makeApp(services, { log: console.error }), signIns);
  }

  close = (): Promise<void> => this.db.close();

  /** A signed-in person's way to call the application. */
  async as(who: string): Promise<Caller> {
    const found = this.signIns.find((signIn) => signIn.who.startsWith(who));
    if (!found) throw new Error(`no ${who}`);
    return this.signIn(found.username, found.secret);
  }
  async signIn(username: string, secret: string): Promise<Caller> {
    const response = await this.send('POST', '/api/sign-in', { username, secret });
    const cookie = response.headers.get('set-cookie')?.split(';')[0];
    if (!cookie) throw new Error(`${username} cannot sign in: ${await response.text()}`);
    return new Caller(this, cookie);
  }
  /** Somebody of a role at a school of whom the demo has no sign-in: with the demo's password from now on. */
  async at(schoolId: string, role: 'school' | 'teacher'): Promise<Caller> {
    const one = await this.db.one<{ id: string; username: string }>(
      `SELECT ac.personId AS id, ac.username FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL
       WHERE ac.role = :role AND ac.status = 'active' AND a.schoolId = :schoolId ORDER BY ac.passwordHash IS NOT NULL, ac.personId LIMIT 1`,
      { role, schoolId },
    );
    if (!one) throw new Error(`no ${role} there`);
    await this.db.run(
      "UPDATE accounts SET passwordHash = (SELECT h FROM (SELECT MAX(passwordHash) AS h FROM accounts WHERE role = 'district') x) WHERE personId = :id",
      one,
    );
    return this.signIn(one.username, demoPassword);
  }
  send(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    return Promise.resolve(
      this.app.request(base + path, {
        method,
        headers: {
          Host: '127.0.0.1:8200',
          Origin: base,
          ...(body === undefined || Buffer.isBuffer(body) ? {} : { 'Content-Type': 'application/json' }),
          ...headers,
        },
        body: body === undefined ? undefined : Buffer.isBuffer(body) ? new Uint8Array(body) : JSON.stringify(body),
      }),
    );
  }
  /** Does all jobs that wait, here and now. */
  async work(): Promise<void> {
    // As the server does: where one runs beside the test, it takes a job whose lease ran out for left behind.
    const renewed: typeof performJob = async (db, config, job) => {
      const renewing = setInterval(() => void renew(db, job.id).catch(() => {}), renewEveryMs);
      await performJob(db, config, job).finally(() => clearInterval(renewing));
    };
    while (await workOnce(this.db, this.config, renewed));
  }

  /** One number for the contents of the register's tables: ledger, plans and trail left out. */
  checksum = (): Promise<string> => checksumOf(this.db);
}

export class Caller {
  constructor(
    private readonly world: World,
    readonly cookie: string,
  ) {}
  async call<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const response = await this.send(method, path, body);
    return { status: response.status, body: (await response.json()) as Answer<T>['body'] };
  }
  get = <T = Record<string, unknown>>(path: string): Promise<Answer<T>> => this.call<T>('GET', path);
  post = <T = Record<string, unknown>>(path: string, body?: unknown): Promise<Answer<T>> =>
    this.call<T>('POST', path, body);
  send = (method: string, path: string, body?: unknown): Promise<Response> =>
    this.world.send(method, path, body, { Cookie: this.cookie });
  raw = (path: string): Promise<Response> => this.send('GET', path);

  /** Releases whatever holds a plan, and applies it. */
  async apply(planId: string): Promise<import('../contract').Job> {
    const plan = await this.get<import('../contract').PlanSheet>(`/api/plans/${planId}`);
    for (const { code } of plan.body.held)
      await this.post(`/api/plans/${planId}/release`, { code, reason: 'this is what is meant' });
    return this.job(`/api/plans/${planId}/apply`);
  }

  /** Starts a job by a POST, does it, and returns it as it ended. */
  async job(path: string, body?: unknown): Promise<import('../contract').Job> {
    const started = await this.post<{ jobId: string }>(path, body);
    if (started.status !== 200) throw new Error(started.body.error);
    // Where a server runs beside the test, it may be the one that does it.
    for (;;) {
      await this.world.work();
      const { body } = await this.get<import('../contract').Job>(`/api/jobs/${started.body.jobId}`);
      if (body.status !== 'waiting' && body.status !== 'running') return body;
      await new Promise((next) => setTimeout(next, 50));
    }
  }
}
