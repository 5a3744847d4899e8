/** A district's first bundle and the night after, planned, stored and applied; beside the bare rows and the bare updates. */
import { planRoster, type RosterIntent, rosterRows } from '#core/intake/index';
import { type Bundle, eachRecord, readBundle } from '#core/oneroster/index';
import type { Db } from '#server/db/connection';
import { readNight } from '#server/intake/night';
import { readSnapshot } from '#server/intake/snapshot.queries';
import type { LocalDatabase } from '#server/local/mariadb';
import { Applier, carryOut } from '#server/plans/apply';
import { savePlan } from '#server/plans/store';
import { mint } from '#server/plans/mint';
import { applying, type Change, groupBy, invert, kindOf, type Plan } from '#core/plan/index';
import { entities, type Entity } from '#core/entities/index';
import { print, timed } from './table';
import { benchWorld, today } from './world';
import { type District, filesOf } from './nights';

export async function benchRoster(
  database: LocalDatabase,
  nights: District,
  bareOf: (plan: Plan) => () => Promise<number>,
): Promise<void> {
  const schools: { name: string; code: string }[] = [];
  eachRecord(readBundle(filesOf(nights.before)), 'orgs.csv', (get) => {
    if (get('type') === 'school') schools.push({ name: get('name'), code: get('identifier') });
  });
  const { db, tools } = await benchWorld(database, 'sheaf_bench_roster', schools);
  const night = async (files: Map<string, Uint8Array>, last: { bundle: Bundle; keys: RosterIntent['keys'] } | null) => {
    const planned = await timed(async () => {
      const bundle = readBundle(files);
      const keys = last?.keys ?? { people: new Map<string, string>(), classes: new Map<string, string>() };
      const intent = { schoolId: null, complete: true, date: today, source: 'bench', mostLeaving: 0.5, keys };
      const read = last && (await readNight(db, last.bundle, bundle, keys));
      const result = planRoster(
        read?.snapshot ?? (await readSnapshot(db, 'whole')),
        bundle,
        read?.roster ?? rosterRows(bundle),
        [],
        { ...intent, ...(read ? { night: read.night } : {}) },
        tools,
      );
      return { bundle, ...result };
    });
    const { plan, bundle, keys } = planned.result;
    const stored = await timed(() =>
      db.transaction((tx) =>
        savePlan(db, tx, { kind: 'import', title: 'bench', createdBy: mint(), grant: { is: 'opening' }, plan }),
      ),
    );
    const applied = await timed(() => carryOut(db, stored.result, 'apply', null));
    const seconds = { planned: planned.seconds, stored: stored.seconds, applied: applied.seconds };
    return { id: stored.result, plan, bundle, keys, count: plan.changes.length, seconds };
  };
  const first = await night(filesOf(nights.before), null);
  const loadBare = bareOf(first.plan);
  // A million changes kept alive would be swept over and over.
  first.plan = { changes: [] };
  const files = filesOf(nights.after);
  const rounds: { count: number; seconds: (typeof first)['seconds']; bare: number }[] = [];
  for (let round = 0; round < 5; round++) {
    await sweptUp(db);
    const { id, count, seconds, plan } = await night(files, first);
    await carryOut(db, id, 'undo', null);
    await sweptUp(db);
    rounds.push({ count, seconds, bare: await bareUpdate(db, plan) });
  }
  const least = (of: (round: (typeof rounds)[number]) => number) => Math.min(...rounds.map(of));
  const second = {
    count: rounds[0]!.count,
    seconds: {
      planned: least(({ seconds }) => seconds.planned),
      stored: least(({ seconds }) => seconds.stored),
      applied: least(({ seconds }) => seconds.applied),
    },
  };
  const update = { what: 'the bare batch update', seconds: least(({ bare }) => bare) };
  // Last, since what the database keeps in memory would be the bare rows from then on.
  const bare = { what: 'LOAD DATA of the bare rows', seconds: await loadBare() };
  const lines = ({ count, seconds }: Pick<typeof first, 'count' | 'seconds'>, baseline: typeof bare) => {
    const { planned, stored, applied } = seconds;
    return [
      { what: 'planned', seconds: planned, count, unit: 'changes', baseline },
      { what: 'stored', seconds: stored, count, unit: 'changes', baseline },
      { what: 'applied, ledger included', seconds: applied, count, unit: 'changes', baseline },
      { what: 'all', seconds: planned + stored + applied, count, unit: 'changes', baseline },
    ];
  };
  print(`A district's first bundle: ${first.count.toLocaleString('en-US')} changes`, lines(first, bare));
  print(
    `The night after, the least of five rounds: ${second.count.toLocaleString('en-US')} changes`,
    lines(second, update),
  );
  await db.close();
}

/** Waits until the database has put away what earlier transactions left to it, so that none is slowed by another's. */
async function sweptUp(db: Db): Promise<void> {
  const left = async () =>
    Number((await db.one<{ Value: string }>("SHOW GLOBAL STATUS LIKE 'Innodb_history_list_length'"))?.Value ?? 0);
  for (let tries = 0; tries < 200 && (await left()) > 0; tries++) await new Promise((next) => setTimeout(next, 50));
}

/** A plan's rows written and committed in plain batches, kind by kind: nothing checked and no ledger. Taken back afterwards. */
export async function bareUpdate(db: Db, { changes }: Plan): Promise<number> {
  const kinds = [...groupBy(changes, kindOf).values()];
  const { seconds } = await timed(async () => {
    const tx = await db.begin();
    for (const list of kinds) {
      const [{ entity, op, after }] = list as [Change];
      const { table } = entities[entity as Entity];
      const fields = Object.keys(after);
      const sql =
        op === 'create'
          ? `INSERT INTO ${table} (${[...fields, 'id'].join(', ')}) VALUES (${[...fields, 'id'].map(() => '?').join(', ')})`
          : `UPDATE ${table} SET ${fields.map((field) => `${field} = ?`).join(', ')} WHERE id = ?`;
      const rows = list.map((c) => [...fields.map((field) => c.after[field]), c.id]);
      for (let at = 0; at < rows.length; at += 5000) await db.batch(sql, rows.slice(at, at + 5000), tx);
    }
    await tx.commit();
  });
  await db.transaction(async (tx) => {
    const back = new Applier(db, tx);
    await back.apply(invert({ changes: applying(changes, kindOf) }).changes);
    await back.end();
  });
  return seconds;
}
