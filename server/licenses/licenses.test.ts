import { afterAll, beforeAll, expect, it } from 'vitest';
import type { PlanSheet, ProductRow, ProductSheet } from '../contract';
import { type Caller, testDay, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('licenses');
  district = await world.as('district');
});
afterAll(() => world.close());

const products = async () => (await district.get<{ products: ProductRow[] }>('/api/products')).body.products;
const named = async (label: string) => (await products()).find((row) => row.label.startsWith(label))!;
const sheet = async (label: string, query = '') =>
  (await district.get<ProductSheet>(`/api/products/${(await named(label)).id}${query}`)).body;
/** Entitled to algebra by the demo's two rules, counted by the database alone. */
const entitledToAlgebra = `SELECT COUNT(*) AS n FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId
  JOIN accounts ac ON ac.personId = p.id WHERE p.role = 'student' AND p.status = 'active' AND ac.status = 'active' AND s.code IN ('SKM', 'MAR') AND a.grade IN ('06', '07', '08')`;

it('finds the 23 seats that are short from the second week, and where; the proposal goes as far as seats allow', async () => {
  const found = await named('Kelpline Algebra');
  const { n: entitled } = (await world.db.one<{ n: number }>(entitledToAlgebra))!;
  const [license, trial] = await world.db.select<{ seats: number; ends: string }>(
    'SELECT seats, ends FROM licenses WHERE productId = :id ORDER BY trial',
    { id: found.id },
  );
  expect(found).toMatchObject({ needed: entitled, owned: license!.seats + trial!.seats });
  expect(found.short).toEqual({ count: entitled - license!.seats, from: trial!.ends });
  expect(found.short).toEqual({ count: 23, from: '2026-09-06' });
  const before = await sheet('Kelpline Algebra');
  expect(before.proposal.unmet).toMatchObject({ count: 23, from: '2026-09-06' });
  expect(before.proposal.unmet!.schools.reduce((sum, { count }) => sum + count, 0)).toBe(23);
  expect(before.proposal.buyCents).toBe(23 * 640);
  expect(before.spare).toMatchObject({ notEntitled: 14, stopped: 0 });

  const checksum = await world.checksum();
  const job = await district.job('/api/seats/propose', { productIds: [found.id], sweep: false, idleDays: 90 });
  const plan = (await district.get<PlanSheet>(`/api/plans/${job.result!.planId}`)).body;
  expect(plan.waiting).toHaveLength(1);
  expect((await district.job(`/api/plans/${plan.id}/apply`)).status).toBe('done');
  const after = await sheet('Kelpline Algebra');
  // The course that was foreseen is now the one that is.
  expect(after.steps.map(({ from, owned, needed, held }) => ({ from, owned, needed, held }))).toEqual(
    before.steps.map(({ from, owned, needed, after: held }) => ({ from, owned, needed, held })),
  );
  expect(after.proposal).toMatchObject({ given: 0, taken: 0, unmet: before.proposal.unmet });
  // Nobody who used their seat in June lost it, and never are more held than owned: asked of the database.
  for (const day of ['2026-08-26', '2026-09-05', '2026-09-06', '2027-03-01'])
    expect(
      await world.db.select(
        `SELECT l.id FROM licenses l JOIN seats s ON s.licenseId = l.id AND s.begins <= :day AND (s.ends IS NULL OR s.ends > :day)
         WHERE l.begins <= :day AND l.ends > :day AND l.seats IS NOT NULL GROUP BY l.id, l.seats HAVING COUNT(*) > l.seats`,
        { day },
      ),
    ).toEqual([]);
  const lost = await world.db.one<{ n: number }>(
    `SELECT COUNT(*) AS n FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN last_uses u ON u.personId = s.personId AND u.productId = l.productId
     WHERE u.usedOn >= '2026-05-19' AND s.ends IS NOT NULL`,
  );
  expect(lost!.n).toBe(0);
  expect((await district.job(`/api/plans/${plan.id}/undo`)).status).toBe('done');
  expect(await world.checksum()).toBe(checksum);
});

it('knows who lacks a seat as of the day school opens, in lists and counts', async () => {
  const grammar = await named('Halyard Grammar');
  const list = async (query: string) =>
    (await district.get<{ total: number }>(`/api/people/facets?${query}`)).body.total;
  const { n: sixth } = (await world.db.one<{ n: number }>(
    `SELECT COUNT(DISTINCT e.personId) AS n FROM enrollments e JOIN classes c ON c.id = e.classId JOIN schools s ON s.id = c.schoolId
     WHERE s.code = 'SKM' AND c.grade = '06' AND c.subject = 'English' AND e.role = 'student'`,
  ))!;
  expect(grammar.lacking).toBe(sixth);
  expect(await list(`product=${grammar.id}&seat=lacks`)).toBe(sixth);
  expect(await list(`product=${grammar.id}&seat=holds`)).toBe(grammar.held);
  const made = await district.job('/api/seats/propose', { productIds: [grammar.id], sweep: false, idleDays: 90 });
  await district.job(`/api/plans/${made.result!.planId}/apply`);
  expect(await list(`product=${grammar.id}&seat=lacks`)).toBe((await named('Halyard Grammar')).lacking);
  expect((await named('Halyard Grammar')).lacking).toBe(0);
});

it('offers the subjects that classes and products have, each once', async () => {
  const { subjects } = (await district.get<{ subjects: string[] }>('/api/subjects')).body;
  const there = await world.db.select<{ subject: string }>(
    'SELECT subject FROM classes WHERE ends IS NULL AND subject IS NOT NULL UNION SELECT subject FROM products WHERE subject IS NOT NULL',
  );
  expect(subjects).toEqual(there.map(({ subject }) => subject).sort());
  expect(subjects).toContain('Science');
});

it('shows what is superseded and which class has less than its grade; the newer edition takes over', async () => {
  const newer = await sheet('Skerrymark Arithmetic, second edition');
  const older = await named('Skerrymark Arithmetic, first edition');
  expect(newer.olderEdition).toMatchObject({ id: older.id, rules: 1 });
  expect(older.supersededBy).toMatchObject({ id: newer.product.id });
  expect(older.held).toBeGreaterThan(100);
  expect((await sheet('Wrackline Readers')).partial.map(({ name, school }) => `${name} ${school}`)).toEqual([
    '2B Gull Sound',
  ]);
  const { planId } = (await district.post<{ planId: string }>(`/api/products/${newer.product.id}/take-over`)).body;
  await district.job(`/api/plans/${planId}/apply`);
  const after = await named('Skerrymark Arithmetic, second edition');
  expect(after.needed - newer.row.needed).toBe(older.needed);
  expect((await named('Skerrymark Arithmetic, first edition')).needed).toBe(0);
  await district.job(`/api/plans/${planId}/undo`);
});

it('gives seats to those who are gathered at nobody’s cost, names whom there is none for, and takes them back', async () => {
  const { id } = await named('Binnacle Practice Tests');
  const gather = async (query: object) => {
    await district.post('/api/sheaf/let-go', { all: true });
    await district.post('/api/sheaf/gather', { filter: query });
  };
  await gather({ grade: '10' });
  const order = { verb: 'seats', productId: id, take: false };
  const free = (await world.db.one<{ n: number }>(
    'SELECT l.seats - COUNT(s.id) AS n FROM licenses l JOIN seats s ON s.licenseId = l.id WHERE l.productId = :id GROUP BY l.id',
    { id },
  ))!.n;
  const preview = (
    await district.post<{ changes: number; problems: unknown[]; people: number }>('/api/sheaf/preview', order)
  ).body;
  expect(preview.changes).toBe(Number(free));
  expect(preview.problems).toHaveLength(preview.people - Number(free));
  const job = await district.job('/api/sheaf/plan', order);
  await district.job(`/api/plans/${job.result!.planId}/apply`);
  const back = (
    await district.post<{ changes: number; sentence: string }>('/api/sheaf/preview', { ...order, take: true })
  ).body;
  expect(back).toMatchObject({ changes: Number(free), sentence: `Takes a seat back from ${Number(free)} people.` });
});

it('takes last uses, says which lines it could not, and keeps the latest; the calendar tells of renewals', async () => {
  const student = (await world.db.one<{ username: string; personId: string }>(
    `SELECT ac.username, s.personId FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN products p ON p.id = l.productId AND p.name = 'Kelpline Algebra'
     JOIN accounts ac ON ac.personId = s.personId LIMIT 1`,
  ))!;
  const text = [
    'Username,Product,Last used',
    `${student.username},Kelpline Algebra,2026-08-14`,
    `${student.username},kelpline algebra,2026-08-02`,
    'nobody,Kelpline Algebra,2026-08-02',
    `${student.username},Kelpline,2026-08-02`,
    `${student.username},Kelpline Algebra,02/08/2026`,
  ].join('\n');
  const { body } = await district.post<{ taken: number; problems: { line: number }[] }>('/api/uses', { text });
  expect([body.taken, body.problems.map(({ line }) => line)]).toEqual([2, [4, 5, 6]]);
  const use = await world.db.one<{ usedOn: string }>(
    "SELECT usedOn FROM last_uses u JOIN products p ON p.id = u.productId AND p.name = 'Kelpline Algebra' WHERE personId = :personId",
    student,
  );
  expect(use!.usedOn).toBe('2026-08-14');
  expect((await district.post('/api/uses', { text: 'a,b\n1,2' })).status).toBe(422);

  const { url: calendar } = (await district.post<{ url: string }>('/api/calendar')).body;
  expect(await world.db.one("SELECT action FROM audit WHERE action = 'calendar.address'")).not.toBeNull();
  const feed = await (await world.send('GET', new URL(calendar).pathname)).text();
  // Published: RFC 5545, 3.6.1 (an event of a day), 3.3.4 (dates).
  expect(feed).toContain('BEGIN:VCALENDAR');
  expect(feed).toMatch(/DTSTART;VALUE=DATE:20260906\r\n(X-.*\r\n)*SUMMARY:Kelpline Algebra/);
  expect((await world.send('GET', `${new URL(calendar).pathname.slice(0, -1)}x`)).status).toBe(404);
});

it('keeps products and licenses in order: names once, ends after begins, what is the district’s is the district’s', async () => {
  const { id } = await named('Isobar Atlas');
  const school = await world.as('school');
  const [marrow, skerry] = (
    await world.db.select<{ id: string }>("SELECT id FROM schools WHERE code IN ('MAR', 'SKM') ORDER BY code")
  ).map(({ id: school }) => school) as [string, string];
  const license = {
    productId: id,
    schoolId: null,
    seats: 30,
    begins: testDay,
    ends: '2027-06-30',
    costCents: 100,
    orderNumber: null,
    trial: 0,
  };
  expect((await school.post('/api/licenses', { id: null, fields: license })).status).toBe(403);
  expect((await school.post('/api/licenses', { id: null, fields: { ...license, schoolId: skerry } })).status).toBe(200);
  expect((await district.post('/api/licenses', { id: null, fields: { ...license, ends: testDay } })).status).toBe(422);
  const fields = {
    name: 'Isobar Atlas',
    publisher: null,
    edition: null,
    lowGrade: null,
    highGrade: null,
    subject: null,
    supersedes: null,
  };
  expect((await district.post('/api/products', { id: null, fields })).status).toBe(409);
  const rule = {
    productId: id,
    role: 'teacher',
    ...{ schools: [skerry], grades: [], subjects: [], classes: [] },
    except: { schools: [], grades: [], classes: [] },
    urgency: 1,
    begins: null,
  };
  const added = await school.post<{ id: string }>('/api/rules', { id: null, fields: rule });
  expect(added.status).toBe(200);
  for (const schools of [[], [skerry, marrow]])
    expect((await school.post('/api/rules', { id: null, fields: { ...rule, schools } })).status).toBe(403);
  const { rules } = await sheet('Isobar Atlas');
  expect(rules.map(({ whom }) => whom)).toEqual(['all students', 'teachers at Skerry Middle']);
  // Of several schools with an exception it is the district's, told in words, and no longer the school's to end.
  const wider = {
    ...rule,
    schools: [marrow, skerry],
    grades: ['06', '08'],
    except: { ...rule.except, grades: ['07'] },
  };
  expect((await school.post('/api/rules', { id: added.body.id, fields: wider })).status).toBe(403);
  expect((await district.post('/api/rules', { id: added.body.id, fields: wider })).status).toBe(200);
  expect((await sheet('Isobar Atlas')).rules[1]).toMatchObject({
    whom: 'teachers in grades 6 and 8 at Marrow Bay and Skerry Middle but not in grade 7',
    fields: wider,
  });
  expect((await school.post(`/api/rules/${added.body.id}/end`)).status).toBe(403);
  expect((await district.post('/api/rules', { id: added.body.id, fields: rule })).status).toBe(200);
  const classes = await world.db.select<{ id: string; schoolId: string }>(
    "SELECT id, schoolId FROM classes WHERE name = '7A' OR (name = '2A' AND schoolId <> :marrow) ORDER BY schoolId = :skerry DESC",
    { marrow, skerry },
  );
  const ofClasses = (ids: string[]) => ({ ...rule, schools: [], classes: ids });
  const mixed = await school.post('/api/rules', { id: null, fields: ofClasses(classes.map(({ id: one }) => one)) });
  expect([classes.length > 1, mixed.status]).toEqual([true, 403]);
  expect((await school.post('/api/rules', { id: null, fields: ofClasses([skerry]) })).status).toBe(404);
  expect((await school.post(`/api/rules/${added.body.id}/end`)).status).toBe(200);
  expect((await sheet('Isobar Atlas')).rules).toHaveLength(1);
});

it('says how many are held beyond a license that was cut below what is in use', async () => {
  const { licenses, row } = await sheet('Wrackline Readers');
  const [{ id, held, ...license }] = licenses as [(typeof licenses)[number]];
  expect([licenses.length, row.over]).toEqual([1, 0]);
  const cut = await district.post<{ planId: string }>('/api/licenses', {
    id,
    fields: { ...license, seats: held - 24 },
  });
  expect((await named('Wrackline Readers')).over).toBe(24);
  await district.job(`/api/plans/${cut.body.planId}/undo`);
  expect((await named('Wrackline Readers')).over).toBe(0);
});

it('shows costs and orders to those who pay, and offers nobody what is not theirs to change', async () => {
  const school = await world.as('school');
  const { id } = await named('Kelpline Algebra');
  const of = async (who: Caller) => (await who.get<ProductSheet>(`/api/products/${id}`)).body;
  const [wide, own] = [await of(district), await of(school)];
  const districts = (sheet: ProductSheet) => sheet.licenses.find(({ schoolId, trial }) => schoolId === null && !trial)!;
  expect(districts(wide).costCents).toBeGreaterThan(0);
  expect(districts(wide)).toMatchObject({ mayEdit: true, orderNumber: expect.stringMatching(/./) as string });
  expect(districts(own)).toMatchObject({
    mayEdit: false,
    costCents: null,
    orderNumber: null,
    seats: districts(wide).seats,
  });
  expect([wide.proposal.buyCents === null, own.proposal.buyCents]).toEqual([false, null]);
  // The rule for their school is theirs to end, that for another one is not.
  expect(own.rules.map(({ whom, mayEdit }) => [whom, mayEdit])).toEqual([
    ['students at Skerry Middle', true],
    ['students at Marrow Bay', false],
  ]);
  // One for a class of theirs is made and ended.
  const room = (await world.db.one<{ id: string }>(
    "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'SKM' WHERE c.name = '7A' AND c.ends IS NULL",
  ))!.id;
  const fields = {
    productId: id,
    role: 'student',
    ...{ schools: [], grades: [], subjects: [], classes: [room] },
    except: { schools: [], grades: [], classes: [] },
    urgency: 2,
    begins: null,
  };
  const made = await school.post<{ id: string }>('/api/rules', { id: null, fields });
  expect([made.status, (await school.post(`/api/rules/${made.body.id}/end`, {})).status]).toEqual([200, 200]);
});
