/** What holds once only, between plans that do not know of each other; `./run bench pairs` tries 10,000. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { declarationOf, entityNames } from '#core/entities/index';
import type { Change, Fields } from '#core/plan/index';
import { Db } from '../../db/connection';
import { makeDistrict, yearFrom } from '../../district';
import { tryPairs } from '../../testing/pairs';
import { testDay, World } from '../../testing/world';
import { carryOut, PlanConflict } from '../apply';
import { mint } from '../mint';
import { savePlan } from '../store';

let world: World;
let other: Db;
beforeAll(async () => {
  world = await World.open('once', { demo: false });
  await world.db.transaction((tx) =>
    makeDistrict(world.db, { name: 'Pairs', zone: 'UTC', year: yearFrom(testDay) }, tx),
  );
  other = new Db(world.config.database);
});
afterAll(async () => {
  await other.close();
  await world.close();
});

it('holds whatever pairs of plans are applied and undone, one after the other and both at once', async () => {
  // One after the other, the same happens each time: with this seed each of the rules stops somebody.
  const after = await tryPairs([world.db], 200, 3);
  expect(after.wrong).toEqual([]);
  const why = [...after.refused.keys()].join('\n');
  for (const words of [
    'already in this class',
    'already checked out',
    'belongs to another student',
    'in the homeroom',
    'have no coordinator',
    'seat of this product',
    'license has',
    'which has ended',
    'which ends',
  ])
    expect(why).toContain(words);
  const atOnce = await tryPairs([world.db, other], 100, 4);
  expect(atOnce.wrong).toEqual([]);
  // Most went through.
  const refused = [...after.refused, ...atOnce.refused].reduce((sum, [, n]) => sum + n, 0);
  expect(after.through + atOnce.through).toBeGreaterThan(refused);
});

it('tells in words what is there already, also when another plan made it a moment before', async () => {
  const { db } = world;
  const making = (entity: string, after: Fields): Change => {
    const id = mint();
    return { entity, id, op: 'create', before: {}, after, reason: 'test', label: entity, subject: id };
  };
  const save = (change: Change) =>
    db.transaction((tx) =>
      savePlan(db, tx, {
        ...{ kind: 'test', title: 'test', createdBy: mint(), grant: { is: 'opening' } },
        plan: { changes: [change] },
      }),
    );
  const school = making('school', { name: 'S', code: 'MOMENT', kind: 'k8', lowGrade: 'KG', highGrade: '08' });
  const people = ['A', 'B', 'C'].map((familyName) =>
    making('person', { role: 'student', givenName: 'G', familyName, status: 'active' }),
  );
  const [one, two, three] = people.map(({ id }) => id) as [string, string, string];
  const device = making('device', { tag: 'MOMENT', model: 'Slate', schoolId: school.id, condition: 'good' });
  for (const change of [school, ...people, device]) await carryOut(db, await save(change), 'apply', null);
  const account = (personId: string, username: string) =>
    making('account', { personId, username, role: 'student', status: 'active', secretVersion: 1, passwordHash: 'x' });
  const product = (edition: string | null) => making('product', { name: 'Bítlets', edition });
  const lent = (personId: string) =>
    making('loan', { personId, deviceId: device.id, kind: 'own', begins: testDay, due: null, ends: null });
  const pairs: [Change, Change, string | null][] = [
    [lent(one), lent(two), 'the device is already checked out; return it first'],
    [account(one, 'moment1'), account(one, 'moment2'), 'already has an account'],
    [account(two, 'moment3'), account(three, 'moment3'), 'the username “moment3” is already taken'],
    [
      product('2'),
      { ...product('2'), after: { name: 'bitlets', edition: '2' } },
      'the name “bitlets” is already taken',
    ],
    [product(null), product(null), null],
  ];
  for (const [first, second, words] of pairs) {
    const plans = [await save(first), await save(second)] as const;
    let late: Promise<unknown> = Promise.resolve();
    await carryOut(db, plans[0], 'apply', null, {
      alsoWithin: async (tx) => {
        late = carryOut(other, plans[1], 'apply', null).catch((error: unknown) => error);
        // It has begun, and waits for what the first one has not committed yet.
        if (words)
          await expect
            .poll(
              () => db.one("SELECT 1 FROM information_schema.PROCESSLIST WHERE INFO LIKE 'INSERT INTO %'", {}, tx),
              { timeout: 30_000 },
            )
            .not.toBeNull();
      },
    });
    const said = await late;
    expect(said instanceof PlanConflict ? said.conflicts.map(({ message }) => message) : null).toEqual(
      words && [words],
    );
  }
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
