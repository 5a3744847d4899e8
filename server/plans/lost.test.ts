/** Whether a plan was applied is told as it is, also when the database's answer is lost on the way. */
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { Change } from '#core/plan/index';
import { Db } from '../db/connection';
import { DroppingWay } from '../testing/dropping';
import { World } from '../testing/world';
import { carryOut } from './apply';
import { mint } from './mint';
import { savePlan } from './store';

let world: World;
let way: DroppingWay;
let db: Db;
beforeAll(async () => {
  // Sequelize tells of each connection that it gives up, which is what this test is about.
  vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  world = await World.open('lost', { demo: false });
  const { host, port } = world.config.database;
  way = await DroppingWay.to(host, port);
  db = new Db({ ...world.config.database, host: '127.0.0.1', port: way.port }, 3);
});
afterAll(async () => {
  vi.restoreAllMocks();
  await db.close();
  await way.close();
  await world.close();
});

const school = (): Change => {
  const id = mint();
  const after = { name: 'Lost', code: id.slice(-12), kind: 'k8', lowGrade: 'KG', highGrade: '08' };
  return { entity: 'school', id, op: 'create', before: {}, after, reason: 'test', label: 'Lost', subject: id };
};

it('is applied once and said to be, whether the question or the answer is lost', async () => {
  for (let i = 0; i < 16; i++) {
    const one = school();
    const planId = await world.db.transaction((tx) =>
      savePlan(world.db, tx, {
        kind: 'test',
        title: 'test',
        createdBy: mint(),
        grant: { is: 'opening' },
        plan: { changes: [one] },
      }),
    );
    for (const action of ['apply', 'undo'] as const) {
      way.next = i % 2 === 0 ? 'answer' : 'question';
      const { ledgerId, changes, sentence } = await carryOut(db, planId, action, null);
      expect(way.next).toBeNull();
      const entries = await world.db.select(
        'SELECT id, changes, sentence FROM ledger WHERE planId = :planId AND action = :action',
        { planId, action },
      );
      expect(entries).toEqual([{ id: ledgerId, changes, sentence }]);
      const there = await world.db.one('SELECT 1 AS one FROM schools WHERE id = :id', { id: one.id });
      expect(there !== null).toBe(action === 'apply');
    }
  }
  expect(way.dropped).toBe(32);
});
