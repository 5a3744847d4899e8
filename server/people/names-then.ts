/** What people and classes were called on a day: from what they are called now, back through what plans changed since. */
import { Op } from 'sequelize';
import { unpack } from '#core/plan/index';
import { addDays, startOf } from '#core/time/index';
import { clock } from '../clock';
import { inBatches } from '../db/batches';
import type { Db } from '../db/connection';

/** The fields that a list tells of a person or a class, and the plans that changed some. */
const told = {
  person: {
    fields: ['familyName', 'givenName'],
    plansOf: (db: Db, ids: string[]): Promise<{ planId: string }[]> =>
      db.models.touched.findAll({ attributes: ['planId'], where: { personId: ids }, raw: true }),
  },
  class: {
    fields: ['name'],
    plansOf: (db: Db, ids: string[]): Promise<{ planId: string }[]> =>
      db.models.touchedClasses.findAll({ attributes: ['planId'], where: { classId: ids }, raw: true }),
  },
} as const;
type Of = keyof typeof told;

/**
 * The same rows, called as at the end of the day (yyyy-mm-dd, of the district). A plan that was undone since is counted
 * back as it was counted there.
 */
export async function asNamedOn<
  R extends { id: string } & Record<(typeof told)[E]['fields'][number], string>,
  E extends Of,
>(db: Db, entity: E, rows: readonly R[], day: string): Promise<R[]> {
  const { plansOf } = told[entity];
  const fields: readonly string[] = told[entity].fields;
  const touched = await inBatches(
    rows.map(({ id }) => id),
    4000,
    (ids) => plansOf(db, ids),
  );
  const since = startOf(clock.zone, addDays(day, 1));
  const entries = await inBatches([...new Set(touched.map(({ planId }) => planId))], 4000, (planId) =>
    db.models.ledger.findAll({
      attributes: ['planId', 'action', 'version'],
      where: { planId, at: { [Op.gte]: since } },
      raw: true,
    }),
  );
  if (entries.length === 0) return [...rows];
  // What changes lie together is told by what they set, so only those that set names are read.
  const chunks = await db.models.planChunks.findAll({
    attributes: ['planId', 'body'],
    where: {
      planId: [...new Set(entries.map(({ planId }) => planId))],
      kind: { [Op.or]: fields.map((field) => ({ [Op.like]: `${entity}.update:%${field}%` })) },
    },
    raw: true,
  });
  const named = new Map(rows.map((row) => [row.id, { ...row } as R & Record<string, unknown>]));
  for (const { planId, action } of entries.sort((a, b) => Number(b.version) - Number(a.version)))
    for (const { body } of chunks.filter((chunk) => chunk.planId === planId))
      for (const change of unpack(body)) {
        const row = change.entity === entity ? named.get(change.id) : undefined;
        if (!row) continue;
        const was: Record<string, unknown> = action === 'undo' ? change.after : change.before;
        for (const field of fields) if (was[field] !== undefined) Object.assign(row, { [field]: was[field] });
      }
  return rows.map(({ id }) => named.get(id)!);
}
