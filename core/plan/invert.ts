/** The plan that undoes a plan: each change turned round, in the opposite order. */
import { say } from '#core/messages/say';
import type { Change, Op, Plan } from './change';

const inverse: Record<Op, Op> = {
  create: 'purge',
  purge: 'create',
  update: 'update',
  end: 'restore',
  restore: 'end',
};

export const invertChange = (change: Change): Change => ({
  ...change,
  op: inverse[change.op],
  before: change.after,
  after: change.before,
  reason: say('plan.undo2', { reason: change.reason }),
  needs: undefined,
});

export const invert = (plan: Plan): Plan => ({ changes: plan.changes.map(invertChange).reverse() });
