/** Groups, from the sheaf to the list and back: by hand, by a rule, copied, and within one's own classes. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ClassRow, GroupRow, PeoplePage, VerbPreview } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let teacher: Caller;
let mine: ClassRow;
beforeAll(async () => {
  world = await World.open('groups');
  [district, teacher] = [await world.as('district'), await world.as('teacher')];
  mine = (await teacher.get<ClassRow[]>('/api/classes')).body.find(({ kind }) => kind === 'homeroom')!;
});
afterAll(() => world.close());

const groups = async (caller: Caller, query = '') => (await caller.get<GroupRow[]>(`/api/groups?${query}`)).body;
const order = (more: object) => ({
  classId: mine.id,
  schoolId: null,
  name: 'Cohort A',
  kind: 'days',
  rule: null,
  gathered: true,
  ...more,
});
const people = async (caller: Caller, query: string) =>
  (await caller.get<PeoplePage>(`/api/people?limit=1000&${query}`)).body.rows;

it('are made of those who are gathered and fit; the verb puts in and takes out; leaving the class leaves the group', async () => {
  const before = await world.checksum();
  const own = (await people(teacher, `classId=${mine.id}`)).slice(0, 4);
  await teacher.post('/api/sheaf/gather', { ids: own.map(({ id }) => id) });
  const { body } = await teacher.post<{ id: string; planId: string; sentence: string }>('/api/groups', order({}));
  expect(body.sentence).toBe('Adds 4 people to a group. Adds 1 group.');
  expect((await people(teacher, `group=${body.id}`)).map(({ id }) => id)).toEqual(own.map(({ id }) => id));
  expect(await groups(teacher)).toMatchObject([{ name: 'Cohort A', members: 4, notes: [] }]);

  await teacher.post('/api/sheaf/let-go', { all: true });
  await teacher.post('/api/sheaf/gather', { ids: [own[0]!.id] });
  const out = { verb: 'group', groupId: body.id, out: true };
  expect((await teacher.post<VerbPreview>('/api/sheaf/preview', out)).body).toMatchObject({
    changes: 1,
    sentence: 'Removes 1 person from a group.',
  });
  const plan = (await teacher.job('/api/sheaf/plan', out)).result!.planId!;
  await teacher.job(`/api/plans/${plan}/apply`);
  expect((await groups(teacher))[0]!.members).toBe(3);

  // Taken out of the class by the coordinator, and back again.
  await district.post('/api/sheaf/let-go', { all: true });
  await district.post('/api/sheaf/gather', { ids: [own[1]!.id] });
  const leave = (await district.job('/api/sheaf/plan', { verb: 'unenroll', classId: mine.id })).result!.planId!;
  await district.job(`/api/plans/${leave}/apply`);
  expect((await groups(teacher))[0]!.members).toBe(2);
  await district.job(`/api/plans/${leave}/undo`);
  expect((await groups(teacher))[0]!.members).toBe(3);

  await teacher.job(`/api/plans/${plan}/undo`);
  await teacher.job(`/api/plans/${body.planId}/undo`);
  expect(await world.checksum()).toBe(before);
});

it('by a rule stay current, and are not changed by hand', async () => {
  const [other] = await people(district, `school=${mine.schoolId}&grade=${mine.grade === '03' ? '04' : '03'}`);
  const rule = { grade: mine.grade, classIds: [] };
  const { body } = await district.post<{ id: string }>(
    '/api/groups',
    order({ classId: null, schoolId: mine.schoolId, name: 'The whole year', rule }),
  );
  const size = async () =>
    (await groups(district, `school=${mine.schoolId}`)).find(({ id }) => id === body.id)!.members;
  const at = await size();
  expect(at).toBe((await people(district, `school=${mine.schoolId}&grade=${mine.grade}&role=student`)).length);
  await district.post('/api/sheaf/let-go', { all: true });
  await district.post('/api/sheaf/gather', { ids: [other!.id] });
  const move = (
    await district.job('/api/sheaf/plan', { verb: 'move', schoolId: null, grade: mine.grade, classId: null })
  ).result!.planId!;
  await district.job(`/api/plans/${move}/apply`);
  expect(await size()).toBe(at + 1);
  const refused = (
    await district.post<VerbPreview>('/api/sheaf/preview', { verb: 'group', groupId: body.id, out: false })
  ).body;
  expect(refused.problems[0]!.message).toContain('follows a rule');
});

it('copied for another class take those who are in it, and say when the name no longer fits', async () => {
  const inBoth = (await people(district, `classId=${mine.id}`)).slice(0, 6);
  await district.post('/api/sheaf/let-go', { all: true });
  await district.post('/api/sheaf/gather', { ids: inBoth.map(({ id }) => id) });
  const made = (await district.post<{ id: string }>('/api/groups', order({ name: 'Cohort A' }))).body;
  const likeIt = {
    schoolId: mine.schoolId,
    names: 'Science lab',
    kind: 'course',
    grade: null,
    subject: 'Science',
    template: null,
    likeId: mine.id,
    people: true,
  };
  await district.post('/api/classes', likeIt);
  const lab = (await district.get<ClassRow[]>(`/api/classes?school=${mine.schoolId}&q=Science lab`)).body[0]!;
  const copy = (
    await district.post<{ id: string; name: string; left: string[] }>(`/api/groups/${made.id}/copy`, {
      classId: lab.id,
    })
  ).body;
  expect(copy).toMatchObject({ name: 'Cohort A · Science', left: [] });
  expect((await district.post(`/api/groups/${copy.id}/rename`, { before: copy.name, after: 'Cohort B' })).status).toBe(
    200,
  );
  const row = (await groups(district, `classId=${lab.id}`))[0]!;
  expect(row).toMatchObject({
    name: 'Cohort B',
    members: 6,
    notes: ['Has the same members as Cohort A, but its name ends in B'],
  });
});

it('are a teacher’s in their own classes only', async () => {
  const other = (await district.get<ClassRow[]>(`/api/classes?school=${mine.schoolId}`)).body.find(
    ({ id, kind }) => id !== mine.id && kind === 'homeroom',
  )!;
  expect((await teacher.post('/api/groups', order({ classId: other.id, gathered: false }))).status).toBe(404);
  expect(
    (await teacher.post('/api/groups', order({ classId: null, schoolId: mine.schoolId, gathered: false }))).status,
  ).toBe(403);
  const across = (await groups(district, `school=${mine.schoolId}`)).find(({ classId }) => classId === null)!;
  expect((await teacher.post(`/api/groups/${across.id}/end`)).status).toBe(404);
  expect((await groups(teacher)).every(({ classId }) => classId !== null)).toBe(true);
  expect((await teacher.post('/api/sheaf/preview', { verb: 'hold' })).status).toBe(403);
  expect((await teacher.post('/api/sheaf/preview', { verb: 'enroll', classId: mine.id, instead: false })).status).toBe(
    403,
  );
});
