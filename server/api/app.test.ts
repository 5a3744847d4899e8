/** HTTP around the routes: headers, files of the build, uploads, the first run, sessions. */
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { district } from '../district';
import { base, World } from '../testing/world';
import { makeApp } from './app';
import { setupCode } from '../setup';
import type { Handouts, Me, Today } from '../contract';

let world: World;
let empty: World;
beforeAll(async () => {
  world = await World.open('app');
  empty = await World.open('app_empty', { demo: false });
});
afterAll(async () => {
  await world.close();
  await empty.close();
});

describe('the built application', () => {
  const root = mkdtempSync(join(tmpdir(), 'sheaf-web-'));
  mkdirSync(join(root, 'assets'));
  writeFileSync(join(root, 'index.html'), '<title>Sheaf</title>');
  writeFileSync(join(root, 'assets', 'a-123.js'), 'let a');
  const get = async (path: string) => {
    const response = await makeApp(world.services, { webRoot: root }).request(base + path);
    return { status: response.status, text: await response.text(), headers: response.headers };
  };

  it('is served with its types, kept where it is named by its content, and answers any place of its own', async () => {
    const asset = await get('/assets/a-123.js');
    expect([asset.text, asset.headers.get('content-type'), asset.headers.get('cache-control')]).toEqual([
      'let a',
      'text/javascript; charset=utf-8',
      'public, max-age=31536000, immutable',
    ]);
    for (const path of ['/', '/people', '/plans/x', '/c/0123']) {
      const page = await get(path);
      expect([path, page.text, page.headers.get('cache-control')]).toEqual([path, '<title>Sheaf</title>', 'no-cache']);
      expect(page.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
      expect(page.headers.get('x-content-type-options')).toBe('nosniff');
    }
  });

  it('is sent packed to whoever can unpack it, as RFC 9110 has it', async () => {
    writeFileSync(join(root, 'assets', 'a-123.js.gz'), 'packed');
    const sent = async (accepted: string) => {
      const response = await makeApp(world.services, { webRoot: root }).request(`${base}/assets/a-123.js`, {
        headers: { 'Accept-Encoding': accepted },
      });
      return [await response.text(), response.headers.get('content-encoding'), response.headers.get('vary')];
    };
    expect(await sent('br, gzip;q=0.8')).toEqual(['packed', 'gzip', 'Accept-Encoding']);
    expect(await sent('br, gzip;q=0')).toEqual(['let a', null, 'Accept-Encoding']);
    expect(await sent('')).toEqual(['let a', null, 'Accept-Encoding']);
  });

  it('never serves a file outside of its folder', async () => {
    for (const path of [
      '/../package.json',
      '/%2e%2e/package.json',
      '/assets/..%2f..%2f..%2fetc/passwd',
      '//etc/passwd',
    ]) {
      expect([path, (await get(path)).text]).toEqual([path, '<title>Sheaf</title>']);
    }
  });

  it('keeps answers of the server out of caches, and knows its routes', async () => {
    const me = await get('/api/me');
    expect([me.status, me.headers.get('cache-control')]).toEqual([401, 'no-store']);
    expect([(await get('/api/nothing')).status, JSON.parse((await get('/api/nothing')).text)]).toEqual([
      404,
      { error: 'This address doesn’t exist.' },
    ]);
    expect((await get('/healthz')).status).toBe(200);
  });
});

describe('an upload', () => {
  it('beyond 64 MB is refused with what to do', async () => {
    const district = await world.as('district');
    const response = await world.send('POST', '/api/intakes?name=big.csv', Buffer.alloc(1), {
      Cookie: district.cookie,
      'Content-Length': String(65 * 1024 * 1024),
    });
    expect([response.status, ((await response.json()) as { error: string }).error]).toEqual([
      413,
      expect.stringContaining('Split it by school'),
    ]);
    expect((await district.post('/api/intakes?name=', Buffer.from('a'))).status).toBe(422);
  });
});

describe('a session', () => {
  it('is a cookie that scripts cannot read, and ends with signing out, with time and with the account', async () => {
    const { username } = world.signIns.find(({ who }) => who.startsWith('teacher'))!;
    const response = await world.send('POST', '/api/sign-in', { username, secret: demoPassword });
    const cookie = response.headers.get('set-cookie')!;
    expect(cookie).toMatch(/^sheaf=[0-9A-Z]{26}; .*HttpOnly/);
    expect(cookie).toMatch(/SameSite=Lax/);
    const stored = await world.db.select<{ tokenHash: string }>('SELECT tokenHash FROM sessions');
    expect(stored.some(({ tokenHash }) => cookie.includes(tokenHash))).toBe(false);

    const [a, b, c] = [await world.as('teacher'), await world.as('teacher'), await world.as('teacher')];
    await a.post('/api/sign-out');
    expect([(await a.get('/api/me')).status, (await b.get('/api/me')).status]).toEqual([401, 200]);
    const own = (await b.get<Me>('/api/me')).body;
    expect([own.role, own.schools.map((school) => school.name)]).toEqual(['teacher', ['Lantern Point']]);
    await world.db.run(
      "UPDATE sessions SET expiresAt = '2020-01-01T00:00:00.000Z' WHERE accountId = (SELECT id FROM accounts WHERE username = :username) ORDER BY createdAt DESC LIMIT 1",
      { username },
    );
    expect((await c.get('/api/me')).status).toBe(401);
    await world.db.run("UPDATE accounts SET status = 'frozen' WHERE username = :username", { username });
    expect((await b.get('/api/me')).status).toBe(401);
    await world.db.run("UPDATE accounts SET status = 'active' WHERE username = :username", { username });
  });
});

describe('the first run', () => {
  const form = {
    district: 'Far Harbor',
    givenName: 'Maren',
    familyName: 'Holm',
    username: 'mholm',
    password: 'ferry at dawn',
    ...{ zone: 'America/Denver', yearBegins: '2026-08-24', yearEnds: '2027-06-04' },
    code: '',
  };
  it('says what is wrong with it, is made by one of two at once, and never again', async () => {
    // Who finds an empty Sheaf on the network has not the code that its start printed.
    expect((await empty.send('POST', '/api/setup', form)).status).toBe(403);
    form.code = setupCode(empty.config).toLowerCase();
    const wrong = async (change: object) =>
      ((await (await empty.send('POST', '/api/setup', { ...form, ...change })).json()) as { error: string }).error;
    expect(await wrong({ password: 'password1' })).toContain('Choose another one');
    expect(await wrong({ username: 'M Holm' })).toMatch(/^username: needs at least two lowercase letters/);
    expect(await wrong({ district: ' ' })).toBe('district: is empty');
    expect(await wrong({ zone: 'Denver' })).toBe('zone: must be a time zone like America/New_York');
    expect(await wrong({ yearEnds: '2026-08-01' })).toContain('ends before it begins');
    const both = await Promise.all([
      empty.send('POST', '/api/setup', form),
      empty.send('POST', '/api/setup', { ...form, username: 'other' }),
    ]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
    expect((await empty.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM accounts'))!.n).toBe(1);
    expect(await district(empty.db)).toMatchObject({
      zone: form.zone,
      year: { begins: form.yearBegins, name: '2026–27' },
    });
    expect((await empty.send('POST', '/api/setup', form)).status).toBe(409);
  });

  it('leads to a register that takes in its first file, with numbers of any form and the chosen usernames', async () => {
    const { username } = (await empty.db.one<{ username: string }>('SELECT username FROM accounts'))!;
    const first = await empty.signIn(username, form.password);
    const steps = async () => (await first.get<Today>('/api/today')).body.steps.map(({ id, done }) => `${id} ${done}`);
    expect(await steps()).toEqual(['roster false', 'accounts false', 'cards false', 'staff false']);
    const pattern = (usernamePattern: string) => first.post('/api/district', { usernamePattern });
    expect((await pattern('{surname}')).body.error).toMatch(/^usernamePattern: The pattern needs/);
    expect((await pattern('{given}.{family}')).status).toBe(200);
    // A school has the identifier that somebody gave, or none.
    const school = { name: 'Far Harbor School', code: null, kind: 'k8', lowGrade: 'KG', highGrade: '08', door: null };
    const two = { ...school, name: 'Near Harbor School' };
    expect((await first.post('/api/schools/many', { schools: [school, two] })).status).toBe(200);
    const { id } = (
      await first.post<{ id: string }>(
        '/api/intakes?name=first.csv',
        Buffer.from(
          'Surname,Forename,Student no,Grade,Class,School\nŌtomo,Aiko,K-7/a,3,3A,Far Harbor School\nReef,Ada,K-8/a,3,3A,Far Harbor School\n',
        ),
      )
    ).body;
    const planId = (await first.job(`/api/intakes/${id}/plan`)).result!.planId!;
    expect(await first.job(`/api/plans/${planId}/apply`)).toMatchObject({
      status: 'done',
      result: { sentence: 'Adds 2 people and 1 class.' },
    });
    expect(
      (
        await empty.db.select<{ u: string }>("SELECT username AS u FROM accounts WHERE role = 'student' ORDER BY u")
      ).map(({ u }) => u),
    ).toEqual(['ada.reef', 'aiko.otomo']);
    expect((await first.get<Handouts>('/api/handouts')).body.classes).toMatchObject([
      { name: '3A', students: 2, missing: 2, outdated: 0 },
    ]);
    expect(await steps()).toEqual(['roster true', 'accounts true', 'cards false', 'staff false']);
  });
});
