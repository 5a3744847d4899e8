/** A roll that was kept up to date says the same as one that is called anew, whatever happened meanwhile. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { randomFrom } from '#core/random/index';
import type { PeoplePage } from '../contract';
import { Db } from '../db/connection';
import { type Caller, World } from '../testing/world';
import { Roll } from './roll';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('roll');
  district = await world.as('district');
});
afterAll(() => world.close());

async function all(roll: Roll): Promise<string[]> {
  return [...(await roll.everyone())]
    .map((one) => JSON.stringify({ ...one, classes: [...one.classes].sort(), schools: [...one.schools].sort() }))
    .sort();
}
const same = async (roll: Roll): Promise<void> =>
  expect(await all(roll)).toEqual(await all(new Roll(world.db, world.config.today)));

it('follows edits, verbs, secrets, prints, sign-ins, merges and what is undone', async () => {
  const { roll } = world.services;
  // Asked beforehand in two orders, which are then kept.
  for (const sort of ['family', 'grade'] as const) await roll.inOrder(sort);
  const { rows } = (await district.get<PeoplePage>('/api/people?limit=400&role=student')).body;
  const r = randomFrom(7);
  const pick = () => rows[r.below(rows.length)]!;
  const gather = async (n: number) => {
    await district.post('/api/sheaf/let-go', { all: true });
    await district.post('/api/sheaf/gather', { ids: Array.from({ length: n }, () => pick().id) });
  };
  const done: string[] = [];
  const planned = async (path: string, body?: object) => {
    const { planId } = (await district.job(path, body)).result!;
    await district.job(`/api/plans/${planId}/apply`);
    done.push(planId!);
    return planId!;
  };
  const one = pick();
  await district.post(`/api/people/${one.id}/edit`, {
    field: 'familyName',
    before: one.familyName,
    after: 'Zwölfender',
  });
  await same(roll);
  await gather(6);
  await planned('/api/sheaf/plan', { verb: 'hold' });
  await same(roll);
  await gather(4);
  await planned('/api/sheaf/plan', { verb: 'leave' });
  await planned('/api/sheaf/plan', { verb: 'move', schoolId: null, grade: '06', classId: null }).catch(() => {});
  await same(roll);
  await gather(12);
  await district.job('/api/prints', { sheaf: true, paper: 'A4', voidOlder: true });
  await same(roll);
  await planned('/api/sheaf/secrets');
  await same(roll);
  const child = world.signIns.find(({ who }) => who.startsWith('student'))!;
  await world.db.run('DELETE FROM sign_ins WHERE personId = (SELECT personId FROM accounts WHERE username = :u)', {
    u: child.username,
  });
  const fresh = new Roll(world.db, world.config.today);
  await fresh.everyone();
  await world.as('student');
  await same(fresh);
  const [keep, gone] = [rows[3]!.id, rows[4]!.id];
  await district.post('/api/pairs/merge', { keep, gone });
  await same(roll);
  for (const planId of done.reverse()) {
    await district.job(`/api/plans/${planId}/undo`).catch(() => {});
    await same(roll);
  }
  // In each order everyone stands once, as sorting all of them anew would have it.
  for (const sort of ['family', 'grade'] as const)
    expect((await roll.inOrder(sort)).map(({ id }) => id)).toEqual(
      (await new Roll(world.db, world.config.today).inOrder(sort)).map(({ id }) => id),
    );
});

it('sees what another process wrote, to all who ask at once', async () => {
  const other = new Db(world.config.database, 2);
  const { roll } = world.services;
  const [first] = (await district.get<PeoplePage>('/api/people?limit=1&role=student')).body.rows;
  await district.post(`/api/people/${first!.id}/edit`, {
    field: 'givenName',
    before: first!.givenName,
    after: 'Ninuk',
  });
  const seen = await Promise.all([roll, new Roll(other, world.config.today), roll, roll].map((one) => one.everyone()));
  for (const people of seen) expect([...people].find(({ id }) => id === first!.id)!.given).toBe('Ninuk');
  await other.close();
});
