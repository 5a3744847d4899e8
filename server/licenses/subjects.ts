/** Subjects as the district writes them, to be offered where one is named. */
import { Op } from 'sequelize';
import type { Db } from '../db/connection';

/** Of classes that run and of products; each once, by the alphabet. */
export async function knownSubjects(db: Db): Promise<string[]> {
  const named = { subject: { [Op.ne]: null } };
  const [classes, products] = await Promise.all([
    db.models.class.findAll({ attributes: ['subject'], where: { ...named, ends: null }, group: 'subject', raw: true }),
    db.models.product.findAll({ attributes: ['subject'], where: named, group: 'subject', raw: true }),
  ]);
  const all = [...classes, ...products].flatMap(({ subject }) => subject?.trim() || []);
  return [...new Set(all)].sort((a, b) => a.localeCompare(b, 'en'));
}
