/** Worksheets as files: safe against formulas, with their zeros, and a roster bundle that reads back to the same register. */
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { planRoster, rosterRows } from '#core/intake/index';
import { checkBundle, diffTables, fromBundle, readBundle, toFiles, writeBundle } from '#core/oneroster/index';
import { openSource, readRows } from '#core/tabular/index';
import { looseRules } from '../cli/read';
import { countingTools, readSnapshot } from '../intake/snapshot';
import { type Caller, testDay, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('exports');
  district = await world.as('district');
});
afterAll(() => world.close());
const bytesOf = async (path: string, caller = district) => new Uint8Array(await (await caller.raw(path)).arrayBuffer());

it('writes what the filters show as CSV and as a workbook, and both read back to the same people', async () => {
  const someone = await world.db.one<{ id: string }>("SELECT id FROM people WHERE familyName = 'Saltmarsh' LIMIT 1");
  await world.db.run('UPDATE people SET givenName = :evil WHERE id = :id', {
    evil: '=HYPERLINK("http://x")',
    id: someone!.id,
  });
  const csv = await bytesOf('/api/exports/people?format=csv&q=Saltmarsh');
  const text = new TextDecoder().decode(csv);
  expect(text).toContain(`"'=HYPERLINK(""http://x"")"`);
  expect(text.split('\r\n')[0]).toMatch(/^\ufeff?Family name,Given name,Number/);
  const people = async (bytes: Uint8Array) => {
    const source = await openSource(bytes);
    if (source.kind !== 'tables') throw new Error('no tables');
    return readRows(source.tables[0]!, {}, looseRules()).rows.map((r) => [
      r.familyName,
      r.givenName,
      r.number,
      r.grade,
      r.schoolName,
    ]);
  };
  const all = await people(await bytesOf('/api/exports/people?format=csv&role=student'));
  expect(all.length).toBeGreaterThan(2300);
  expect(all.filter(([, , number]) => number!.startsWith('00')).length).toBeGreaterThan(2000);
  expect(await people(await bytesOf('/api/exports/people?format=xlsx&role=student'))).toEqual(all);
  const teacher = await world.as('teacher');
  expect((await people(await bytesOf('/api/exports/people?format=csv', teacher))).length).toBeLessThan(40);
  expect((await teacher.raw('/api/exports/people?format=roster')).status).toBe(403);
  expect((await teacher.raw('/api/exports/ledger?format=csv')).status).toBe(403);
  expect((await district.raw('/api/exports/secrets?format=csv')).status).toBe(404);
  expect(new TextDecoder().decode(await bytesOf('/api/exports/classes?format=csv'))).toContain('Lantern Point');
  expect(new TextDecoder().decode(await bytesOf('/api/exports/ledger?format=csv'))).toContain('Opening register');
  await world.db.run("UPDATE people SET givenName = 'Orla' WHERE id = :id", { id: someone!.id });
});

it('writes the roster as a bundle without a broken reference, which changes nothing when it is read back', async () => {
  const files = new Map(Object.entries(unzipSync(await bytesOf('/api/exports/people?format=roster'))));
  const bundle = readBundle(files);
  expect(checkBundle(bundle)).toEqual([]);
  const snapshot = await readSnapshot(world.db, true);
  const rows = rosterRows(bundle);
  const result = planRoster(
    snapshot,
    bundle,
    rows,
    [],
    {
      schoolId: null,
      complete: true,
      date: testDay,
      source: 'export',
      mostLeaving: 0.05,
      keys: { people: new Map(), classes: new Map() },
    },
    countingTools(),
  );
  expect(result.plan.changes).toEqual([]);
  expect(result.summary.total).toBe(0);

  // Read and written again it is the same, byte for byte: as it came, and made anew from its records.
  for (const [name, bytes] of writeBundle(bundle))
    expect([name, Buffer.from(bytes).equals(files.get(name)!)]).toEqual([name, true]);
  for (const [name, bytes] of toFiles(fromBundle(bundle), '1.2'))
    if (name !== 'manifest.csv') expect([name, Buffer.from(bytes).equals(files.get(name)!)]).toEqual([name, true]);
  for (const table of bundle.tables.values())
    expect(diffTables(table, table)).toMatchObject({ created: [], changed: [], removed: [] });
});
