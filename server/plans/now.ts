/** A plan that applies at once: a correction in a form, a class made by hand, a child who joins. */
import { say } from '#core/messages/say';
import { Fault } from '../faults';
import type { Held } from '#core/plan/index';
import type { Db, Tx } from '../db/connection';
import { type Applied, carryOut, PlanConflict } from './apply';
import { type NewPlan, savePlan } from './store';

/** The plan is stored, but a guard holds it: nothing was changed, and a person may release it. */
export class HeldPlan extends Fault {
  constructor(
    message: string,
    readonly planId: string,
  ) {
    super('conflict', say('plan.nothingHasChangedYetOpen', { message }));
  }
}

/**
 * Throws HeldPlan when a guard holds it, Fault conflict when somebody changed in between what it builds on; nothing is
 * changed then. `alsoWithin` as in carryOut.
 */
export async function applyNow(
  db: Db,
  plan: NewPlan,
  alsoWithin?: (tx: Tx, applied: Applied) => Promise<void>,
): Promise<Applied & { planId: string }> {
  const planId = await db.transaction((tx) => savePlan(db, tx, plan));
  const held = await db.models.plans.findOne({ attributes: ['held'], where: { id: planId }, raw: true });
  const [first] = JSON.parse(held!.held) as Held[];
  if (first) throw new HeldPlan(first.message, planId);
  try {
    return { planId, ...(await carryOut(db, planId, 'apply', plan.createdBy, { alsoWithin, grant: plan.grant })) };
  } catch (error) {
    // A plan that could not be is none: it must not wait in Today.
    await db.models.plans.update({ status: 'set-aside' }, { where: { id: planId, status: 'ready' } });
    if (error instanceof PlanConflict)
      throw new Fault('conflict', say('plan.thisChangedInTheMeantime', { message: error.conflicts[0]?.message }));
    throw error;
  }
}
