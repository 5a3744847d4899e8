/** A student number is one active student's: a claim, made at the end, since a plan may exchange two numbers. */
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { idsOf, isTaken, type Keeper, type KeeperOf, type Keeping, some } from './keeper';
import { claimNumbers, numberedTwice } from './queries';

class Numbers implements Keeper {
  /** Students whose number, status or role was written, with the operation. */
  private readonly people = new Map<string, Change['op']>();

  constructor(private readonly keeping: Keeping) {}

  wrote(changes: readonly Change[]): void {
    const [{ op, after }] = changes as [Change];
    if (op === 'create' || op === 'purge' || ['number', 'status', 'role'].some((field) => field in after))
      for (const id of idsOf(changes)) this.people.set(id, op);
  }

  async end(): Promise<void> {
    const { people } = this;
    const { db, tx, conflict } = this.keeping;
    const ids = [...people.keys()];
    const known = ids.filter((id) => people.get(id) !== 'create');
    for (let at = 0; at < known.length; at += some)
      await db.models.claims.destroy({
        where: { kind: 'number', rowId: known.slice(at, at + some) },
        transaction: tx,
      });
    for (let at = 0; at < ids.length; at += some) {
      const part = ids.slice(at, at + some);
      try {
        await claimNumbers(db, tx, part);
      } catch (error) {
        if (!isTaken(error)) throw error;
        const twice = await numberedTwice(db, tx, part);
        for (const { id, ...person } of twice)
          conflict({
            key: `person:${id}:${people.get(id) ?? 'update'}`,
            label: personLabel(person),
            message: `number ${person.number} is another student’s, who is on record`,
            subject: id,
          });
      }
    }
  }
}

export const numberKeepers: KeeperOf[] = [{ of: ['person'], make: (keeping) => new Numbers(keeping) }];
