/** Nobody has two seats of a product on one day, and of no license are more given than it has. */
import { say } from '#core/messages/say';
import { busiest, dayOf, type Span, spanOf } from '#core/licenses/index';
import { type Change, type Conflict, groupBy } from '#core/plan/index';
import { personLabel } from '#core/register/index';
import { inBatches } from '../../db/batches';
import { beforeCounting, idsOf, type Keeper, type KeeperOf, type Keeping, some } from './keeper';
import { joined, joinedOne } from '../../db/joined';

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
      joined(
        db,
        'seat',
        { fields: ['personId', 'licenseId'], of: { productId: 'license.productId' }, where: { id: ids } },
        tx,
      ),
    );
    const ofAll = (field: 'personId' | 'licenseId' | 'productId') => [...new Set(touched.map((row) => row[field]))];
    const products = ofAll('productId').sort();
    await beforeCounting(this.keeping, products);
    const read = (field: 'personId' | 'licenseId', ids: string[]) =>
      inBatches(ids, some, (values) =>
        joined(
          db,
          'seat',
          {
            fields: ['id', 'personId', 'licenseId', 'begins', 'ends'],
            of: {
              productId: 'license.productId',
              opens: 'license.begins',
              closes: 'license.ends',
              seats: 'license.seats',
            },
            where: { [field]: values },
            whose: { 'license.productId': products },
          },
          tx,
        ),
      );
    type Row = Awaited<ReturnType<typeof read>>[number];
    const mine = new Set(seats);
    /** One of the plan's own among them, when more than so many hold on one day. */
    const beyond = (rows: readonly Row[], most: number): { id: string; count: number } | null => {
      const spans = rows.map(({ id, opens, closes, ...row }) => ({ id, ...within(spanOf(row), opens, closes) }));
      const { count } = busiest(spans.filter(({ from, to }) => from < to));
      const one = count > most ? spans.find(({ id }) => mine.has(id)) : undefined;
      return one ? { id: one.id, count } : null;
    };
    const ofPerson = groupBy(await read('personId', ofAll('personId')), (row) => `${row.personId} ${row.productId}`);
    for (const rows of ofPerson.values()) {
      const second = beyond(rows, 1);
      if (second) conflict(await this.ofSeat(second.id, say('plan.alreadyHasASeatOf')));
    }
    for (const rows of groupBy(await read('licenseId', ofAll('licenseId')), (row) => row.licenseId).values()) {
      const most = rows[0]!.seats;
      const one = most === null ? null : beyond(rows, most);
      if (one) conflict(await this.ofSeat(one.id, say('plan.theLicenseHasSeatsAnd', { most, count: one.count })));
    }
  }

  private async ofSeat(id: string, message: string): Promise<Conflict> {
    const person = await joinedOne(
      this.keeping.db,
      'seat',
      {
        fields: [],
        of: {
          id: 'person.id',
          familyName: 'person.familyName',
          givenName: 'person.givenName',
          number: 'person.number',
        },
        where: { id },
      },
      this.keeping.tx,
    );
    return { key: `seat:${id}:create`, label: person ? personLabel(person) : '', message, subject: person?.id };
  }
}

export const seatKeepers: KeeperOf[] = [{ of: ['seat'], make: (keeping) => new Seats(keeping) }];
