/** Takes away what has had its time: sessions, attempts, links and challenges, and browsers not seen for half a year. */
import { literal, Op } from 'sequelize';
import { isoIn, nowIso } from '../clock';
import type { Db } from '../db/connection';

const dayMs = 86_400_000;

/** Returns the number of rows taken away. */
export async function sweep(db: Db): Promise<number> {
  const now = nowIso();
  const before = (days: number) => isoIn(-days * dayMs);
  const { sessions, attempts, challenges, passwordLinks, knownBrowsers, notices, drafts } = db.models;
  const upTo = (moment: string) => ({ [Op.lte]: moment });
  const gone = [
    await sessions.destroy({ where: { expiresAt: upTo(now) } }),
    // By the database's clock, by which they are counted.
    await attempts.destroy({ where: { until: { [Op.lte]: literal('UTC_TIMESTAMP()') } } }),
    await challenges.destroy({ where: { expiresAt: upTo(now) } }),
    await passwordLinks.destroy({ where: { expiresAt: upTo(before(30)) } }),
    await knownBrowsers.destroy({ where: { lastAt: upTo(before(180)) } }),
    await notices.destroy({ where: { at: upTo(before(30)) } }),
    await drafts.destroy({ where: { savedAt: upTo(before(365)) } }),
  ];
  return gone.reduce((sum, n) => sum + n, 0);
}
