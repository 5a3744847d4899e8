/** The record sheet: contacts and the siblings who share them, groups, and a person's own history. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { PeoplePage, PersonSheet } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('sheet');
  district = await world.as('district');
});
afterAll(() => world.close());

const sheet = async (id: string, caller = district) => (await caller.get<PersonSheet>(`/api/people/${id}`)).body;
const contact = (id: string, more: object, caller = district) =>
  caller.post<{ planId: string }>(`/api/people/${id}/contacts`, {
    id: null,
    remove: false,
    name: null,
    email: null,
    phone: null,
    relation: null,
    ...more,
  });

it('finds siblings by a guardian’s address from a file and by a contact typed in, within what one may see', async () => {
  const twins = await world.db.select<{ id: string; givenName: string }>(
    "SELECT id, givenName FROM people WHERE familyName = 'Saltmarsh' AND birthDate = '2018-03-09'",
  );
  const [one, two] = twins as [{ id: string; givenName: string }, { id: string; givenName: string }];
  expect((await sheet(one.id)).siblings).toMatchObject([{ id: two.id, by: 'saltmarsh77@home.example' }]);
  const school = await world.as('school');
  const [far] = (await school.get<PeoplePage>('/api/people?limit=1&role=student')).body.rows;
  expect((await contact(far!.id, { email: 'no address' })).status).toBe(422);
  expect((await contact(far!.id, { name: 'Aunt Ida' })).status).toBe(422);
  expect((await contact(one.id, { email: 'x@home.example' }, school)).status).toBe(404);
  const { planId } = (
    await contact(far!.id, { name: 'Ida Saltmarsh', email: 'Saltmarsh77@home.example', relation: 'aunt' }, school)
  ).body;
  expect((await sheet(one.id)).siblings.map(({ id }) => id).sort()).toEqual([two.id, far!.id].sort());
  // The school sees its own only.
  expect((await sheet(far!.id, school)).siblings).toEqual([]);
  const [kept] = (await sheet(far!.id)).contacts;
  await contact(far!.id, { ...kept, id: kept!.id, phone: '555 0147' });
  expect((await sheet(far!.id)).contacts).toMatchObject([{ name: 'Ida Saltmarsh', phone: '555 0147' }]);
  expect((await district.job(`/api/plans/${planId}/undo`)).error!.message).toContain('no longer');
  await contact(far!.id, { id: kept!.id, remove: true });
  expect((await sheet(far!.id)).contacts).toEqual([]);
});

it('empties a field that may be empty, says so, and keeps names', async () => {
  const [one] = (await district.get<PeoplePage>('/api/people?limit=1&role=student&grade=03')).body.rows;
  const edit = (field: string, before: string | null, after: string | null) =>
    district.post<{ error?: string }>(`/api/people/${one!.id}/edit`, { field, before, after });
  const middleName = async () =>
    (await world.db.one<{ middleName: string | null }>('SELECT middleName FROM people WHERE id = :id', {
      id: one!.id,
    }))!.middleName;
  const was = await middleName();
  expect((await edit('middleName', was, 'Quill')).status).toBe(200);
  expect(await middleName()).toBe('Quill');
  expect((await edit('middleName', 'Quill', '  ')).status).toBe(200);
  expect(await middleName()).toBeNull();
  expect((await edit('familyName', one!.familyName, ' ')).body.error).toBe('A name can’t be empty.');
  if (was !== null) await edit('middleName', null, was);
});

it('tells what was done that was about a person, in order, with who did it', async () => {
  const [one] = (await district.get<PeoplePage>('/api/people?limit=1&role=student&grade=04')).body.rows;
  const edit = (before: string, after: string) =>
    district.post(`/api/people/${one!.id}/edit`, { field: 'familyName', before, after });
  await edit(one!.familyName, 'Second');
  await district.post('/api/sheaf/gather', { ids: [one!.id] });
  const hold = (await district.job('/api/sheaf/plan', { verb: 'hold' })).result!.planId!;
  await district.job(`/api/plans/${hold}/apply`);
  await district.job(`/api/plans/${hold}/undo`);
  const { history } = await sheet(one!.id);
  expect(history.map(({ title, action }) => [title.split(' ')[0], action])).toEqual([
    ['Suspend', 'undo'],
    ['Suspend', 'apply'],
    ['Edit', 'apply'],
    ['Opening', 'apply'],
  ]);
  expect(history[0]!.by).toBe('Ronke Adeyemi');
  const other = (await district.get<PeoplePage>('/api/people?limit=1&role=student&grade=05')).body.rows[0]!;
  expect((await sheet(other.id)).history.map(({ title }) => title)).toEqual(['Opening register']);
});
