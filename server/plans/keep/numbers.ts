/** A student number is one active student's: a claim, made at the end, since a plan may exchange two numbers. */
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { insertMany } from '../../db/bulk';
import { isTaken, type Keeper, type KeeperOf, type Keeping, some } from './keeper';
import { claimNumbers, numberedTwice } from './queries';

class Numbers implements Keeper {
  /** People whose number, status or role was written: the last operation, and the number of a new student. */
  private readonly people = new Map<string, { op: Change['op']; number: string | null }>();

  constructor(private readonly keeping: Keeping) {}

  wrote(changes: readonly Change[]): void {
    const [{ op, after }] = changes as [Change];
    if (op === 'create' || op === 'purge' || ['number', 'status', 'role'].some((field) => field in after))
      for (const { id, after } of changes) {
        const claims = op === 'create' && after.role === 'student' && after.status === 'active';
        this.people.set(id, { op, number: claims && typeof after.number === 'string' ? after.number : null });
      }
  }

  async end(): Promise<void> {
    const { db, tx } = this.keeping;
    const [known, kept, fresh]: [string[], string[], string[]] = [[], [], []];
    for (const [id, { op, number }] of this.people) {
      if (op !== 'create') known.push(id);
      else if (number !== null) fresh.push(id);
      if (op !== 'create' && op !== 'purge') kept.push(id);
    }
    await this.each(known, (rowId) => db.models.claims.destroy({ where: { kind: 'number', rowId }, transaction: tx }));
    await this.each(kept, (ids) => this.once(ids, () => claimNumbers(db, tx, ids)));
    // The number of a new student is known and is not looked up.
    await this.each(fresh, (ids) => {
      const claims = ids.map((id) => ({
        kind: 'number',
        what: this.people.get(id)!.number!,
        personId: id,
        rowId: id,
      }));
      return this.once(ids, () => insertMany(db, 'claims', claims, tx));
    });
  }

  private async each(ids: readonly string[], work: (ids: string[]) => Promise<unknown>): Promise<void> {
    for (let at = 0; at < ids.length; at += some) await work(ids.slice(at, at + some));
  }

  private async once(ids: string[], claim: () => Promise<unknown>): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    try {
      await claim();
    } catch (error) {
      if (!isTaken(error)) throw error;
      for (const { id, ...person } of await numberedTwice(db, tx, ids))
        conflict({
          key: `person:${id}:${this.people.get(id)?.op ?? 'update'}`,
          label: personLabel(person),
          message: `number ${person.number} is another student’s, who is on record`,
          subject: id,
        });
    }
  }
}

export const numberKeepers: KeeperOf[] = [{ of: ['person'], make: (keeping) => new Numbers(keeping) }];
