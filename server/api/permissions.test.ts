/** Every route with every role, inside and outside its scope. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { roleNames, roles } from '#core/authority/index';
import { World, type Caller } from '../testing/world';
import { mint } from '../plans/mint';
import { type Ctx, fromOwnPages } from './border';
import { permissions } from './permissions';
import type { PeoplePage, PersonSheet } from '../contract';

let world: World;
const callers = new Map<string, Caller>();
beforeAll(async () => {
  world = await World.open('permissions');
  for (const role of roleNames) callers.set(role, await world.as(role));
});
afterAll(() => world.close());

describe('who may call what', () => {
  it('is as the table says, for each of its routes and each role', async () => {
    const walked: string[] = [];
    for (const [route, access] of Object.entries(permissions)) {
      if (route === 'POST /api/sign-out') continue;
      const [method, path] = route.replace(':id', mint()).replace(':list', 'people?format=csv').split(' ') as [
        string,
        string,
      ];
      const nobody = await world.send(method, path, method === 'POST' ? {} : undefined);
      expect([route, 'nobody', nobody.status === 401 && !(await nobody.text()).includes('Username')]).toEqual([
        route,
        'nobody',
        access !== 'anyone',
      ]);
      for (const role of roleNames) {
        const response = await world.send(method, path, method === 'POST' ? {} : undefined, {
          Cookie: callers.get(role)!.cookie,
        });
        const text = await response.text();
        const refused = response.status === 403 && text.includes('Your role does not allow');
        const allowed = access === 'anyone' || roles[role].rights.has(access);
        expect([route, role, refused]).toEqual([route, role, !allowed]);
        // A route that may be called answers something of its own: never a failure of the server.
        expect([route, role, response.status < 500]).toEqual([route, role, true]);
        walked.push(`${role} ${route}`);
      }
    }
    expect(walked.length).toBe((Object.keys(permissions).length - 1) * roleNames.length);
    const registered = world.app.routes
      .filter(({ method, path }) => method !== 'ALL' && path !== '*' && !path.includes('*'))
      .map(({ method, path }) => `${method} ${path}`);
    expect(new Set(registered)).toEqual(new Set(Object.keys(permissions)));
  });

  it('does not reach past a scope: other schools, other classes, other people’s files, plans and prints', async () => {
    const [district, school, teacher] = ['district', 'school', 'teacher'].map((role) => callers.get(role)!) as [
      Caller,
      Caller,
      Caller,
    ];
    const all = (await district.get<PeoplePage>('/api/people?limit=1000&role=student')).body.rows;
    const own = (await school.get<PeoplePage>('/api/people?limit=1000&role=student')).body.rows;
    const mine = (await teacher.get<PeoplePage>('/api/people?limit=1000')).body.rows;
    expect(new Set(own.map((p) => p.school))).toEqual(new Set(['Skerry Middle']));
    // The teacher's own class, and nobody else, counted by hand in the database.
    const taught = await world.db.select<{ id: string }>(
      `SELECT e.personId AS id FROM enrollments e JOIN enrollments t ON t.classId = e.classId AND t.role = 'teacher' JOIN accounts a ON a.personId = t.personId WHERE a.username = :u AND e.role = 'student' AND e.ends IS NULL`,
      { u: world.signIns.find(({ who }) => who.startsWith('teacher'))!.username },
    );
    expect(new Set(mine.map((p) => p.id))).toEqual(new Set(taught.map(({ id }) => id)));

    const stranger = all.find((p) => p.school !== 'Skerry Middle' && !mine.some(({ id }) => id === p.id))!;
    for (const caller of [school, teacher]) {
      expect((await caller.get(`/api/people/${stranger.id}`)).status).toBe(404);
      expect((await caller.post(`/api/people/${stranger.id}/reveal`, { why: 'curious' })).status).toBe(404);
      await caller.post('/api/sheaf/gather', { ids: [stranger.id, mine[0]!.id, own[0]!.id] });
      const gathered = (await caller.get<PeoplePage>('/api/people?gathered=true')).body.rows.map((p) => p.id);
      expect(gathered).not.toContain(stranger.id);
    }
    expect(
      (
        await school.post(`/api/people/${stranger.id}/edit`, {
          field: 'familyName',
          before: stranger.familyName,
          after: 'X',
        })
      ).status,
    ).toBe(404);

    const uploaded = await district.post<{ id: string }>(
      '/api/intakes?name=a.csv',
      Buffer.from('id,surname,forename\n000001,A,B'),
    );
    const planId = (await district.job(`/api/intakes/${uploaded.body.id}/plan`)).result!.planId!;
    for (const path of [
      `/api/intakes/${uploaded.body.id}`,
      `/api/intakes/${uploaded.body.id}/rows?from=0&count=5`,
      `/api/plans/${planId}`,
      `/api/plans/${planId}/changes?offset=0`,
    ]) {
      expect([path, (await school.get(path)).status]).toEqual([path, 404]);
      expect([path, (await district.get(path)).status]).toEqual([path, 200]);
    }
    expect((await school.post(`/api/plans/${planId}/apply`)).status).toBe(404);
    const file = await school.post<{ id: string }>(
      '/api/intakes?name=b.csv',
      Buffer.from('id,surname,forename\n000001,A,B'),
    );
    const other = await world.db.one<{ id: string }>("SELECT id FROM schools WHERE name <> 'Skerry Middle' LIMIT 1");
    for (const schoolId of [other!.id, null]) {
      const draft = { hints: {}, repairs: {}, leftOut: [], schoolId, complete: true };
      expect((await school.post(`/api/intakes/${file.body.id}/draft`, draft)).status).toBe(403);
    }
    const printed = (
      await district.job('/api/prints', {
        classId: (await world.db.one<{ id: string }>("SELECT id FROM classes WHERE kind = 'homeroom' LIMIT 1"))!.id,
        paper: 'A4',
        voidOlder: false,
      })
    ).result!.printId!;
    expect((await school.raw(`/api/prints/${printed}/pdf`)).status).toBe(404);
    expect((await district.raw(`/api/prints/${printed}/pdf`)).status).toBe(200);
  });

  it('answers odd ids and odd letters with what is wrong, never with a failure', async () => {
    const district = callers.get('district')!;
    for (const id of ['x', 'ünï', '%00', `${'0'.repeat(25)}é`, '../../etc/passwd', "1' OR '1'='1"]) {
      for (const path of ['people', 'plans', 'intakes', 'jobs'])
        expect((await district.get(`/api/${path}/${encodeURIComponent(id)}`)).status).toBe(404);
    }
    for (const path of [
      '/api/people?q=%F0%9F%90%B8',
      '/api/people?school=é',
      '/api/people?after=abc',
      '/api/people?limit=-1',
      '/api/people?grade=77',
      '/api/classes?q=%27',
    ])
      expect([path, (await district.get(path)).status < 500]).toEqual([path, true]);
    expect((await world.send('POST', '/api/sign-in', { username: 'Łukasz 🐸', secret: 'x' })).status).toBe(401);
    expect((await world.send('POST', '/api/sign-in/card', { code: 'ÄÖÜ' })).status).toBe(401);
    expect((await world.send('POST', '/api/sign-in', Buffer.from('{not json'))).status).toBe(400);
  });

  it('does not take requests from other pages, nor secrets out', async () => {
    const district = callers.get('district')!;
    for (const headers of [{ Origin: 'http://elsewhere.example' }, { Origin: 'null' }, { Origin: '' }]) {
      const response = await world.send(
        'POST',
        '/api/sheaf/let-go',
        { all: true },
        { Cookie: district.cookie, ...headers },
      );
      expect(response.status).toBe(403);
    }
    // Of what Host says nothing is believed where the public address is known.
    const there = (origin: string, host: string, urlIsSet: boolean) => {
      const c = { req: { header: (name: string) => (name === 'origin' ? origin : host) } } as Ctx;
      return fromOwnPages(c, { url: 'https://sheaf.example', urlIsSet });
    };
    expect([
      there('https://sheaf.example', '10.0.0.7:8200', true),
      there('https://rebound.example', 'rebound.example', true),
      there('http://127.0.0.1:8200', '127.0.0.1:8200', false),
      there('https://sheaf.example', '127.0.0.1:8200', false),
    ]).toEqual([true, false, true, false]);
    const id = (await district.get<PeoplePage>('/api/people?limit=1&role=student')).body.rows[0]!.id;
    const text = JSON.stringify((await district.get<PersonSheet>(`/api/people/${id}`)).body);
    expect(text).not.toContain('secretSealed');
    const plan = await world.db.one<{ id: string }>("SELECT id FROM plans WHERE kind = 'setup'");
    let shown = '';
    for (let offset = 0; offset < 20_000; offset += 200)
      shown += JSON.stringify(
        (await district.get(`/api/plans/${plan!.id}/changes?kind=account.create&offset=${offset}`)).body,
      );
    const sealed = await world.db.select<{ s: string }>(
      'SELECT COALESCE(secretSealed, passwordHash) AS s FROM accounts HAVING s IS NOT NULL',
    );
    expect(sealed.length).toBeGreaterThan(2000);
    expect(sealed.filter(({ s }) => shown.includes(s))).toEqual([]);
  });
});
