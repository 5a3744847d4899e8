/** Nobody is in a class that is over, and a student is in one homeroom. */
import { say } from '#core/messages/say';
import { Op, type WhereOptions } from 'sequelize';
import type { Change } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../../db/batches';
import { insertMany } from '../../db/bulk';
import { idsOf, isTaken, type Keeper, type KeeperOf, type Keeping, named, some } from './keeper';
import { forgetHomerooms, inEndedClasses, inTwoHomerooms, tellHomerooms } from './queries';
import { joined } from '../../db/joined';

/** The classes that a plan adds people to: whether each is a homeroom and whether it has ended. */
class JoinedClasses {
  private readonly known = new Map<string, { isHomeroom: boolean; isOver: boolean } | null>();

  constructor(private readonly keeping: Keeping) {}

  /** Call it after inserting the enrollments: their foreign keys lock the classes, so what is read here stays true. */
  async see(enrollments: readonly Change[]): Promise<void> {
    for (const { after } of enrollments) {
      const id = String(after.classId);
      if (!this.known.has(id)) this.known.set(id, null);
    }
    await this.lookUp();
  }

  private async lookUp(): Promise<void> {
    const { db, tx } = this.keeping;
    const unknown = [...this.known].flatMap(([id, one]) => (one ? [] : id));
    const attributes = ['id', 'kind', 'ends'];
    const rows = await inBatches(unknown, some, (ids) =>
      db.models.class.findAll({ attributes, where: { id: ids }, transaction: tx, raw: true }),
    );
    for (const { id, kind, ends } of rows)
      this.known.set(id, { isHomeroom: kind === 'homeroom', isOver: ends !== null });
  }

  /** The plan itself changed these classes, so they are looked up again. */
  wrote(classes: readonly Change[]): void {
    for (const { id } of classes) if (this.known.has(id)) this.known.set(id, null);
  }

  isHomeroom = ({ after }: Change): boolean => this.known.get(String(after.classId))?.isHomeroom ?? false;

  async over(): Promise<string[]> {
    await this.lookUp();
    return [...this.known].flatMap(([id, one]) => (one?.isOver ? id : []));
  }
}

class Inside implements Keeper {
  /** Classes that end. */
  private readonly ending: string[] = [];
  /** Enrollments that are restored. */
  private readonly again: string[] = [];
  private found = 0;

  constructor(
    private readonly keeping: Keeping,
    private readonly classes: JoinedClasses,
  ) {}

  wrote(changes: readonly Change[]): void {
    const [{ entity, op }] = changes as [Change];
    if (entity === 'class' && op === 'end') this.ending.push(...idsOf(changes));
    if (entity === 'enrollment' && op === 'restore') this.again.push(...idsOf(changes));
  }

  /** Who was taken out of the plan that ends their class, or joins a class that ended since the plan was made. */
  async end(): Promise<void> {
    await this.inside(
      (classId) => ({ where: { classId } }),
      this.ending,
      (name) => say('plan.wouldStayInWhichEnds', { name }),
    );
    const is = (name: string) => say('plan.wouldBeInWhichHas', { name });
    await this.inside((classId) => ({ where: { classId } }), await this.classes.over(), is);
    await this.inside(
      (id) => ({ where: { id }, whose: { 'class.ends': { [Op.ne]: null } } }),
      await this.againInEnded(),
      is,
    );
  }

  /** Of what is restored. Asked with nobody's name first: mostly there is none. */
  private againInEnded(): Promise<string[]> {
    const { db, tx } = this.keeping;
    return inBatches(this.again, some, (ids) => inEndedClasses(db, tx, ids)).then((rows) => rows.map(({ id }) => id));
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

/** The homeroom of each student is kept as a row of its own, made and taken away as enrollments are written. */
class Homerooms implements Keeper {
  constructor(
    private readonly keeping: Keeping,
    private readonly classes: JoinedClasses,
  ) {}

  async wrote(changes: readonly Change[]): Promise<void> {
    const [{ entity, op, after }] = changes as [Change];
    if (entity === 'enrollment') {
      if (op === 'create') await this.tellNew(changes);
      else if (op === 'purge') await this.forget(changes);
      // What had ended is told of nowhere, so there is nothing to take away. Looking costs more than all else here.
      else if (op === 'restore') await this.tellOpen(idsOf(changes));
      else await this.tell(idsOf(changes), op !== 'end');
      return;
    }
    this.classes.wrote(changes);
    if (op !== 'update' || !('kind' in after)) return;
    const inside = await this.keeping.db.models.enrollment.findAll({
      attributes: ['id'],
      where: { ends: null, classId: idsOf(changes) },
      transaction: this.keeping.tx,
      raw: true,
    });
    for (let at = 0; at < inside.length; at += some)
      await this.tell(
        inside.slice(at, at + some).map(({ id }) => id),
        true,
      );
  }

  /** A new enrollment says whose it is, so only those in homerooms cost a query. */
  private async tellNew(changes: readonly Change[]): Promise<void> {
    const { db, tx } = this.keeping;
    await this.classes.see(changes);
    const open = changes.filter(({ after }) => after.role === 'student' && (after.ends ?? null) === null);
    const inRooms = open.filter(this.classes.isHomeroom);
    const rows = inRooms.map(({ id: enrollmentId, after }) => ({ personId: String(after.personId), enrollmentId }));
    await this.once(idsOf(inRooms), () => insertMany(db, 'homerooms', rows, tx));
  }

  /** A purge carries the whole row, so whose it was is not looked up. */
  private async forget(purged: readonly Change[]): Promise<void> {
    const where = {
      personId: [...new Set(purged.map(({ before }) => String(before.personId)))],
      enrollmentId: idsOf(purged),
    };
    await this.keeping.db.models.homerooms.destroy({ where, transaction: this.keeping.tx });
  }

  /** Takes away what is kept of these enrollments; with `open`, keeps what holds now. */
  private async tell(ids: string[], open: boolean): Promise<void> {
    const { db, tx } = this.keeping;
    await forgetHomerooms(db, tx, ids);
    if (open) await this.tellOpen(ids);
  }

  private tellOpen(ids: string[]): Promise<void> {
    const { db, tx } = this.keeping;
    return this.once(ids, () => tellHomerooms(db, tx, ids));
  }

  private async once(ids: string[], write: () => Promise<unknown>): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    try {
      await write();
    } catch (error) {
      if (!isTaken(error)) throw error;
      const twice = await inTwoHomerooms(db, tx, ids);
      for (const { id, name, personId: subject, ...person } of twice)
        conflict({
          key: `enrollment:${id}:create`,
          label: personLabel(person),
          message: say('plan.isAlreadyInTheHomeroom', { name }),
          subject,
        });
    }
  }
}

export const classKeepers: KeeperOf[] = [
  {
    of: ['class', 'enrollment'],
    make: (keeping) => {
      const classes = new JoinedClasses(keeping);
      const [inside, homerooms] = [new Inside(keeping, classes), new Homerooms(keeping, classes)];
      return {
        wrote: async (changes) => {
          inside.wrote(changes);
          await homerooms.wrote(changes);
        },
        end: () => inside.end(),
      };
    },
  },
];
