/**
 * 10,000 pairs of random plans, made before either is applied, one after the other and both at once by pools of their
 * own; and 100 answers to COMMIT that are lost on the way. What is wrong is counted, and must be nothing.
 */
import { Db } from '#server/db/connection';
import { makeDistrict, yearFrom } from '#server/district';
import type { LocalDatabase } from '#server/local/mariadb';
import { carryOut } from '#server/plans/apply';
import { mint } from '#server/plans/mint';
import { savePlan } from '#server/plans/store';
import { DroppingWay } from '#server/testing/dropping';
import { tryPairs } from '#server/testing/pairs';
import { table } from './table';
import { emptyDatabase, today } from './world';

const pairs = 5_000;
const losses = 100;

export async function benchPairs(database: LocalDatabase): Promise<void> {
  const { db, config } = await emptyDatabase(database, 'sheaf_bench_pairs');
  await db.transaction((tx) => makeDistrict(db, { name: 'Bench', zone: 'UTC', year: yearFrom(today) }, tx));
  const other = new Db(config.database);
  const rows: string[][] = [];
  const wrong: string[] = [];
  for (const [what, through] of [
    ['one after the other', [db]],
    ['both at once, by pools of their own', [db, other]],
  ] as const) {
    const from = performance.now();
    const told = await tryPairs(through, pairs, 1);
    const refused = [...told.refused.values()].reduce((a, b) => a + b, 0);
    const seconds = (performance.now() - from) / 1000;
    wrong.push(...told.wrong);
    rows.push([
      `${pairs.toLocaleString('en-US')} pairs, ${what}`,
      `${told.through.toLocaleString('en-US')} went through, ${refused.toLocaleString('en-US')} were refused for ${told.refused.size} reasons, ${told.wrong.length} wrong, ${seconds.toFixed(0)} s`,
    ]);
  }
  await other.close();
  rows.push([`${losses} lost answers to COMMIT`, `${await lose(db, config.database)} told other than they were`]);
  await db.close();
  table('What holds once only', ['', ''], rows);
  for (const one of wrong.slice(0, 20)) console.log(`wrong: ${one}`);
}

/** How many were told other than they were. */
async function lose(db: Db, at: ConstructorParameters<typeof Db>[0]): Promise<number> {
  const way = await DroppingWay.to(at.host, at.port);
  const through = new Db({ ...at, host: '127.0.0.1', port: way.port }, 3);
  let wrong = 0;
  for (let i = 0; i < losses; i++) {
    const id = mint();
    const after = { name: 'Lost', code: id.slice(-12), kind: 'k8', lowGrade: 'KG', highGrade: '08' };
    const changes = [
      { entity: 'school', id, op: 'create' as const, before: {}, after, reason: 'bench', label: 'Lost', subject: id },
    ];
    const planId = await db.transaction((tx) =>
      savePlan(db, tx, { kind: 'test', title: 'test', createdBy: mint(), grant: { is: 'opening' }, plan: { changes } }),
    );
    way.next = i % 3 === 0 ? 'question' : 'answer';
    const said = await carryOut(through, planId, 'apply', null).then(
      () => true,
      () => false,
    );
    const isThere = (await db.one('SELECT 1 AS one FROM ledger WHERE planId = :planId', { planId })) !== null;
    if (said !== isThere || way.next !== null) wrong++;
  }
  await through.close();
  await way.close();
  return wrong;
}
