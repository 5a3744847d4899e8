/** Plans in chunks: paged by kind, taken out in parts, remembered to the letter. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Change, kindOf, keeper } from '#core/plan/index';
import { ordered } from '#core/register/index';
import { World } from '../testing/world';
import { changePage, changesOf, planHead, remaining, savePlan } from './store';
import { mint } from './mint';

let world: World;
beforeAll(async () => {
  world = await World.open('store', { demo: false });
});
afterAll(() => world.close());

const made = (n: number): Change[] =>
  Array.from({ length: n }, (_, i) => {
    const id = mint();
    const person: Change = {
      entity: 'person',
      id,
      op: 'create',
      before: {},
      after: { familyName: `Ünï ${i}`, note: null, grade: i },
      reason: 'new “in the file”',
      label: `L${i}`,
      subject: id,
      needs: [],
      origin: { source: 'a.csv', line: i + 2 },
    };
    const account: Change = {
      entity: 'account',
      id: mint(),
      op: 'create',
      before: {},
      after: { personId: id },
      reason: 'account',
      label: `L${i}`,
      subject: id,
      needs: [id],
      origin: { source: 'a.csv', line: i + 2 },
    };
    return [person, account];
  }).flat();

describe('a stored plan', () => {
  it('comes back whole and in order, forward and inverted', async () => {
    const plan = ordered(made(4500));
    const id = await world.db.transaction((tx) =>
      savePlan(world.db, tx, { kind: 'test', title: 't', createdBy: mint(), grant: { is: 'opening' }, plan }),
    );
    const head = (await planHead(world.db, id))!;
    const forward: Change[] = [];
    for await (const changes of changesOf(world.db, head, false)) forward.push(...changes);
    expect(forward).toEqual(plan.changes);
    const back: Change[] = [];
    for await (const changes of changesOf(world.db, head, true)) back.push(...changes);
    expect(back.map((c) => c.id)).toEqual(plan.changes.map((c) => c.id).reverse());
    expect(new Set(back.map((c) => c.op))).toEqual(new Set(['purge']));
    const chunks = await world.db.select<{ kind: string; changes: number }>(
      'SELECT kind, changes FROM plan_chunks WHERE planId = :id',
      { id },
    );
    expect(Math.max(...chunks.map((c) => c.changes))).toBeLessThanOrEqual(2000);
    expect(chunks.reduce((sum, c) => sum + c.changes, 0)).toBe(9000);
  });

  it('is paged by kind without a change lost or shown twice', async () => {
    const plan = ordered(made(2300));
    const id = await world.db.transaction((tx) =>
      savePlan(world.db, tx, { kind: 'test', title: 't', createdBy: mint(), grant: { is: 'opening' }, plan }),
    );
    const head = (await planHead(world.db, id))!;
    for (const kind of [null, 'person.create', 'account.create']) {
      for (const limit of [170, 2000, 5000]) {
        const seen: string[] = [];
        for (let offset: number | null = 0; offset !== null;) {
          const page: Awaited<ReturnType<typeof changePage>> = await changePage(world.db, head, kind, offset, limit);
          seen.push(...page.changes.map((c) => c.id));
          offset = page.next;
        }
        const expected = plan.changes.filter((c) => kind === null || kindOf(c) === kind).map((c) => c.id);
        expect([kind, limit, seen.length, new Set(seen).size]).toEqual([kind, limit, expected.length, expected.length]);
        expect(seen).toEqual(expected);
      }
    }
  });

  it('without what was taken out says what remains, as the core has it', async () => {
    const plan = ordered(made(60));
    const [first, second] = plan.changes as [Change, Change];
    const out = { subjects: [first.subject], keys: [`person:${second.id}:create`] };
    const id = await world.db.transaction((tx) =>
      savePlan(world.db, tx, { kind: 'test', title: 't', createdBy: mint(), grant: { is: 'opening' }, plan }),
    );
    await world.db.run('UPDATE plans SET takenOut = :out WHERE id = :id', { id, out: JSON.stringify(out) });
    const head = (await planHead(world.db, id))!;
    const rest = await remaining(world.db, head);
    // Two people, and with each the account that needs them.
    expect(rest.sentence).toEqual('Adds 58 people.');
    expect(rest.summary.total).toBe(plan.changes.filter(keeper(out)).length);
    const back: string[] = [];
    for await (const changes of changesOf(world.db, head, true)) back.push(...changes.map((c) => c.subject));
    expect(back).not.toContain(first.subject);
    expect(back).toHaveLength(116);
  });
});
