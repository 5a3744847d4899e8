/**
 * The district keeps a coordinator who can sign in, whatever plan is applied or undone: two plans at once cannot each
 * take away the other's last one.
 */
import { say } from '#core/messages/say';
import type { Change } from '#core/plan/index';
import { inBatches } from '../../db/batches';
import { beforeCounting, idsOf, type Keeper, type KeeperOf, type Keeping, some } from './keeper';
import { countCoordinators } from './queries';

const decides = ['status', 'role', 'passwordHash', 'mergedInto'];
const wasCoordinator = ({ entity, before }: Change): boolean => entity === 'account' && before.role === 'district';

class Coordinators implements Keeper {
  /** `touched`: a coordinator may lose access. The changes alone do not say so for `accounts` and `people`. */
  private touched = false;
  private readonly accounts: string[] = [];
  private readonly people: string[] = [];

  constructor(private readonly keeping: Keeping) {}

  purging(changes: readonly Change[]): Promise<void> {
    this.touched ||= changes.some(wasCoordinator);
    return Promise.resolve();
  }

  wrote(changes: readonly Change[]): void {
    const [{ entity, op, after }] = changes as [Change];
    if (op === 'create' || !decides.some((field) => field in after)) return;
    this.touched ||= changes.some(wasCoordinator);
    (entity === 'account' ? this.accounts : this.people).push(...idsOf(changes));
  }

  async end(): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    if (!(this.touched || (await this.isOne('id', this.accounts)) || (await this.isOne('personId', this.people))))
      return;
    if (!(await db.models.district.findOne({ attributes: ['id'], transaction: tx }))) return;
    await beforeCounting(this.keeping, ['coordinators']);
    if ((await countCoordinators(db, tx)) === 0)
      conflict({
        key: 'account:district:update',
        label: say('plan.theDistrict'),
        message: say('plan.wouldHaveNoCoordinatorWho'),
      });
  }

  /** Whether one of these belongs to a coordinator. Counting all coordinators takes longer than most plans. */
  private async isOne(field: 'id' | 'personId', ids: readonly string[]): Promise<boolean> {
    const { db, tx } = this.keeping;
    const found = await inBatches(ids, some, (values) =>
      db.models.account.findAll({
        attributes: ['id'],
        where: { [field]: values, role: 'district' },
        limit: 1,
        transaction: tx,
        raw: true,
      }),
    );
    return found.length > 0;
  }
}

export const coordinatorKeepers: KeeperOf[] = [
  { of: ['account', 'person'], make: (keeping) => new Coordinators(keeping) },
];
