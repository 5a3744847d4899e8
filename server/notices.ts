/** What a person is told on Today without having asked: that somebody else did what concerns them. */
import { Op } from 'sequelize';
import { isoIn, nowIso } from './clock';
import type { Db } from './db/connection';
import { mint } from './plans/mint';

const shownDays = 14;

export const notify = async (db: Db, personId: string, words: string): Promise<void> => {
  await db.models.notices.create({ id: mint(), personId, at: nowIso(), words });
};

export const noticesOf = (db: Db, personId: string): Promise<{ id: string; words: string }[]> =>
  db.models.notices.findAll({
    attributes: ['id', 'words'],
    where: { personId, at: { [Op.gt]: isoIn(-shownDays * 86_400_000) } },
    order: [['at', 'DESC']],
    limit: 20,
    raw: true,
  });
