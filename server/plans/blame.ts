/** Which plan made what is in the way of another one. */
import { type Actor, isTheirWork } from '#core/authority/index';
import { type Conflict, unpack } from '#core/plan/index';
import type { Db } from '../db/connection';
import { sincePlans } from './queries';

/** So many plans are looked through, the latest ones first. */
const mostPlans = 40;

/**
 * The conflicts, each with the latest plan since this one was made (`undo`: applied) that changed the row in the way,
 * where it is found and the viewer may see it.
 */
export async function blamed(
  db: Db,
  viewer: Actor,
  planId: string,
  action: 'apply' | 'undo',
  conflicts: readonly Conflict[],
): Promise<Conflict[]> {
  const subjects = [...new Set(conflicts.flatMap(({ subject }) => subject ?? []))];
  const plans = await sincePlans(db, planId, action, subjects, mostPlans);
  const wanted = new Set(conflicts.flatMap(({ row }) => row ?? []));
  const found = new Map<string, { planId: string; title: string }>();
  for (const { id, title, createdBy } of plans) {
    if (found.size === wanted.size) break;
    for (const { body } of await db.models.planChunks.findAll({
      attributes: ['body'],
      where: { planId: id },
      raw: true,
    }))
      for (const change of unpack(body)) {
        const row = `${change.entity}:${change.id}`;
        if (wanted.has(row) && !found.has(row) && isTheirWork(viewer, createdBy)) found.set(row, { planId: id, title });
      }
  }
  return conflicts.map((conflict) => {
    const by = conflict.row ? found.get(conflict.row) : undefined;
    return by ? { ...conflict, by } : conflict;
  });
}
