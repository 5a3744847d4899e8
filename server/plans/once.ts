/**
 * Keeps what holds once only, see core/entities (`openOnce`), within the transaction that applies or undoes a plan. Claims are
 * made and let go as rows are written; those of student numbers at the end, since a plan may exchange two numbers.
 * Seats are counted after a row of their product was written.
 */
import { busiest, dayOf, type Span, spanOf } from '#core/licenses/index';
import { type Change, type Conflict, groupBy, keyOf } from '#core/plan/index';
import { declarationOf, entityNames } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';

const some = 4000;

/** An error of the database about a key that is taken. */
const isTaken = (error: unknown): boolean => {
  const { errno, original } = error as { errno?: number; original?: { errno?: number } };
  return (original?.errno ?? errno) === 1062;
};

interface Named {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
}

/**
 * Writes a row for each of what is to be counted: whoever counts the same waits until this is through and then sees what
 * it did, also on another server.
 */
export async function beforeCounting(db: Db, tx: Tx, what: readonly string[]): Promise<void> {
  for (let at = 0; at < what.length; at += some) {
    const rows = what.slice(at, at + some);
    await db.update(
      `INSERT INTO counted (what, times) VALUES ${rows.map(() => '(?, 1)').join(', ')} ON DUPLICATE KEY UPDATE times = times + 1`,
      rows,
      tx,
    );
  }
}

/** A seat holds only while its license does. */
const within = ({ from, to }: Span, opens: string, closes: string): Span => ({
  from: Math.max(from, dayOf(opens)),
  to: Math.min(to, dayOf(closes)),
});

export class Once {
  /** Students whose number, status or role was written, with the operation. */
  private readonly people = new Map<string, Change['op']>();
  /** Seats that were given, prolonged or moved. */
  private readonly seats: string[] = [];

  constructor(
    private readonly db: Db,
    private readonly tx: Tx,
    private readonly conflict: (conflict: Conflict) => void,
  ) {}

  /** After changes of one kind were written. */
  async wrote(changes: readonly Change[]): Promise<void> {
    const [first] = changes;
    if (!first) return;
    const { entity, op, after } = first;
    const ids = changes.map(({ id }) => id);
    const sets = (...fields: string[]) => op === 'create' || fields.some((field) => field in after);
    if (entity === 'person' && (op === 'purge' || sets('number', 'status', 'role')))
      for (const id of ids) this.people.set(id, op);
    if (entity === 'enrollment')
      await this.homerooms(ids, { anew: op !== 'create', open: op !== 'end' && op !== 'purge' });
    if (entity === 'class' && op === 'update' && 'kind' in after) {
      const inside = await this.db.select<{ id: string }>(
        'SELECT id FROM enrollments WHERE ends IS NULL AND classId IN (:ids)',
        { ids },
        this.tx,
      );
      for (let at = 0; at < inside.length; at += some)
        await this.homerooms(
          inside.slice(at, at + some).map(({ id }) => id),
          { anew: true, open: true },
        );
    }
    if (entity === 'seat' && op !== 'purge' && sets('ends', 'begins', 'personId', 'licenseId')) this.seats.push(...ids);
  }

  /** `anew`: what they claimed is let go first. `open`: those that are open claim what they are. */
  private async homerooms(ids: string[], { anew, open }: { anew: boolean; open: boolean }): Promise<void> {
    const { db, tx } = this;
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
        this.conflict({
          key: `enrollment:${id}:create`,
          label: personLabel(person),
          message: `is in the homeroom ${name} already; take the student out of it first`,
          subject,
        });
    }
  }

  /** When all changes were written. */
  async end(): Promise<void> {
    await this.numbers();
    await this.countSeats();
  }

  private async numbers(): Promise<void> {
    const { db, tx, people } = this;
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
          this.conflict({
            key: `person:${id}:${people.get(id) ?? 'update'}`,
            label: personLabel(person),
            message: `number ${person.number} is another student’s, who is on record`,
            subject: id,
          });
      }
    }
  }

  /** Nobody has two seats of a product on one day, and of no license are more given than it has. */
  private async countSeats(): Promise<void> {
    const { db, tx, seats } = this;
    if (seats.length === 0) return;
    const touched = await inBatches(seats, some, (ids) =>
      db.select<{ personId: string; licenseId: string; productId: string }>(
        'SELECT s.personId, s.licenseId, l.productId FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE s.id IN (:ids)',
        { ids },
        tx,
      ),
    );
    const ofAll = (field: 'personId' | 'licenseId' | 'productId') => [...new Set(touched.map((row) => row[field]))];
    const products = ofAll('productId').sort();
    await beforeCounting(db, tx, products);
    type Row = {
      id: string;
      personId: string;
      licenseId: string;
      productId: string;
      begins: string;
      ends: string | null;
      opens: string;
      closes: string;
      seats: number | null;
    };
    const read = (where: string, ids: string[]) =>
      inBatches(ids, some, (values) =>
        db.select<Row>(
          `SELECT s.id, s.personId, s.licenseId, l.productId, s.begins, s.ends, l.begins AS opens, l.ends AS closes, l.seats
           FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE l.productId IN (:products) AND ${where} IN (:values)`,
          { products: ['-', ...products], values },
          tx,
        ),
      );
    const mine = new Set(seats);
    /** One of the plan's own among them, when more than so many hold on one day. */
    const beyond = (rows: readonly Row[], most: number): { id: string; count: number } | null => {
      const spans = rows.map(({ id, opens, closes, ...row }) => ({ id, ...within(spanOf(row), opens, closes) }));
      const { count } = busiest(spans.filter(({ from, to }) => from < to));
      const one = count > most ? spans.find(({ id }) => mine.has(id)) : undefined;
      return one ? { id: one.id, count } : null;
    };
    const ofPerson = groupBy(await read('s.personId', ofAll('personId')), (row) => `${row.personId} ${row.productId}`);
    for (const rows of ofPerson.values()) {
      const second = beyond(rows, 1);
      if (second)
        this.conflict(await this.ofSeat(second.id, 'has a seat of this product already on some of these days'));
    }
    for (const rows of groupBy(await read('s.licenseId', ofAll('licenseId')), (row) => row.licenseId).values()) {
      const most = rows[0]!.seats;
      const one = most === null ? null : beyond(rows, most);
      if (one)
        this.conflict(await this.ofSeat(one.id, `the license has ${most} seats, and ${one.count} would be given`));
    }
  }

  private async ofSeat(id: string, message: string): Promise<Conflict> {
    const person = await this.db.one<Named>(
      'SELECT p.id, p.familyName, p.givenName, p.number FROM seats s JOIN people p ON p.id = s.personId WHERE s.id = :id',
      { id },
      this.tx,
    );
    return { key: `seat:${id}:create`, label: person ? personLabel(person) : '', message, subject: person?.id };
  }
}

/** Which of the changes would open a second row where one is open: the key of the database said that one would. */
export async function clashes(db: Db, tx: Tx, key: string, changes: readonly Change[]): Promise<Conflict[]> {
  const entity = entityNames.find((name) => declarationOf(name)?.facts.openOnce?.key === key);
  const { table, facts } = declarationOf(entity ?? '') ?? {};
  const once = facts?.openOnce;
  if (!once) return [];
  const [lead] = once.fields as [string];
  const columns = ['id', ...once.fields].join(', ');
  type Row = Record<string, string>;
  const saying = (row: Partial<Record<string, unknown>>) => once.fields.map((field) => String(row[field])).join(' ');
  const rows = new Map(
    (
      await inBatches(
        changes.map(({ id }) => id),
        some,
        (ids) => db.select<Row>(`SELECT ${columns} FROM ${table} WHERE id IN (:ids)`, { ids }, tx),
      )
    ).map((row) => [row.id, row]),
  );
  const says = changes.map(({ id, after }) => ({ ...rows.get(id), ...after }));
  const open = groupBy(
    await inBatches([...new Set(says.map((row) => String(row[lead])))], some, (values) =>
      db.select<Row>(`SELECT ${columns} FROM ${table} WHERE ends IS NULL AND ${lead} IN (:values)`, { values }, tx),
    ),
    saying,
  );
  const seen = new Set<string>();
  return changes.flatMap((change, i) => {
    const what = saying(says[i]!);
    const other = (open.get(what) ?? []).find(({ id }) => id !== change.id);
    const isTwice = seen.has(what) || other !== undefined;
    seen.add(what);
    if (!isTwice) return [];
    const row = other && `${entity}:${other.id}`;
    return { key: keyOf(change), label: change.label, message: once.message, subject: change.subject, row };
  });
}
