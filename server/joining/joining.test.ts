/** Joining by a code: who gets in, who waits, what guessing is worth, who may settle. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { checkOf } from '#core/codes/index';
import type { ClassRow, Joined, JoinCode, JoinCodes, JoinRequest, PersonRow, Today } from '../contract';
import { Guesser } from '../testing/guesses';
import { ServerProcess } from '../testing/process';
import { type Caller, World } from '../testing/world';

let world: World;
let teacher: Caller;
let school: Caller;
let district: Caller;
let club: ClassRow;
let code: JoinCode;
beforeAll(async () => {
  world = await World.open('joining');
  [teacher, school, district] = [await world.as('teacher'), await world.as('school'), await world.as('district')];
  const { schoolIds } = await place('teacher');
  const order = {
    schoolId: schoolIds[0],
    names: 'Kite club',
    kind: 'course',
    grade: null,
    subject: null,
    template: null,
    likeId: null,
    people: false,
  };
  expect((await teacher.post('/api/classes', order)).status).toBe(200);
  club = (await teacher.get<ClassRow[]>('/api/classes')).body.find(({ name }) => name === 'Kite club')!;
  code = await newCode(teacher, club.id);
});
afterAll(() => world.close());

const place = async (who: string) => {
  const { username } = world.signIns.find((s) => s.who.startsWith(who))!;
  const rows = await world.db.select<{ schoolId: string }>(
    'SELECT a.schoolId FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL WHERE ac.username = :username',
    { username },
  );
  return { schoolIds: rows.map(({ schoolId }) => schoolId) };
};
const newCode = async (caller: Caller, classId: string, usesMost = 40) =>
  (await caller.post<JoinCode>('/api/codes', { classId, schoolId: null, days: 14, usesMost })).body;
const join = async (body: object, cookie = '') => {
  const response = await world.send('POST', '/api/join', body, cookie ? { Cookie: cookie } : {});
  return { status: response.status, ...((await response.json()) as Joined & { error?: string }) };
};
interface Child extends PersonRow {
  birthDate: string;
  schoolId: string;
}
/** Children at a school (or at any other) whose names nobody else has. */
const children = (schoolId: string, at = true) =>
  world.db.select<Child>(
    `SELECT p.*, a.schoolId FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE p.role = 'student' AND p.number IS NOT NULL AND p.birthDate IS NOT NULL AND a.schoolId ${at ? '=' : '<>'} :schoolId AND a.grade IN (SELECT grade FROM affiliations WHERE schoolId = :schoolId)
       AND NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND (o.number = p.number OR (o.familyName = p.familyName AND o.givenName = p.givenName))) ORDER BY p.id LIMIT 60`,
    { schoolId },
  );
const said = ({ familyName, givenName, number }: Child) => ({ familyName, givenName, number });
const roster = async () => (await teacher.get<{ rows: PersonRow[] }>(`/api/people?classId=${club.id}`)).body.rows;

describe('joining by a code', () => {
  it('enrolls who is surely on record at the school, by number or by birth date, also under a short name', async () => {
    const all = await children((await place('teacher')).schoolIds[0]!);
    const own = new Set(
      (await teacher.get<{ rows: PersonRow[] }>('/api/people?limit=1000')).body.rows.map(({ id }) => id),
    );
    const [one, two] = all as [Child, Child];
    // In a colleague's class.
    const three = all.slice(2).find(({ id }) => !own.has(id))!;
    expect(await join({ code: code.code, ...said(one) })).toMatchObject({
      status: 200,
      state: 'in',
      className: 'Kite club',
    });
    expect(await join({ code: code.code.toLowerCase(), ...said(one) })).toMatchObject({ state: 'there' });
    const { familyName, givenName, birthDate } = two;
    expect(await join({ code: code.code, familyName: familyName.toUpperCase(), givenName, birthDate })).toMatchObject({
      state: 'in',
    });
    // One digit of the number is wrong: nobody is sure, so a person looks.
    const wrong = {
      ...said(three),
      number: `${three.number!.slice(0, -1)}${(Number(three.number!.at(-1)) + 1) % 10}`,
      birthDate: null,
    };
    expect(await join({ code: code.code, ...wrong })).toMatchObject({ state: 'waits' });
    expect((await roster()).map(({ id }) => id).sort()).toEqual([one.id, two.id].sort());
    const after = (await teacher.get<JoinCodes>(`/api/codes?classId=${club.id}`)).body;
    expect(after.codes[0]).toMatchObject({ uses: 2, state: 'open' });
    expect(after.risk).toBeLessThan(1e-6);
    const [asking] = (await teacher.get<JoinRequest[]>('/api/requests')).body;
    expect(asking!.candidates[0]).toMatchObject({
      personId: three.id,
      fields: { familyName: 'same', givenName: 'same', number: 'alike' },
      may: 'nothing',
      note: expect.stringContaining('colleague’s class') as string,
    });
    // What is on record is nobody's to learn by asking.
    expect(JSON.stringify(asking)).not.toContain(three.number);
    expect(JSON.stringify(asking)).not.toContain(three.birthDate);
    const order = { accept: true, personId: three.id };
    expect((await teacher.post(`/api/requests/${asking!.id}/settle`, order)).status).toBe(403);
    const settled = await district.post<{ planId: string }>(`/api/requests/${asking!.id}/settle`, {
      accept: true,
      personId: three.id,
    });
    expect(settled.status).toBe(200);
    expect((await roster()).map(({ id }) => id)).toContain(three.id);
    expect((await district.job(`/api/plans/${settled.body.planId}/undo`)).status).toBe('done');
    expect((await roster()).map(({ id }) => id)).not.toContain(three.id);
  });

  it('lets a child who is signed in join with the code alone, and says when it is full', async () => {
    const single = await newCode(teacher, club.id, 1);
    const child = await world.as('student');
    expect((await join({ code: single.code }, child.cookie)).state).toBe('in');
    const [, , , four] = (await children((await place('teacher')).schoolIds[0]!)) as Child[];
    expect((await join({ code: single.code, ...said(four!) })).status).toBe(404);
    const full = (await teacher.get<JoinCode>(`/api/codes/${single.id}`)).body;
    expect(full).toMatchObject({ uses: 1, usesMost: 1, state: 'full' });
  });

  it('makes strangers and children of other schools wait, once each; a teacher refuses, a coordinator moves', async () => {
    const own = (await place('teacher')).schoolIds[0]!;
    const [away] = (await children(own, false)) as [Child];
    const stranger = { familyName: 'Nobody', givenName: 'Nemo', number: '999999' };
    for (const who of [stranger, stranger, said(away)])
      expect(await join({ code: code.code, ...who })).toMatchObject({ status: 200, state: 'waits' });
    const waiting = (await teacher.get<JoinRequest[]>('/api/requests')).body;
    expect(waiting.map(({ familyName }) => familyName).sort()).toEqual(['Nobody', away.familyName].sort());
    // Of a child of another school a teacher learns nothing.
    expect(waiting.every(({ candidates }) => candidates.length === 0)).toBe(true);
    const nemo = waiting.find(({ familyName }) => familyName === 'Nobody')!;
    const them = waiting.find(({ familyName }) => familyName !== 'Nobody')!;
    expect((await teacher.post(`/api/requests/${them.id}/settle`, { accept: true, personId: away.id })).status).toBe(
      422,
    );
    const refused = await teacher.post<{ sentence: string }>(`/api/requests/${nemo.id}/settle`, {
      accept: false,
      why: 'not on the register',
    });
    expect(refused.body.sentence).toBe('Nemo Nobody was declined.');
    expect((await district.get<Today>('/api/today')).body.waits.some(({ id }) => id === 'requests')).toBe(true);
    const seen = (await district.get<JoinRequest[]>('/api/requests')).body.find(({ id }) => id === them.id)!;
    expect(seen.candidates[0]).toMatchObject({ personId: away.id, note: expect.stringMatching(/^is at /) });
    expect((await school.get<JoinRequest[]>('/api/requests')).body.map(({ id }) => id)).not.toContain(them.id);
    expect((await school.post(`/api/requests/${them.id}/settle`, { accept: false, why: 'mine not' })).status).toBe(404);
    expect((await district.post(`/api/requests/${them.id}/settle`, { accept: true, personId: away.id })).status).toBe(
      200,
    );
    expect((await roster()).map(({ id }) => id)).toContain(away.id);
    const trail = await world.db.one<{ n: number }>("SELECT COUNT(*) AS n FROM audit WHERE action LIKE 'request.%'");
    expect(trail!.n).toBe(3);
  });

  it('tells a slip of the finger from a code that opens nothing, and takes ended and strange codes alike', async () => {
    const letters = [...code.code.replaceAll('-', '')];
    [letters[0], letters[1]] = letters[0] === letters[1] ? ['2', '3'] : [letters[1]!, letters[0]!];
    expect(await join({ code: letters.join(''), familyName: 'A', givenName: 'B', number: '1' })).toMatchObject({
      status: 422,
      error: expect.stringContaining('is wrong'),
    });
    const ended = await newCode(teacher, club.id);
    expect((await teacher.post(`/api/codes/${ended.id}/end`)).status).toBe(200);
    const body = '234678';
    const later = await teacher.post<JoinCode>('/api/codes', {
      classId: club.id,
      schoolId: null,
      days: 3,
      usesMost: 5,
      opensInDays: 2,
    });
    expect(later.body.state).toBe('waits');
    expect((await join({ code: later.body.code, familyName: 'A', givenName: 'B', number: '1' })).status).toBe(404);
    const [a, b] = [
      await join({ code: ended.code, familyName: 'A', givenName: 'B', number: '1' }),
      await join({ code: body + checkOf(body), familyName: 'A', givenName: 'B', number: '1' }),
    ];
    expect([a.status, a.error]).toEqual([404, b.error]);
    // Before anybody is looked for: both names, and one thing more.
    for (const who of [
      { familyName: '', givenName: 'B', number: '1' },
      { familyName: 'A', givenName: '', number: '1' },
      { familyName: 'A', givenName: 'B' },
    ])
      expect((await join({ code: code.code, ...who })).error).toMatch(/^Type your/);
    // What was ended is listed for a week, then no more.
    const listed = async () =>
      (await teacher.get<JoinCodes>(`/api/codes?classId=${club.id}`)).body.codes.map(({ id }) => id);
    const endedAgo = (days: number) =>
      world.db.run('UPDATE join_codes SET endedAt = :at WHERE id = :id', {
        at: new Date(Date.now() - days * 86_400_000).toISOString(),
        id: ended.id,
      });
    await endedAgo(6);
    expect(await listed()).toContain(ended.id);
    await endedAgo(8);
    expect(await listed()).not.toContain(ended.id);
    expect(await listed()).toContain(code.id);
    expect((await school.post(`/api/codes/${code.id}/end`)).status).toBe(404);
    expect((await school.post('/api/codes', { classId: club.id, schoolId: null, days: 1, usesMost: 5 })).status).toBe(
      404,
    );
    expect(
      (
        await teacher.post('/api/codes', {
          classId: null,
          schoolId: (await place('teacher')).schoolIds[0],
          days: 1,
          usesMost: 5,
        })
      ).status,
    ).toBe(403);
  });

  it('are made by coordinators alone where the class says so, which a teacher cannot change', async () => {
    const set = (caller: Caller, before: string | null, after: string | null) =>
      caller.post(`/api/classes/${club.id}/edit`, { field: 'invite', before, after });
    expect((await set(district, null, 'coordinators')).status).toBe(200);
    const order = { classId: club.id, schoolId: null, days: 1, usesMost: 5 };
    expect((await teacher.post('/api/codes', order)).status).toBe(403);
    expect((await set(teacher, 'coordinators', null)).status).toBe(403);
    expect((await district.post('/api/codes', order)).status).toBe(200);
    expect((await set(district, 'coordinators', null)).status).toBe(200);
  });

  it('a teacher asks for a missing child and for a colleague’s class, and decides neither', async () => {
    expect(
      (
        await teacher.post('/api/requests', {
          kind: 'missing',
          classId: club.id,
          familyName: 'Late',
          givenName: 'Ada',
          note: 'came on Monday',
        })
      ).status,
    ).toBe(200);
    const other = (
      await district.get<ClassRow[]>(`/api/classes?school=${(await place('teacher')).schoolIds[0]}`)
    ).body.find(({ teachers }) => teachers && !teachers.includes('Kealoha'))!;
    expect((await teacher.post('/api/requests', { kind: 'teach', classId: other.id })).status).toBe(200);
    const mine = (await teacher.get<JoinRequest[]>('/api/requests')).body.filter(
      ({ kind }) => kind === 'missing' || kind === 'teach',
    );
    expect(mine.map(({ kind }) => kind)).toEqual(['missing', 'teach']);
    expect((await teacher.post(`/api/requests/${mine[1]!.id}/settle`, { accept: true, personId: null })).status).toBe(
      403,
    );
    expect((await district.post(`/api/requests/${mine[1]!.id}/settle`, { accept: true, personId: null })).status).toBe(
      200,
    );
    expect((await teacher.get<ClassRow[]>('/api/classes')).body.map(({ id }) => id)).toContain(other.id);
  });
});

describe('guessing', () => {
  it('gives a child on record five wrong codes a day and takes none from the next child', async () => {
    const [child, next] = (await children((await place('teacher')).schoolIds[0]!)).slice(44, 46);
    const body = '234679';
    const wrong = body + checkOf(body);
    const open = await newCode(teacher, club.id);
    for (let n = 0; n < 4; n++) expect((await join({ code: wrong, ...said(child!) })).status).toBe(404);
    // The right one costs none of the five and lets in; after a fifth wrong one nothing is looked at any more.
    expect((await join({ code: open.code, ...said(child!) })).state).toBe('in');
    await world.db.run('DELETE FROM enrollments WHERE personId = :id AND classId = :club', {
      id: child!.id,
      club: club.id,
    });
    expect((await join({ code: wrong, ...said(child!) })).status).toBe(404);
    expect((await join({ code: open.code, ...said(child!) })).status).toBe(404);
    expect((await join({ code: open.code, ...said(next!) })).state).toBe('in');
    await teacher.post(`/api/codes/${open.id}/end`);
  });

  it('lets nobody in at the running server, and locks no honest class out meanwhile (100,000 in the bench)', async () => {
    const server = await ServerProcess.start(world.config);
    const total = 6_000;
    try {
      const enrolled = async () => (await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM enrollments'))!.n;
      const asked = () => world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM join_requests');
      const before = [await enrolled(), await asked()] as const;
      const { username, secret } = world.signIns.find(({ who }) => who.startsWith('teacher'))!;
      // The server's clock stands on the set day, so the code is made there.
      const order = { classId: club.id, schoolId: null, days: 14, usesMost: 40 };
      const open = await (await server.signIn(username, secret)).post<JoinCode>('/api/codes', order);
      const guesser = new Guesser(server.base, open.code.replaceAll('-', '').length);
      const honest = (await children((await place('teacher')).schoolIds[0]!)).slice(10, 38);
      const guessing = guesser.guess(total);
      while (guesser.sent < total / 5) await new Promise((next) => setTimeout(next, 20));
      // A class at the same address, each child with a wrong code first.
      for (const child of honest) {
        expect((await guesser.post({ code: guesser.wrong, ...said(child) })).status).toBe(404);
        expect(await guesser.post({ code: open.code, ...said(child) })).toMatchObject({
          status: 200,
          body: { state: 'in' },
        });
      }
      await guessing;
      expect(guesser.statuses).toEqual(new Map([[404, total]]));
      expect(await enrolled()).toBe(before[0] + honest.length);
      expect(await asked()).toEqual(before[1]);
    } finally {
      await server.stop();
    }
  });
});
