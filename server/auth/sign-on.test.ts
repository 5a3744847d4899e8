/** Single sign-on against a real provider: the code flow with PKCE, matched to accounts, and what is not believed. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { StandIn } from '../testing/process';
import { base, World } from '../testing/world';

let world: World;
let provider: StandIn;
beforeAll(async () => {
  world = await World.open('signon');
  provider = await StandIn.start('sign-on', ['--back', `${base}/api/sign-on/back`]);
  world.config.signOn = {
    issuer: provider.base,
    clientId: 'sheaf',
    clientSecret: 'tide-table',
    claim: 'preferred_username',
  };
});
afterAll(async () => {
  provider.stop();
  await world.close();
});

/** A browser's part at the provider: follows where it is sent, with its cookies, until it is sent back. */
async function atProvider(start: string, who: string): Promise<URL> {
  const cookies = new Map<string, string>();
  let [url, body] = [start, null as URLSearchParams | null];
  for (let n = 0; n < 12; n++) {
    const answer = await fetch(url, {
      method: body ? 'POST' : 'GET',
      body,
      redirect: 'manual',
      headers: { Cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; ') },
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [name, ...value] = cookie.split(';')[0]!.split('=');
      cookies.set(name!, value.join('='));
    }
    body = null;
    const location = answer.headers.get('location');
    if (location) {
      url = new URL(location, url).href;
      if (url.startsWith(base)) return new URL(url);
    } else body = new URLSearchParams({ who });
  }
  throw new Error('never sent back');
}
async function begin(): Promise<{ url: string; cookie: string }> {
  const answer = await world.send('GET', '/api/sign-on');
  expect(answer.status).toBe(302);
  return { url: answer.headers.get('location')!, cookie: answer.headers.get('set-cookie')!.split(';')[0]! };
}
async function signOn(who: string) {
  const { url, cookie } = await begin();
  const back = await atProvider(url, who);
  const answer = await world.send('GET', back.pathname + back.search, undefined, { Cookie: cookie });
  const session = answer.headers
    .getSetCookie()
    .find((text) => text.startsWith('sheaf='))
    ?.split(';')[0];
  return { status: answer.status, location: answer.headers.get('location') ?? '', session, back, cookie };
}
const username = (who: string) => world.signIns.find((s) => s.who.startsWith(who))!.username;

it('lets in whom the provider names, with their own role, and knows them by subject from then on', async () => {
  for (const who of ['teacher', 'student']) {
    const { location, session } = await signOn(username(who));
    expect(location).toBe('/');
    const me = await world.send('GET', '/api/me', undefined, { Cookie: session! });
    expect(((await me.json()) as { role: string }).role).toBe(who);
  }
  const linked = await world.db.select('SELECT subject FROM sign_on');
  expect(linked).toHaveLength(2);
  expect((await signOn(username('teacher'))).location).toBe('/');
  const way = await world.db.one<{ way: string }>(
    'SELECT way FROM sign_ins s JOIN accounts a ON a.personId = s.personId WHERE a.username = :u',
    { u: username('teacher') },
  );
  expect(way!.way).toBe('sign-on');
});

it('lets in the first time only by a confirmed address of a domain of the district’s, and no coordinator so', async () => {
  const names = await world.db.select<{ username: string }>(
    "SELECT username FROM accounts WHERE role = 'teacher' AND status = 'active' AND personId NOT IN (SELECT personId FROM sign_on) ORDER BY id LIMIT 1",
  );
  const fresh = names[0]!.username;
  const refused = async (who: string) => {
    const { session, location } = await signOn(who);
    return [session, location];
  };
  expect(await refused(`${fresh}@elsewhere.example`)).toEqual([undefined, '/sign-in?why=other-domain']);
  expect(await refused(`${fresh}@isles.example.elsewhere.example`)).toEqual([undefined, '/sign-in?why=other-domain']);
  expect(await refused(`${fresh}?`)).toEqual([undefined, '/sign-in?why=not-verified']);
  for (const who of ['district', 'school'])
    expect(await refused(username(who))).toEqual([undefined, '/sign-in?why=opt-in']);
  // A coordinator links it from a session of their own, by an act of their own pages and not by an address alone.
  const district = await world.as('district');
  const asked = await world.send('GET', '/api/sign-on?link=1', undefined, { Cookie: district.cookie });
  const way = await atProvider(asked.headers.get('location')!, username('district'));
  const keep = asked.headers.get('set-cookie')!.split(';')[0]!;
  const lured = await world.send('GET', way.pathname + way.search, undefined, {
    Cookie: `${keep}; ${district.cookie}`,
  });
  expect(lured.headers.get('location')).toBe('/sign-in?why=opt-in');
  const begun = await district.send('POST', '/api/profile/sign-on');
  const { url } = (await begun.json()) as { url: string };
  const back = await atProvider(url, username('district'));
  const bound = begun.headers.get('set-cookie')!.split(';')[0]!;
  const linking = await world.send('GET', back.pathname + back.search, undefined, { Cookie: bound });
  expect(linking.headers.get('location')).toBe('/profile');
  expect((await signOn(username('district'))).location).toBe('/');
  expect(await world.db.select('SELECT subject FROM sign_on WHERE subject LIKE :like', { like: `%${fresh}%` })).toEqual(
    [],
  );
  expect((await signOn(fresh)).location).toBe('/');
  // Somebody else of that name at the provider is somebody else.
  expect(await refused(`${fresh}@isles.example`)).toEqual([undefined, '/sign-in?why=no-account']);
});

it('knows a person by issuer and subject, whatever they are called by now', async () => {
  const name = username('teacher');
  const mine = async (session: string | undefined) =>
    ((await (await world.send('GET', '/api/me', undefined, { Cookie: session! })).json()) as { personId: string })
      .personId;
  const before = await mine((await signOn(name)).session);
  const [other] = await world.db.select<{ id: string }>(
    "SELECT id FROM accounts WHERE role = 'teacher' AND username <> :name ORDER BY id LIMIT 1",
    { name },
  );
  await world.db.run('UPDATE accounts SET username = :now WHERE username = :name', { now: 'renamed', name });
  await world.db.run('UPDATE accounts SET username = :name WHERE id = :id', { name, id: other!.id });
  expect(await mine((await signOn(name)).session)).toBe(before);
});

it('refuses who has no account or is on hold, and says so on the sign-in page', async () => {
  const stranger = await signOn('nobody-of-ours');
  expect([stranger.session, stranger.location]).toEqual([undefined, '/sign-in?why=no-account']);
  await world.db.run("UPDATE accounts SET status = 'frozen' WHERE username = :u", { u: username('student') });
  expect((await signOn(username('student'))).session).toBeUndefined();
});

it('does not believe a code twice, another browser’s, or a state that was tampered with', async () => {
  const { back, cookie } = await signOn(username('teacher'));
  const again = await world.send('GET', back.pathname + back.search, undefined, { Cookie: cookie });
  expect(again.headers.getSetCookie().some((text) => text.startsWith('sheaf='))).toBe(false);
  const { url } = await begin();
  const elsewhere = await atProvider(url, username('teacher'));
  for (const header of [{}, { Cookie: (await begin()).cookie }] as Record<string, string>[]) {
    const answer = await world.send('GET', elsewhere.pathname + elsewhere.search, undefined, header);
    expect(answer.headers.getSetCookie().some((text) => text.startsWith('sheaf='))).toBe(false);
  }
});
