/** Nobody is in a class that is over, and a student is in one homeroom. */
import { Op, type WhereOptions } from 'sequelize';
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../../db/batches';
import { idsOf, isTaken, type Keeper, type KeeperOf, type Keeping, named, some } from './keeper';
import { claimHomerooms, inTwoHomerooms } from './queries';
import { joined } from '../../db/joined';

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
      (classId) => ({ where: { classId } }),
      this.over,
      (name) => `would stay in ${name}, which ends; let both happen, or take the class out as well`,
    );
    const is = (name: string) =>
      `would be in ${name}, which is over; bring the class back first, or choose another one`;
    const { db, tx } = this.keeping;
    const closed = await inBatches([...this.joined], some, (ids) =>
      db.models.class.findAll({
        attributes: ['id'],
        where: { id: ids, ends: { [Op.ne]: null } },
        transaction: tx,
        raw: true,
      }),
    );
    await this.inside(
      (classId) => ({ where: { classId } }),
      closed.map(({ id }) => id),
      is,
    );
    await this.inside((id) => ({ where: { id }, whose: { 'class.ends': { [Op.ne]: null } } }), this.again, is);
  }

  private those({ where, whose = {} }: { where: WhereOptions; whose?: Record<string, unknown> }) {
    const { db, tx } = this.keeping;
    return joined(
      db,
      'enrollment',
      {
        fields: ['id'],
        of: {
          subject: 'person.id',
          familyName: 'person.familyName',
          givenName: 'person.givenName',
          number: 'person.number',
          name: 'class.name',
        },
        where: { ends: null, ...where },
        whose,
        order: ['class.name', 'person.familyName', 'person.givenName'],
        limit: named,
      },
      tx,
    );
  }

  private async inside(
    which: (some: string[]) => { where: WhereOptions; whose?: Record<string, unknown> },
    ids: readonly string[],
    message: (name: string) => string,
  ): Promise<void> {
    const { conflict } = this.keeping;
    for (let at = 0; at < ids.length && this.found === 0; at += some)
      for (const { id, subject, name, ...person } of await this.those(which(ids.slice(at, at + some)))) {
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
    if (anew) await db.models.claims.destroy({ where: { kind: 'homeroom', rowId: ids }, transaction: tx });
    if (!open) return;
    try {
      await claimHomerooms(db, tx, ids);
    } catch (error) {
      if (!isTaken(error)) throw error;
      const twice = await inTwoHomerooms(db, tx, ids);
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
