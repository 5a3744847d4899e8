/** How long the database may take, and whether it is there while all connections are busy. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { World } from '../testing/world';
import { isAway, isTooLong } from './away';
import { Db } from './connection';

let world: World;
let db: Db;
beforeAll(async () => {
  world = await World.open('limits', { demo: false });
  db = new Db(world.config.database, 1, 1);
});
afterAll(async () => {
  await db.close();
  await world.close();
});
/** Work that would take hours. */
const endless =
  'SELECT COUNT(*) AS n FROM information_schema.COLUMNS a, information_schema.COLUMNS b, information_schema.COLUMNS c';

it('a statement that takes too long is stopped, told apart from a database that is away, and undone', async () => {
  const one = (what: string) => db.one<{ times: number }>('SELECT times FROM counted WHERE what = :what', { what });
  const error = await db
    .transaction(async (tx) => {
      await db.run("INSERT INTO counted (what, times) VALUES ('long', 1)", {}, tx);
      await db.select(endless, {}, tx);
    })
    .catch((e: unknown) => e);
  expect([isTooLong(error), isAway(error)]).toEqual([true, false]);
  expect(await one('long')).toBeNull();
});

it('whether the database is there is answered while no connection is free', async () => {
  await db.transaction(async () => {
    const { migrations, version } = await db.probe();
    expect([migrations > 10, version]).toEqual([true, expect.stringContaining('MariaDB')]);
  });
});
