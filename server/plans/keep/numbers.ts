/** A student number is one active student's: a claim, made at the end, since a plan may exchange two numbers. */
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { idsOf, isTaken, type Keeper, type KeeperOf, type Keeping, type Named, some } from './keeper';

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
      await db.run(
        "DELETE FROM claims WHERE kind = 'number' AND rowId IN (:ids)",
        { ids: known.slice(at, at + some) },
        tx,
      );
    for (let at = 0; at < ids.length; at += some) {
      const part = ids.slice(at, at + some);
      const numbered = "role = 'student' AND status = 'active' AND number IS NOT NULL";
      try {
        await db.run(
          `INSERT INTO claims (kind, what, personId, rowId) SELECT 'number', number, id, id FROM people WHERE id IN (:part) AND ${numbered}`,
          { part },
          tx,
        );
      } catch (error) {
        if (!isTaken(error)) throw error;
        const twice = await db.select<Named>(
          `SELECT MAX(p.id) AS id, MAX(p.familyName) AS familyName, MAX(p.givenName) AS givenName, p.number FROM people p
           WHERE p.${numbered.replaceAll(' AND ', ' AND p.')} AND p.number IN (SELECT number FROM people WHERE id IN (:part)) GROUP BY p.number HAVING COUNT(*) > 1`,
          { part },
          tx,
        );
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
