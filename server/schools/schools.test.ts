/** Schools, their sign-in addresses, the district's settings and what they do to the next accounts. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { picturesOf } from '#core/accounts/index';
import { unsealText } from '../auth/seal';
import type { DistrictState, Door, IntakePreview, PatternTried, PersonRow } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let school: Caller;
beforeAll(async () => {
  world = await World.open('schools');
  [district, school] = [await world.as('district'), await world.as('school')];
});
afterAll(() => world.close());

const state = async (caller = district) => (await caller.get<DistrictState>('/api/district')).body;
const schoolOf = async (code: string) => (await state()).schools.find((s) => s.code === code)!;
const door = async (at = '') => {
  const answer = await world.send('GET', `/api/door${at && `?at=${at}`}`);
  return { status: answer.status, ...((await answer.json()) as Door & { error?: string }) };
};

it('a school is made with its own address, offers the ways it allows, and goes again', async () => {
  const before = await world.checksum();
  const form = { name: 'Puffin Rock', code: 'PUF', kind: 'primary', lowGrade: 'KG', highGrade: '05', door: 'Puffin' };
  const { body } = await district.post<{ planId: string; id: string }>('/api/schools', form);
  expect(await door('puffin')).toMatchObject({
    status: 200,
    school: 'Puffin Rock',
    ways: ['secret', 'pictures', 'card'],
  });
  const edit = { field: 'ways', before: null, after: 'pictures,card' };
  const { planId } = (await district.post<{ planId: string }>(`/api/schools/${body.id}/edit`, edit)).body;
  expect((await door('PUFFIN')).ways).toEqual(['pictures', 'card']);
  expect((await door('nowhere')).status).toBe(404);
  expect((await door()).school).toBeNull();
  expect((await district.post('/api/schools', { ...form, code: 'PU2', name: 'Other' })).status).toBe(409);
  expect((await district.post('/api/schools', { ...form, door: null, lowGrade: '06', highGrade: '02' })).status).toBe(
    422,
  );
  expect(
    (await district.post(`/api/schools/${body.id}/edit`, { field: 'ways', before: 'pictures,card', after: 'shout' }))
      .status,
  ).toBe(422);
  await district.job(`/api/plans/${planId}/undo`);
  await district.job(`/api/plans/${body.planId}/undo`);
  expect(await world.checksum()).toBe(before);
});

it('a school’s coordinator sets up their own school and no other, and not the district', async () => {
  const own = (await state(school)).schools;
  expect(own.map(({ code }) => code)).toEqual(['SKM']);
  expect(
    (await school.post(`/api/schools/${own[0]!.id}/edit`, { field: 'door', before: 'skerry', after: 'skm' })).status,
  ).toBe(200);
  expect(
    (
      await school.post(`/api/schools/${(await schoolOf('LAN')).id}/edit`, {
        field: 'door',
        before: 'lantern',
        after: 'x1',
      })
    ).status,
  ).toBe(404);
  expect((await school.post('/api/district', { mostLeaving: 1 })).status).toBe(403);
});

it('a pattern is tried on everyone, with clashes counted, before it is kept', async () => {
  const attempt = async (pattern: string, schoolId: string | null = null) =>
    (await district.post<PatternTried>('/api/usernames/try', { pattern, schoolId })).body;
  const usual = await attempt('{given:1}{family}');
  expect(usual.examples.length).toBeGreaterThan(8);
  expect(usual.examples.every(({ username }) => /^[a-z0-9._-]+$/.test(username))).toBe(true);
  const byHand = await world.db.one<{ n: number }>(
    "SELECT COUNT(*) AS n FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.role = 'student' AND p.status = 'active'",
  );
  expect(usual.people).toBe(byHand!.n);
  expect((await attempt('{number}')).clashes).toBeLessThan(usual.clashes);
  expect((await attempt('{family')).wrong).toContain('A part is one of'.slice(0, 2));
  expect((await attempt('{given}', (await schoolOf('EVE')).id)).people).toBeLessThan(200);
});

it('settings make the next accounts: pictures for the youngest, a school’s own pattern', async () => {
  const eve = await schoolOf('EVE');
  const { settings } = await state();
  expect((await district.post('/api/district', { usernamePattern: '{nobody}' })).status).toBe(422);
  await district.post('/api/district', { schoolPatterns: { [eve.id]: 'eve.{family}' } });
  expect((await state()).settings).toEqual({ ...settings, schoolPatterns: { [eve.id]: 'eve.{family}' } });
  const text =
    'family name,given name,birth date,grade,class,school\nOddsson,Birta,2020-03-04,K,KA,Lantern Point\nOddsson,Kari,2007-03-04,UG,Evening 1,Evening School of the Isles\n';
  const { id } = (await district.post<{ id: string }>('/api/intakes?name=new.csv', Buffer.from(text))).body;
  expect((await district.get<IntakePreview>(`/api/intakes/${id}`)).body.outcome!.fresh).toBe(2);
  const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
  await district.job(`/api/plans/${planId}/apply`);
  const rows = (await district.get<{ rows: PersonRow[] }>('/api/people?q=oddsson')).body.rows;
  expect(rows.map(({ username }) => username).sort()).toEqual(['boddsson', 'eve.oddsson']);
  const account = await world.db.one<{ personId: string; secretSealed: string }>(
    "SELECT personId, secretSealed FROM accounts WHERE username = 'boddsson'",
  );
  const secret = unsealText(world.config.key, account!.personId, account!.secretSealed);
  expect(picturesOf(secret)).toHaveLength(3);
  // Tapped in order, or typed: it is the same secret.
  expect(
    (await world.send('POST', '/api/sign-in', { username: 'boddsson', secret: picturesOf(secret)!.join('-') })).status,
  ).toBe(200);
});
