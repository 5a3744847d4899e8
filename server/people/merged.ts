/** Who was merged into whom. Use of products is in no plan, so it stays with the id it came for and is read for whom that is now. */
import { Op } from 'sequelize';
import type { Db } from '../db/connection';

/** By id of a record that was merged: whose it is now, however often that one was merged again. */
export async function mergedInto(db: Db): Promise<ReadonlyMap<string, string>> {
  const rows = await db.models.person.findAll({
    attributes: ['id', 'mergedInto'],
    where: { status: 'merged', mergedInto: { [Op.not]: null } },
    raw: true,
  });
  const into = new Map(rows.map((row) => [row.id, row.mergedInto]));
  const now = (id: string): string => (into.has(id) ? now(into.get(id)!) : id);
  return new Map(rows.map(({ id }) => [id, now(id)]));
}

/** SQL: ids of merged records (`id`) with each record that they went into (`at`). */
export const mergedSql = `WITH RECURSIVE gone AS (
  SELECT id, mergedInto AS at FROM people WHERE mergedInto IS NOT NULL
  UNION ALL SELECT g.id, p.mergedInto FROM gone g JOIN people p ON p.id = g.at WHERE p.mergedInto IS NOT NULL)`;
