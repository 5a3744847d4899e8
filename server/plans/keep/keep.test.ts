/** What holds once only, between plans that do not know of each other; `./run bench pairs` tries 10,000. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { randomFrom } from '#core/random/index';
import { declarationOf, entityNames } from '#core/entities/index';
import { Db } from '../../db/connection';
import { makeDistrict, yearFrom } from '../../district';
import { testDay, World } from '../../testing/world';
import { tryPairs } from '../../testing/pairs';

let world: World;
let other: Db;
beforeAll(async () => {
  world = await World.open('once', { demo: false });
  await world.db.transaction((tx) => makeDistrict(world.db, 'Pairs', { year: yearFrom(testDay) }, tx));
  other = new Db(world.config.database);
});
afterAll(async () => {
  await other.close();
  await world.close();
});

it('holds whatever pairs of plans are applied and undone, one after the other and both at once', async () => {
  const seed = randomFrom(7).below(1e6);
  const after = await tryPairs([world.db], 150, seed);
  expect(after.wrong).toEqual([]);
  const atOnce = await tryPairs([world.db, other], 150, seed + 1);
  expect(atOnce.wrong).toEqual([]);
  // Most went through, and each of the rules stopped somebody.
  const refused = [...after.refused, ...atOnce.refused].reduce((sum, [, n]) => sum + n, 0);
  expect(after.through + atOnce.through).toBeGreaterThan(refused);
  const why = [...after.refused.keys(), ...atOnce.refused.keys()].join('\n');
  for (const words of [
    'in this class already',
    'with somebody already',
    'another student’s',
    'in the homeroom',
    'without a coordinator',
    'seat of this product',
    'license has',
    'which is over',
    'which ends',
  ])
    expect(why).toContain(words);
});

it('is kept by keys of the database that are named as the register names them', async () => {
  for (const entity of entityNames) {
    const { table, facts } = declarationOf(entity)!;
    if (!facts.openOnce) continue;
    const { key: name, fields } = facts.openOnce;
    const columns = await world.db.select<{ c: string; u: number }>(
      'SELECT COLUMN_NAME AS c, NON_UNIQUE AS u FROM information_schema.STATISTICS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = :table AND INDEX_NAME = :name ORDER BY SEQ_IN_INDEX',
      { table, name },
    );
    expect([name, columns]).toEqual([name, [...fields, 'isOpen'].map((c) => ({ c, u: 0 }))]);
  }
});
