/** A class as its teacher runs it: who could be added, adding and removing, colleagues who are told, Today's rows. */
import { inEnglish } from '#core/messages/languages';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Candidate, ClassPage, ClassRow, JoinCode, JoinRequest, PersonRow, Today, TodayClass } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let teacher: Caller;
let school: Caller;
let home: ClassRow;
type Made = { planId: string; sentence: string };
beforeAll(async () => {
  world = await World.open('roster');
  teacher = await world.as('teacher');
  home = (await teacher.get<ClassRow[]>('/api/classes')).body.find(({ kind }) => kind === 'homeroom')!;
  school = await world.at(home.schoolId, 'school');
});
afterAll(() => world.close());

const page = async (caller = teacher) => (await caller.get<ClassPage>(`/api/classes/${home.id}`)).body;
const roster = async (classId = home.id) =>
  (await school.get<{ rows: PersonRow[] }>(`/api/people?classId=${classId}&limit=100`)).body.rows;
const find = (q: string) => teacher.get<Candidate[]>(`/api/classes/${home.id}/candidates?q=${encodeURIComponent(q)}`);
const put = (personId: string, caller = teacher) => caller.post<Made>(`/api/classes/${home.id}/people`, { personId });
const remove = (personId: string, caller = teacher) =>
  caller.post<Made>(`/api/classes/${home.id}/people/remove`, { personId });
const undo = (planId: string) => teacher.job(`/api/plans/${planId}/undo`);
const noticesFor = (personId: string) =>
  world.db.select<{ words: string }>('SELECT words FROM notices WHERE personId = :personId ORDER BY id', { personId });
const me = async () => (await teacher.get<{ personId: string }>('/api/me')).body.personId;
/** Somebody of that kind at the school of the class, or at any other. */
const one = async (role: 'student' | 'staff', where: 'here' | 'elsewhere') =>
  (await world.db.one<{ id: string; familyName: string; givenName: string; classId: string | null }>(
    `SELECT p.id, p.familyName, p.givenName, e.classId FROM people p
       JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId ${where === 'here' ? '=' : '<>'} :schoolId
       JOIN accounts ac ON ac.personId = p.id AND ac.role IN ('student', 'teacher')
       LEFT JOIN enrollments e ON e.personId = p.id AND e.ends IS NULL AND e.role = 'student' AND e.classId IN (SELECT id FROM classes WHERE kind = 'homeroom')
     WHERE p.role = :role AND p.status = 'active' AND (e.classId IS NULL OR e.classId <> :classId)
       AND (p.role = 'staff' OR e.classId IS NOT NULL) AND p.id <> :me
       AND NOT EXISTS (SELECT 1 FROM enrollments t WHERE t.personId = p.id AND t.classId = :classId)
     ORDER BY p.id LIMIT 1`,
    { schoolId: home.schoolId, role, classId: home.id, me: await me() },
  ))!;

describe('a teacher', () => {
  it('finds children of the school by name, is told whom they would leave, and nothing that is not needed', async () => {
    const child = await one('student', 'here');
    const { body } = await find(`${child.givenName} ${child.familyName}`);
    const found = body.find(({ personId }) => personId === child.id)!;
    expect(Object.keys(found).sort()).toEqual(['grade', 'homeroom', 'isIn', 'leaves', 'name', 'personId', 'role']);
    expect([found.isIn, found.leaves]).toEqual([false, true]);
    expect(found.homeroom).toMatch(/\(.+\)/);
    const [own] = await roster();
    const known = (await find(`${own!.givenName} ${own!.familyName}`)).body;
    expect(known.find(({ personId }) => personId === own!.id)).toMatchObject({ isIn: true, leaves: false });
    const away = await one('student', 'elsewhere');
    const others = (await find(`${away.givenName} ${away.familyName}`)).body;
    expect(others.map(({ personId }) => personId)).not.toContain(away.id);
    expect((await find('x')).status).toBe(422);
    // A number tells a teacher of nobody whom they do not teach.
    const { number } = (await world.db.one<{ number: string }>(
      'SELECT number FROM people WHERE id = :id AND number IS NOT NULL',
      { id: child.id },
    ))!;
    expect((await find(number)).body).toEqual([]);
    const search = `/api/classes/${home.id}/candidates?q=${number}`;
    expect((await school.get<Candidate[]>(search)).body.map(({ personId }) => personId)).toContain(child.id);
  });

  it('adds a child, whose other homeroom ends and whose teacher is told, and takes it back', async () => {
    const before = await world.checksum();
    const child = await one('student', 'here');
    const teachers = await world.db.select<{ personId: string }>(
      "SELECT personId FROM enrollments WHERE classId = :classId AND role = 'teacher' AND ends IS NULL",
      { classId: child.classId! },
    );
    const { status, body } = await put(child.id);
    expect([status, body.sentence]).toEqual([200, `${child.givenName} ${child.familyName} is now in ${home.name}.`]);
    expect((await roster()).map(({ id }) => id)).toContain(child.id);
    expect((await roster(child.classId!)).map(({ id }) => id)).not.toContain(child.id);
    for (const { personId } of teachers)
      expect(inEnglish((await noticesFor(personId)).at(-1)!.words)).toContain(`left your class for ${home.name}`);
    expect((await put(child.id)).status).toBe(409);
    expect((await undo(body.planId)).status).toBe('done');
    expect(await world.checksum()).toBe(before);
  });

  it('removes a child from their class, not from another one, and no child of another school comes in', async () => {
    const before = await world.checksum();
    const [child] = await roster();
    const { body } = await remove(child!.id);
    expect((await roster()).map(({ id }) => id)).not.toContain(child!.id);
    expect((await page()).students).toBe(home.students - 1);
    expect((await remove(child!.id)).status).toBe(409);
    await undo(body.planId);
    const other = await one('student', 'here');
    expect((await teacher.post(`/api/classes/${other.classId}/people/remove`, { personId: other.id })).status).toBe(
      404,
    );
    const away = await one('student', 'elsewhere');
    expect((await put(away.id)).status).toBe(409);
    expect(await world.checksum()).toBe(before);
  });

  it('adds a colleague, who is told and sees the class, and stays while being its only teacher', async () => {
    const colleague = await one('staff', 'here');
    const alone = await remove(await me());
    expect([alone.status, alone.body.sentence ?? '']).toEqual([409, '']);
    const { body } = await put(colleague.id);
    expect((await page()).staff.map(({ personId }) => personId)).toContain(colleague.id);
    expect(inEnglish((await noticesFor(colleague.id)).at(-1)!.words)).toContain(`a teacher of ${home.name}`);
    const { username } = (await world.db.one<{ username: string }>(
      'SELECT username FROM accounts WHERE personId = :id',
      colleague,
    ))!;
    await world.db.run(
      "UPDATE accounts SET passwordHash = (SELECT h FROM (SELECT MAX(passwordHash) AS h FROM accounts WHERE role = 'district') x) WHERE personId = :id",
      colleague,
    );
    const they = await world.signIn(username, (await import('#demo/scenario')).demoPassword);
    expect((await they.get<TodayClass[]>('/api/today/classes')).body.map(({ id }) => id)).toContain(home.id);
    expect((await they.get<Today>('/api/today')).body.waits.map(({ text }) => text).join()).toContain(home.name);
    expect((await remove(colleague.id)).status).toBe(200);
    expect((await they.get(`/api/classes/${home.id}`)).status).toBe(404);
    expect(body.planId).toBeTruthy();
  });

  it('asks for a name to be corrected, which a coordinator does and the teacher is told', async () => {
    const [child] = await roster();
    const order = { kind: 'rename', classId: home.id, personId: child!.id, familyName: child!.familyName };
    expect((await teacher.post('/api/requests', { ...order, givenName: child!.givenName })).status).toBe(422);
    expect((await teacher.post('/api/requests', { ...order, givenName: 'Zinnia' })).status).toBe(200);
    const away = await one('student', 'here');
    expect((await teacher.post('/api/requests', { ...order, personId: away.id, givenName: 'Zinnia' })).status).toBe(
      404,
    );
    const asked = (await school.get<JoinRequest[]>('/api/requests')).body.find(({ kind }) => kind === 'rename')!;
    expect(asked.now).toBe(`${child!.givenName} ${child!.familyName}`);
    const settle = { accept: true, personId: null };
    expect((await teacher.post(`/api/requests/${asked.id}/settle`, settle)).status).toBe(403);
    expect((await school.post(`/api/requests/${asked.id}/settle`, settle)).status).toBe(200);
    expect((await roster()).find(({ id }) => id === child!.id)!.givenName).toBe('Zinnia');
    expect((await noticesFor(await me())).at(-1)!.words).toContain('Zinnia');
  });

  it('gives a child of their class a new password and a card, and nobody else', async () => {
    const [child] = await roster();
    const version = async () =>
      (await world.db.one<{ v: number }>('SELECT secretVersion AS v FROM accounts WHERE personId = :id', {
        id: child!.id,
      }))!.v;
    const before = await version();
    const { status, body } = await teacher.post<Made>(`/api/people/${child!.id}/password`);
    expect([status, body.error ?? null]).toEqual([200, null]);
    expect(await version()).toBe(before + 1);
    const order = { personId: child!.id, paper: 'Letter', voidOlder: false };
    const { body: print } = await teacher.post<{ cards: number }>('/api/prints', order);
    expect(print.cards).toBe(1);
    const away = await one('student', 'here');
    expect((await teacher.post(`/api/people/${away.id}/password`)).status).toBe(404);
    expect((await teacher.post('/api/prints', { ...order, personId: away.id })).status).toBe(422);
  });

  it('sees on Today their classes alone, with what is missing, the code, and who asks', async () => {
    const code = (
      await teacher.post<JoinCode>('/api/codes', { classId: home.id, schoolId: null, days: 14, usesMost: 40 })
    ).body;
    const stranger = { familyName: 'Nobody', givenName: 'Nemo', number: '999999' };
    await world.send('POST', '/api/join', { code: code.code, ...stranger });
    const rows = (await teacher.get<TodayClass[]>('/api/today/classes')).body;
    const all = (await teacher.get<ClassRow[]>('/api/classes')).body;
    expect(rows.map(({ id, students, lackCard }) => [id, students, lackCard])).toEqual(
      all.map(({ id, students, lackCard }) => [id, students, lackCard]),
    );
    expect(rows.find(({ id }) => id === home.id)).toMatchObject({
      code: { id: code.id, code: code.code },
      requests: 1,
    });
  });

  it('finds a plan that was not applied on Today', async () => {
    const { body } = await teacher.post<{ planId: string }>(`/api/classes/${home.id}/end`);
    const waits = (await teacher.get<Today>('/api/today')).body.waits;
    expect(waits.map(({ to }) => to)).toContain(`/plans/${body.planId}`);
  });
});
