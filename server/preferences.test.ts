/** What each person set for themselves, and nobody else. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { usual } from '#core/preferences/index';
import type { Me } from './contract';
import { World } from './testing/world';

let world: World;
beforeAll(async () => void (world = await World.open('preferences')));
afterAll(() => world.close());

it('keeps what was set beside what was set before, for that person alone', async () => {
  const [one, other, child] = [await world.as('district'), await world.as('teacher'), await world.as('student')];
  const mine = async (who = one) => (await who.get<Me>('/api/me')).body.preferences;
  expect(await mine()).toEqual(usual);
  const people = { order: ['family', 'given'], hidden: ['school'], widths: { family: 140 } };
  const classes = { order: [], hidden: ['period'], widths: {} };
  await one.post('/api/me/preferences', { language: 'es-US', columns: { people } });
  await one.post('/api/me/preferences', { theme: 'night', columns: { classes } });
  expect(await mine()).toEqual({ ...usual, language: 'es-US', theme: 'night', columns: { people, classes } });
  expect(await mine(other)).toEqual(usual);
  expect((await child.post('/api/me/preferences', { language: 'es-US' })).status).toBe(200);
  expect((await one.post('/api/me/preferences', { language: 'tlh' })).status).toBe(422);
  await world.db.run(
    'UPDATE preferences SET body = \'{"theme":"neon"}\' WHERE personId = (SELECT personId FROM accounts WHERE username = :u)',
    { u: world.signIns.find(({ who }) => who.startsWith('district'))!.username },
  );
  expect(await mine()).toEqual(usual);
});
