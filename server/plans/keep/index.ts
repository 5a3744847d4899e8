/**
 * The rules that hold whatever plans are applied in whatever order and through however many servers, each kept by one
 * that is told of the changes of its entities. What the database can say by a key of the row's own table, see
 * core/entities (`openOnce`), needs no keeper.
 */
import { accountKeepers } from './accounts';
import { classKeepers } from './classes';
import { coordinatorKeepers } from './coordinators';
import type { KeeperOf } from './keeper';
import { numberKeepers } from './numbers';
import { seatKeepers } from './seats';

export type { Keeper, KeeperOf, Keeping } from './keeper';
export const keepers: readonly KeeperOf[] = [
  ...accountKeepers,
  ...classKeepers,
  ...coordinatorKeepers,
  ...numberKeepers,
  ...seatKeepers,
];
