/**
 * Whatever the border lets through, the server has an answer to it: no request makes it fail, and none waits for ever,
 * though eight of each route come at once and there are two connections to the database.
 */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { roam } from '../testing/roam';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let pool: string[];
beforeAll(async () => {
  world = await World.open('fuzz', { connections: 2 });
  district = await world.as('district');
  const tables = 'people classes schools devices carts bookings products licenses class_groups materials plans'.split(
    ' ',
  );
  // Nobody takes the role from themselves.
  const me = (await district.get<{ personId: string }>('/api/me')).body.personId;
  pool = [];
  for (const table of tables)
    for (const { id } of await world.db.select<{ id: string }>(
      `SELECT id FROM ${table} WHERE id <> :me ORDER BY id LIMIT 12`,
      { me },
    ))
      pool.push(id);
});
afterAll(() => world.close());

it('answers every request that the border lets through', async () => {
  const failed: string[] = [];
  const answers = new Map<number, number>();
  const walk = async (seed: number) => {
    for await (const { asked, status } of roam(district.send, pool, 3, seed)) {
      answers.set(status, (answers.get(status) ?? 0) + 1);
      if (status >= 500) failed.push(asked);
    }
  };
  await Promise.all([1, 2, 3, 4, 5, 6, 7, 8].map(walk));
  expect(failed).toEqual([]);
  // Most are refused with a reason, and many do something.
  expect(answers.get(200) ?? 0).toBeGreaterThan(200);
});
