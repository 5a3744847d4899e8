/** Who is signed out when plans change accounts. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Change } from '#core/plan/index';
import { updates } from '#core/register/steps';
import { World } from '../../testing/world';
import { applyNow } from '../now';

let world: World;
beforeAll(async () => void (world = await World.open('signed_out')));
afterAll(() => world.close());

it('signs out everybody whose account is put on hold, also where many are at once', async () => {
  const { account, sessions } = world.db.models;
  const pupils = await account.findAll({ where: { role: 'student', status: 'active' }, limit: 80, raw: true });
  expect(pupils).toHaveLength(80);
  const moment = '2026-08-17T08:00:00.000Z';
  await sessions.bulkCreate(
    pupils.map(({ id }) => ({ tokenHash: `h-${id}`, accountId: id, createdAt: moment, expiresAt: '2027-01-01' })),
  );
  const held = pupils.slice(0, 70);
  const me = (await (await world.as('district')).get<{ personId: string }>('/api/me')).body.personId;
  await applyNow(world.db, {
    ...{ kind: 'edit', title: 'On hold', createdBy: me },
    plan: {
      changes: held.map(({ id, personId }): Change => ({
        ...updates('account', id, { status: 'active' }, { status: 'frozen' }, ''),
        ...{ label: id, subject: personId },
      })),
    },
  });
  const left = await sessions.findAll({ where: { accountId: pupils.map(({ id }) => id) }, raw: true });
  expect(left.map(({ accountId }) => accountId).sort()).toEqual(
    pupils
      .slice(70)
      .map(({ id }) => id)
      .sort(),
  );
});
