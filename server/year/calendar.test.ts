/** The district's days: its time zone, the days of its school year, and what they decide elsewhere. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { clock } from '../clock';
import type { CalendarSheet, RibbonTick } from '../contract';
import { mint } from '../plans/mint';
import { ServerProcess } from '../testing/process';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('calendar');
  district = await world.as('district');
});
afterAll(() => world.close());

const sheet = async () => (await district.get<CalendarSheet>('/api/school-year')).body;
const plan = (body: CalendarSheet, who = district) =>
  who.post<{ planId: string }>('/api/school-year/plan', { ...body });
const me = async () => (await district.get<{ zone: string; year: { begins: string } }>('/api/me')).body;
const ticks = async () => (await district.get<RibbonTick[]>('/api/ribbon')).body;

it('is changed by a plan that is looked at, applied and undone', async () => {
  const [before, was] = [await world.checksum(), await sheet()];
  const asked: CalendarSheet = {
    zone: 'Pacific/Auckland',
    year: { ...was.year, begins: '2026-08-27' },
    terms: [{ name: 'Fall', begins: '2026-08-27', ends: '2027-01-22' }],
    daysOff: [{ name: 'Winter break', begins: '2026-12-21', ends: '2027-01-01' }],
  };
  const { body } = await plan(asked);
  expect(await sheet()).toEqual(was);
  expect((await district.job(`/api/plans/${body.planId}/apply`)).status).toBe('done');
  expect(await sheet()).toEqual(asked);
  expect(await me()).toMatchObject({ zone: 'Pacific/Auckland', year: { begins: '2026-08-27' } });
  expect(await ticks()).toContainEqual({
    ...{ date: '2026-12-21', text: 'Winter break, until Jan 1, 2027', to: null, kind: 'year' },
  });
  // The middle of the term, not of a half of the year.
  expect((await district.get<{ day: string }>('/api/work/midway')).body.day).toBe('2026-11-09');
  expect((await district.job(`/api/plans/${body.planId}/undo`)).status).toBe('done');
  expect([await sheet(), await world.checksum()]).toEqual([was, before]);
});

it('is refused with every mistake named, and is the business of the district alone', async () => {
  const was = await sheet();
  const wrong = { ...was, zone: 'Mars/Olympus', terms: [{ name: '', begins: '2020-01-01', ends: '2020-02-01' }] };
  const { status, body } = await plan(wrong);
  expect([status, body.error]).toEqual([
    422,
    expect.stringMatching(/“Mars\/Olympus” is not a time zone.*row 1 has no name.*outside the school year/),
  ]);
  expect(await plan(was)).toMatchObject({
    status: 422,
    body: { error: expect.stringContaining('Nothing differs') },
  });
  for (const who of ['school', 'teacher'])
    expect((await plan({ ...was, zone: 'UTC' }, await world.as(who))).status).toBe(403);
});

it('a day is the district’s: what is done late in the evening stands under it', async () => {
  const { zone } = await sheet();
  expect(zone).toBe('America/New_York');
  const by = (await world.db.one<{ id: string }>(
    "SELECT personId AS id FROM accounts WHERE role = 'district' LIMIT 1",
  ))!.id;
  // Half past eleven in the evening, when it is the next day in UTC; and so in winter, an hour apart from summer.
  for (const at of ['2026-08-18T03:30:00.000Z', '2026-12-18T04:30:00.000Z', '2028-03-01T04:30:00.000Z'])
    await world.db.models.prints.create({
      ...{ id: mint(), byPersonId: by, at, paper: 'letter', what: 'late', cards: 7, sealedPdf: null, fetchUntil: at },
    });
  const printed = (await ticks()).filter(({ text }) => text === '7 cards printed').map(({ date }) => date);
  expect(printed.sort()).toEqual(['2026-08-17', '2026-12-17', '2028-02-29']);
  await world.db.run("UPDATE ledger SET at = '2026-11-02T04:30:00.000Z' ORDER BY version LIMIT 1");
  const entries = async (day: string) => (await district.get<unknown[]>(`/api/ledger?day=${day}`)).body.length;
  expect([await entries('2026-11-01'), await entries('2026-11-02')]).toEqual([1, 0]);
});

it('there is one clock, and moving it moves it for all by whole days of the district', async () => {
  await district.get('/api/me');
  try {
    // From summer into winter, over a change of clocks, and to a leap day.
    for (const day of ['2027-01-15', '2027-07-15', '2028-02-29']) {
      clock.moveTo(day);
      expect([clock.today(), clock.dayOf(new Date(clock.now()).toISOString())]).toEqual([day, day]);
      const [there, here] = [clock.now(), Date.now()].map((ms) =>
        new Date(ms).toLocaleTimeString('en-US', { timeZone: clock.zone, hour12: false }).slice(0, 4),
      );
      expect(there).toBe(here);
    }
  } finally {
    clock.moveTo(undefined);
  }
});

it('a server begins on the day that SHEAF_TODAY says', async () => {
  const server = await ServerProcess.start({ ...world.config, today: () => '2027-03-15' });
  try {
    const { username } = world.signIns.find(({ who }) => who.startsWith('district'))!;
    const remote = await server.signIn(username, demoPassword);
    expect(await remote.get('/api/me')).toMatchObject({ today: '2027-03-15', zone: 'America/New_York' });
  } finally {
    await server.stop();
  }
});
