/** `./run bench`: reading, planning and applying, cards; each beside a plain way of doing the bare work in the same run. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { createConnection } from 'mariadb';
import { planImport } from '#core/intake/index';
import type { Change, Plan } from '#core/plan/index';
import { entities, type Entity } from '#core/entities/index';
import { open, readRows, type RowRules } from '#core/tabular/index';
import { Db, jobSeconds } from '#server/db/connection';
import { benchCards } from './cards';
import { fuzz } from './fuzz';
import { guesses } from './guesses';
import { signIns } from './sign-in';
import { benchKills } from './kills';
import { benchPairs } from './pairs';
import { benchSeats } from './seats';
import { lists, secretsAndCards } from './lists';
import { loads } from './loads';
import { migrate } from '#server/db/migrate';
import { readSnapshot } from '#server/intake/snapshot.queries';
import { type LocalDatabase, makeDatabase, portIsFree, startMariaDb } from '#server/local/mariadb';
import { carryOut } from '#server/plans/apply';
import { savePlan } from '#server/plans/store';
import { mint } from '#server/plans/mint';
import { wordOf } from '#core/random/index';
import { linkage, linkageSpeed } from './linkage';
import { benchNights, removeNights, writeNights } from './nights';
import { benchRoster } from './roster';
import { benchWorld, today } from './world';
import { benchSections, benchYear } from './year';
import { benchUse } from './use';
import { benchPurge } from './purge';
import { best, print, timed, type BenchRow } from './table';

const rules: RowRules = { numberDigits: 6, bornFrom: '2004-01-01', bornTo: '2023-12-31', grades: [] };

function exported(people: number): Buffer {
  const rows = Array.from({ length: people }, (_, i) => {
    const school = Math.floor(i / 500);
    return `${String(100_000 + i)},${wordOf(i % 9973)},${wordOf(i % 499)},${String((i % 28) + 1).padStart(2, '0')}/${String((i % 12) + 1).padStart(2, '0')}/${2008 + (i % 12)},${(i % 12) + 1},${(i % 12) + 1}${'ABCDEF'[i % 6]},School ${school}`;
  });
  return Buffer.from(`student number,family name,given name,birth date,grade,class,school\n${rows.join('\n')}\n`);
}

async function reading(): Promise<void> {
  const rows: BenchRow[] = [];
  for (const count of [2_400, 200_000]) {
    const bytes = exported(count);
    const runs = count > 10_000 ? 2 : 8;
    const split = await best(runs, () =>
      new TextDecoder()
        .decode(bytes)
        .split('\n')
        .map((line) => line.split(',')),
    );
    const read = await best(runs, () => readRows(open(bytes), {}, rules));
    if (read.result.rows.length !== count) throw new Error('the file was not read whole');
    rows.push({
      what: `${count.toLocaleString('en-US')} rows read and typed`,
      seconds: read.seconds,
      count,
      unit: 'rows',
      baseline: { what: 'splitting the bytes at lines and commas', seconds: split.seconds },
    });
  }
  print('Reading a file', rows);
}

/**
 * The plan's rows loaded with LOAD DATA, nothing checked and no ledger: what the database needs for the bare rows.
 * The rows are written at once, so that the plan can go; they are loaded when asked.
 */
function bareRows(database: LocalDatabase, name: string, plan: Plan): () => Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-bench-'));
  const tables = new Map<Entity, Change[]>();
  for (const change of plan.changes) {
    const entity = change.entity as Entity;
    const list = tables.get(entity);
    if (list) list.push(change);
    else tables.set(entity, [change]);
  }
  const files = [...tables].map(([entity, changes]) => {
    const columns = ['id', ...entities[entity].columns];
    const file = join(folder, entity);
    writeFileSync(
      file,
      changes
        .map((change) => columns.map((c) => (c === 'id' ? change.id : (change.after[c] ?? '\\N'))).join('\t'))
        .join('\n') + '\n',
    );
    return { table: entities[entity].table, columns, file };
  });
  return async () => {
    await makeDatabase(database, name, true);
    const db = new Db({ ...database, name }, 8, jobSeconds);
    await migrate(db);
    const connection = await createConnection({ ...database, database: name, permitLocalInfile: true });
    await connection.query('SET foreign_key_checks = 0');
    const { seconds } = await timed(async () => {
      await connection.beginTransaction();
      for (const { table, columns, file } of files)
        await connection.query(
          `LOAD DATA LOCAL INFILE '${file}' INTO TABLE ${table} CHARACTER SET utf8mb4 (${columns.map((c) => `\`${c}\``).join(', ')})`,
        );
      await connection.commit();
    });
    await connection.end();
    await db.close();
    rmSync(folder, { recursive: true });
    return seconds;
  };
}

async function planning(database: LocalDatabase): Promise<void> {
  for (const people of [2_400, 100_000]) {
    const schools = Array.from({ length: Math.ceil(people / 500) }, (_, i) => ({ name: `School ${i}`, code: `S${i}` }));
    const { db, tools, config } = await benchWorld(database, `sheaf_bench_${people}`, schools);
    const bytes = exported(people);
    const plan = await timed(async () => {
      const { rows, problems } = readRows(open(bytes), {}, rules);
      return planImport(
        await readSnapshot(db, 'students'),
        rows,
        problems,
        { schoolId: null, complete: false, date: today, source: 'bench.csv', mostLeaving: 0.05 },
        tools,
      );
    });
    const changes = plan.result.plan.changes.length;
    const stored = await timed(() =>
      db.transaction((tx) =>
        savePlan(db, tx, {
          kind: 'import',
          title: 'bench',
          createdBy: mint(),
          grant: { is: 'opening' },
          plan: plan.result.plan,
        }),
      ),
    );
    const applied = await timed(() => carryOut(db, stored.result, 'apply', null));
    if (people === 100_000) {
      await lists(db, { ...database, name: `sheaf_bench_${people}` });
      await secretsAndCards(db, config);
      await benchUse(db, { ...database, name: `sheaf_bench_${people}` });
      await benchYear(db);
    }
    const again = await timed(async () => {
      const { rows, problems } = readRows(open(bytes), {}, rules);
      return planImport(
        await readSnapshot(db, 'students'),
        rows,
        problems,
        { schoolId: null, complete: false, date: today, source: 'bench.csv', mostLeaving: 0.05 },
        tools,
      );
    });
    if (again.result.plan.changes.length > 0) throw new Error('the second time something was proposed');
    const undone = await timed(() => carryOut(db, stored.result, 'undo', null));
    const bare = {
      what: 'LOAD DATA of the bare rows',
      seconds: await bareRows(database, `sheaf_bench_bare`, plan.result.plan)(),
    };
    print(`A first import of ${people.toLocaleString('en-US')} people: ${changes.toLocaleString('en-US')} changes`, [
      { what: 'read, matched and planned', seconds: plan.seconds, count: people, unit: 'people', baseline: bare },
      { what: 'plan stored in chunks', seconds: stored.seconds, count: changes, unit: 'changes', baseline: bare },
      { what: 'applied, ledger included', seconds: applied.seconds, count: changes, unit: 'changes', baseline: bare },
      {
        what: 'all three',
        seconds: plan.seconds + stored.seconds + applied.seconds,
        count: people,
        unit: 'people',
        baseline: bare,
      },
      { what: 'the same file again: nothing', seconds: again.seconds, count: people, unit: 'people', baseline: bare },
      { what: 'undone', seconds: undone.seconds, count: changes, unit: 'changes', baseline: bare },
    ]);
    if (people === 100_000) {
      await carryOut(db, stored.result, 'apply', null);
      await benchPurge(db, config);
    }
    await db.close();
  }
}

const folder = resolve('.bench-data');
rmSync(folder, { recursive: true, force: true });
let port = 18_500;
while (!(await portIsFree(port))) port++;
const database = await startMariaDb(folder, port);
/** `./run bench lists` prints these tables alone; without a name all. */
const tables: Record<string, () => Promise<void>> = {
  loads: async () => loads(),
  reading,
  cards: () => benchCards(database),
  seats: benchSeats,
  sections: benchSections,
  guesses: () => guesses(database),
  'sign-in': () => signIns(database),
  fuzz: () => fuzz(database),
  pairs: () => benchPairs(database),
  kills: () => benchKills(folder),
  linkage: async () => {
    await linkage();
    await linkageSpeed();
  },
  nights: async () => {
    const nights = writeNights();
    await benchNights(nights);
    await benchRoster(database, nights, (plan) => bareRows(database, 'sheaf_bench_bare', plan));
    removeNights(nights);
  },
  lists: () => planning(database),
};
const wanted = process.argv.slice(2);
const unknown = wanted.find((name) => !(name in tables));
if (unknown) console.log(`There is no table ${unknown}. There are: ${Object.keys(tables).join(', ')}.`);
try {
  for (const [name, run] of Object.entries(tables)) if (wanted.length === 0 || wanted.includes(name)) await run();
} finally {
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
console.log(`\nhighest memory of the bench itself: ${Math.round(process.resourceUsage().maxRSS / 1024)} MB`);
