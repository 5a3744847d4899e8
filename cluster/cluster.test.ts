/** Two servers over a cluster of three databases, each with one of its own first. */
import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { keysFrom } from '#server/auth/keys';
import { alone, type Config } from '#server/config';
import { Db } from '#server/db/connection';
import type { DemoSignIn } from '#server/demo';
import { makeDatabase } from '#server/local/mariadb';
import { checksumOf } from '#server/testing/checksum';
import { type Cluster, startCluster } from '#server/testing/cluster';
import { type Remote, ServerProcess } from '#server/testing/process';

const folder = resolve('.test-data/cluster');
let cluster: Cluster;
let servers: readonly [ServerProcess, ServerProcess];
let callers: readonly [Remote, Remote];
/** Each database by itself. */
let each: Db[];

/** A server's configuration that has the nodes in this order. */
function configOf(order: readonly [number, number, number], key: Config['key']): Config {
  const [first, ...others] = order.map((i) => cluster.nodes[i]!.at) as [Cluster['nodes'][0]['at']];
  const { user, password } = cluster;
  return {
    port: 0,
    dataFolder: folder,
    url: '',
    today: () => '2026-08-17',
    key,
    ...alone,
    database: { ...first, others, user, password, name: 'sheaf' },
  };
}

beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  cluster = await startCluster(folder);
  const { user, password } = cluster;
  await makeDatabase({ ...cluster.nodes[0].at, user, password }, 'sheaf');
  const key = keysFrom([randomBytes(32)]);
  const one = await ServerProcess.start(configOf([0, 2, 1], key), { args: ['--demo'] });
  const two = await ServerProcess.start(configOf([1, 2, 0], key));
  servers = [one, two];
  const signIns = JSON.parse(readFileSync(resolve(folder, 'demo-sign-ins.json'), 'utf8')) as DemoSignIn[];
  const { username, secret } = signIns.find(({ who }) => who.startsWith('district'))!;
  callers = [await one.signIn(username, secret), await two.signIn(username, secret)];
  each = cluster.nodes.map(({ at }) => new Db({ ...at, user, password, name: 'sheaf' }, 2));
});
afterAll(async () => {
  for (const db of each ?? []) await db.close();
  for (const server of servers ?? []) await server.stop();
  await cluster?.stop();
});

interface Told {
  status: number;
  error: string;
}
const told = async (answer: Promise<Response>): Promise<Told> => {
  const response = await answer;
  return { status: response.status, error: ((await response.json()) as { error?: string }).error ?? '' };
};
/** All that was committed before is seen, also by a node that is behind. */
const settled = (db: Db) => db.one('SET STATEMENT wsrep_sync_wait = 1 FOR SELECT COUNT(*) AS n FROM migrations');

it('lends a device to one of two who are given it at the same moment by two servers, 200 times', async () => {
  const [db] = each as [Db];
  const device = (await db.one<{ id: string; schoolId: string }>(
    "SELECT id, schoolId FROM devices WHERE `condition` = 'good' AND cartId IS NULL AND id NOT IN (SELECT deviceId FROM loans WHERE ends IS NULL) LIMIT 1",
  ))!;
  const people = await db.select<{ id: string }>(
    `SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE p.role = 'student' AND p.status = 'active' AND a.schoolId = :schoolId ORDER BY p.id LIMIT 2`,
    { schoolId: device.schoolId },
  );
  const odd: string[] = [];
  const first = [0, 0];
  for (let round = 0; round < 200; round++) {
    const answers = await Promise.all(
      callers.map((caller, i) =>
        told(
          caller.send('POST', `/api/devices/${device.id}/lend`, { personId: people[i]!.id, kind: 'own', due: null }),
        ),
      ),
    );
    const winners = answers.flatMap(({ status }, i) => (status === 200 ? [i] : []));
    await settled(each[2]!);
    const holders = await each[2]!.select<{ personId: string }>(
      'SELECT personId FROM loans WHERE deviceId = :id AND ends IS NULL',
      { id: device.id },
    );
    const [winner = -1] = winners;
    if (winners.length !== 1 || holders.length !== 1 || holders[0]!.personId !== people[winner]?.id)
      odd.push(`${round}: ${JSON.stringify(answers)}, ${holders.length} holders`);
    first[winner]!++;
    const { status, error } = answers[1 - winner] ?? { status: 0, error: '' };
    if (status !== 409 || !/return it first/i.test(error)) odd.push(`${round}: ${status} ${error}`);
    const back = await told(callers[round % 2]!.send('POST', `/api/devices/${device.id}/back`));
    if (back.status !== 200) odd.push(`${round}: back ${back.status} ${back.error}`);
  }
  console.log(`lent 200 times: ${first[0]} through the one server, ${first[1]} through the other`);
  expect(odd.slice(0, 10)).toEqual([]);
});

it('keeps what it says it kept, and nothing else, of 1,000 plans while a database is killed and comes back', async () => {
  const people = await each[2]!.select<{ id: string }>(
    "SELECT id FROM people WHERE role = 'student' AND status = 'active' AND preferredName IS NULL ORDER BY id LIMIT 1000",
  );
  expect(people).toHaveLength(1000);
  const before = await each[2]!.one<{ version: number }>('SELECT version FROM register');
  const answers = new Map<string, Told>();
  let next = 0;
  let node: Promise<void> = Promise.resolve();
  const from = performance.now();
  let slowest = 0;
  const work = async (caller: Remote): Promise<void> => {
    for (let i = next++; i < people.length; i = next++) {
      if (i === 250) node = cluster.nodes[0].kill();
      if (i === 500) node = node.then(() => cluster.nodes[0].start());
      const { id } = people[i]!;
      const body = { field: 'preferredName', before: null, after: `Called ${i}` };
      const began = performance.now();
      answers.set(id, await told(caller.send('POST', `/api/people/${id}/edit`, body)));
      slowest = Math.max(slowest, performance.now() - began);
    }
  };
  await Promise.all(callers.flatMap((caller) => [work(caller), work(caller), work(caller)]));
  await node;
  await settled(each[1]!);
  const now = new Map(
    (await each[1]!.select<{ id: string; preferredName: string | null }>('SELECT id, preferredName FROM people')).map(
      ({ id, preferredName }) => [id, preferredName],
    ),
  );
  const entries = new Map(
    (
      await each[1]!.select<{ subject: string; n: number }>(
        'SELECT t.personId AS subject, COUNT(*) AS n FROM ledger l JOIN touched t ON t.planId = l.planId WHERE l.version > :before GROUP BY t.personId',
        { before: before!.version },
      )
    ).map(({ subject, n }) => [subject, n]),
  );
  const counts = { kept: 0, refused: 0, unsure: 0 };
  const odd: string[] = [];
  people.forEach(({ id }, i) => {
    const { status, error } = answers.get(id)!;
    const isKept = now.get(id) === `Called ${i}`;
    if (isKept !== (entries.get(id) === 1)) odd.push(`${i}: ${entries.get(id) ?? 0} entries`);
    if (error.includes('before it said whether')) counts.unsure++;
    else if (status === 200) {
      counts.kept++;
      if (!isKept) odd.push(`${i}: told that it was kept`);
    } else {
      counts.refused++;
      if (isKept) odd.push(`${i}: told ${status} ${error}`);
      if (!error.startsWith('Sheaf can’t reach its database')) odd.push(`${i}: ${status} ${error}`);
    }
  });
  console.log(
    `1,000 plans in ${((performance.now() - from) / 1000).toFixed(0)} s: ${counts.kept} kept, ${counts.refused} told that they were not, ${counts.unsure} unsure; the slowest answer took ${(slowest / 1000).toFixed(1)} s`,
  );
  expect(odd.slice(0, 10)).toEqual([]);
  expect(counts.kept).toBeGreaterThan(900);
  // Both go on, and all three databases hold the same.
  for (const [i, caller] of callers.entries()) {
    const body = { field: 'preferredName', before: now.get(people[i]!.id) ?? null, after: 'At last' };
    expect(await told(caller.send('POST', `/api/people/${people[i]!.id}/edit`, body))).toMatchObject({ status: 200 });
  }
  for (const db of each) await settled(db);
  const [one, two, three] = await Promise.all(each.map((db) => checksumOf(db)));
  expect([one, two]).toEqual([three, three]);
});
