/**
 * The district keeps a coordinator who can sign in, whatever plan is applied or undone: two plans at once cannot each
 * take away the other's last one.
 */
import type { Change } from '#core/plan/index';
import { beforeCounting, type Keeper, type KeeperOf, type Keeping } from './keeper';
import { countCoordinators } from './queries';

const decides = ['status', 'role', 'passwordHash', 'mergedInto'];

class Coordinators implements Keeper {
  /** Whether somebody's account or record was changed in a way that could end a coordinator. */
  private touched = false;

  constructor(private readonly keeping: Keeping) {}

  purging(): Promise<void> {
    this.touched = true;
    return Promise.resolve();
  }

  wrote(changes: readonly Change[]): void {
    const [{ op, after }] = changes as [Change];
    if (op !== 'create') this.touched ||= decides.some((field) => field in after);
  }

  async end(): Promise<void> {
    const { db, tx, conflict } = this.keeping;
    if (!this.touched) return;
    if (!(await db.models.district.findOne({ attributes: ['id'], transaction: tx }))) return;
    await beforeCounting(this.keeping, ['coordinators']);
    if ((await countCoordinators(db, tx)) === 0)
      conflict({
        key: 'account:district:update',
        label: 'The district',
        message: 'would be left without a coordinator who can sign in; give the role to somebody else first',
      });
  }
}

export const coordinatorKeepers: KeeperOf[] = [
  { of: ['account', 'person'], make: (keeping) => new Coordinators(keeping) },
];
