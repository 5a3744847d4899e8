/** Staff: taken in, invited by mail, the first password, roles; and whoever comes with a school's code. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Invitation, JoinCode, JoinRequest, Joined, StaffAlike } from '../contract';
import { Mailbox } from '../testing/mailbox';
import { base, type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let school: Caller;
let mailbox: Mailbox;
let skm: string;
beforeAll(async () => {
  world = await World.open('staff');
  [district, school] = [await world.as('district'), await world.as('school')];
  mailbox = await Mailbox.start('away@isles.example');
  world.config.mail = mailbox.mail;
  skm = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
});
afterAll(async () => {
  mailbox.stop();
  await world.close();
});

const linkIn = (text: string) => new URL(text.match(/https?:\/\/\S+/)![0]);
const one = (givenName: string, familyName: string, email: string, role = 'teacher', schoolId = skm) => ({
  givenName,
  familyName,
  email,
  role,
  schoolId,
});
interface Made {
  planId: string | null;
  invitationIds: string[];
  alike: { line: number; who: StaffAlike[] }[];
}
const take = (caller: Caller, people: object[], anyway: number[] = []) =>
  caller.post<Made>('/api/staff', { people, anyway });

it('are invited by mail, choose a password and are in; the link holds once', async () => {
  const { body } = await take(school, [
    one('Sunniva', 'Fjellheim', 'sunniva@isles.example'),
    one('Ola', 'Away', 'away@isles.example'),
  ]);
  await world.work();
  const [mail] = await mailbox.letters();
  expect(mail).toMatchObject({ to: 'sunniva@isles.example', subject: 'Your account at Skerry Isles Unified' });
  const link = linkIn(mail!.text);
  expect(link.origin).toBe(base);
  // Behind #, so that no proxy on the way writes it down.
  expect([link.pathname, link.search]).toEqual(['/i', '']);
  const token = link.hash.slice(1);
  const open = await world.send('POST', '/api/invited/open', { token });
  expect(await open.json()).toEqual({
    name: 'Sunniva Fjellheim',
    username: 'sfjellheim',
    district: 'Skerry Isles Unified',
  });
  const choose = (password: string) => world.send('POST', '/api/invited', { token, password });
  expect((await choose('password1')).status).toBe(422);
  expect((await choose('sfjellheim1')).status).toBe(422);
  expect((await choose('ferry at dawn')).status).toBe(200);
  expect((await choose('ferry at dusk')).status).toBe(404);
  const her = await world.signIn('sfjellheim', 'ferry at dawn');
  expect((await her.get<{ role: string }>('/api/me')).body.role).toBe('teacher');
  const states = (await school.get<Invitation[]>('/api/invitations')).body.map(({ email, state }) => [email, state]);
  expect(states).toEqual(
    expect.arrayContaining([
      ['away@isles.example', 'failed'],
      ['sunniva@isles.example', 'used'],
    ]),
  );
  // What cannot be mailed is handed over; a new link ends the one before.
  const url = async () =>
    (await school.post<{ url: string }>(`/api/invitations/${body.invitationIds[1]}/link`)).body.url;
  const [first, second] = [await url(), await url()].map((text) => new URL(text).hash.slice(1));
  expect((await world.send('POST', '/api/invited/open', { token: first })).status).toBe(404);
  expect((await world.send('POST', '/api/invited/open', { token: second })).status).toBe(200);
  const trail = await world.db.select<{ action: string }>(
    "SELECT action FROM audit WHERE action LIKE 'invitation%' OR action = 'password.chosen' ORDER BY id",
  );
  expect(trail.map(({ action }) => action)).toEqual(['password.chosen', 'invitation.link', 'invitation.link']);
});

it('who are alike on record are shown first, by address and by name, and taken in only when said to be others', async () => {
  const twin = one('Sunniva', 'FJELLHEIM', 'other@isles.example');
  const asked = (await take(school, [twin, one('New', 'Person', 'Sunniva@isles.example')])).body;
  expect(asked.alike.map(({ line, who }) => [line, who.map(({ why }) => why)])).toEqual([
    [0, ['the same name']],
    [1, ['the same address']],
  ]);
  expect(asked.planId).toBeNull();
  const made = (await take(school, [twin], [0])).body;
  expect(made.planId).not.toBeNull();
  const username = await world.db.one<{ username: string }>(
    "SELECT a.username FROM accounts a JOIN people p ON p.id = a.personId WHERE p.email = 'other@isles.example'",
  );
  expect(username!.username).toBe('sfjellheim2');
  // Also where the names are the same to the letter.
  const third = await take(school, [one('Sunniva', 'Fjellheim', 'third@isles.example')], [0]);
  expect([third.status, third.body.error]).toEqual([200, undefined]);
  expect(
    await world.db.select(
      "SELECT username FROM accounts WHERE username LIKE 'sfjellheim%' AND status = 'active' ORDER BY username",
    ),
  ).toEqual(['sfjellheim', 'sfjellheim2', 'sfjellheim3'].map((name) => ({ username: name })));
  expect((await take(school, [one('A', 'B', 'x@isles.example'), one('C', 'D', 'X@isles.example')])).status).toBe(422);
});

it('are taken in at one’s own schools and up to one’s own role', async () => {
  const lan = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'LAN'"))!.id;
  expect((await take(school, [one('A', 'Bee', 'a@isles.example', 'teacher', lan)])).status).toBe(403);
  expect((await take(school, [one('A', 'Bee', 'a@isles.example', 'district')])).status).toBe(403);
  const stranger = await world.db.one<{ personId: string }>(
    "SELECT ac.personId FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.schoolId = :lan WHERE ac.role = 'teacher' AND ac.passwordHash IS NULL LIMIT 1",
    { lan },
  );
  expect((await school.post(`/api/staff/${stranger!.personId}/invite`)).status).toBe(404);
});

it('change roles, but the district keeps a coordinator', async () => {
  const head = (await district.get<{ personId: string }>('/api/me')).body.personId;
  expect((await district.post(`/api/staff/${head}/role`, { role: 'teacher' })).status).toBe(409);
  const { personId } = (await (await world.signIn('sfjellheim', 'ferry at dawn')).get<{ personId: string }>('/api/me'))
    .body;
  expect((await district.post(`/api/staff/${personId}/role`, { role: 'school' })).status).toBe(200);
  const her = await world.signIn('sfjellheim', 'ferry at dawn');
  expect((await her.get<{ role: string; schools: { id: string }[] }>('/api/me')).body).toMatchObject({
    role: 'school',
    schools: [{ id: skm }],
  });
});

it('who come with the school’s code wait for its coordinator, who takes them in with an invitation', async () => {
  const { body: code } = await school.post<JoinCode>('/api/codes', {
    classId: null,
    schoolId: skm,
    days: 7,
    usesMost: 20,
  });
  const joined = await world.send('POST', '/api/join', {
    code: code.code,
    familyName: 'Newcomer',
    givenName: 'Ebba',
    email: 'ebba@isles.example',
  });
  expect((await joined.json()) as Joined).toMatchObject({ state: 'waits', className: null });
  const request = (await school.get<JoinRequest[]>('/api/requests')).body.find(({ kind }) => kind === 'staff')!;
  expect((await school.post(`/api/requests/${request.id}/settle`, { accept: true, personId: null })).status).toBe(200);
  await world.work();
  const mail = (await mailbox.letters()).find(({ to }) => to === 'ebba@isles.example')!;
  const token = linkIn(mail.text).hash.slice(1);
  expect((await world.send('POST', '/api/invited', { token, password: 'rowing to work' })).status).toBe(200);
  expect((await (await world.signIn('enewcomer', 'rowing to work')).get<{ role: string }>('/api/me')).body.role).toBe(
    'teacher',
  );
});
