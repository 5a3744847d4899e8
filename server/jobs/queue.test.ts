/** Jobs between processes: each is done once, a lost lease is noticed, a dead owner’s job is ended, progress is told as it goes. */
import { inEnglish } from '#core/messages/languages';
import { rejected } from '#core/messages/expect';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { Db } from '../db/connection';
import { migrate } from '../db/migrate';
import type { Job } from '../contract';
import { DroppingWay } from '../testing/dropping';
import { ServerProcess } from '../testing/process';
import { World } from '../testing/world';
import { performing } from './desk';
import { claim, endInterrupted, enqueue, fail, finish, jobById, owner, renew } from './queue';

let world: World;
beforeAll(async () => {
  world = await World.open('queue');
});
afterAll(() => world.close());
const me = '0'.repeat(26);

describe('a job', () => {
  it('is leased by one of many who reach for it, oldest first', async () => {
    const others = Array.from({ length: 4 }, () => new Db(world.config.database, 2));
    const made: string[] = [];
    for (let i = 0; i < 25; i++) made.push(await enqueue(world.db, 'plan.apply', { planId: 'x' }, me));
    const taken = (
      await Promise.all(
        others.map(async (db) => {
          const got: string[] = [];
          for (let job = await claim(db); job; job = await claim(db)) got.push(job.id);
          return got;
        }),
      )
    ).flat();
    expect(taken.sort()).toEqual(made.sort());
    expect(await claim(world.db)).toBeNull();
    await Promise.all(others.map((db) => db.close()));
  });

  it('whose lease was lost cannot be ended by its old owner, so its work is rolled back', async () => {
    const id = await enqueue(world.db, 'plan.apply', { planId: 'x' }, me);
    await claim(world.db);
    await world.db.run("UPDATE jobs SET leasedBy = 'elsewhere:1' WHERE id = :id", { id });
    expect(await rejected(world.db.transaction((tx) => finish(world.db, tx, id, {})))).toContain('nothing was kept');
    // Another machine's job is left alone while its lease holds, and ended when it is over.
    expect((await endInterrupted(world.db)).map((job) => job.id)).not.toContain(id);
    await world.db.run('UPDATE jobs SET leaseUntil = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND WHERE id = :id', { id });
    expect((await endInterrupted(world.db)).map((job) => job.id)).toContain(id);
    const { status, error } = (await jobById(world.db, id))!.job;
    expect([status, inEnglish(error!.message)]).toEqual([
      'interrupted',
      'The server stopped in the middle of this. Nothing was kept. You can start it again.',
    ]);
  });

  it('that cannot begin because the database is away says so', async () => {
    const { host, port } = world.config.database;
    const way = await DroppingWay.to(host, port);
    const db = new Db({ ...world.config.database, host: '127.0.0.1', port: way.port }, 2);
    const id = await enqueue(world.db, 'cards.print', {}, me);
    const job = (await claim(world.db))!;
    way.cut();
    const worked = vi.fn(() => Promise.resolve());
    const logged = vi.spyOn(console, 'error').mockImplementation(() => {});
    const ended = performing(db, world.config, job, worked);
    await expect.poll(() => logged.mock.calls.length, { timeout: 30_000 }).toBeGreaterThan(0);
    logged.mockRestore();
    way.mend();
    await ended;
    expect(worked).not.toHaveBeenCalled();
    const { status, error } = (await jobById(world.db, id))!.job;
    expect([status, error?.message]).toEqual([
      'failed',
      'The connection to the database was lost. Nothing was kept. You can start it again.',
    ]);
    await db.close();
    await way.close();
  });

  it('is renewed alone by who works on it: another of the same process runs out', async () => {
    const [left, mine] = [await enqueue(world.db, 'plan.apply', {}, me), await enqueue(world.db, 'plan.apply', {}, me)];
    await claim(world.db);
    await claim(world.db);
    await world.db.run('UPDATE jobs SET leaseUntil = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND WHERE id IN (:ids)', {
      ids: [left, mine],
    });
    await renew(world.db, mine);
    expect((await endInterrupted(world.db)).map((job) => job.id)).toEqual([left]);
    // Nor does a later start of a process with the same number keep it.
    await world.db.run(
      'UPDATE jobs SET leasedBy = :other, leaseUntil = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND WHERE id = :mine',
      {
        other: owner.replace(/.$/, (last) => (last === '0' ? '1' : '0')),
        mine,
      },
    );
    await renew(world.db, mine);
    expect((await endInterrupted(world.db)).map((job) => job.id)).toEqual([mine]);
  });

  it('that fails while the database is away is failed when it is back', async () => {
    const id = await enqueue(world.db, 'plan.apply', {}, me);
    await claim(world.db);
    // Whoever asks meets a table that is not there for half a second.
    await world.db.run('RENAME TABLE jobs TO jobs_away');
    const failing = fail(world.db, id, { message: 'It did not work.' });
    await new Promise((next) => setTimeout(next, 500));
    await world.db.run('RENAME TABLE jobs_away TO jobs');
    await failing;
    expect((await jobById(world.db, id))?.job).toMatchObject({
      status: 'failed',
      error: { message: 'It did not work.' },
    });
    await world.db.run('RENAME TABLE jobs TO jobs_away');
    await expect(fail(world.db, id, { message: 'x' }, 300)).rejects.toThrow();
    await world.db.run('RENAME TABLE jobs_away TO jobs');
  });
});

describe('events', () => {
  it('tell how far a job is until it is done', async () => {
    const server = await ServerProcess.start(world.config);
    try {
      const base = server.base;
      const signedIn = await fetch(`${base}/api/sign-in`, {
        method: 'POST',
        headers: { Origin: base, 'Content-Type': 'application/json' },
        body: JSON.stringify({
          username: world.signIns.find(({ who }) => who.startsWith('district'))!.username,
          secret: demoPassword,
        }),
      });
      const headers = {
        Origin: base,
        Cookie: signedIn.headers.get('set-cookie')!.split(';')[0]!,
        'Content-Type': 'application/json',
      };
      const post = async <T>(path: string, body: object = {}) =>
        (await (await fetch(base + path, { method: 'POST', headers, body: JSON.stringify(body) })).json()) as T;
      await post('/api/sheaf/gather', { filter: { role: 'student' } });
      const { jobId, cards } = await post<{ jobId: string; cards: number }>('/api/prints', {
        sheaf: true,
        paper: 'A4',
        voidOlder: false,
      });
      expect(cards).toBeGreaterThan(2300);
      const stream = await fetch(`${base}/api/jobs/${jobId}/events`, { headers });
      expect(stream.headers.get('content-type')).toContain('text/event-stream');
      const told = (await stream.text())
        .split('\n')
        .filter((line) => line.startsWith('data:'))
        .map((line) => JSON.parse(line.slice(5)) as Job);
      expect(told.at(-1)).toMatchObject({ status: 'done', result: { changes: cards } });
      const steps = told.filter((job) => job.status === 'running' && job.total > 0).map((job) => job.done);
      expect(steps.length).toBeGreaterThan(3);
      expect(steps).toEqual([...steps].sort((a, b) => a - b));
    } finally {
      await server.stop();
    }
  });
});

describe('a server that ends', () => {
  it('answers first who asked', async () => {
    const server = await ServerProcess.start(world.config);
    try {
      const district = await server.signIn(
        world.signIns.find(({ who }) => who.startsWith('district'))!.username,
        demoPassword,
      );
      await world.db.sequelize.transaction(async (lock) => {
        // Nothing reads the products while they are locked, so the answer is under way when the server is told to end.
        await world.db.run('LOCK TABLES products WRITE', {}, lock);
        let answer: { products?: unknown; error?: string } | null = null;
        const asked = district.get<{ products?: unknown }>('/api/use').then((got) => (answer = got));
        await vi.waitFor(
          async () =>
            expect(
              await world.db.select(
                "SELECT 1 FROM information_schema.processlist WHERE state LIKE 'Waiting for table%'",
              ),
            ).not.toEqual([]),
          { timeout: 30_000, interval: 20 },
        );
        const ended = server.stop();
        await new Promise((wait) => setTimeout(wait, 400));
        expect([answer, server.isUp]).toEqual([null, true]);
        await world.db.run('UNLOCK TABLES', {}, lock);
        await Promise.all([asked, ended]);
        expect(answer).toMatchObject({ products: expect.any(Array) as unknown });
      });
    } finally {
      await server.stop();
    }
  });
});

describe('migrations', () => {
  it('run once, from an empty and from a filled database, and leave what is there', async () => {
    const before = await world.checksum();
    expect(await migrate(world.db)).toEqual([]);
    expect(await world.checksum()).toBe(before);
  });
});
