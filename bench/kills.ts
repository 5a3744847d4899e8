/**
 * 100 kills of the server and 30 of its database, each in the middle of a job of one kind after the other. What a job
 * writes in one piece must be there whole where the job is said to be done, and not at all where it is said that nothing
 * was kept; what is written piece by piece must come to its end when it is started again. No job may hang.
 */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Change } from '#core/plan/index';
import { randomFrom } from '#core/random/index';
import { keysFrom } from '#server/auth/keys';
import { isCurrent } from '#server/auth/seal';
import type { Config } from '#server/config';
import { Db, jobSeconds } from '#server/db/connection';
import { storeIntake } from '#server/intake/store';
import { enqueue, type JobKind } from '#server/jobs/queue';
import { type LocalDatabase, portIsFree, startMariaDb } from '#server/local/mariadb';
import { carryOut } from '#server/plans/apply';
import { mint } from '#server/plans/mint';
import { savePlan } from '#server/plans/store';
import { checksumOf } from '#server/testing/checksum';
import { Mailbox } from '#server/testing/mailbox';
import { ServerProcess, StandIn } from '#server/testing/process';
import { randomBytes } from 'node:crypto';
import { table } from './table';
import { freshConfig } from './world';

const [serverKills, databaseKills] = [100, 30];
/** A job that has not ended so long after the kill hangs. */
const mostWaitMs = 60_000;

interface Trial {
  kind: JobKind;
  /** What must be there for the job; its input. */
  input: () => Promise<object>;
  /** Begins it otherwise than by putting it in line; returns its id. */
  start?: () => Promise<string>;
  /** All that the job writes, as a text. */
  state: () => Promise<string>;
  /** What is wrong with the state after a job that is done; null: nothing. */
  whole: (before: string) => Promise<string | null>;
  /** Written piece by piece: what is wrong once it was started again and is done. */
  byPieces?: true;
}
type Status = { status: string; error: string | null };

export async function benchKills(folder: string): Promise<void> {
  const own = join(folder, 'kills');
  rmSync(own, { recursive: true, force: true });
  mkdirSync(own, { recursive: true });
  let port = 18_700;
  while (!(await portIsFree(port))) port++;
  const bench = new Bench(own, port, await startMariaDb(own, port));
  try {
    await bench.run();
  } finally {
    await bench.close();
  }
}

class Bench {
  private config!: Config;
  private server!: ServerProcess;
  private db!: Db;
  private mailbox!: Mailbox;
  private directory!: StandIn;
  private readonly feeds = mkdtempSync(join(tmpdir(), 'sheaf-kills-'));
  private readonly r = randomFrom(17);
  private by = '';
  private students: string[] = [];
  /** Of a whole run, by kind. */
  private readonly takes = new Map<JobKind, number>();

  constructor(
    private readonly folder: string,
    private readonly port: number,
    private database: LocalDatabase,
  ) {}

  async close(): Promise<void> {
    this.mailbox?.stop();
    this.directory?.stop();
    await this.db?.close();
    await this.server?.stop();
    await this.database.stop();
    rmSync(this.feeds, { recursive: true, force: true });
  }

  async run(): Promise<void> {
    await this.begin();
    const trials = this.trials();
    for (const trial of trials) {
      const id = await this.begins(trial, await trial.input());
      await this.runs(id);
      const from = performance.now();
      const { status, error } = await this.ends(id);
      this.takes.set(trial.kind, performance.now() - from);
      if (status !== 'done') console.log(`${trial.kind} is ${status} when nobody kills it: ${error}`);
    }
    const rows = new Map(
      trials.map(({ kind }) => [kind, { server: 0, database: 0, done: 0, ended: 0, wrong: 0, longest: 0 }]),
    );
    const wrong: string[] = [];
    for (let i = 0; i < serverKills + databaseKills; i++) {
      const trial = trials[i % trials.length]!;
      const row = rows.get(trial.kind)!;
      const what = i < serverKills ? 'server' : 'database';
      const told = await this.kill(trial, what);
      row[what]++;
      row[told.status === 'done' ? 'done' : 'ended']++;
      row.longest = Math.max(row.longest, told.waitedMs);
      if (told.wrong) {
        row.wrong++;
        wrong.push(`${trial.kind}, ${what} killed after ${Math.round(told.afterMs)} ms: ${told.wrong}`);
      }
    }
    table(
      `${serverKills} kills of the server, ${databaseKills} of the database`,
      ['job', 'server', 'database', 'was done', 'was not', 'longest till it had ended', 'wrong'],
      [...rows].map(([kind, row]) => [
        kind,
        ...[row.server, row.database, row.done, row.ended].map(String),
        `${(row.longest / 1000).toFixed(1)} s`,
        String(row.wrong),
      ]),
    );
    for (const one of wrong) console.log(`wrong: ${one}`);
  }

  private async begin(): Promise<void> {
    this.mailbox = await Mailbox.start();
    this.directory = await StandIn.start('directory', ['--data', join(this.folder, 'directory.jsonl')]);
    process.env.SHEAF_FEED_FOLDERS = this.feeds;
    this.config = {
      ...(await freshConfig(this.database, 'sheaf_kills', this.folder)),
      mail: this.mailbox.mail,
      directory: { url: `${this.directory.base}/scim/v2`, token: 'harbor-light' },
    };
    this.server = await ServerProcess.start(this.config, { args: ['--demo'] });
    this.db = new Db(this.config.database, 4, jobSeconds);
    const one = async (sql: string) => (await this.db.one<{ id: string }>(sql))!.id;
    this.by = await one("SELECT personId AS id FROM accounts WHERE role = 'district' ORDER BY id LIMIT 1");
    this.students = (
      await this.db.select<{ id: string }>("SELECT personId AS id FROM accounts WHERE role = 'student' ORDER BY id")
    ).map(({ id }) => id);
  }

  private begins({ kind, start }: Trial, input: object): Promise<string> {
    return start ? start() : enqueue(this.db, kind, input, this.by);
  }
  private async runs(id: string): Promise<void> {
    while ((await this.statusOf(id)).status === 'waiting') await new Promise((next) => setTimeout(next, 5));
  }
  private async statusOf(id: string): Promise<Status> {
    return (await this.db.one<Status>('SELECT status, error FROM jobs WHERE id = :id', { id }))!;
  }
  /** How the job ended; its status as it is where it hangs. */
  private async ends(id: string): Promise<Status> {
    const until = performance.now() + mostWaitMs;
    for (;;) {
      const now = await this.statusOf(id).catch((): Status => ({ status: 'waiting', error: null }));
      if (!['waiting', 'running'].includes(now.status) || performance.now() > until) return now;
      await new Promise((next) => setTimeout(next, 50));
    }
  }

  private async kill(trial: Trial, what: 'server' | 'database') {
    // Its input may change what is there.
    const input = await trial.input();
    const before = await trial.state();
    const id = await this.begins(trial, input);
    await this.runs(id);
    const afterMs = (this.r.below(1000) / 1000) * 1.1 * this.takes.get(trial.kind)!;
    await new Promise((next) => setTimeout(next, afterMs));
    if (what === 'server') {
      await this.server.kill();
      this.server = await ServerProcess.start(this.config);
    } else {
      const gone = new Promise<void>((next) => this.database.process.once('exit', () => next()));
      this.database.process.kill('SIGKILL');
      await gone;
      this.database = await startMariaDb(this.folder, this.port);
    }
    const from = performance.now();
    const { status, error } = await this.ends(id);
    const waitedMs = performance.now() - from;
    return { status, afterMs, waitedMs, wrong: await this.wrongWith(trial, before, status, error ?? '') };
  }

  private async wrongWith(trial: Trial, before: string, status: string, error: string): Promise<string | null> {
    if (status === 'waiting' || status === 'running') return `still ${status} after ${mostWaitMs / 1000} s`;
    if (status === 'done') return trial.whole(before);
    if (!trial.byPieces)
      return (await trial.state()) === before
        ? error.includes('Nothing of it was kept') || error.includes('Nothing was changed')
          ? null
          : `says “${error}”`
        : `left ${await trial.state()} in the place of ${before}`;
    if (error.includes('Nothing of it was kept')) return `says “${error}”`;
    const again = await this.ends(await enqueue(this.db, trial.kind, await this.lastInput(trial), this.by));
    return again.status === 'done' ? trial.whole(before) : `when started again is ${again.status}: ${again.error}`;
  }
  private readonly inputs = new Map<JobKind, object>();
  /** What is started again is the same, not the next one. */
  private lastInput = async ({ kind }: Trial): Promise<object> => Promise.resolve(this.inputs.get(kind) ?? {});

  private n = async (sql: string, params: Record<string, string> = {}): Promise<number> =>
    Number((await this.db.one<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, params))!.n);

  private trials(): Trial[] {
    const { db } = this;
    const plans = async () =>
      `${await this.n('plans')} plans, ${await this.n('plan_chunks')} parts, register ${await checksumOf(db)}`;
    /** A plan more, whole. */
    const onePlan = async (before: string): Promise<string | null> => {
      const row = await db.one<{ changes: number; inParts: number }>(
        'SELECT changes, (SELECT SUM(c.changes) FROM plan_chunks c WHERE c.planId = p.id) AS inParts FROM plans p ORDER BY id DESC LIMIT 1',
      );
      const expected = Number(before.split(' ')[0]) + 1;
      if ((await this.n('plans')) !== expected) return 'no plan was made';
      return Number(row!.inParts) === row!.changes ? null : `a plan of ${row!.changes} has ${row!.inParts}`;
    };
    const planning = (kind: JobKind, input: () => object | Promise<object>): Trial => ({
      kind,
      input: async () => Promise.resolve(input()),
      state: plans,
      whole: onePlan,
    });
    const some = (many: number) => this.students.slice(0, many);
    const ready = this.bigPlan();
    const isApplied = async () =>
      (await this.n("plans WHERE status = 'applied' AND id = :id", { id: await ready.id() })) === 1;
    const carried = async () => `${await this.n('ledger')} entries, register ${await checksumOf(db)}`;
    return [
      planning('intake.plan', async () => ({ intakeId: await this.intake() })),
      {
        kind: 'plan.apply',
        input: async () => {
          const planId = await ready.id();
          if (await isApplied()) await carryOut(db, planId, 'undo', null);
          return { planId };
        },
        state: carried,
        whole: async () =>
          (await this.n("people WHERE givenName = 'Kill'")) === ready.many ? null : 'is not applied whole',
      },
      {
        kind: 'plan.undo',
        input: async () => {
          const planId = await ready.id();
          if (!(await isApplied())) await carryOut(db, planId, 'apply', null);
          return { planId, oldPasswords: true };
        },
        state: carried,
        whole: async () => ((await this.n("people WHERE givenName = 'Kill'")) === 0 ? null : 'is not undone whole'),
      },
      {
        kind: 'cards.print',
        input: () =>
          Promise.resolve({
            ...{ layout: 'cards', paper: 'A4', backs: null, stacked: true, skip: 0, language: null, large: true },
            ...{ voidOlder: true, personIds: some(400), what: 'kills', by: this.by },
          }),
        state: async () =>
          `${await this.n('prints')} prints, ${await this.n('printed_cards')} cards, ${await this.n('printed_cards WHERE voidedAt IS NULL')} hold`,
        whole: async (before) => {
          const [prints, cards] = [await this.n('prints'), await this.n('printed_cards')];
          const [was, , had] = before.split(' ').map((word) => Number(word.replace(',', '')));
          return prints === was! + 1 && cards === had! + 400 ? null : `${prints} prints with ${cards} cards; ${before}`;
        },
      },
      planning('secrets.plan', () => ({ personIds: some(2000) })),
      planning('sheaf.plan', () => ({ personIds: some(2000), order: { verb: 'hold' } })),
      planning('seats.plan', async () => ({
        productIds: (await db.select<{ id: string }>('SELECT id FROM products')).map(({ id }) => id),
        ...{ sweep: true, idleDays: 30 },
      })),
      planning('devices.plan', () => ({ school: null })),
      planning('year.plan', () => ({})),
      {
        kind: 'data.purge',
        input: async () => {
          await db.transaction((tx) =>
            db.batch(
              "INSERT INTO audit (id, at, byPersonId, action, aboutPersonId, detail) VALUES (?, '2010-01-01T00:00:00.000Z', NULL, 'kills', NULL, '')",
              Array.from({ length: 5000 }, () => [mint()]),
              tx,
            ),
          );
          return {};
        },
        state: async () => `${await this.n("audit WHERE action = 'kills'")} old, ${await this.n('ledger')} entries`,
        whole: async () => ((await this.n("audit WHERE action = 'kills'")) === 0 ? null : 'is not purged whole'),
      },
      {
        kind: 'feed.take',
        input: () => this.feed(),
        state: async () => `${await this.n("intakes WHERE status <> 'coming'")} files`,
        whole: async (before) =>
          (await this.n("intakes WHERE status <> 'coming'")) === parseInt(before) + 1
            ? null
            : `no file more than ${before}`,
      },
      {
        kind: 'staff.invite',
        input: async () => {
          const ids = await this.invitations();
          this.inputs.set('staff.invite', { ids });
          return { ids };
        },
        state: async () => `${await this.n('invitations WHERE sentAt IS NOT NULL')} sent`,
        whole: async () =>
          (await this.n('invitations WHERE sentAt IS NULL')) === 0 ? null : 'somebody was not sent an invitation',
        byPieces: true,
      },
      {
        kind: 'directory.send',
        input: async () => {
          await db.run("UPDATE directory_items SET state = 'due' ORDER BY id LIMIT 600");
          return {};
        },
        state: async () => `${await this.n("directory_items WHERE state = 'sent'")} sent`,
        whole: async () =>
          (await this.n("directory_items WHERE state IN ('due', 'failed')")) === 0 ? null : 'something was not sent',
        byPieces: true,
      },
      {
        kind: 'directory.compare',
        input: () => Promise.resolve({}),
        state: async () => `${await this.n('plans')} plans`,
        whole: async (before) =>
          `${await this.n('plans')} plans` === before ? null : 'the directory differs from what it was sent',
      },
      {
        kind: 'key.rotate',
        input: () => Promise.resolve({}),
        // A server that is started with another key begins by itself.
        start: async () => {
          await this.server.stop();
          this.config.key = keysFrom([randomBytes(32), ...this.config.key.all.map(({ raw }) => raw)].slice(0, 4));
          this.server = await ServerProcess.start(this.config);
          return (await db.models.jobs.findOne({ where: { kind: 'key.rotate' }, order: [['id', 'DESC']] }))!.id;
        },
        state: async () => `${await this.sealedOtherwise()} rows sealed by another key`,
        whole: async () =>
          (await this.sealedOtherwise()) === 0
            ? null
            : `${await this.sealedOtherwise()} rows are sealed by another key`,
        byPieces: true,
      },
    ];
  }

  private async sealedOtherwise(): Promise<number> {
    const rows = await this.db.select<{ text: string }>(
      'SELECT secretSealed AS text FROM accounts WHERE secretSealed IS NOT NULL',
    );
    return rows.filter(({ text }) => !isCurrent(this.config.key, Buffer.from(text, 'base64'))).length;
  }

  private bigPlan(): { many: number; id: () => Promise<string> } {
    const many = 6000;
    let made: Promise<string> | null = null;
    const make = () => {
      const changes = Array.from({ length: many }, (_, i): Change => {
        const id = mint();
        const after = {
          ...{ role: 'student', number: String(500_000 + i), givenName: 'Kill', middleName: null, familyName: `N${i}` },
          ...{ birthDate: '2015-01-01', email: null, guardianEmail: null, status: 'active' },
        };
        return { entity: 'person', id, op: 'create', before: {}, after, reason: 'bench', label: `N${i}`, subject: id };
      });
      return this.db.transaction((tx) =>
        savePlan(this.db, tx, {
          ...{ kind: 'test', title: 'Kills', createdBy: this.by, grant: { is: 'opening' } as const, plan: { changes } },
        }),
      );
    };
    return { many, id: () => (made ??= make()) };
  }

  private lines = (many: number, from: number): Buffer =>
    Buffer.from(
      `student number,family name,given name,birth date,grade,class,school\n${Array.from(
        { length: many },
        (_, i) => `${from + i},Number${i},Kim,2015-01-${String((i % 28) + 1).padStart(2, '0')},3,3K,Lantern Point`,
      ).join('\n')}\n`,
    );
  private intake = (): Promise<string> =>
    storeIntake(this.db, { fileName: 'kills.csv', bytes: this.lines(2400, 600_000), schoolId: null, by: this.by });

  private files = 0;
  private feedId: string | null = null;
  private async feed(): Promise<object> {
    writeFileSync(join(this.feeds, `list-${++this.files}.csv`), this.lines(1500, 700_000 + this.files));
    if (!this.feedId) {
      this.feedId = mint();
      const settings = { schoolId: null, complete: false, kept: [], everyMinutes: null, folder: this.feeds };
      await this.db.models.feeds.create({
        ...{ id: this.feedId, name: 'Kills', way: 'folder', settings: JSON.stringify(settings), active: 1 },
        ...{ createdBy: this.by, createdAt: new Date().toISOString() },
      });
    }
    this.inputs.set('feed.take', { feedId: this.feedId });
    return { feedId: this.feedId };
  }

  /** Forty of the staff, invited anew. */
  private async invitations(): Promise<string[]> {
    const staff = await this.db.select<{ id: string }>(
      "SELECT p.id FROM people p JOIN accounts a ON a.personId = p.id WHERE p.role = 'staff' AND p.email IS NOT NULL ORDER BY p.id LIMIT 40",
    );
    await this.db.run('DELETE FROM invitations');
    const now = new Date().toISOString();
    const rows = staff.map(({ id: personId }) => ({ id: mint(), personId }));
    await this.db.models.invitations.bulkCreate(
      rows.map(({ id, personId }) => ({
        ...{ id, personId, tokenHash: `kills-${id}`, email: `${id.toLowerCase()}@isles.example`, createdBy: this.by },
        ...{ createdAt: now, expiresAt: '2099-01-01T00:00:00.000Z' },
      })),
    );
    return rows.map(({ id }) => id);
  }
}
