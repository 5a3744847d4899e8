/** Who is signed out when plans change accounts. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Change, Fields } from '#core/plan/index';
import { updates } from '#core/register/steps';
import { World } from '../../testing/world';
import { carryOut } from '../apply';
import { mint } from '../mint';
import { applyNow } from '../now';
import { savePlan } from '../store';

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

it('gives a username again to whom it belonged by the number that the plan brings back', async () => {
  const { db } = world;
  const making = (entity: string, after: Fields, op: Change['op'] = 'create'): Change => {
    const id = mint();
    return { entity, id, op, before: {}, after, reason: 'test', label: entity, subject: id };
  };
  const carry = async (changes: Change[], action: 'apply' | 'undo' = 'apply', known?: string): Promise<string> => {
    const planId =
      known ??
      (await db.transaction((tx) =>
        savePlan(db, tx, {
          ...{ kind: 'test', title: 'test', createdBy: mint(), grant: { is: 'opening' } },
          plan: { changes },
        }),
      ));
    await carryOut(db, planId, action, null);
    return planId;
  };
  const student = (number: string) =>
    making('person', { role: 'student', number, givenName: 'G', familyName: number, status: 'active' });
  const account = (personId: string) =>
    making('account', { personId, username: 'handed-on', role: 'student', status: 'active', secretVersion: 1 });
  const without = ({ id, after }: Change): Change => ({
    ...{ entity: 'account', id, op: 'purge', after: {}, reason: 'test', label: 'account', subject: id },
    before: { ...after, secretSealed: null, passwordHash: null },
  });
  const numbered = ({ id }: Change, before: string, after: string): Change => ({
    ...{ entity: 'person', id, op: 'update', before: { number: before }, after: { number: after } },
    ...{ reason: 'test', label: 'person', subject: id },
  });
  // The number was one student's and became another's, and the username with it.
  const first = student('880001');
  const firsts = account(first.id);
  await carry([first, firsts]);
  await carry([without(firsts), numbered(first, '880001', '880002')]);
  const second = student('880001');
  const seconds = account(second.id);
  await carry([second, seconds]);
  const gone = await carry([numbered(second, '880001', '880003'), without(seconds)]);
  await carry([], 'undo', gone);
  expect(await db.models.account.count({ where: { id: seconds.id, personId: second.id } })).toBe(1);
  // Also where the number was changed by a plan of its own, before.
  await carry([numbered(second, '880001', '880003')]);
  const alone = await carry([without(seconds)]);
  await carry([], 'undo', alone);
  expect(await db.models.account.count({ where: { id: seconds.id, personId: second.id } })).toBe(1);
});
