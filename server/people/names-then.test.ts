/** A list of a past day calls people as they were called then. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { addDays } from '#core/time/index';
import { clock } from '../clock';
import type { AsOfPage, AsOfTable } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('names-then');
  district = await world.as('district');
});
afterAll(() => world.close());

it('goes back through what was changed since, and through what was undone', async () => {
  const who = (await world.db.one<{ id: string; familyName: string; givenName: string }>(
    "SELECT p.id, p.familyName, p.givenName FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.role = 'student' AND p.status = 'active' ORDER BY p.id LIMIT 1",
  ))!;
  const today = clock.today();
  const on = async (day: string, q: string) =>
    (await district.get<AsOfPage>(`/api/ledger/as-of?day=${day}&q=${encodeURIComponent(q)}`)).body.rows.find(
      ({ id }) => id === who.id,
    );
  const edit = async (field: 'familyName' | 'givenName', before: string, after: string) => {
    const edited = await district.post<{ planId: string }>(`/api/people/${who.id}/edit`, { field, before, after });
    expect(edited.status).toBe(200);
    return edited.body.planId;
  };
  const names = (row: { familyName: string; givenName: string } | undefined) => row && [row.familyName, row.givenName];
  // A second name after a first, and a given name.
  await edit('familyName', who.familyName, 'Wrackham');
  await edit('familyName', 'Wrackham', 'Wrackline');
  const given = await edit('givenName', who.givenName, 'Zephyrine');
  const then = addDays(today, -1);
  expect(names(await on(today, 'Wrackline'))).toEqual(['Wrackline', 'Zephyrine']);
  expect(names(await on(then, 'Wrackline'))).toEqual([who.familyName, who.givenName]);
  // What was undone counts for neither day.
  expect((await district.job(`/api/plans/${given}/undo`)).error).toBeNull();
  expect(names(await on(today, 'Wrackline'))).toEqual(['Wrackline', who.givenName]);
  expect(names(await on(then, 'Wrackline'))).toEqual([who.familyName, who.givenName]);

  // A class that has another name now.
  const room = (await world.db.one<{ id: string; name: string }>(
    "SELECT id, name FROM classes WHERE ends IS NULL AND kind = 'homeroom' AND begins < CURDATE() ORDER BY id LIMIT 1",
  ))!;
  const renamed = await district.post(`/api/classes/${room.id}/edit`, {
    field: 'name',
    before: room.name,
    after: 'Puffins',
  });
  expect(renamed.status).toBe(200);
  const classOn = async (day: string) =>
    (await district.get<AsOfTable>(`/api/ledger/as-of/list?list=classes&day=${day}`)).body.rows.find(
      ({ id }) => id === room.id,
    )!.cells[0];
  expect([await classOn(today), await classOn(then)]).toEqual(['Puffins', room.name]);
});
