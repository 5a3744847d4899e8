/** One field finds people, classes, groups, devices, products and plans; a teacher only what is theirs. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ClassRow, DevicePage, Found, FoundKind, GroupRow, PersonRow } from './contract';
import { type Caller, World } from './testing/world';

let world: World;
let district: Caller;
let teacher: Caller;
let home: ClassRow;
let child: PersonRow;
beforeAll(async () => {
  world = await World.open('find');
  [district, teacher] = [await world.as('district'), await world.as('teacher')];
  home = (await teacher.get<ClassRow[]>('/api/classes')).body.find(({ kind }) => kind === 'homeroom')!;
  [child] = (await teacher.get<{ rows: [PersonRow] }>(`/api/people?classId=${home.id}`)).body.rows;
});
afterAll(() => world.close());

const find = async (caller: Caller, q: string, kind?: FoundKind): Promise<Found[]> => {
  const { found } = (await caller.get<{ found: Found[] }>(`/api/find?q=${encodeURIComponent(q)}`)).body;
  return kind ? found.filter((one) => one.kind === kind) : found;
};

it('finds nothing by one letter, and one person by their number', async () => {
  expect(await find(district, 'a')).toEqual([]);
  const [one, ...more] = await find(district, child.number!);
  expect([one?.kind, one?.id, more.filter(({ kind }) => kind === 'person')]).toEqual(['person', child.id, []]);
  expect(one!.name).toContain(child.familyName);
});

it('finds each kind of thing by what it is called', async () => {
  expect((await find(district, home.name, 'class')).map(({ name }) => name)).toContain(home.name);
  const device = (await district.get<DevicePage>('/api/devices?limit=1')).body.rows[0]!;
  expect(await find(district, device.tag, 'device')).toMatchObject([{ id: device.id, name: device.tag }]);
  expect(await find(district, 'kelpline', 'product')).not.toEqual([]);
  expect(await find(district, 'opening', 'plan')).toMatchObject([{ name: 'Opening register' }]);
});

it('finds a group, which is of the one school of those who were gathered, and prints it', async () => {
  await teacher.post('/api/sheaf/gather', { ids: [child.id] });
  const order = { classId: home.id, schoolId: null, name: 'Puffin readers', kind: 'level', rule: null, gathered: true };
  const { id } = (await teacher.post<{ id: string }>('/api/groups', order)).body;
  expect(await find(district, 'puffin', 'group')).toMatchObject([{ id, name: 'Puffin readers' }]);
  expect((await teacher.get<GroupRow>(`/api/groups/${id}`)).body).toMatchObject({ id, members: 1 });

  const rows = (await district.get<{ rows: PersonRow[] }>(`/api/people?school=${home.schoolId}&role=student&limit=3`))
    .body.rows;
  await district.post('/api/sheaf/gather', { ids: rows.map((row) => row.id) });
  const across = await district.post<{ id: string }>('/api/groups', { ...order, classId: null, name: 'Puffin choir' });
  expect((await district.get<GroupRow>(`/api/groups/${across.body.id}`)).body).toMatchObject({
    schoolId: home.schoolId,
    members: 3,
  });
  const print = { groupId: across.body.id, layout: 'cards', paper: 'Letter', voidOlder: false };
  expect((await district.post<{ cards: number }>('/api/prints/preview', print)).body.cards).toBe(3);
  // Of several schools one is to be chosen.
  const elsewhere = await world.db.one<{ personId: string }>(
    "SELECT a.personId FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' AND p.status = 'active' WHERE a.ends IS NULL AND a.schoolId <> :schoolId LIMIT 1",
    { schoolId: home.schoolId },
  );
  await district.post('/api/sheaf/gather', { ids: [elsewhere!.personId] });
  expect(await district.post('/api/groups', { ...order, classId: null, name: 'Puffins all' })).toMatchObject({
    status: 422,
    body: { error: expect.stringContaining('several schools') as string },
  });
});

it('shows a teacher their own people and classes, and nothing of coordinators', async () => {
  const kinds = async (q: string) => [...new Set((await find(teacher, q)).map(({ kind }) => kind))];
  expect(await kinds('kelpline')).toEqual([]);
  expect(await kinds('opening')).toEqual([]);
  const other = (await district.get<{ rows: PersonRow[] }>('/api/people?role=student&limit=1000')).body.rows.find(
    (row) => row.school !== child.school && row.number,
  )!;
  expect(await find(teacher, other.number!)).toEqual([]);
  expect((await find(teacher, child.number!)).map(({ id }) => id)).toEqual([child.id]);
});
