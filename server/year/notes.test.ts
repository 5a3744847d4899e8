/** What teachers say for next year's classes reaches the split of the grade, and is nobody else's to say. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { PlacementNotes, SplitSheet } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let teacher: Caller;
beforeAll(async () => {
  world = await World.open('notes');
  teacher = await world.as('teacher');
});
afterAll(() => world.close());

it('is told by who teaches the class, kept by its newest word, and balanced beside what is on record', async () => {
  const classes = (await teacher.get<{ id: string; grade: string; kind: string }[]>('/api/today/classes')).body;
  const mine = classes.find(({ kind }) => kind === 'homeroom')!;
  const sheet = async () => (await teacher.get<PlacementNotes>(`/api/classes/${mine.id}/notes`)).body;
  const [one, other] = (await sheet()).students;
  expect([one!.level, one!.support]).toEqual([null, null]);
  const say = (personId: string, level: string | null, support: boolean | null) =>
    teacher.post(`/api/classes/${mine.id}/notes`, { personId, level, support });
  expect((await say(one!.id, 'nearly', null)).status).toBe(200);
  expect((await say(one!.id, 'there', true)).status).toBe(200);
  expect((await say(other!.id, null, false)).status).toBe(200);
  expect((await say(other!.id, 'brilliant', false)).status).toBe(422);
  expect((await sheet()).students.slice(0, 2).map(({ level, support }) => [level, support])).toEqual([
    ['there', true],
    [null, false],
  ]);
  // Another class, and somebody who is not in it.
  const [stranger] = await world.db.select<{ classId: string; personId: string }>(
    "SELECT e.classId, e.personId FROM enrollments e JOIN classes c ON c.id = e.classId AND c.schoolId <> (SELECT schoolId FROM classes WHERE id = :id) WHERE e.role = 'student' AND e.ends IS NULL LIMIT 1",
    { id: mine.id },
  );
  expect((await teacher.get(`/api/classes/${stranger!.classId}/notes`)).status).toBe(404);
  expect((await say(stranger!.personId, 'there', true)).status).toBe(404);
  // The grade that they come into is split with it.
  const district = await world.as('district');
  const { schoolId, grade } = (await world.db.one<{ schoolId: string; grade: string }>(
    'SELECT schoolId, grade FROM classes WHERE id = :id',
    { id: mine.id },
  ))!;
  const next = grade === 'KG' ? '01' : String(Number(grade) + 1).padStart(2, '0');
  const split = (await district.get<SplitSheet>(`/api/year/split?school=${schoolId}&grade=${next}`)).body;
  const found = split.children.find(({ id }) => id === one!.id)!;
  expect([found.level, found.support]).toEqual(['there', true]);
  expect(split.children.find(({ id }) => id === other!.id)!.support).toBe(false);
});
