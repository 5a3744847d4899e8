/** Materials and set work: what a class may be set, who sees what when, and the teachers' own class. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Mine, ClassProgress, MaterialRow, MyWork, TodayClass, WorkRow, WorkSheet } from '../contract';
import { nowIso } from '../clock';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let teacher: Caller;
beforeAll(async () => {
  world = await World.open('materials');
  [district, teacher] = [await world.as('district'), await world.as('teacher')];
});
afterAll(() => world.close());
const classAt = async (code: string, name: string): Promise<string> =>
  (await world.db.one<{ id: string }>(
    'SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = :code WHERE c.name = :name AND c.ends IS NULL',
    { code, name },
  ))!.id;
const materialAt = async (title: string): Promise<string> =>
  (await world.db.one<{ id: string }>('SELECT id FROM materials WHERE title = :title', { title }))!.id;
const inMs = (ms: number): string => new Date(Date.parse(nowIso()) + ms).toISOString();
const fields = (more: object = {}) => ({
  title: 'Nine nets, pages 1 to 9',
  opensAt: inMs(-60_000),
  closesAt: inMs(3_600_000),
  minutes: 30,
  entryWord: null,
  paused: 0,
  answers: 'done',
  ...more,
});
/** The first child of the class that can sign in, as the card would. */
async function childOf(classId: string): Promise<{ id: string; caller: Caller }> {
  const child = (await world.db.one<{ id: string; username: string }>(
    "SELECT p.id, a.username FROM enrollments e JOIN people p ON p.id = e.personId JOIN accounts a ON a.personId = p.id WHERE e.classId = :classId AND e.ends IS NULL AND e.role = 'student' ORDER BY p.id LIMIT 1",
    { classId },
  ))!;
  const { secret } = (await district.post<{ secret: string }>(`/api/people/${child.id}/reveal`, { why: 'a test' }))
    .body;
  return { id: child.id, caller: await world.signIn(child.username, secret) };
}

it('takes a publisher’s list, says what it could not, and offers a class what it is entitled to', async () => {
  const productId = (await world.db.one<{ id: string }>("SELECT id FROM products WHERE name = 'Isobar Atlas'"))!.id;
  const text = [
    'title,kind,address,from grade,to grade,minutes',
    'Winds,lesson,https://products.example/winds,3,6,25',
    'Currents,map,https://products.example/currents,,,',
    'Tides,lesson,no address,,,',
    'Winds again,lesson,https://products.example/winds,,,',
    'Clouds,practice,https://products.example/clouds,,,never',
  ].join('\n');
  const made = (
    await district.post<{ planId: string; taken: number; problems: { line: number; message: string }[] }>(
      '/api/materials/take',
      { productId, text },
    )
  ).body;
  expect([made.taken, made.problems.map(({ line }) => line)]).toEqual([1, [3, 4, 5, 6]]);
  expect(made.problems[0]!.message).toContain('not one of book, lesson, practice, test');
  const all = (await district.get<MaterialRow[]>(`/api/materials?product=${productId}`)).body;
  expect(all.find(({ title }) => title === 'Winds')).toMatchObject({
    lowGrade: '03',
    highGrade: '06',
    minutes: 25,
    set: 0,
  });
  const room = await classAt('LAN', 'KA');
  const offered = (await teacher.get<MaterialRow[]>(`/api/materials?classId=${room}`)).body;
  const entitled = await world.db.select<{ product: string }>(
    "SELECT DISTINCT p.name AS product FROM entitlements r JOIN products p ON p.id = r.productId JOIN schools s ON s.code = 'LAN' WHERE (r.ends IS NULL OR r.ends > '2026-08-26') AND (r.schoolId = s.id OR (r.schoolId IS NULL AND r.classId IS NULL AND r.subject IS NULL AND r.grade IS NULL))",
  );
  expect(new Set(offered.map(({ product }) => product.split(',')[0]))).toEqual(
    new Set(entitled.map(({ product }) => product)),
  );
  const algebra = await materialAt('Balancing loads');
  const refused = await teacher.post('/api/work', {
    materialId: algebra,
    fields: fields(),
    targets: [{ classId: room, groupId: null }],
    gathered: false,
  });
  expect([refused.status, refused.body.error]).toEqual([422, expect.stringContaining('KA is not entitled')]);
});

it('is seen by the children for whom it is, opens with its word, and is counted once it is done', async () => {
  const [room, other] = [await classAt('LAN', 'KA'), await classAt('LAN', '3A')];
  const [child, elsewhere] = [await childOf(room), await childOf(other)];
  const materialId = await materialAt('Nine nets');
  const before = await world.checksum();
  const set = async (more: object = {}, gathered = false) =>
    teacher.post<{ planId: string; sentence: string }>('/api/work', {
      materialId,
      fields: fields(more),
      targets: [{ classId: room, groupId: null }],
      gathered,
    });
  const made = (await set({ entryWord: 'Curlew' })).body;
  const mine = async (who: { caller: Caller }) => (await who.caller.get<MyWork[]>('/api/mine/work')).body;
  const [first] = await mine(child);
  expect(first).toMatchObject({
    title: 'Nine nets, pages 1 to 9',
    className: 'KA',
    phase: 'open',
    asksWord: true,
    isDone: false,
  });
  expect(JSON.stringify(first)).not.toContain('Curlew');
  expect((await mine(elsewhere)).some(({ className }) => className === 'KA')).toBe(false);
  const enter = (who: { caller: Caller }, word: string) => who.caller.post(`/api/mine/work/${first!.id}`, { word });
  expect((await enter(child, 'gull')).status).toBe(422);
  expect((await enter(child, ' curlew')).body).toEqual({ address: expect.stringContaining('nine-nets') as string });
  expect((await enter(elsewhere, 'curlew')).status).toBe(404);
  for (let i = 0; i < 10; i++) await enter(child, 'gull');
  expect((await enter(child, 'curlew')).status).toBe(429);

  // Paused it is shut; what the field was before must still be so.
  const edit = (field: string, was: unknown, after: unknown) =>
    teacher.post<{ planId: string }>(`/api/work/${first!.id}/edit`, { field, before: was, after });
  expect((await edit('paused', 0, 1)).status).toBe(200);
  expect((await mine(child))[0]!.phase).toBe('shut');
  expect((await edit('paused', 0, 1)).status).toBe(409);
  expect((await edit('closesAt', first!.closesAt, inMs(-120_000))).status).toBe(422);
  expect((await edit('minutes', 30, 'long')).body.error).toContain('minutes');
  // Expected before it closes, and told so to the child and on the teacher's Today.
  expect((await edit('dueAt', null, inMs(7_200_000))).body).toMatchObject({ error: 'It closes before it is due.' });
  const dueAt = inMs(1_800_000);
  expect((await edit('dueAt', null, dueAt)).status).toBe(200);
  expect((await mine(child))[0]!.dueAt).toBe(dueAt);
  const due = (await teacher.get<TodayClass[]>('/api/today/classes')).body.flatMap((one) => one.due);
  expect(due.find(({ id }) => id === first!.id)).toMatchObject({ title: 'Nine nets, pages 1 to 9', at: dueAt });
  const opened = await teacher.post('/api/work/open', { ids: [first!.id] });
  expect([opened.status, (await mine(child))[0]!.phase]).toEqual([200, 'open']);

  await world.db.run(
    'INSERT INTO results (materialId, personId, at, finished, permille, seconds) VALUES (:materialId, :id, :at, 1, 800, 540)',
    { materialId, id: child.id, at: nowIso() },
  );
  expect((await mine(child))[0]).toMatchObject({ isDone: true, share: 0.8 });
  const sheet = (await teacher.get<WorkSheet>(`/api/work/${first!.id}`)).body;
  expect([sheet.work.done, sheet.people.filter(({ doneAt }) => doneAt !== null)]).toEqual([
    1,
    [expect.objectContaining({ id: child.id, share: 0.8, minutes: 9 })],
  ]);
  // Undone, one after the other from the last, nothing of it is left.
  const plans = await world.db.select<{ id: string }>(
    "SELECT id FROM plans WHERE kind = 'work' AND status = 'applied' ORDER BY id DESC",
  );
  for (const { id } of plans) await teacher.job(`/api/plans/${id}/undo`);
  expect(plans.at(-1)!.id).toBe(made.planId);
  expect(await world.checksum()).toBe(before);
  expect(await mine(child)).not.toContainEqual(expect.objectContaining({ id: first!.id }));
});

it('goes from the teachers’ own class to others, for some of them by name, and is taken back', async () => {
  const school = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  const coordinator = await world.as('school');
  const order = {
    schoolId: school,
    names: 'Shelf of mathematics',
    kind: 'template',
    grade: null,
    subject: 'Mathematics',
    likeId: null,
    template: null,
    people: false,
  };
  expect((await coordinator.post('/api/classes', order)).status).toBe(200);
  const shelf = await classAt('SKM', 'Shelf of mathematics');
  const [six, seven] = [await classAt('SKM', '6A'), await classAt('SKM', '7B')];
  const materialId = await materialAt('Slopes');
  // Nobody is a student of it, and nobody can be.
  const students = await world.db.select<{ id: string }>(
    "SELECT personId AS id FROM enrollments WHERE classId = :six AND role = 'student' AND ends IS NULL ORDER BY personId LIMIT 3",
    { six },
  );
  await coordinator.post('/api/sheaf/gather', { ids: students.map(({ id }) => id) });
  const enroll = await coordinator.post('/api/sheaf/preview', { verb: 'enroll', classId: shelf, instead: false });
  expect([enroll.status, enroll.body.error]).toEqual([422, expect.stringContaining('staff only')]);
  expect((await coordinator.post('/api/codes', { classId: shelf, schoolId: null, days: 7, usesMost: 30 })).status).toBe(
    422,
  );

  expect((await coordinator.post(`/api/classes/${shelf}/people`, { personId: students[0]!.id })).status).toBe(422);
  expect((await coordinator.post(`/api/classes/${shelf}/split`, { names: 'Another shelf' })).status).toBe(422);
  expect((await coordinator.post(`/api/classes/${six}/combine`, { others: [shelf] })).status).toBe(422);

  // Nobody is entitled to anything in it; all that can be kept in it is offered nevertheless.
  const offered = (await coordinator.get<MaterialRow[]>(`/api/materials?classId=${shelf}`)).body;
  expect(offered.map(({ id }) => id)).toContain(materialId);
  const kept = await coordinator.post('/api/work', {
    materialId,
    fields: fields({ title: 'Slopes' }),
    targets: [{ classId: shelf, groupId: null }],
    gathered: false,
  });
  expect(kept.status).toBe(200);
  const list = async (classId: string) =>
    (await coordinator.get<WorkRow[]>(`/api/work?classId=${classId}`)).body.filter(
      ({ material }) => material === 'Slopes',
    );
  const [original] = await list(shelf);
  expect(original).toMatchObject({ people: 0, phase: 'open' });
  const opensAt = inMs(86_400_000);
  await coordinator.post('/api/work/copy', { ids: [original!.id], classIds: [six, seven], opensAt });
  const copies = [...(await list(six)), ...(await list(seven))];
  expect(copies.map(({ className, phase }) => [className, phase])).toEqual([
    ['6A', 'coming'],
    ['7B', 'coming'],
  ]);
  const length = (row: WorkRow) => Date.parse(row.closesAt!) - Date.parse(row.opensAt);
  expect(copies.map(length)).toEqual([length(original!), length(original!)]);
  expect((await coordinator.post('/api/work/open', { ids: copies.map(({ id }) => id) })).status).toBe(200);
  // For the three who are gathered alone.
  await coordinator.post('/api/work', {
    materialId,
    fields: fields({ title: 'Slopes once more' }),
    targets: [{ classId: six, groupId: null }],
    gathered: true,
  });
  const some = (await list(six)).find(({ title }) => title === 'Slopes once more')!;
  expect([some.whom, some.people]).toEqual(['some', 3]);
  const seen = await childOf(six);
  const titles = (await seen.caller.get<MyWork[]>('/api/mine/work')).body.map(({ title }) => title);
  expect([titles.includes('Slopes'), titles.includes('Slopes once more')]).toEqual([
    true,
    students.some(({ id }) => id === seen.id),
  ]);
  // All of it goes out as a file, within what is theirs.
  const file = async (list: string) => (await coordinator.raw(`/api/exports/${list}?format=csv`)).text();
  expect((await file('work')).split('\r\n').filter((line) => line.includes('Slopes once more'))).toHaveLength(1);
  expect(await file('work')).not.toContain('Lantern Point');
  expect(await file('materials')).toContain('https://products.example/kelpline-algebra/slopes');
  await coordinator.post('/api/work/take-back', { ids: [some.id, copies[0]!.id] });
  expect((await list(six)).map(({ title }) => title)).toEqual([]);
  expect((await teacher.get(`/api/work/${copies[1]!.id}`)).status).toBe(404);
});

it('of a group that ended is nobody’s any more, and is listed as such until the end is undone', async () => {
  const room = await classAt('LAN', 'KA');
  const child = await childOf(room);
  await teacher.post('/api/sheaf/let-go', { all: true });
  await teacher.post('/api/sheaf/gather', { ids: [child.id] });
  const group = (
    await teacher.post<{ id: string }>('/api/groups', {
      ...{ classId: room, schoolId: null, name: 'Early boat', kind: 'other', rule: null, gathered: true },
    })
  ).body;
  await teacher.post('/api/work', {
    materialId: await materialAt('Nine nets'),
    fields: fields({ title: 'For the early boat' }),
    targets: [{ classId: room, groupId: group.id }],
    gathered: false,
  });
  const row = async () => {
    const rows = (await teacher.get<WorkRow[]>(`/api/work?classId=${room}`)).body;
    const { groupEnded, people } = rows.find(({ title }) => title === 'For the early boat')!;
    return { groupEnded, people };
  };
  const sees = async () =>
    (await child.caller.get<MyWork[]>('/api/mine/work')).body.some(({ title }) => title === 'For the early boat');
  expect([await row(), await sees()]).toEqual([{ groupEnded: false, people: 1 }, true]);
  const { planId } = (await teacher.post<{ planId: string }>(`/api/groups/${group.id}/end`)).body;
  expect([await row(), await sees()]).toEqual([{ groupEnded: true, people: 0 }, false]);
  await teacher.job(`/api/plans/${planId}/undo`);
  expect([await row(), await sees()]).toEqual([{ groupEnded: false, people: 1 }, true]);
});

it('shows how far each student is, who is behind the goals, and keeps the library out of it', async () => {
  const room = await classAt('LAN', 'KA');
  const child = await childOf(room);
  const materialId = await materialAt('A letter in a bottle');
  const put = async (more: object) =>
    teacher.post<{ error?: string }>('/api/work', {
      ...{ materialId, targets: [{ classId: room, groupId: null }], gathered: false },
      fields: fields(more),
    });
  const due = { opensAt: inMs(-3_600_000), dueAt: inMs(-60_000) };
  expect((await put({ title: 'Due by now', ...due })).status).toBe(200);
  expect((await put({ title: 'To look things up', ...due, library: 1 })).status).toBe(422);
  expect((await put({ title: 'To look things up', library: 1 })).status).toBe(200);
  const of = async (who = teacher) => (await who.get<ClassProgress>(`/api/classes/${room}/progress`)).body;
  const before = await of();
  const n = before.works.findIndex(({ title }) => title === 'Due by now');
  expect(before.works.map(({ title }) => title)).not.toContain('To look things up');
  const students = await world.db.select<{ id: string }>(
    "SELECT personId AS id FROM enrollments WHERE classId = :room AND role = 'student' AND ends IS NULL",
    { room },
  );
  expect(before.people.map(({ id }) => id).sort()).toEqual(students.map(({ id }) => id).sort());
  expect(before.works[n]!.counts.missing).toBe(students.length);
  expect(before.people.flatMap(({ standing }) => standing.behind)).toEqual([]);
  const mine = (await child.caller.get<MyWork[]>('/api/mine/work')).body;
  expect(mine.find(({ title }) => title === 'To look things up')).toMatchObject({ inLibrary: true, phase: 'open' });

  // With a goal all are behind but one who is done, and one who has a goal of their own that is met.
  await world.db.run(
    'INSERT INTO results (materialId, personId, at, finished, permille, seconds) VALUES (:materialId, :id, :at, 1, 900, 300)',
    { materialId, id: child.id, at: inMs(-120_000) },
  );
  const goals = (personId: string | null, minutes: number | null, share: number | null) =>
    teacher.post<{ planId: string }>(`/api/classes/${room}/goals`, { personId, goal: { minutes, share } });
  const checksum = await world.checksum();
  const made = (await goals(null, null, 100)).body;
  const after = await of();
  const state = (id: string) => after.people.find((one) => one.id === id)!;
  expect(state(child.id).cells[n]).toMatchObject({ state: 'done', share: 0.9 });
  const behind = after.people.filter(({ standing }) => standing.behind.includes('share'));
  const short = after.people.filter(({ standing }) => standing.done < standing.due);
  expect(behind.map(({ id }) => id)).toEqual(short.map(({ id }) => id));
  expect(behind.length).toBeGreaterThan(0);
  const other = behind[0]!;
  const own = (await goals(other.id, null, 1)).body;
  const third = (await of()).people.find(({ id }) => id === other.id)!;
  expect(third).toMatchObject({ own: { minutes: null, share: 1 }, standing: { behind: ['share'] } });
  // A child is told what is expected, and how far they are.
  const told = (await goals(child.id, 45, null)).body;
  const page = (await child.caller.get<Mine>('/api/mine')).body;
  expect(page.classes.flatMap(({ goal }) => goal ?? [])).toEqual([
    { minutes: 45, spent: expect.any(Number) as number },
  ]);
  for (const { planId } of [told, own, made]) await teacher.job(`/api/plans/${planId}/undo`);
  expect(await world.checksum()).toBe(checksum);
  expect((await goals('0'.repeat(26), 1, 1)).status).toBe(404);
  const stranger = await world.as('school');
  expect((await stranger.get(`/api/classes/${room}/progress`)).status).toBe(404);
});
