/**
 * Signing in: the same answer at the same moment whoever is tried, limits that stop a guesser and lock nobody else out,
 * second factors, sessions, and the password one forgot.
 */
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pictureNames, strengthBits } from '#core/accounts/index';
import { demoPassword } from '#demo/scenario';
import type { Profile } from '../contract';
import { mint } from '../plans/mint';
import { Mailbox } from '../testing/mailbox';
import { type Caller, World } from '../testing/world';
import { emptyAll, tryIn } from './limits';
import { forgot } from './own';
import { sealText } from './seal';
import { allowances } from './sign-in';
import { sweep } from './sweep';

let world: World;
beforeAll(async () => {
  world = await World.open('signin');
});
afterAll(() => world.close());

const usernameOf = (who: string) => world.signIns.find((s) => s.who.startsWith(who))!.username;
const send = (username: string, secret: string, headers: Record<string, string> = {}) =>
  world.send('POST', '/api/sign-in', { username, secret }, headers);
const cookieOf = (response: Response, name: string) =>
  response.headers
    .getSetCookie()
    .find((text) => text.startsWith(`${name}=`))
    ?.split(';')[0];
/** As if nobody had tried anything. */
const fresh = () => emptyAll(world.db);

describe('a refused sign-in', () => {
  it('says the same of a student, of staff, of somebody suspended and of nobody', async () => {
    await world.db.run(
      "UPDATE accounts SET status = 'frozen' WHERE username = (SELECT u FROM (SELECT MAX(username) AS u FROM accounts WHERE role = 'teacher') x)",
    );
    const frozen = (await world.db.one<{ u: string }>(
      "SELECT username AS u FROM accounts WHERE status = 'frozen' AND role = 'teacher' LIMIT 1",
    ))!.u;
    const answers = [];
    for (const username of [usernameOf('student'), usernameOf('teacher'), frozen, 'nobody-here', 'Łukasz 🐸']) {
      const answer = await send(username, 'wrong');
      answers.push(JSON.stringify([answer.status, await answer.json(), answer.headers.getSetCookie()]));
    }
    expect(new Set(answers).size).toBe(1);
    await fresh();
  });

  it('comes at the same moment: the times of known and unknown names cannot be told apart', async () => {
    const many = 120;
    const kinds = { student: usernameOf('student'), staff: usernameOf('teacher'), nobody: 'nobody-at-all' };
    const times: Record<string, number[]> = {};
    for (const [kind, username] of Object.entries(kinds)) {
      times[kind] = [];
      for (let at = 0; at < many; at += 5) {
        await fresh();
        await Promise.all(
          Array.from({ length: 5 }, async () => {
            const from = performance.now();
            await send(username, 'wrong');
            times[kind]!.push(performance.now() - from);
          }),
        );
      }
    }
    // No clock is tested for a figure here: only that each waited for its moment. The distributions are in the bench.
    for (const kind of Object.keys(kinds)) expect(Math.min(...times[kind]!)).toBeGreaterThanOrEqual(245);
    await fresh();
  });
});

describe('limits', () => {
  /** Never more; an attempt that is just being counted may for a moment count twice. */
  const within = (seen: number, most: number): void => {
    expect(seen).toBeLessThanOrEqual(most);
    expect(seen).toBeGreaterThan(most / 2);
  };

  it('of others do not lock anyone out of a browser that is theirs', async () => {
    const [username, secret] = [usernameOf('teacher'), demoPassword];
    const known = cookieOf(await send(username, secret), 'sheaf-known')!;
    const statuses = await Promise.all(
      Array.from({ length: 30 }, async (_, i) => (await send(username, `no ${i}`)).status),
    );
    within(statuses.filter((s) => s === 401).length, allowances.account.quarter);
    expect((await send(username, secret)).status).toBe(429);
    expect((await send(username, secret, { Cookie: known })).status).toBe(200);
    // The browser's own allowance is one, too.
    const own = await Promise.all(
      Array.from({ length: 20 }, async (_, i) => (await send(username, `no ${i}`, { Cookie: known })).status),
    );
    within(own.filter((s) => s === 401).length, allowances.known.quarter);
    // Another person in this browser is as unknown as in any other.
    expect((await send(usernameOf('school'), 'wrong', { Cookie: known })).status).toBe(401);
    await fresh();
  });

  it('make trying picture passwords on a whole school worth at most one in a school year', async () => {
    // A pattern of three of 24 pictures in order, none twice.
    const space = 2 ** strengthBits({ words: 0, digits: 0, pictures: 3 });
    expect(Math.round(space)).toBe(24 * 23 * 22);
    const daysOfYear = 365;
    expect((allowances.pictures.day * daysOfYear) / space).toBeLessThanOrEqual(1);

    const school = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'LAN'"))!.id;
    const children = await world.db.select<{ id: string; personId: string; username: string }>(
      `SELECT ac.id, ac.personId, ac.username FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL AND a.schoolId = :school
       WHERE ac.role = 'student' AND ac.status = 'active' ORDER BY ac.id LIMIT 200`,
      { school },
    );
    for (const [i, { id, personId }] of children.entries()) {
      const [a, b, c] = [0, 7, 13].map((step) => pictureNames[(i + step) % pictureNames.length]!);
      await world.db.run('UPDATE accounts SET secretSealed = :sealed WHERE id = :id', {
        sealed: sealText(world.config.key, personId, `${a}-${b}-${c}`),
        id,
      });
    }
    // One guess at each of two hundred children, from two hundred addresses at once.
    const answers = await Promise.all(
      children.map(async ({ username }) => (await send(username, 'drum-egg-flag')).status),
    );
    const seen = answers.filter((s) => s === 401).length;
    within(seen, allowances.pictures.day);
    expect(answers.filter((s) => s === 429).length).toBe(children.length - seen);
    // Right or wrong, nothing more is learned that day.
    const [first] = children;
    const secret = [0, 7, 13].map((step) => pictureNames[step]!).join('-');
    expect((await send(first!.username, secret)).status).toBe(429);
    // A child with a password of words at another school is not concerned.
    expect((await send(usernameOf('student'), 'wrong')).status).toBe(401);
    await fresh();
  });

  it('never let through more than they say, however attempts meet', async () => {
    for (let round = 0; round < 30; round++) {
      const tried = await Promise.all(
        Array.from({ length: 24 }, async (_, i) => {
          await new Promise((next) => setTimeout(next, i % 12));
          const trying = await tryIn(world.db, [[`meet:${round}`, 5, 900]]);
          if (!trying) return 0;
          await world.db.transaction((tx) => trying.failed(tx)).finally(trying.over);
          return 1;
        }),
      );
      within(tried.filter((one) => one === 1).length, 5);
    }
  });

  it('hold for names that are no one’s as for any other', async () => {
    const statuses = await Promise.all(
      Array.from({ length: 12 }, async () => (await send('nobody-in-particular', 'x')).status),
    );
    within(statuses.filter((s) => s === 401).length, allowances.account.quarter);
    await fresh();
  });

  it('of one address are not another’s, and a proxy is believed only when it is trusted', async () => {
    const tried = async (from: string) => {
      await send('someone', 'x', { 'X-Forwarded-For': from });
      return (await world.db.select<{ bucket: string }>("SELECT bucket FROM attempts WHERE bucket LIKE 'from:%'")).map(
        ({ bucket }) => bucket,
      );
    };
    expect(await tried('203.0.113.7')).toEqual(['from:unknown']);
    await fresh();
  });
});

describe('a second factor', () => {
  let coordinator: Caller;
  let secret: string;
  let recovery: string[];
  const code = (offset = 0) =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + offset * 30_000 });
  const second = async (step: string, typed: string) =>
    world.send('POST', '/api/sign-in/code', { code: typed }, { Cookie: step });

  it('by an app is set up in two steps, and asked for from then on', async () => {
    coordinator = await world.as('district');
    const begun = await coordinator.post<{ uri: string; secret: string; qr: string }>('/api/profile/app/begin');
    expect(begun.body.uri).toMatch(/^otpauth:\/\/totp\/Sheaf/);
    expect(begun.body.qr).toMatch(/^data:image\/png/);
    ({ secret } = begun.body);
    // Not confirmed yet: nobody is locked out by it.
    expect((await send(usernameOf('district'), demoPassword)).status).toBe(200);
    expect((await coordinator.post('/api/profile/app', { code: '000000' })).status).toBe(422);
    const confirmed = await coordinator.post<{ recovery: string[] }>('/api/profile/app', { code: code(-1) });
    expect(confirmed.status).toBe(200);
    ({ recovery } = confirmed.body);
    expect(new Set(recovery).size).toBe(10);

    const first = await send(usernameOf('district'), demoPassword);
    expect(await first.json()).toEqual({ factors: ['app', 'recovery'] });
    expect(cookieOf(first, 'sheaf')).toBeUndefined();
    const step = cookieOf(first, 'sheaf-step')!;
    // The step alone opens nothing.
    expect((await world.send('GET', '/api/me', undefined, { Cookie: step })).status).toBe(401);
    expect((await second(step, '123456')).status).toBe(401);
    const done = await second(step, code());
    expect([done.status, cookieOf(done, 'sheaf') !== undefined]).toEqual([200, true]);
    // A step is done once, and a code is good once.
    expect((await second(step, code(1))).status).toBe(401);
    const again = cookieOf(await send(usernameOf('district'), demoPassword), 'sheaf-step')!;
    expect((await second(again, code())).status).toBe(401);
    // On paper for when the phone is lost, each once.
    expect((await second(again, recovery[0]!.toLowerCase())).status).toBe(200);
    const third = cookieOf(await send(usernameOf('district'), demoPassword), 'sheaf-step')!;
    expect((await second(third, recovery[0]!)).status).toBe(401);
    const left = (await coordinator.get<Profile>('/api/profile')).body.factors;
    expect(left).toMatchObject({ app: true, recoveryLeft: 9 });
  });

  it('cannot be guessed: a few wrong codes, and no more are looked at', async () => {
    await fresh();
    const step = cookieOf(await send(usernameOf('district'), demoPassword), 'sheaf-step')!;
    const statuses = [];
    for (let i = 0; i < 8; i++) statuses.push((await second(step, String(100000 + i))).status);
    expect(statuses).toEqual([401, 401, 401, 401, 401, 429, 429, 429]);
    await fresh();
  });

  it('is a duty for coordinators where the district says so: nothing else is open without one', async () => {
    const step = cookieOf(await send(usernameOf('district'), demoPassword), 'sheaf-step')!;
    const done = await second(step, recovery[1]!);
    expect(done.status).toBe(200);
    const cookie = cookieOf(done, 'sheaf')!;
    const as = (path: string, body?: unknown) => world.send(body ? 'POST' : 'GET', path, body, { Cookie: cookie });
    expect((await as('/api/district', { secondFactor: 'coordinators' })).status).toBe(200);
    const school = await world.as('school');
    expect((await school.get<{ mustAddFactor: boolean }>('/api/me')).body.mustAddFactor).toBe(true);
    expect((await school.get('/api/people')).status).toBe(403);
    expect((await school.get('/api/profile')).status).toBe(200);
    expect((await (await world.as('teacher')).get('/api/people')).status).toBe(200);
    // The last one cannot be taken away then.
    expect((await as('/api/profile/factors/remove', { id: 'app' })).status).toBe(409);
    expect((await as('/api/district', { secondFactor: 'nobody' })).status).toBe(200);
    expect((await school.get('/api/people')).status).toBe(200);
    expect((await as('/api/profile/factors/remove', { id: 'app' })).status).toBe(200);
    expect((await send(usernameOf('district'), demoPassword)).headers.getSetCookie().join()).toContain('sheaf=');
  });
});

describe('a session', () => {
  it('is listed with where it is used from, and ended alone or with all others', async () => {
    const [a, b, c] = [await world.as('school'), await world.as('school'), await world.as('school')];
    const { sessions } = (await a.get<Profile>('/api/profile')).body;
    expect(sessions.filter(({ isThis }) => isThis)).toHaveLength(1);
    const mine = new Set(sessions.map(({ id }) => id));
    const other = (await b.get<Profile>('/api/profile')).body.sessions.find(({ isThis }) => isThis)!;
    expect(mine.has(other.id)).toBe(true);
    expect((await a.post('/api/profile/sessions/end', { id: other.id })).body).toEqual({ ended: 1 });
    expect([(await a.get('/api/me')).status, (await b.get('/api/me')).status]).toEqual([200, 401]);
    // Nobody ends another person's.
    expect((await (await world.as('teacher')).post('/api/profile/sessions/end', { id: sessions[0]!.id })).body).toEqual(
      {
        ended: 0,
      },
    );
    await a.post('/api/profile/sessions/end', { id: null });
    expect([(await a.get('/api/me')).status, (await c.get('/api/me')).status]).toEqual([200, 401]);
  });

  it('ends when it was not used for hours, and asks for the password again before what must not be done in passing', async () => {
    const teacher = await world.as('teacher');
    const child = (await teacher.get<{ rows: { id: string }[] }>('/api/people?limit=1')).body.rows[0]!;
    const set = (column: string, value: string) =>
      world.db.run(
        `UPDATE sessions SET ${column} = :value WHERE accountId = (SELECT id FROM accounts WHERE username = :u)`,
        {
          value,
          u: usernameOf('teacher'),
        },
      );
    const reveal = () => teacher.post<{ confirm?: boolean }>(`/api/people/${child.id}/reveal`, { why: 'forgot it' });
    expect((await reveal()).status).toBe(200);
    await set('freshAt', '2026-01-01T00:00:00.000Z');
    const asked = await reveal();
    expect([asked.status, asked.body.confirm]).toEqual([403, true]);
    expect((await teacher.post('/api/profile/confirm', { password: 'not it' })).status).toBe(422);
    expect((await teacher.post('/api/profile/confirm', { password: demoPassword })).status).toBe(200);
    expect((await reveal()).status).toBe(200);
    await set('lastAt', '2026-01-01T00:00:00.000Z');
    expect((await teacher.get('/api/me')).status).toBe(401);
  });

  it('of a child ends with a new password', async () => {
    const child = await world.as('student');
    const id = (await world.db.one<{ id: string }>('SELECT personId AS id FROM accounts WHERE username = :u', {
      u: usernameOf('student'),
    }))!.id;
    const district = await world.as('district');
    await district.post('/api/sheaf/let-go', { all: true });
    await district.post('/api/sheaf/gather', { ids: [id] });
    const planId = (await district.job('/api/sheaf/secrets')).result!.planId!;
    expect((await child.get('/api/me')).status).toBe(200);
    await district.job(`/api/plans/${planId}/apply`);
    expect((await child.get('/api/me')).status).toBe(401);
  });

  it('leaves nothing behind once its time has passed', async () => {
    await world.db.run(
      "INSERT INTO sessions (tokenHash, id, accountId, createdAt, expiresAt) VALUES ('old', :id, :id, '2020-01-01T00:00:00.000Z', '2020-01-02T00:00:00.000Z')",
      { id: mint() },
    );
    await world.db.run("INSERT INTO attempts (bucket, until, hits) VALUES ('old', '2020-01-01', 3)");
    expect(await sweep(world.db)).toBeGreaterThanOrEqual(2);
    expect(await world.db.select("SELECT 1 FROM sessions WHERE tokenHash = 'old'")).toEqual([]);
    expect(await world.db.select("SELECT 1 FROM attempts WHERE bucket = 'old'")).toEqual([]);
    // Those that hold are still there.
    expect(Number((await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM sessions'))!.n)).toBeGreaterThan(0);
  });
});

describe('a password', () => {
  let mailbox: Mailbox;
  beforeAll(async () => {
    mailbox = await Mailbox.start();
    world.config.mail = mailbox.mail;
    await world.db.run(
      'UPDATE people SET email = :email WHERE id = (SELECT personId FROM accounts WHERE username = :u)',
      {
        email: 'teacher@isles.example',
        u: usernameOf('teacher'),
      },
    );
  });
  afterAll(() => {
    mailbox.stop();
    world.config.mail = null;
  });
  const open = (token: string) => world.send('POST', '/api/password/open', { token });
  const linkIn = (text: string) => new URL(text.match(/https?:\/\/\S+/)![0]);

  it('is changed by who knows it, and ends all other sessions', async () => {
    const [a, b] = [await world.as('teacher'), await world.as('teacher')];
    const change = (current: string, next: string) => a.post('/api/profile/password', { current, next });
    expect((await change('wrong', 'harbor lights at noon')).status).toBe(422);
    expect((await change(demoPassword, 'short')).status).toBe(422);
    expect((await change(demoPassword, 'harbor lights at noon')).status).toBe(200);
    expect([(await a.get('/api/me')).status, (await b.get('/api/me')).status]).toEqual([200, 401]);
    expect((await send(usernameOf('teacher'), demoPassword)).status).toBe(401);
    expect((await send(usernameOf('teacher'), 'harbor lights at noon')).status).toBe(200);
    await fresh();
  });

  it('that is forgotten is chosen anew by a link to one’s own address; anyone else is answered alike', async () => {
    const ask = async (who: string) => {
      const answer = await world.send('POST', '/api/password/forgot', { who });
      return [answer.status, await answer.json()];
    };
    const same = [200, { ok: true }];
    expect(await ask('no-such-person')).toEqual(same);
    expect(await ask(usernameOf('student'))).toEqual(same);
    const { sent } = await forgot(world.db, world.config, usernameOf('teacher'), 'here');
    await sent;
    const { sent: again } = await forgot(world.db, world.config, 'Teacher@isles.example', 'here');
    await again;
    const letters = (await mailbox.letters()).filter(({ subject }) => subject.startsWith('Choose a new password'));
    expect(letters.map(({ to }) => to)).toEqual(['teacher@isles.example', 'teacher@isles.example']);
    const [second, first] = letters.map(({ text }) => linkIn(text));
    expect([second!.pathname, second!.search]).toEqual(['/password', '']);
    // The newer link ends the one before.
    expect((await open(first!.hash.slice(1))).status).toBe(404);
    const token = second!.hash.slice(1);
    expect((await open(token)).status).toBe(200);
    const choose = (password: string) => world.send('POST', '/api/password', { token, password });
    expect((await choose('password1')).status).toBe(422);
    expect((await choose('the tide comes in')).status).toBe(200);
    expect((await choose('the tide goes out')).status).toBe(404);
    expect((await send(usernameOf('teacher'), 'the tide comes in')).status).toBe(200);
    await fresh();
  });

  it('is reset by a coordinator as an act of its own: recorded, and the link goes to the person alone', async () => {
    const id = (await world.db.one<{ id: string }>('SELECT personId AS id FROM accounts WHERE username = :u', {
      u: usernameOf('teacher'),
    }))!.id;
    const district = await world.as('district');
    const teacher = await world.signIn(usernameOf('teacher'), 'the tide comes in');
    const answer = await district.post(`/api/staff/${id}/reset`);
    expect([answer.status, answer.body]).toEqual([200, { ok: true }]);
    expect((await teacher.get('/api/me')).status).toBe(401);
    expect((await send(usernameOf('teacher'), 'the tide comes in')).status).toBe(401);
    const letter = (await mailbox.letters())[0]!;
    expect(letter.to).toBe('teacher@isles.example');
    expect((await open(linkIn(letter.text).hash.slice(1))).status).toBe(200);
    expect(
      await world.db.one("SELECT detail FROM audit WHERE action = 'password.reset' AND aboutPersonId = :id", { id }),
    ).toEqual({ detail: 'teacher@isles.example' });
    await fresh();
  });
});

it('leaves a trail of sign-ins, failures, sign-outs and sessions ended', async () => {
  const caller = await world.as('school');
  await send(usernameOf('school'), 'wrong');
  await caller.post('/api/sign-out');
  const rows = await world.db.select<{ action: string }>(
    'SELECT action FROM audit WHERE aboutPersonId = (SELECT personId FROM accounts WHERE username = :u) ORDER BY id DESC LIMIT 3',
    { u: usernameOf('school') },
  );
  expect(rows.map(({ action }) => action)).toEqual(['sign-out', 'sign-in.failed', 'sign-in']);
});
