/** Worksheets as files: safe against formulas, with their zeros, and a roster bundle that reads back to the same register. */
import { unzipSync } from 'fflate';
import Papa from 'papaparse';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { planRoster, rosterRows } from '#core/intake/index';
import { checkBundle, diffTables, fromBundle, readBundle, toFiles, writeBundle } from '#core/oneroster/index';
import { openSource, readRows, readWorkbook, template } from '#core/tabular/index';
import type { ClassProgress, AsOfTable, DevicePage, ProductRow, RetentionSheet, SplitSheet } from '../contract';
import { looseRules } from '../cli/read';
import { countingTools, readSnapshot } from '../intake/snapshot.queries';
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
  const someone = await world.db.one<{ id: string }>(
    "SELECT id FROM people WHERE familyName = 'Saltmarsh' AND role = 'student' AND status = 'active' LIMIT 1",
  );
  await world.db.run('UPDATE people SET givenName = :evil WHERE id = :id', {
    evil: '=HYPERLINK("http://x")',
    id: someone!.id,
  });
  const csv = await bytesOf('/api/exports/people?format=csv&q=Saltmarsh');
  const text = new TextDecoder().decode(csv);
  expect(text).toContain(`"'=HYPERLINK(""http://x"")"`);
  expect(text.split('\r\n')[0]).toMatch(/^\ufeff?Family name,Given name,Preferred name,Student number/);
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
  expect(all.filter(([, given]) => given === '=HYPERLINK("http://x")')).toHaveLength(1);
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

/** A file's cells below the headings, as text. */
const cellsOf = async (bytes: Uint8Array, format: 'csv' | 'xlsx'): Promise<{ header: string[]; rows: string[][] }> => {
  const all =
    format === 'csv'
      ? Papa.parse<string[]>(new TextDecoder().decode(bytes).replace(/^\ufeff/, ''), { skipEmptyLines: true }).data
      : (await readWorkbook(bytes))[0]!.records.map(({ cells }) => cells);
  const [header, ...rows] = all as [string[], ...string[][]];
  return { header, rows: rows.map((row) => header.map((_, i) => row[i] ?? '')) };
};
/** The same in both formats. */
const table = async (list: string, query = '', caller = district) => {
  const csv = await cellsOf(await bytesOf(`/api/exports/${list}?format=csv${query}`, caller), 'csv');
  const workbook = await cellsOf(await bytesOf(`/api/exports/${list}?format=xlsx${query}`, caller), 'xlsx');
  expect([list, workbook.header]).toEqual([list, csv.header]);
  expect([list, workbook.rows]).toEqual([list, csv.rows]);
  return csv.rows.map((row) => Object.fromEntries(csv.header.map((name, i) => [name, row[i]!])));
};

it('writes every worksheet as its filters show it, the same as CSV and as a workbook', async () => {
  const get = async <T>(path: string, caller = district) => (await caller.get<T>(path)).body;
  const late = await get<DevicePage>('/api/devices?where=late&limit=1000');
  expect(late.rows.length).toBeGreaterThan(0);
  expect((await table('devices', '&where=late')).map((row) => [row.Tag, row.With, row.Due])).toEqual(
    late.rows.map(({ tag, holder, due }) => [tag, holder, due]),
  );
  const { products } = await get<{ products: ProductRow[] }>('/api/products');
  expect((await table('products')).map((row) => [row.Product, row.Needed, row.Held, row.Short])).toEqual(
    products.map((p) => [p.label, String(p.needed), String(p.held), p.short ? String(p.short.count) : '']),
  );
  const classes = await get<{ name: string }[]>('/api/classes?grade=03');
  expect((await table('classes', '&grade=03')).map((row) => row.Class)).toEqual(classes.map(({ name }) => name));
  const work = await get<{ title: string }[]>('/api/work');
  expect((await table('work')).map((row) => row.Work)).toEqual(work.map(({ title }) => title));
  expect((await table('work', '&past=true')).length).toBe((await get<unknown[]>('/api/work?past=true')).length);
  expect((await table('materials', '&q=read')).length).toBe((await get<unknown[]>('/api/materials?q=read')).length);
  const room = (await world.db.one<{ classId: string }>('SELECT classId FROM set_work WHERE ends IS NULL LIMIT 1'))!
    .classId;
  const progress = await get<ClassProgress>(`/api/classes/${room}/progress`);
  expect((await table('progress', `&class=${room}`)).map((row) => [row.Student, row['Minutes in 7 days']])).toEqual(
    progress.people.map(({ name, minutes }) => [name, minutes === null ? '' : String(minutes)]),
  );
  const used = await get<{ name: string }[]>('/api/use/people?stand=used');
  expect((await table('use', '&stand=used')).map((row) => row.Student)).toEqual(used.map(({ name }) => name));
  const then = await get<AsOfTable>('/api/ledger/as-of/list?list=classes&day=2026-08-16');
  expect((await table('as-of', '&list=classes&day=2026-08-16')).length).toBe(then.rows.length);

  // Next year's grade with the classes that its children come into.
  const [school] = await world.db.select<{ id: string }>("SELECT id FROM schools WHERE code = 'LAN'");
  const grade = `school=${school!.id}&grade=03`;
  const sheet = await get<SplitSheet>(`/api/year/split?${grade}`);
  const split = { ...sheet.split, placed: { [sheet.children[0]!.id]: 1, [sheet.children[1]!.id]: 0 } };
  expect((await district.post('/api/year/split', { schoolId: school!.id, grade: '03', split })).status).toBe(200);
  const sections = await table('sections', `&${grade}`);
  expect(sections.map((row) => row.Class)).toEqual([
    split.classes[1]!.name,
    split.classes[0]!.name,
    ...sheet.children.slice(2).map(() => ''),
  ]);
  expect(sections.map((row) => row['Family name'])).toEqual(sheet.children.map((child) => child.familyName));

  // A plan: a line for each field, what was taken out marked, secrets nowhere.
  const opening = await world.db.one<{ id: string; changes: number }>('SELECT id, changes FROM plans LIMIT 1');
  const changes = await table('changes', `&plan=${opening!.id}`);
  expect(changes.length).toBeGreaterThan(opening!.changes);
  expect(changes.filter((row) => row.Field === 'password').every((row) => row.After === '•••')).toBe(true);
  expect(changes.find((row) => row.Field === 'username')).toMatchObject({ Change: 'New accounts', Plan: 'in' });
  const seats = await table('changes', `&plan=${opening!.id}&kind=seat.create`);
  expect(new Set(seats.map((row) => row.Change))).toEqual(new Set(['New seats']));

  // All of the ledger, and not its first page alone.
  await world.db.run(
    "INSERT INTO ledger (id, planId, action, byPersonId, at, changes, sentence, version) SELECT CONCAT('01ZZ', LPAD(seq, 22, '0')), :plan, 'apply', NULL, '2026-08-17T00:00:00.000Z', 1, CONCAT('Line ', seq), 1000 + seq FROM seq_1_to_450",
    { plan: opening!.id },
  );
  const lines = (await table('ledger')).map((row) => row['In words']);
  expect(lines.length).toBe(Number((await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM ledger'))!.n));
  expect(lines.slice(0, 450)).toEqual(Array.from({ length: 450 }, (_, i) => `Line ${450 - i}`));

  // Classes that are over, page after page; and who is due to be purged.
  await world.db.run(
    "INSERT INTO classes (id, schoolId, name, kind, grade, subject, begins, ends) SELECT CONCAT('01CC', LPAD(seq, 22, '0')), :school, CONCAT('Gone ', seq), 'homeroom', '03', NULL, '2020-08-01', '2021-07-01' FROM seq_1_to_230",
    { school: school!.id },
  );
  expect(new Set((await table('archive', '&q=Gone')).map((row) => row.Class)).size).toBe(230);
  expect((await table('leavers')).length).toBe((await get<RetentionSheet>('/api/retention')).leavers.length);
});

it('gives nobody a file of what they may not look at', async () => {
  const [own, teacher] = [await world.as('school'), await world.as('teacher')];
  const [elsewhere] = await world.db.select<{ id: string }>("SELECT id FROM schools WHERE code = 'LAN'");
  const plan = (await world.db.one<{ id: string }>('SELECT id FROM plans LIMIT 1'))!.id;
  const answers: [Caller, string, number][] = [
    [teacher, 'products', 403],
    [teacher, 'ledger', 403],
    [teacher, `sections?school=${elsewhere!.id}&grade=03`, 403],
    [teacher, `changes?plan=${plan}`, 404],
    [own, `sections?school=${elsewhere!.id}&grade=03`, 404],
    [own, `changes?plan=${plan}`, 404],
    [own, 'leavers', 403],
    [own, 'people', 200],
    [district, 'nothing', 404],
    [district, 'devices?where=lost', 422],
  ];
  for (const [caller, path, status] of answers)
    expect([
      path,
      (await caller.raw(`/api/exports/${path}${path.includes('?') ? '&' : '?'}format=csv`)).status,
    ]).toEqual([path, status]);
});

it('writes the roster as a bundle without a broken reference, which changes nothing when it is read back', async () => {
  const files = new Map(Object.entries(unzipSync(await bytesOf('/api/exports/people?format=roster'))));
  const bundle = readBundle(files);
  expect(checkBundle(bundle).problems).toEqual([]);
  const snapshot = await readSnapshot(world.db, 'whole');
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

it('has a template whose every heading is read as what it is meant for', async () => {
  const csv = new TextDecoder().decode(await bytesOf('/api/exports/template?format=csv'));
  const row = 'Abara,Tomi,004117,2018-02-06,3,3A,Lantern Point,tomi@home.example,ada@home.example';
  const source = await openSource(new TextEncoder().encode(`${csv.trimEnd()}\r\n${row}\r\n`));
  if (source.kind !== 'tables') throw new Error('no tables');
  expect(source.tables[0]!.reading.columns.map(({ field }) => field)).toEqual(Object.keys(template));
  const [sheet] = await readWorkbook(await bytesOf('/api/exports/template?format=xlsx'));
  expect(sheet!.records[0]!.cells).toEqual(Object.values(template));
});
