/** Nobody is in a class that is over, and a student is in one homeroom. */
import type { Person } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../../db/batches';
import { idsOf, isTaken, type Keeper, type KeeperOf, type Keeping, type Named, named, some } from './keeper';

class Inside implements Keeper {
  /** Classes that end. */
  private readonly over: string[] = [];
  /** Classes that somebody joins, and enrollments that go on again. */
  private readonly joined = new Set<string>();
  private readonly again: string[] = [];
  private found = 0;

  constructor(private readonly keeping: Keeping) {}

  wrote(changes: readonly Change[]): void {
    const [{ entity, op }] = changes as [Change];
    if (entity === 'class' && op === 'end') this.over.push(...idsOf(changes));
    if (entity === 'enrollment' && op === 'create')
      for (const change of changes) this.joined.add(String(change.after.classId));
    if (entity === 'enrollment' && op === 'restore') this.again.push(...idsOf(changes));
  }

  /** Who was taken out of the plan that ends their class, or joins a class that ended since the plan was made. */
  async end(): Promise<void> {
    await this.inside(
      'e.classId IN (:some)',
      this.over,
      (name) => `would stay in ${name}, which ends; let both happen, or take the class out as well`,
    );
    const is = (name: string) =>
      `would be in ${name}, which is over; bring the class back first, or choose another one`;
    const { db, tx } = this.keeping;
    const closed = await inBatches([...this.joined], some, (ids) =>
      db.select<{ id: string }>('SELECT id FROM classes WHERE ends IS NOT NULL AND id IN (:ids)', { ids }, tx),
    );
    await this.inside(
      'e.classId IN (:some)',
      closed.map(({ id }) => id),
      is,
    );
    await this.inside('e.id IN (:some) AND c.ends IS NOT NULL', this.again, is);
  }

  private async inside(which: string, ids: readonly string[], message: (name: string) => string): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    for (let at = 0; at < ids.length && this.found === 0; at += some)
      for (const { id, subject, name, ...person } of await db.select<
        Pick<Person, 'familyName' | 'givenName' | 'number'> & { id: string; subject: string; name: string }
      >(
        `SELECT e.id, p.id AS subject, c.name, p.familyName, p.givenName, p.number FROM enrollments e JOIN classes c ON c.id = e.classId JOIN people p ON p.id = e.personId
         WHERE ${which} AND e.ends IS NULL ORDER BY c.name, p.familyName, p.givenName LIMIT ${named}`,
        { some: ids.slice(at, at + some) },
        tx,
      )) {
        this.found++;
        conflict({ key: `enrollment:${id}:end`, label: personLabel(person), message: message(name), subject });
      }
  }
}

/** The homeroom of a student is a claim: made and let go as rows are written. */
class Homerooms implements Keeper {
  constructor(private readonly keeping: Keeping) {}

  async wrote(changes: readonly Change[]): Promise<void> {
    const [{ entity, op, after }] = changes as [Change];
    if (entity === 'enrollment') {
      await this.claim(idsOf(changes), { anew: op !== 'create', open: op !== 'end' && op !== 'purge' });
      return;
    }
    if (op !== 'update' || !('kind' in after)) return;
    const inside = await this.keeping.db.models.enrollment.findAll({
      attributes: ['id'],
      where: { ends: null, classId: idsOf(changes) },
      transaction: this.keeping.tx,
      raw: true,
    });
    for (let at = 0; at < inside.length; at += some)
      await this.claim(
        inside.slice(at, at + some).map(({ id }) => id),
        { anew: true, open: true },
      );
  }

  /** `anew`: what they claimed is let go first. `open`: those that are open claim what they are. */
  private async claim(ids: string[], { anew, open }: { anew: boolean; open: boolean }): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    if (anew) await db.run("DELETE FROM claims WHERE kind = 'homeroom' AND rowId IN (:ids)", { ids }, tx);
    if (!open) return;
    const rooms = `FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE e.role = 'student' AND e.ends IS NULL AND e.id IN (:ids)`;
    try {
      await db.run(
        `INSERT INTO claims (kind, what, personId, rowId) SELECT 'homeroom', e.personId, e.personId, e.id ${rooms}`,
        { ids },
        tx,
      );
    } catch (error) {
      if (!isTaken(error)) throw error;
      const twice = await db.select<Named & { name: string; personId: string }>(
        `SELECT MAX(o.id) AS id, o.personId, p.familyName, p.givenName, p.number, MIN(oc.name) AS name FROM enrollments o JOIN classes oc ON oc.id = o.classId AND oc.kind = 'homeroom'
           JOIN people p ON p.id = o.personId
         WHERE o.role = 'student' AND o.ends IS NULL AND o.personId IN (SELECT e.personId ${rooms}) GROUP BY o.personId HAVING COUNT(*) > 1`,
        { ids },
        tx,
      );
      for (const { id, name, personId: subject, ...person } of twice)
        conflict({
          key: `enrollment:${id}:create`,
          label: personLabel(person),
          message: `is in the homeroom ${name} already; take the student out of it first`,
          subject,
        });
    }
  }
}

export const classKeepers: KeeperOf[] = [
  { of: ['class', 'enrollment'], make: (keeping) => new Inside(keeping) },
  { of: ['class', 'enrollment'], make: (keeping) => new Homerooms(keeping) },
];
