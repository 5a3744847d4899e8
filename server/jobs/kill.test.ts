/** What a server that is killed in the middle of an apply leaves: all of it or nothing, and the next start says which. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Change } from '#core/plan/index';
import { randomFrom } from '#core/random/index';
import type { Job } from '../contract';
import { demoPassword } from '#demo/scenario';
import { carryOut } from '../plans/apply';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { ServerProcess } from '../testing/process';
import { World } from '../testing/world';

let world: World;
beforeAll(async () => {
  world = await World.open('kill');
});
afterAll(() => world.close());

const people = 20_000;
const count = async () => (await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM people'))!.n;

it('leaves all or nothing of an apply, six times, and says which', async () => {
  const changes = Array.from({ length: people }, (_, i): Change => {
    const id = mint();
    return {
      entity: 'person',
      id,
      op: 'create',
      before: {},
      reason: 'test',
      label: `Person ${i}`,
      subject: id,
      after: {
        role: 'student',
        number: String(500_000 + i),
        givenName: 'Kim',
        middleName: null,
        familyName: `Number${i}`,
        birthDate: '2015-01-01',
        email: null,
        guardianEmail: null,
        status: 'active',
      },
    };
  });
  const planId = await world.db.transaction((tx) =>
    savePlan(world.db, tx, {
      kind: 'test',
      title: 'many people',
      createdBy: mint(),
      grant: { is: 'opening' },
      plan: { changes },
    }),
  );
  const [before, checksum] = [await count(), await world.checksum()];
  const from = Date.now();
  await carryOut(world.db, planId, 'apply', null);
  const takes = Date.now() - from;
  await carryOut(world.db, planId, 'undo', null);

  const username = world.signIns.find(({ who }) => who.startsWith('district'))!.username;
  const r = randomFrom(Date.now() & 0xffff);
  const outcomes: string[] = [];
  let server = await ServerProcess.start(world.config);
  for (let i = 0; i < 6; i++) {
    const remote = await server.signIn(username, demoPassword);
    const { jobId, error } = await remote.post<{ jobId: string }>(`/api/plans/${planId}/apply`);
    expect(error).toBeUndefined();
    // From at once to a little after the end, so that both outcomes can come.
    const wait = r.below(Math.round(takes * 1.5));
    await new Promise((next) => setTimeout(next, wait));
    await server.kill();
    server = await ServerProcess.start(world.config);
    const again = await server.signIn(username, demoPassword);
    let job = await again.get<Job>(`/api/jobs/${jobId}`);
    // A job that nobody had begun is done by the next server.
    for (let tries = 0; (job.status === 'waiting' || job.status === 'running') && tries < 200; tries++) {
      await new Promise((next) => setTimeout(next, 100));
      job = await again.get<Job>(`/api/jobs/${jobId}`);
    }
    const now = await count();
    outcomes.push(`${wait} ms: ${job.status}`);
    if (job.status === 'done') {
      expect(now).toBe(before + people);
      await carryOut(world.db, planId, 'undo', null);
    } else {
      expect(job.status).toBe('interrupted');
      expect(job.error?.message).toContain('Nothing was kept');
      expect(server.log).toContain(`${jobId} was interrupted`);
      expect(now).toBe(before);
      const plan = await world.db.one<{ status: string }>('SELECT status FROM plans WHERE id = :planId', { planId });
      expect(['ready', 'undone']).toContain(plan!.status);
    }
    expect(await world.checksum()).toBe(checksum);
  }
  await server.stop();
  console.log(`one apply takes ${takes} ms here; killed after`, outcomes.join(', '));
  expect(outcomes.some((o) => o.endsWith('interrupted'))).toBe(true);
});
