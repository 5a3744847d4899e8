import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type {
  Carts,
  DeviceFacets,
  DeviceOverview,
  DevicePage,
  DeviceRow,
  DeviceSheet,
  InventoryPreview,
  PlanSheet,
  ScanAnswer,
} from '../contract';
import { mint } from '../plans/mint';
import { readCodes } from '../testing/codes';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let school: Caller;
beforeAll(async () => {
  world = await World.open('devices');
  [district, school] = [await world.as('district'), await world.as('school')];
});
afterAll(() => world.close());

const n = async (sql: string, params = {}) => Number((await world.db.one<{ n: number }>(sql, params))!.n);
const overview = async () => (await district.get<DeviceOverview>('/api/devices/overview')).body;
const facet = async (query: string, value: string) =>
  (await district.get<DeviceFacets>(`/api/devices/facets?${query}`)).body.where.find((w) => w.value === value)?.count ??
  0;

it('assigns to who lacks one, moves as few as can be, and leaves no one who could be served', async () => {
  const lacking = await n(
    `SELECT COUNT(*) AS n FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active' WHERE a.ends IS NULL
     AND a.grade IN ('09', '10', '11', '12') AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.personId = p.id AND l.ends IS NULL AND l.kind = 'own')`,
  );
  const before = (await overview()).oneToOne;
  // Four of the evening school are in grade 12, where there is no device.
  expect(before).toMatchObject({ lacking, moves: lacking - 4, unmet: 4, mixed: 0 });
  // Nothing lies there for them; what would do at other schools is what nobody is given.
  const free = await n(
    `SELECT COUNT(*) AS n FROM devices d JOIN schools s ON s.id = d.schoolId AND s.code <> 'EVE' WHERE d.cartId IS NULL AND d.\`condition\` IN ('good', 'worn')
     AND (d.updatesEnd IS NULL OR d.updatesEnd > '2026-08-17') AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL)`,
  );
  expect(before.notGiven).toEqual({ inCarts: 0, unfit: 0, elsewhere: free - before.moves });
  const checksum = await world.checksum();
  const job = await district.job('/api/devices/assign', { school: null });
  const plan = (await district.get<PlanSheet>(`/api/plans/${job.result!.planId}`)).body;
  expect(plan.remaining.kinds).toEqual([expect.objectContaining({ kind: 'loan.create', count: lacking - 4 })]);
  expect(plan.waiting).toHaveLength(4);
  await district.job(`/api/plans/${plan.id}/apply`);
  expect((await overview()).oneToOne).toMatchObject({ lacking: 4, moves: 0 });
  // No device with two, none that is broken, one model in each class of the ninth grade.
  expect(
    await n(
      'SELECT COUNT(*) AS n FROM (SELECT deviceId FROM loans WHERE ends IS NULL GROUP BY deviceId HAVING COUNT(*) > 1) x',
    ),
  ).toBe(0);
  expect(
    await n(
      "SELECT COUNT(*) AS n FROM loans l JOIN devices d ON d.id = l.deviceId WHERE l.ends IS NULL AND l.begins = '2026-08-17' AND d.`condition` NOT IN ('good', 'worn')",
    ),
  ).toBe(0);
  expect(
    await n(`SELECT COUNT(*) AS n FROM (SELECT c.id FROM classes c JOIN enrollments e ON e.classId = c.id JOIN loans l ON l.personId = e.personId AND l.ends IS NULL AND l.kind = 'own' JOIN devices d ON d.id = l.deviceId
       WHERE c.kind = 'homeroom' AND c.grade = '09' GROUP BY c.id HAVING COUNT(DISTINCT d.model) > 1) x`),
  ).toBe(0);
  await district.job(`/api/plans/${plan.id}/undo`);
  expect(await world.checksum()).toBe(checksum);
});

it('finds the cart that is promised twice, and a free one instead', async () => {
  const found = async () => (await district.get<Carts>('/api/carts')).body;
  const { carts, troubles } = await found();
  expect(carts).toHaveLength(24);
  const twice = troubles.filter(({ kind }) => kind === 'twice');
  expect(twice).toHaveLength(1);
  expect(twice[0]).toMatchObject({ cart: 'Cart SKM 3', weekday: 2, period: '2' });
  expect(twice[0]!.text).toContain('English 7C and Science 7A');
  const skerry = carts.find(({ name }) => name === 'Cart SKM 3')!;
  const students = Math.min(...skerry.bookings.map((b) => b.students));
  // No cart of 24 suffices for a class of 25, so what is proposed is only what suffices.
  for (const id of twice[0]!.instead) expect(carts.find((c) => c.id === id)!.working).toBeGreaterThanOrEqual(students);
  const [first] = twice[0]!.bookingIds;
  const other = carts.find(({ name }) => name === 'Cart SKM 5')!;
  expect((await school.post(`/api/bookings/${first}/move`, { cartId: other.id })).status).toBe(200);
  expect((await found()).troubles.filter(({ kind }) => kind === 'twice')).toEqual([]);
});

it('fills free slots of carts with what is free, one model in each, and undoes it', async () => {
  const checksum = await world.checksum();
  const skerry = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  const made = await school.post<{ id: string }>('/api/carts', {
    schoolId: skerry,
    name: 'Cart SKM 8',
    slots: 20,
    room: null,
  });
  const job = await school.job('/api/carts/fill', { school: skerry });
  await school.job(`/api/plans/${job.result!.planId}/apply`);
  const inside = await world.db.select<{ slot: number; model: string; n: number }>(
    'SELECT d.slot, d.model, (SELECT COUNT(*) FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) AS n FROM devices d WHERE d.cartId = :id ORDER BY d.slot',
    made.body,
  );
  expect(inside.map(({ slot }) => slot)).toEqual(Array.from({ length: 20 }, (_, i) => i + 1));
  expect(new Set(inside.map(({ model }) => model)).size).toBe(1);
  expect(inside.every((row) => Number(row.n) === 0)).toBe(true);
  await school.job(`/api/plans/${job.result!.planId}/undo`);
  await school.job(
    `/api/plans/${(await world.db.one<{ id: string }>("SELECT id FROM plans WHERE title LIKE '%Cart SKM 8%' AND title NOT LIKE '%into%'"))!.id}/undo`,
  );
  expect(await world.checksum()).toBe(checksum);
  expect((await school.post('/api/carts/fill', { school: null })).status).toBe(403);
});

it('prints labels of what is shown, and the codes that a scanner is pointed at', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-labels-'));
  const codes = async (path: string, symbology: string, count: number) => {
    writeFileSync(join(folder, 'print.pdf'), Buffer.from(await (await school.raw(path)).arrayBuffer()));
    return readCodes(folder, 'print.pdf', count, 1000, symbology);
  };
  const { rows } = (await school.get<DevicePage>('/api/devices?where=late')).body;
  const tags = rows.map(({ tag }) => tag).sort();
  expect((await codes('/api/labels?where=late', 'code128', tags.length)).sort()).toEqual(tags);
  expect((await codes('/api/labels?where=late&code=qr&paper=Letter', 'qrcode', tags.length)).sort()).toEqual(tags);
  const found = await codes('/api/scan-sheet', 'code128', 11);
  expect(found).toEqual(expect.arrayContaining(['+GIVE', '+BACK', '+SWAP', '+COUNT', 'Cart SKM 1', 'Cart SKM 7']));
  expect(found).not.toContain('Cart LAN 1');
});

it('knows what is late, lends and takes back by hand, and keeps to the schools of who asks', async () => {
  expect((await overview()).late).toBe(12);
  expect(await facet('', 'late')).toBe(12);
  const { rows } = (await district.get<DevicePage>('/api/devices?where=late')).body;
  const [late] = rows;
  expect((await school.post(`/api/devices/${late!.id}/back`)).status).toBe(200);
  expect(await facet('', 'late')).toBe(11);
  expect((await school.post(`/api/devices/${late!.id}/back`)).status).toBe(409);
  const elsewhere = (await world.db.one<{ id: string }>(
    "SELECT d.id FROM devices d JOIN schools s ON s.id = d.schoolId WHERE s.code = 'LAN' LIMIT 1",
  ))!;
  expect((await school.get(`/api/devices/${elsewhere.id}`)).status).toBe(404);
  expect((await school.post('/api/devices/assign', { school: null })).status).toBe(403);
  const order = { personId: rows[1]!.personId, kind: 'loan', due: '2026-08-01' };
  expect((await school.post(`/api/devices/${late!.id}/lend`, order)).status).toBe(422);
  expect((await school.post(`/api/devices/${late!.id}/lend`, { ...order, due: '2026-09-30' })).status).toBe(200);
  // All pages together are all of them, in order and once.
  const tags: string[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: DevicePage = (await school.get<DevicePage>(`/api/devices?limit=50&after=${after}`)).body;
    tags.push(...page.rows.map((row) => row.tag));
    after = page.next;
  }
  expect(tags).toEqual([...new Set(tags)].sort());
  expect(tags).toHaveLength(
    await n("SELECT COUNT(*) AS n FROM devices d JOIN schools s ON s.id = d.schoolId WHERE s.code = 'SKM'"),
  );
});

it('takes in a list of devices with its own headings as a plan, and says what of it cannot be', async () => {
  const skerry = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  const known = (await world.db.one<{ tag: string; serial: string }>(
    'SELECT tag, serial FROM devices d WHERE schoolId = :skerry ORDER BY tag LIMIT 1',
    { skerry },
  ))!;
  const text = [
    'Delivery of August 2026',
    'Asset Tag;Serial No.;Model;Purchase Date;Status;Location;Cart',
    'N0001;AB1;Whimbrel 13;03/08/2026;good;SKM;',
    'N0002;AB2;Whimbrel 13;13/08/2026;;Skerry Middle;Cart SKM 1',
    'N0002;AB3;Whimbrel 13;13/08/2026;;SKM;',
    `${known.tag};;;;worn;;`,
    ';AB9;Whimbrel 13;;;SKM;',
    'N0003;AB4;;;;SKM;',
    'N0004;AB5;Whimbrel 13;;shiny;Lantern Point;Cart 99',
  ].join('\n');
  const order = { file: null, text, schoolId: null, picked: {} };
  const { body: preview } = await district.post<InventoryPreview>('/api/inventory/preview', order);
  expect(preview.columns).toEqual(['tag', 'serial', 'model', 'boughtOn', 'condition', 'school', 'cart']);
  expect(preview).toMatchObject({ fresh: 3, changed: 1, same: 0 });
  expect(preview.problems.map(({ line }) => line)).toEqual([5, 7, 8, 9, 9]);
  const { planId } = (await district.post<{ planId: string }>('/api/inventory/plan', order)).body;
  await district.job(`/api/plans/${planId}/apply`);
  expect(
    await world.db.select(
      "SELECT d.tag, d.boughtOn, d.`condition`, c.name AS cart FROM devices d LEFT JOIN carts c ON c.id = d.cartId WHERE d.tag IN ('N0001', 'N0002', :tag) ORDER BY d.tag",
      { tag: known.tag },
    ),
  ).toEqual([
    expect.objectContaining({ tag: known.tag, condition: 'worn' }),
    { tag: 'N0001', boughtOn: '2026-08-03', condition: 'good', cart: null },
    { tag: 'N0002', boughtOn: '2026-08-13', condition: 'good', cart: 'Cart SKM 1' },
  ]);
  expect((await district.post('/api/inventory/preview', { ...order, text: 'a,b\n1,2' })).status).toBe(422);
  // A school's coordinator brings nothing to another school.
  const { body: own } = await school.post<InventoryPreview>('/api/inventory/preview', order);
  expect(own.problems.some(({ line, message }) => line === 9 && message.includes('not yours'))).toBe(true);
});

it('is corrected by hand within what can be: a tag once, days as days, a place in a cart of its school that is free', async () => {
  const free = (await school.get<DevicePage>('/api/devices?where=free&limit=500')).body.rows;
  const [one, other] = free.filter(({ cartId }) => cartId === null) as [DeviceRow, DeviceRow];
  const edit = async (field: string, after: string | number | null, device = one, caller = school) => {
    const now = (await district.get<DeviceSheet>(`/api/devices/${device.id}`)).body.device;
    const before = now[field as 'tag'] ?? null;
    const { status, body } = await caller.post(`/api/devices/${device.id}/edit`, { field, before, after });
    return [status, body.error ?? ''] as const;
  };
  const refused: [string, string | number | null, number, string][] = [
    ['tag', other.tag, 409, 'has the tag'],
    ['tag', '', 422, 'needs a tag'],
    ['model', null, 422, 'needs a model'],
    ['condition', 'shiny', 422, 'no such condition'],
    ['boughtOn', '2026-02-30', 422, 'Enter a date like'],
    ['slot', 'left', 422, 'slot'],
    ['model', 7, 422, 'A slot must be a number'],
  ];
  for (const [field, after, status, error] of refused)
    expect([field, after, ...(await edit(field, after))]).toEqual([
      field,
      after,
      status,
      expect.stringContaining(error) as string,
    ]);
  expect(await edit('model', 'Whimbrel 14')).toEqual([200, '']);
  expect(await edit('boughtOn', '2024-02-29')).toEqual([200, '']);
  // Somebody else was quicker.
  const stale = { field: 'model', before: 'Whimbrel 13', after: 'Whimbrel 15' };
  expect((await school.post(`/api/devices/${one.id}/edit`, stale)).status).toBe(409);

  const { carts } = (await district.get<Carts>('/api/carts')).body;
  const [mine, elsewhere] = [
    carts.find(({ name }) => name === 'Cart SKM 6')!,
    carts.find(({ name }) => !name.includes('SKM'))!,
  ];
  expect((await edit('cartId', elsewhere.id))[0]).toBe(404);
  expect(await edit('cartId', elsewhere.id, one, district)).toEqual([
    422,
    expect.stringContaining('not at the same school'),
  ]);
  const taken = await world.db.one<{ slot: number }>(
    'SELECT slot FROM devices WHERE cartId = :id ORDER BY slot LIMIT 1',
    { id: mine.id },
  );
  expect(await edit('slot', 3)).toEqual([422, expect.stringContaining('not in a cart')]);
  expect(await edit('cartId', mine.id)).toEqual([200, '']);
  expect(await edit('slot', taken!.slot)).toEqual([409, expect.stringContaining('is in slot')]);
  expect(await edit('slot', mine.slots + 1)).toEqual([422, expect.stringContaining(`${mine.slots} slots`)]);
  // Out of the cart it has no slot there.
  await world.db.run('UPDATE devices SET slot = 499 WHERE id = :id', { id: one.id });
  expect(await edit('cartId', null)).toEqual([200, '']);
  expect((await district.get<DeviceSheet>(`/api/devices/${one.id}`)).body.device).toMatchObject({
    cartId: null,
    slot: null,
  });
});

it('books carts for classes of their school alone, and lets them go', async () => {
  const { carts } = (await district.get<Carts>('/api/carts')).body;
  const mine = carts.find(({ name }) => name === 'Cart SKM 7')!;
  const elsewhere = carts.find(({ name }) => !name.includes('SKM'))!;
  const [own] = await world.db.select<{ id: string }>(
    "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId WHERE s.code = 'SKM' AND c.ends IS NULL LIMIT 1",
  );
  const order = { cartId: mine.id, classId: own!.id, weekday: 5, period: '6', begins: '2026-08-24' };
  expect((await district.post('/api/bookings', { ...order, cartId: elsewhere.id })).status).toBe(422);
  expect((await school.post('/api/bookings', { ...order, cartId: elsewhere.id })).status).toBe(404);
  expect((await school.post('/api/bookings', { ...order, weekday: 6 })).status).toBe(422);
  const teacher = await world.as('teacher');
  expect((await teacher.post('/api/bookings', order)).status).toBe(404);
  const made = await school.post<{ id: string }>('/api/bookings', order);
  expect(made.status).toBe(200);
  const bookings = async () =>
    (await district.get<Carts>('/api/carts')).body.carts.find(({ id }) => id === mine.id)!.bookings.map(({ id }) => id);
  expect(await bookings()).toContain(made.body.id);
  expect((await teacher.post(`/api/bookings/${made.body.id}/end`)).status).toBe(404);
  expect((await school.post(`/api/bookings/${made.body.id}/end`)).status).toBe(200);
  expect(await bookings()).not.toContain(made.body.id);
  expect((await school.post(`/api/bookings/${made.body.id}/end`)).status).toBe(404);
  expect(
    (await school.post('/api/carts', { schoolId: mine.schoolId, name: mine.name, slots: 20, room: null })).status,
  ).toBe(409);
});

it('books scans once and in order, however often they are sent, and refuses a gap', async () => {
  const station = mint();
  const numbers = (
    await world.db.select<{ number: string }>(
      "SELECT p.number FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId WHERE s.code = 'SKM' AND p.role = 'student' AND p.number IS NOT NULL ORDER BY p.number LIMIT 20",
    )
  ).map(({ number }) => number);
  const tags = (
    await world.db.select<{ tag: string }>(
      "SELECT d.tag FROM devices d JOIN schools s ON s.id = d.schoolId WHERE s.code = 'SKM' AND d.cartId IS NULL AND d.`condition` = 'good' AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) ORDER BY d.tag LIMIT 20",
    )
  ).map(({ tag }) => tag);
  // Three days in turn, as somebody sets them between scans; they may all be sent later.
  const days = ['2026-12-18', null, '2027-06-11'];
  const scans = numbers
    .flatMap((number, i) => [number, tags[i]!].map((text) => ({ text, due: days[i % 3]! })))
    .map((one, i) => ({ ...one, seq: i + 1 }));
  const send = (list: { seq: number; text: string; due?: string | null }[]) =>
    school.post<ScanAnswer>('/api/scans', { station, scans: list.map((one) => ({ due: null, ...one })) });
  await send(scans.slice(0, 15));
  // The answer was lost, so the first ones come again with more; and the same twice at once.
  const again = await send(scans.slice(5, 25));
  expect(again.body.said.map(({ seq }) => seq)).toEqual(scans.slice(5, 25).map(({ seq }) => seq));
  await Promise.all([send(scans.slice(20)), send(scans.slice(20))]);
  expect((await send(scans.slice(20))).body.seq).toBe(40);
  expect((await send([{ seq: 50, text: 'x' }])).status).toBe(409);
  const loans = await world.db.select<{ number: string; tag: string; due: string }>(
    `SELECT p.number, d.tag, l.due FROM loans l JOIN people p ON p.id = l.personId JOIN devices d ON d.id = l.deviceId WHERE d.tag IN (:tags) AND l.ends IS NULL ORDER BY l.id`,
    { tags },
  );
  expect(loans).toEqual(numbers.map((number, i) => ({ number, tag: tags[i]!, due: days[i % 3]! })));
  const next = await send([
    { seq: 41, text: 'nobody' },
    { seq: 42, text: '+back' },
    { seq: 43, text: tags[0]! },
    { seq: 44, text: tags[0]! },
  ]);
  expect(next.body.said.map(({ tone }) => tone)).toEqual(['wrong', 'noted', 'returned', 'wrong']);
  expect((await district.post('/api/scans', { station, scans: [] })).status).toBe(403);
});

it('lets two who give the same device at once not both have done so', async () => {
  const { id } = (await world.db.one<{ id: string }>(
    "SELECT d.id FROM devices d JOIN schools s ON s.id = d.schoolId AND s.code = 'SKM' WHERE d.`condition` = 'good' AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) LIMIT 1",
  ))!;
  const whom = await world.db.select<{ id: string }>(
    "SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId AND s.code = 'SKM' WHERE p.role = 'student' LIMIT 6",
  );
  const give = (personId: string) => district.post(`/api/devices/${id}/lend`, { personId, kind: 'own', due: null });
  const answers = await Promise.all(whom.map((one) => give(one.id)));
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409, 409, 409, 409]);
  expect(await n('SELECT COUNT(*) AS n FROM loans WHERE deviceId = :id AND ends IS NULL', { id })).toBe(1);
});

it('gives devices to those who are gathered from what is free at their school, and takes them back', async () => {
  await district.post('/api/sheaf/let-go', { all: true });
  await district.post('/api/sheaf/gather', { filter: { grade: '09' } });
  const preview = async (order: object) =>
    (
      await district.post<{ people: number; changes: number; sentence: string; same: number }>(
        '/api/sheaf/preview',
        order,
      )
    ).body;
  const give = await preview({ verb: 'devices', take: false, due: null });
  expect(give.changes).toBe(give.people);
  const job = await district.job('/api/sheaf/plan', { verb: 'devices', take: false, due: null });
  await district.job(`/api/plans/${job.result!.planId}/apply`);
  expect(await preview({ verb: 'devices', take: false, due: null })).toMatchObject({ changes: 0, same: give.people });
  expect((await preview({ verb: 'devices', take: true, due: null })).sentence).toBe(
    `Returns the devices of ${give.people} people.`,
  );
});
