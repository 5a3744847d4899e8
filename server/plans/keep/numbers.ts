/**
 * A student number is one active student's: a key of the database says so. Within a plan it can pass from one to
 * another in whatever order: who is in the way lets go of it and holds it again at the end, or is then named.
 */
import { uniqueKeysOf } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { inBatches } from '../../db/batches';
import { clashes } from '../clashes';
import { idsOf, type Keeper, type KeeperOf, type Keeping, some, takenKey } from './keeper';
import { holdAgain, letGo } from './queries';

const numbered = uniqueKeysOf('person').find(({ fields }) => fields.includes('number'))!;

class Numbers implements Keeper {
  /** People whose number was freed for this plan, or written by it: all hold their numbers again at the end. */
  private readonly toHold = new Set<string>();
  /** What somebody made way for, and what wrote a number. */
  private readonly taking: Change[] = [];

  constructor(private readonly keeping: Keeping) {}

  async makeWay(key: string, changes: readonly Change[]): Promise<boolean> {
    if (key !== numbered.key) return false;
    const { db, tx } = this.keeping;
    const read = (where: Record<string, unknown>) =>
      db.models.person.findAll({ attributes: ['id', 'number'], where, lock: true, transaction: tx, raw: true });
    const own = changes[0]!.op === 'create' ? [] : await inBatches(idsOf(changes), some, (id) => read({ id }));
    const numbers = new Set([...own.map(({ number }) => number), ...changes.map(({ after }) => after.number ?? null)]);
    numbers.delete(null);
    const there = await inBatches([...numbers], some, (number) => read({ ...numbered.among, number }));
    const ids = there.map(({ id }) => id);
    await inBatches(ids, some, async (ids) => [await letGo(db, tx, ids)]);
    for (const id of ids) this.toHold.add(id);
    this.taking.push(...changes);
    return ids.length > 0;
  }

  wrote(changes: readonly Change[]): void {
    const [{ op, after }] = changes as [Change];
    if (op !== 'update' || !['number', 'status', 'role'].some((field) => field in after)) return;
    for (const { id } of changes) this.toHold.add(id);
    this.taking.push(...changes);
  }

  async end(): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    try {
      await inBatches([...this.toHold], some, async (ids) => [await holdAgain(db, tx, ids)]);
    } catch (error) {
      if (takenKey(error) !== numbered.key) throw error;
      const named = await clashes(db, tx, 'person', numbered.key, this.taking);
      if (named.length === 0) throw error;
      named.forEach(conflict);
    }
  }
}

export const numberKeepers: KeeperOf[] = [{ of: ['person'], make: (keeping) => new Numbers(keeping) }];
