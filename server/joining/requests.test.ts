/** Requests that wait for a person: what each who may look is told, what follows from each answer, and who is told then. */
import { inEnglish } from '#core/messages/languages';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ClassRow, Joined, JoinCode, JoinRequest, PersonRow, Today } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let teacher: Caller;
let district: Caller;
/** Coordinators of the teacher's school, and of another one. */
let own: Caller;
let other: Caller;
let home: ClassRow;
let school: { id: string; name: string };
let elsewhere: { id: string; name: string };
beforeAll(async () => {
  world = await World.open('requests');
  [teacher, district] = [await world.as('teacher'), await world.as('district')];
  const schoolOf = (code: string) =>
    world.db.one<{ id: string; name: string }>('SELECT id, name FROM schools WHERE code = :code', { code });
  [school, elsewhere] = [(await schoolOf('LAN'))!, (await schoolOf('MAR'))!];
  [own, other] = [await world.at(school.id, 'school'), await world.at(elsewhere.id, 'school')];
  home = (await teacher.get<ClassRow[]>('/api/classes')).body.find(({ kind }) => kind === 'homeroom')!;
});
afterAll(() => world.close());

interface Child extends PersonRow {
  birthDate: string;
  classId: string;
  className: string;
  teacherId: string;
}
/** Children in a homeroom at a school, of whom each has a name and a number of their own. */
const children = (schoolId: string, without: string, grade: string | null = null) =>
  world.db.select<Child>(
    `SELECT p.id, p.familyName, p.givenName, p.number, p.birthDate, c.id AS classId, c.name AS className, MIN(t.personId) AS teacherId
     FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId = :schoolId
       JOIN enrollments e ON e.personId = p.id AND e.ends IS NULL AND e.role = 'student' JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.id <> :without
       JOIN enrollments t ON t.classId = c.id AND t.ends IS NULL AND t.role = 'teacher'
     WHERE p.role = 'student' AND p.number IS NOT NULL AND p.birthDate IS NOT NULL ${grade ? 'AND a.grade = :grade' : ''}
       AND NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND (o.number = p.number OR (o.familyName = p.familyName AND LEFT(o.givenName, 1) = LEFT(p.givenName, 1))))
       AND NOT EXISTS (SELECT 1 FROM join_requests r WHERE r.familyName = p.familyName)
     GROUP BY p.id, c.id ORDER BY p.id LIMIT 30`,
    { schoolId, without, grade },
  );
const codeFor = async (caller: Caller, order: { classId?: string; schoolId?: string }, usesMost = 200) => {
  const { body } = await caller.post<JoinCode>('/api/codes', {
    classId: null,
    schoolId: null,
    days: 14,
    usesMost,
    ...order,
  });
  return body.code;
};
const join = async (code: string, who: object) => {
  const response = await world.send('POST', '/api/join', { code, ...who });
  return { status: response.status, ...((await response.json()) as Joined & { error?: string }) };
};
const askedOf = async (caller: Caller, familyName: string, kind = 'student') =>
  (await caller.get<JoinRequest[]>('/api/requests')).body.find((r) => r.familyName === familyName && r.kind === kind);
const accept = (caller: Caller, request: JoinRequest | undefined, personId: string | null) =>
  caller.post<{ planId: string | null; sentence: string }>(`/api/requests/${request!.id}/settle`, {
    accept: true,
    personId,
  });
const roster = async (classId: string) =>
  (await own.get<{ rows: PersonRow[] }>(`/api/people?classId=${classId}&limit=100`)).body.rows.map(({ id }) => id);
const noticesFor = async (personId: string) =>
  (
    await world.db.select<{ words: string }>('SELECT words FROM notices WHERE personId = :personId ORDER BY id', {
      personId,
    })
  ).map(({ words }) => words);
const idOf = async (caller: Caller) => (await caller.get<{ personId: string }>('/api/me')).body.personId;
const state = async (id: string) =>
  world.db.one<{ status: string; why: string | null }>('SELECT status, why FROM join_requests WHERE id = :id', { id });

describe('a child in a colleague’s homeroom', () => {
  it('who is surely meant is let in by the teacher, leaves the other class, and its teacher is told', async () => {
    const code = await codeFor(teacher, { classId: home.id });
    const [one] = (await children(school.id, home.id, home.grade)) as [Child];
    const { familyName, givenName, number } = one;
    // Also with zeros in front of the number, as lists have them.
    expect(await join(code, { familyName, givenName, number: `00${number}` })).toMatchObject({ state: 'waits' });
    const request = await askedOf(teacher, familyName);
    expect(request).toMatchObject({ kind: 'student', school: school.name, className: home.name, toSchool: null });
    expect(request!.candidates).toHaveLength(1);
    const [candidate] = request!.candidates;
    expect(candidate).toMatchObject({
      personId: one.id,
      school: school.name,
      classes: one.className,
      note: null,
      may: 'approve',
      fields: { familyName: 'same', givenName: 'same', number: 'same', birthDate: 'unknown' },
    });
    // Whom they would leave is named before the click.
    expect(candidate!.leaves).toMatch(new RegExp(`^${one.className} \\(\\S.+\\)$`));
    const settled = await accept(teacher, request, one.id);
    expect(
      await world.db.one('SELECT kind, status, createdBy FROM plans WHERE id = :id', { id: settled.body.planId }),
    ).toEqual({ kind: 'join', status: 'applied', createdBy: await idOf(teacher) });
    expect(await roster(home.id)).toContain(one.id);
    expect(await roster(one.classId)).not.toContain(one.id);
    expect(await noticesFor(one.teacherId)).toEqual([`${givenName} ${familyName} left your class for ${home.name}.`]);
    expect(await noticesFor(await idOf(teacher))).toEqual([]);
    expect(await state(request!.id)).toEqual({ status: 'accepted', why: null });
    // It can be taken back.
    expect((await district.job(`/api/plans/${settled.body.planId}/undo`)).status).toBe('done');
    expect(await roster(one.classId)).toContain(one.id);
    // Sent again, and approved when they are in already: nothing is planned.
    await join(code, { familyName, givenName, number });
    const again = await askedOf(teacher, familyName);
    await own.post('/api/sheaf/clear');
    await own.post('/api/sheaf/gather', { ids: [one.id] });
    const enrolled = await own.job('/api/sheaf/plan', { verb: 'enroll', classId: home.id, instead: true });
    expect((await own.apply(enrolled.result!.planId!)).status).toBe('done');
    expect((await accept(teacher, again, one.id)).body).toEqual({
      planId: null,
      sentence: 'They are already in the class.',
    });
  });

  it('who is not surely meant is for the coordinator, and one with no homeroom for the teacher', async () => {
    const code = await codeFor(teacher, { classId: home.id });
    const [, one, two] = (await children(school.id, home.id)) as [Child, Child, Child];
    await world.db.run('UPDATE enrollments SET ends = begins WHERE personId = :id', { id: two.id });
    for (const { familyName, givenName, birthDate } of [one, two]) {
      const slip = `${birthDate.slice(0, 3)}${(Number(birthDate[3]) + 1) % 10}${birthDate.slice(4)}`;
      expect(await join(code, { familyName, givenName, birthDate: slip })).toMatchObject({ state: 'waits' });
    }
    const fields = { familyName: 'same', givenName: 'same', number: 'unknown', birthDate: 'alike' };
    const unsure = await askedOf(teacher, one.familyName);
    expect(unsure!.candidates[0]).toMatchObject({ personId: one.id, fields, classes: one.className, may: 'nothing' });
    expect(unsure!.candidates[0]!.note).toContain('colleague’s class');
    expect((await accept(teacher, unsure, one.id)).status).toBe(403);
    const free = await askedOf(teacher, two.familyName);
    expect(free!.candidates[0]).toMatchObject({ personId: two.id, fields, classes: null, leaves: null, note: null });
    expect((await accept(teacher, free, two.id)).status).toBe(200);
    expect(await roster(home.id)).toContain(two.id);
    // The coordinator of the school decides what the teacher may not.
    expect((await askedOf(own, one.familyName))!.candidates[0]).toMatchObject({ note: null, may: 'approve' });
    expect((await accept(own, unsure, one.id)).status).toBe(200);
    expect(await roster(home.id)).toContain(one.id);
  });
});

describe('a class beside the homeroom', () => {
  it('is joined without leaving another, whatever the family name was; no code lets into a template class', async () => {
    const make = async (name: string, kind: 'course' | 'template') => {
      const order = { schoolId: school.id, names: name, kind, grade: null, subject: null, template: null };
      expect((await teacher.post('/api/classes', { ...order, likeId: null, people: false })).status).toBe(200);
      return (await teacher.get<ClassRow[]>('/api/classes')).body.find((one) => one.name === name)!;
    };
    const club = await make('Tide club', 'course');
    const code = await codeFor(teacher, { classId: club.id });
    const [one] = (await children(school.id, home.id)).slice(-1) as [Child];
    // By the number alone, with or without zeros, under a name from before.
    await join(code, { familyName: 'Formerly', givenName: one.givenName, number: `00${one.number}` });
    const request = await askedOf(own, 'Formerly');
    expect(request!.candidates).toMatchObject([
      { personId: one.id, classes: one.className, leaves: null, fields: { familyName: 'differs', number: 'same' } },
    ]);
    const settled = await accept(own, request, one.id);
    expect(settled.status).toBe(200);
    expect(await roster(club.id)).toEqual([one.id]);
    expect(await roster(one.classId)).toContain(one.id);
    const shelf = await make('Shelf', 'template');
    const order = { classId: shelf.id, schoolId: null, days: 1, usesMost: 5 };
    expect((await teacher.post('/api/codes', order)).body.error).toContain('no student can join it');
  });
});

describe('a child of another school', () => {
  it('is asked for by a transfer, once, which their school or the district grants; whoever asked is told', async () => {
    const code = await codeFor(own, { classId: home.id });
    const [one] = (await children(elsewhere.id, home.id)) as [Child];
    const { familyName, givenName, birthDate } = one;
    for (let time = 0; time < 2; time++) {
      expect(await join(code, { familyName, givenName, birthDate })).toMatchObject({ state: 'waits' });
      const request = await askedOf(own, familyName);
      // No more than that there is somebody.
      expect(request!.candidates).toEqual([
        {
          personId: null,
          school: null,
          classes: null,
          leaves: null,
          note: 'is a student at another school',
          may: 'transfer',
          fields: { familyName: 'same', givenName: 'same', number: 'unknown', birthDate: 'same' },
        },
      ]);
      expect((await accept(own, request, one.id)).body.error).toBe('This student is a student at another school.');
      const asked = await own.post<{ sentence: string }>(`/api/requests/${request!.id}/transfer`);
      expect(asked.body.sentence).toMatch(/^The transfer is requested\./);
      expect(await state(request!.id)).toEqual({ status: 'accepted', why: 'transfer requested' });
    }
    const waits = (await district.get<JoinRequest[]>('/api/requests')).body.filter((r) => r.kind === 'transfer');
    expect(waits).toMatchObject([
      {
        ...{ familyName, givenName, school: elsewhere.name, toSchool: school.name, classId: null, candidates: [] },
        ...{ number: null, birthDate: null },
      },
    ]);
    expect(await askedOf(own, familyName, 'transfer')).toBeUndefined();
    expect((await accept(own, waits[0], null)).status).toBe(404);
    const there = await askedOf(other, familyName, 'transfer');
    expect((await accept(other, there, null)).body).toMatchObject({ planId: expect.any(String) as string });
    expect(
      await world.db.select('SELECT schoolId FROM affiliations WHERE personId = :id AND ends IS NULL', { id: one.id }),
    ).toEqual([{ schoolId: school.id }]);
    expect(await noticesFor(await idOf(own))).toEqual([`${givenName} ${familyName} is now at ${school.name}.`]);
    expect((await accept(other, there, null)).status).toBe(404);
  });

  it('stays when their school refuses; a request like nobody asks no school', async () => {
    const code = await codeFor(own, { classId: home.id });
    const [one] = (await children(elsewhere.id, home.id)) as [Child];
    const { familyName, givenName, number } = one;
    await join(code, { familyName, givenName, number });
    await own.post(`/api/requests/${(await askedOf(own, familyName))!.id}/transfer`);
    const there = await askedOf(other, familyName, 'transfer');
    const why = 'is with us until the summer';
    const refused = await other.post<{ sentence: string }>(`/api/requests/${there!.id}/settle`, { accept: false, why });
    expect(refused.body.sentence).toBe(`${givenName} ${familyName} was declined.`);
    expect(await state(there!.id)).toEqual({ status: 'refused', why });
    expect(
      await world.db.one('SELECT schoolId FROM affiliations WHERE personId = :id AND ends IS NULL', { id: one.id }),
    ).toEqual({ schoolId: elsewhere.id });
    await join(code, { familyName: 'Unheard', givenName: 'Ulla', number: '424242424' });
    const nobody = await askedOf(own, 'Unheard');
    expect(nobody!.candidates).toEqual([]);
    expect((await own.post(`/api/requests/${nobody!.id}/transfer`)).status).toBe(409);
    // Nor does one like somebody who never had a school.
    await world.db.run(
      "INSERT INTO people (id, role, familyName, givenName, number, status) VALUES ('01UNPLACED0000000000000000', 'student', 'Unplaced', 'Uma', '515151515', 'active')",
    );
    await join(code, { familyName: 'Unplaced', givenName: 'Uma', number: '515151515' });
    const unplaced = await askedOf(own, 'Unplaced');
    expect((await own.post(`/api/requests/${unplaced!.id}/transfer`)).body.error).toContain('The district decides');
    expect(await state(unplaced!.id)).toEqual({ status: 'waits', why: null });
    expect((await accept(own, nobody, null)).status).toBe(422);
    expect((await accept(own, nobody, one.id)).status).toBe(422);
    expect(await state(nobody!.id)).toEqual({ status: 'waits', why: null });
  });

  it('is moved by the district with one answer, also one who has left', async () => {
    const code = await codeFor(own, { classId: home.id });
    const [one, two] = (await children(elsewhere.id, home.id, home.grade)) as [Child, Child];
    await district.post('/api/sheaf/gather', { ids: [two.id] });
    const left = await district.job('/api/sheaf/plan', { verb: 'leave' });
    expect((await district.apply(left.result!.planId!)).status).toBe('done');
    for (const { familyName, givenName, number } of [one, two]) await join(code, { familyName, givenName, number });
    const here = await askedOf(district, one.familyName);
    expect(here!.candidates[0]).toMatchObject({
      ...{ personId: one.id, school: elsewhere.name, classes: one.className, note: `is at ${elsewhere.name}` },
      ...{ may: 'approve' },
    });
    expect(here!.candidates[0]!.leaves).toContain(one.className);
    const gone = await askedOf(district, two.familyName);
    expect(gone!.candidates[0]).toMatchObject({
      ...{ personId: two.id, school: null, classes: null, note: 'has left', leaves: null, may: 'approve' },
    });
    for (const [request, { id }] of [
      [here, one],
      [gone, two],
    ] as const) {
      expect((await accept(district, request, id)).status).toBe(200);
      expect(await roster(home.id)).toContain(id);
      expect(
        await world.db.select('SELECT schoolId FROM affiliations WHERE personId = :id AND ends IS NULL', { id }),
      ).toEqual([{ schoolId: school.id }]);
    }
    expect((await noticesFor(one.teacherId)).map(inEnglish)).toContain(
      `${one.givenName} ${one.familyName} left your class for ${home.name}.`,
    );
  });
});

describe('staff with a school’s code', () => {
  it('type an address, wait once, and are made teachers with an invitation; somebody on record is told apart', async () => {
    const code = await codeFor(own, { schoolId: school.id });
    const who = { familyName: 'Newcomer', givenName: 'Nils', number: null };
    expect((await join(code, { ...who, number: '1' })).error).toContain('Enter your email address');
    const email = 'nils@isles.example';
    for (let time = 0; time < 2; time++)
      expect(await join(code, { ...who, email })).toMatchObject({
        state: 'waits',
        className: null,
        school: school.name,
      });
    await join(code, { ...who, email: 'nils.n@isles.example' });
    const waiting = async () =>
      (await own.get<JoinRequest[]>('/api/requests')).body.filter(({ kind }) => kind === 'staff');
    expect((await waiting()).map((request) => request.email)).toEqual([email, 'nils.n@isles.example']);
    // Not for teachers of the school, nor for coordinators of another.
    for (const caller of [teacher, other]) expect(await askedOf(caller, 'Newcomer', 'staff')).toBeUndefined();
    const [request, second] = await waiting();
    const settled = await accept(own, request, null);
    expect(settled.body.sentence).toBe('Nils Newcomer is now on staff and invited.');
    const made = await world.db.select<{ id: string; role: string; schoolId: string }>(
      `SELECT p.id, ac.role, a.schoolId FROM people p JOIN accounts ac ON ac.personId = p.id JOIN affiliations a ON a.personId = p.id WHERE p.email = :email`,
      { email },
    );
    expect(made).toMatchObject([{ role: 'teacher', schoolId: school.id }]);
    expect(
      await world.db.one('SELECT COUNT(*) AS n FROM invitations WHERE personId = :id AND usedAt IS NULL', made[0]),
    ).toEqual({ n: 1 });
    expect((await accept(own, second, null)).body.error).toContain('is on record at');
    expect(await state(second!.id)).toEqual({ status: 'waits', why: null });
  });
});

describe('a request', () => {
  it('to teach a colleague’s class waits once for the coordinator, and enrolls as a teacher beside them', async () => {
    const classes = (await own.get<ClassRow[]>(`/api/classes?school=${school.id}`)).body;
    const mine = new Set((await teacher.get<ClassRow[]>('/api/classes')).body.map(({ id }) => id));
    const theirs = classes.find(({ id, kind, teachers }) => !mine.has(id) && kind === 'homeroom' && teachers)!;
    for (let time = 0; time < 2; time++)
      expect((await teacher.post('/api/requests', { kind: 'teach', classId: theirs.id })).status).toBe(200);
    const far = (await other.get<ClassRow[]>(`/api/classes?school=${elsewhere.id}`)).body[0]!;
    expect((await teacher.post('/api/requests', { kind: 'teach', classId: far.id })).status).toBe(404);
    expect(
      (await teacher.post('/api/requests', { kind: 'missing', classId: theirs.id, familyName: 'A', givenName: 'B' }))
        .status,
    ).toBe(404);
    const asked = (await own.get<JoinRequest[]>('/api/requests')).body.filter(({ kind }) => kind === 'teach');
    const me = await idOf(teacher);
    expect(asked).toMatchObject([{ classId: theirs.id, candidates: [], askedBy: expect.any(String) as string }]);
    expect((await accept(own, asked[0], null)).status).toBe(200);
    const teaching = await world.db.select<{ personId: string }>(
      "SELECT personId FROM enrollments WHERE classId = :id AND role = 'teacher' AND ends IS NULL",
      { id: theirs.id },
    );
    expect(teaching.map(({ personId }) => personId)).toContain(me);
    expect(teaching).toHaveLength(2);
    // Still the teacher of the class before.
    expect((await teacher.get<ClassRow[]>('/api/classes')).body.map(({ id }) => id)).toEqual(
      expect.arrayContaining([home.id, theirs.id]),
    );
  });

  it('for a missing child says who asked and why, and is counted on Today by those who may answer', async () => {
    const order = { kind: 'missing', classId: home.id, givenName: 'Mia', note: 'came on Monday' };
    expect((await teacher.post('/api/requests', order)).body.error).toContain('family name');
    const count = async (caller: Caller) =>
      (await caller.get<Today>('/api/today')).body.waits.find(({ id }) => id === 'requests')?.text;
    const before = await count(other);
    const asking = (await own.get<JoinRequest[]>('/api/requests')).body.length;
    expect((await teacher.post('/api/requests', { ...order, familyName: 'Missing' })).status).toBe(200);
    const request = await askedOf(own, 'Missing', 'missing');
    expect(request).toMatchObject({ note: 'came on Monday', number: null, birthDate: null, className: home.name });
    expect(request!.askedBy).toMatch(/ Kealoha$/);
    expect(await count(own)).toBe(asking === 0 ? '1 join request' : `${asking + 1} join requests`);
    expect(await count(other)).toBe(before);
  });

  it('is not one of more than a hundred for a class: the rest is told nothing', async () => {
    const code = await codeFor(own, { classId: home.id });
    const waiting = async () =>
      Number(
        (await world.db.one<{ n: number }>(
          "SELECT COUNT(*) AS n FROM join_requests WHERE classId = :id AND kind = 'student' AND status = 'waits'",
          { id: home.id },
        ))!.n,
      );
    const left = 100 - (await waiting());
    await world.db.transaction((tx) =>
      world.db.batch(
        "INSERT INTO join_requests (id, kind, schoolId, classId, familyName, givenName, number, at, status) VALUES (?, 'student', ?, ?, ?, 'Many', '1', '2026-08-17T00:00:00.000Z', 'waits')",
        Array.from({ length: left - 1 }, (_, i) => [
          `01MANY${String(i).padStart(20, '0')}`,
          school.id,
          home.id,
          `N${i}`,
        ]),
        tx,
      ),
    );
    const stranger = { familyName: 'Nth', givenName: 'Ned', number: '77777' };
    expect(await join(code, stranger)).toMatchObject({ state: 'waits' });
    expect(await join(code, stranger)).toMatchObject({ state: 'waits' });
    expect((await join(code, { ...stranger, number: '77778' })).status).toBe(404);
    expect(await waiting()).toBe(100);
  });
});
