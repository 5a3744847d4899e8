/** A preferred name, from the office's list to the card: taken in, shown, looked for, written out, printed. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Draft, IntakePreview, PeoplePage, PersonSheet } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('preferred');
  district = await world.as('district');
});
afterAll(() => world.close());

const found = async (q: string) => (await district.get<PeoplePage>(`/api/people?q=${q}`)).body.rows;
const text = async (path: string) => new TextDecoder().decode(await (await district.raw(path)).arrayBuffer());

it('comes with a list, and goes wherever the name goes', async () => {
  const school = (await world.db.models.school.findOne({ where: { code: 'LAN' }, raw: true }))!;
  const list = [
    'Last name,First name,Preferred first name,Student ID,Birth date,Grade,Class',
    'Quillon,Wilhelmina,Billie,990101,2017-02-03,3,3B',
    'Quillon,Aurelio,,990102,2017-04-03,3,3B',
  ].join('\n');
  const { id } = (await district.post<{ id: string }>('/api/intakes?name=list.csv', Buffer.from(list))).body;
  const { draft } = (await district.get<IntakePreview>(`/api/intakes/${id}`)).body;
  await district.post<Draft>(`/api/intakes/${id}/draft`, { ...draft, schoolId: school.id });
  const { planId } = (await district.job(`/api/intakes/${id}/plan`)).result!;
  expect((await district.apply(planId!)).status).toBe('done');

  const [billie] = await found('billie');
  expect([billie!.givenName, billie!.preferredName, billie!.familyName]).toEqual(['Wilhelmina', 'Billie', 'Quillon']);
  expect((await found('wilhelmina')).map(({ id: one }) => one)).toContain(billie!.id);
  const csv = await text('/api/exports/people?format=csv&q=Quillon');
  expect(csv).toContain('Quillon,Wilhelmina,Billie,');
  const bundle = unzipSync(
    new Uint8Array(await (await district.raw('/api/exports/people?format=roster')).arrayBuffer()),
  );
  const users = new TextDecoder().decode(bundle['users.csv']).split('\n');
  expect(users[0]).toContain('preferredGivenName');
  expect(users.find((line) => line.includes('990101'))).toContain('Billie');

  await district.post('/api/sheaf/gather', { ids: [billie!.id] });
  const print = await district.job('/api/prints', {
    ...{ sheaf: true, layout: 'cards', paper: 'A4', backs: null, stacked: true, skip: 0, language: null },
    ...{ large: false, voidOlder: false },
  });
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-preferred-'));
  const pdf = await district.raw(`/api/prints/${print.result!.printId}/pdf`);
  writeFileSync(join(folder, 'print.pdf'), Buffer.from(await pdf.arrayBuffer()));
  const words = execFileSync('pdftotext', ['print.pdf', '-'], { cwd: folder }).toString();
  expect(words).toContain('Billie');
  expect(words).not.toContain('Wilhelmina');

  // Called otherwise, the card is out of date; called so again, it holds.
  const card = async () => (await district.get<PersonSheet>(`/api/people/${billie!.id}`)).body.card?.current;
  expect(await card()).toBe(true);
  const edit = (before: string, after: string) =>
    district.post(`/api/people/${billie!.id}/edit`, { field: 'preferredName', before, after });
  expect((await edit('Billie', 'Minna')).status).toBe(200);
  expect([await card(), (await found('minna')).length, (await found('billie')).length]).toEqual([false, 1, 0]);
  expect((await edit('Minna', 'Billie')).status).toBe(200);
  expect(await card()).toBe(true);
  const long = await edit('Billie', 'B'.repeat(201));
  expect([long.status, long.body.error]).toEqual([
    422,
    expect.stringContaining('preferred name must have at most 200 characters'),
  ]);
});
