/** How long the database may take, and whether it is there while all connections are busy. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { DroppingWay } from '../testing/dropping';
import { World } from '../testing/world';
import { isAway, isRefused, isTooLong } from './away';
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

it('a statement by itself that gave way to a transaction is made again', async () => {
  const { counted } = world.db.models;
  const many = Array.from({ length: 200 }, (_, i) => ({ what: `weight ${i}`, times: 1 }));
  await counted.bulkCreate(['a', 'b'].map((what) => ({ what, times: 1 })));
  let alone: Promise<unknown> = Promise.resolve();
  await world.db.transaction(async (transaction) => {
    // The heavier of two is let through.
    await counted.bulkCreate(many, { transaction });
    await counted.update({ times: 5 }, { where: { what: 'b' }, transaction });
    alone = world.db.beside(() => counted.update({ times: 9 }, { where: { what: ['a', 'b'] } }));
    alone.catch(() => {});
    await expect
      .poll(() =>
        world.db.one("SELECT 1 FROM information_schema.PROCESSLIST WHERE INFO LIKE 'UPDATE%'", {}, transaction),
      )
      .not.toBeNull();
    await counted.update({ times: 5 }, { where: { what: 'a' }, transaction });
  });
  await alone;
  const rows = await counted.findAll({ where: { what: ['a', 'b'] }, order: ['what'], raw: true });
  expect(rows.map(({ times }) => times)).toEqual([9, 9]);
});

it('whether the database is there is answered while no connection is free', async () => {
  await db.transaction(async () => {
    const { migrations, version } = await db.probe();
    expect([migrations > 10, version]).toEqual([true, expect.stringContaining('MariaDB')]);
  });
});

it('one that takes nobody of this name, or is not there, is told apart from one that is still starting', async () => {
  const asked = async (other: Partial<typeof world.config.database>): Promise<[boolean, boolean]> => {
    const to = new Db({ ...world.config.database, ...other }, 1);
    const error = await to.select('SELECT 1').catch((e: unknown) => e);
    await to.close();
    return [isAway(error), isRefused(error)];
  };
  expect(await asked({ password: 'another' })).toEqual([true, true]);
  expect(await asked({ name: 'sheaf_none_such' })).toEqual([true, true]);
  // Nobody listens there.
  expect(await asked({ port: 1 })).toEqual([true, false]);
});

it('a host that fails is passed over for the next one, and what is open to it is not used again', async () => {
  const { host, port } = world.config.database;
  const way = await DroppingWay.to(host, port);
  const several = new Db({ ...world.config.database, host: '127.0.0.1', port: way.port, others: [{ host, port }] }, 2);
  const at = async () => (await several.one<{ n: number }>('SELECT COUNT(*) AS n FROM migrations'))!.n;
  const before = await at();
  expect(way.used).toBe(true);
  way.cut();
  expect(await at()).toBe(before);
  expect(await several.transaction(async (tx) => (await several.one<{ n: number }>('SELECT 1 AS n', {}, tx))!.n)).toBe(
    1,
  );
  way.mend();
  await several.close();
  await way.close();
});
