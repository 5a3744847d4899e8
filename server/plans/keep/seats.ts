/** Nobody has two seats of a product on one day, and of no license are more given than it has. */
import { busiest, dayOf, type Span, spanOf } from '#core/licenses/index';
import { type Change, type Conflict, groupBy } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../../db/batches';
import { beforeCounting, idsOf, type Keeper, type KeeperOf, type Keeping, type Named, some } from './keeper';

/** A seat holds only while its license does. */
const within = ({ from, to }: Span, opens: string, closes: string): Span => ({
  from: Math.max(from, dayOf(opens)),
  to: Math.min(to, dayOf(closes)),
});

class Seats implements Keeper {
  /** Seats that were given, prolonged or moved. */
  private readonly seats: string[] = [];

  constructor(private readonly keeping: Keeping) {}

  wrote(changes: readonly Change[]): void {
    const [{ op, after }] = changes as [Change];
    if (op === 'create' || ['ends', 'begins', 'personId', 'licenseId'].some((field) => field in after))
      this.seats.push(...idsOf(changes));
  }

  /** Nobody has two seats of a product on one day, and of no license are more given than it has. */
  async end(): Promise<void> {
    const { seats } = this;
    const { db, tx, conflict } = this.keeping;
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
    await beforeCounting(this.keeping, products);
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
      if (second) conflict(await this.ofSeat(second.id, 'has a seat of this product already on some of these days'));
    }
    for (const rows of groupBy(await read('s.licenseId', ofAll('licenseId')), (row) => row.licenseId).values()) {
      const most = rows[0]!.seats;
      const one = most === null ? null : beyond(rows, most);
      if (one) conflict(await this.ofSeat(one.id, `the license has ${most} seats, and ${one.count} would be given`));
    }
  }

  private async ofSeat(id: string, message: string): Promise<Conflict> {
    const person = await this.keeping.db.one<Named>(
      'SELECT p.id, p.familyName, p.givenName, p.number FROM seats s JOIN people p ON p.id = s.personId WHERE s.id = :id',
      { id },
      this.keeping.tx,
    );
    return { key: `seat:${id}:create`, label: person ? personLabel(person) : '', message, subject: person?.id };
  }
}

export const seatKeepers: KeeperOf[] = [{ of: ['seat'], make: (keeping) => new Seats(keeping) }];
