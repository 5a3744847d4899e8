/**
 * For a person's own history and a class's: whom a plan is about, and whose rows it changes. What stands here of a
 * plan that is not in the ledger says nothing.
 */
import type { Entity } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import type { Db, Tx } from '../db/connection';
import { insertMany } from '../db/bulk';

/** Entities that are never about one person. */
const impersonal: ReadonlySet<string> = new Set<Entity>([
  ...(['district', 'school', 'year', 'term', 'dayOff'] as const),
  ...(['class', 'group'] as const),
]);
/** Plans with more changes write it on a connection of its own, while the rows are written. */
const many = 10_000;

export class Whom {
  private readonly people = new Set<string>();
  private readonly classes = new Set<string>();
  private writing: Promise<void> = Promise.resolve();

  private constructor(
    private readonly db: Db,
    private readonly planId: string,
    private readonly tx: Tx,
    private readonly own: Tx | null,
  ) {}

  /** `tx`: in which the plan of `changes` changes is applied. */
  static async of(db: Db, tx: Tx, { id, changes }: { id: string; changes: number }): Promise<Whom> {
    const own = changes > many ? await db.begin() : null;
    return new Whom(db, id, own ?? tx, own);
  }

  /** Whether it is written beside the rows, on a connection of its own. */
  get apart(): boolean {
    return this.own !== null;
  }

  /** Whom these changes are about, as far as the ones before were not; written by the time that `end` is through. */
  async add(changes: Change[]): Promise<void> {
    const fresh = { people: [] as string[], classes: [] as string[] };
    const add = (kind: 'people' | 'classes', id: string) => {
      if (this[kind].has(id)) return;
      this[kind].add(id);
      fresh[kind].push(id);
    };
    const places: string[] = [];
    for (const { entity, id, subject, after, before } of changes) {
      const classId = after.classId ?? before.classId;
      if (entity === 'class') add('classes', id);
      else if (typeof classId === 'string') add('classes', classId);
      else if (entity === 'enrollment') places.push(id);
      if (impersonal.has(entity)) continue;
      add('people', entity === 'person' ? id : typeof after.personId === 'string' ? after.personId : subject);
      if (entity !== 'enrollment') add('people', subject);
    }
    this.writing = this.writing.then(async () => {
      // An enrollment that ends does not say of which class it is.
      if (places.length > 0)
        for (const { classId } of await this.db.models.enrollment.findAll({
          attributes: ['classId'],
          where: { id: places },
          group: ['classId'],
          transaction: this.tx,
          raw: true,
        }))
          add('classes', classId);
      const { db, planId, tx } = this;
      const people = fresh.people.map((personId) => ({ personId, planId }));
      await insertMany(db, 'touched', people, tx, 'skip');
      const classes = fresh.classes.map((classId) => ({ classId, planId }));
      await insertMany(db, 'touchedClasses', classes, tx, 'skip');
    });
    if (this.own) this.writing.catch(() => {});
    else await this.writing;
  }

  /** Call it when all changes are made. */
  async end(): Promise<void> {
    await this.writing;
    await this.own?.commit();
  }

  async giveUp(): Promise<void> {
    await this.writing.catch(() => {});
    await this.own?.rollback().catch(() => {});
  }
}
