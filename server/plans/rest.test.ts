/** A plan that meets another one: what is in its way is named with that plan, and the rest can be done without it. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ClassRow, PlanSheet } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('rest', { demo: true });
  district = await world.as('district');
});
afterAll(() => world.close());

it('names the plan that was first, is applied without whom that concerns, and undone without them', async () => {
  const rows = (await district.get<ClassRow[]>('/api/classes')).body;
  const course = rows.find(({ kind }) => kind === 'course')!;
  const children = await world.db.select<{ id: string }>(
    `SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId = :school WHERE p.role = 'student' AND p.status = 'active'
       AND p.id NOT IN (SELECT personId FROM enrollments WHERE classId = :course AND ends IS NULL) ORDER BY p.id LIMIT 3`,
    { school: course.schoolId, course: course.id },
  );
  const planned = async (ids: string[]): Promise<string> => {
    await district.post('/api/sheaf/gather', { ids });
    const made = await district.job('/api/sheaf/plan', { verb: 'enroll', classId: course.id, instead: false });
    await district.post('/api/sheaf/let-go', { ids });
    return made.result!.planId!;
  };
  const inside = async () =>
    (
      await world.db.select<{ id: string }>(
        'SELECT personId AS id FROM enrollments WHERE classId = :course AND ends IS NULL AND personId IN (:ids) ORDER BY personId',
        { course: course.id, ids: children.map(({ id }) => id) },
      )
    ).map(({ id }) => id);
  const [one, two, three] = children.map(({ id }) => id) as [string, string, string];
  const all = await planned([one, two, three]);
  const first = await planned([one]);
  const { title } = (await district.get<PlanSheet>(`/api/plans/${first}`)).body;
  await district.apply(first);

  const refused = await district.job(`/api/plans/${all}/apply`);
  expect(refused).toMatchObject({
    status: 'failed',
    error: {
      message: expect.stringContaining('1 change can no longer be made') as string,
      conflicts: [{ subject: one, message: 'is already in this class', by: { planId: first, title } }],
    },
  });
  expect(await inside()).toEqual([one]);
  const rest = await district.job(`/api/plans/${all}/apply`, { except: [one] });
  expect([rest.status, await inside()]).toEqual(['done', [one, two, three].sort()]);
  const sheet = (await district.get<PlanSheet>(`/api/plans/${all}`)).body;
  expect([sheet.status, sheet.remaining.total, sheet.takenOut.subjects]).toEqual(['applied', 2, [one]]);

  // One of the two leaves the class by another plan, which then stands in the way of undoing.
  const place = await world.db.one<{ id: string }>(
    'SELECT id FROM enrollments WHERE classId = :course AND personId = :two AND ends IS NULL',
    { course: course.id, two },
  );
  await district.post('/api/sheaf/gather', { ids: [two] });
  const out = (await district.job('/api/sheaf/plan', { verb: 'unenroll', classId: course.id })).result!.planId!;
  await district.apply(out);
  const undo = await district.job(`/api/plans/${all}/undo`, {});
  expect(undo.error!.conflicts).toMatchObject([{ subject: two, row: `enrollment:${place!.id}`, by: { planId: out } }]);
  const undone = await district.job(`/api/plans/${all}/undo`, { except: [two] });
  expect([undone.status, await inside()]).toEqual(['done', [one]]);
});

it('leaves to others what they did meanwhile: it is neither done again nor undone', async () => {
  const rows = (await district.get<ClassRow[]>('/api/classes')).body;
  const course = rows.find(({ kind, students }) => kind === 'course' && students > 5)!;
  const { enrollment } = world.db.models;
  const open = { classId: course.id, role: 'student', ends: null };
  const [one, two] = (await enrollment.findAll({ where: open, order: ['id'], limit: 2, raw: true })).map(
    ({ personId }) => personId,
  ) as [string, string];
  const leaving = async (ids: string[]): Promise<string> => {
    await district.post('/api/sheaf/gather', { ids });
    const made = await district.job('/api/sheaf/plan', { verb: 'unenroll', classId: course.id });
    await district.post('/api/sheaf/let-go', { ids });
    return made.result!.planId!;
  };
  const inside = async () =>
    (await enrollment.findAll({ where: { ...open, personId: [one, two] }, raw: true })).map(({ personId }) => personId);
  const [both, again, first] = [await leaving([one, two]), await leaving([one]), await leaving([one])];
  await district.apply(first);
  expect((await district.job(`/api/plans/${both}/apply`)).result).toMatchObject({ changes: 1 });
  expect(await inside()).toEqual([]);
  expect((await district.get<PlanSheet>(`/api/plans/${both}`)).body.remaining.total).toBe(1);
  // Nothing of this one is left.
  expect((await district.job(`/api/plans/${again}/apply`)).error!.message).toContain('already so');
  await district.job(`/api/plans/${both}/undo`, {});
  expect(await inside()).toEqual([two]);
  await district.job(`/api/plans/${first}/undo`, {});
  expect((await inside()).sort()).toEqual([one, two].sort());
});
