/** A district's first bundle and the night after, planned, stored and applied; beside the bare rows and the bare updates. */
import { planRoster, type RosterIntent, rosterRows, saidAnew, touchedBy } from '#core/intake/index';
import { type Bundle, eachRecord, nightOf, readBundle } from '#core/oneroster/index';
import type { Db } from '#server/db/connection';
import { readSnapshot } from '#server/intake/snapshot';
import type { LocalDatabase } from '#server/local/mariadb';
import { carryOut } from '#server/plans/apply';
import { mint, savePlan } from '#server/plans/store';
import { type Change, groupBy, kindOf, type Plan } from '#core/plan/index';
import { entities, type Entity } from '#core/register/index';
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
  let keys: RosterIntent['keys'] = { people: new Map(), classes: new Map() };
  let before: Bundle | null = null;
  const night = async (files: Map<string, Uint8Array>) => {
    const planned = await timed(async () => {
      const bundle = readBundle(files);
      const intent = { schoolId: null, complete: true, date: today, source: 'bench', mostLeaving: 0.5, keys };
      const changed = before && nightOf(before, bundle);
      const snapshot = await readSnapshot(
        db,
        true,
        changed ? (ids) => touchedBy(changed, bundle, keys, ids) : undefined,
      );
      before = bundle;
      return planRoster(
        snapshot,
        bundle,
        rosterRows(bundle, undefined, changed ? saidAnew(changed, keys) : undefined),
        [],
        { ...intent, ...(changed ? { night: changed } : {}) },
        tools,
      );
    });
    const { plan } = planned.result;
    const stored = await timed(() =>
      db.transaction((tx) => savePlan(db, tx, { kind: 'import', title: 'bench', createdBy: mint(), plan })),
    );
    const applied = await timed(() => carryOut(db, stored.result, 'apply', null));
    keys = planned.result.keys;
    const count = plan.changes.length;
    return {
      id: stored.result,
      plan,
      count,
      planned: planned.seconds,
      stored: stored.seconds,
      applied: applied.seconds,
    };
  };
  const first = await night(filesOf(nights.before));
  const loadBare = bareOf(first.plan);
  // A million changes kept alive would be swept over and over.
  first.plan = { changes: [] };
  const second = await night(filesOf(nights.after));
  await carryOut(db, second.id, 'undo', null);
  const update = { what: 'the bare batch update', seconds: await bareUpdate(db, second.plan) };
  // Last, since what the database keeps in memory would be the bare rows from then on.
  const bare = { what: 'LOAD DATA of the bare rows', seconds: await loadBare() };
  const lines = (n: typeof first, baseline: typeof bare) => {
    const { count } = n;
    return [
      { what: 'planned', seconds: n.planned, count, unit: 'changes', baseline },
      { what: 'stored', seconds: n.stored, count, unit: 'changes', baseline },
      { what: 'applied, ledger included', seconds: n.applied, count, unit: 'changes', baseline },
      { what: 'all', seconds: n.planned + n.stored + n.applied, count, unit: 'changes', baseline },
    ];
  };
  print(`A district's first bundle: ${first.count.toLocaleString('en-US')} changes`, lines(first, bare));
  print(`The night after: ${second.count.toLocaleString('en-US')} changes`, lines(second, update));
  await db.close();
}

/** A plan's rows written in plain batches, kind by kind: nothing checked and no ledger. */
export async function bareUpdate(db: Db, { changes }: Plan): Promise<number> {
  const kinds = [...groupBy(changes, kindOf).values()];
  const { seconds } = await timed(() =>
    db.transaction(async (tx) => {
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
    }),
  );
  return seconds;
}
