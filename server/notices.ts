/** What a person is told on Today without having asked: that somebody else did what concerns them. */
import { isoIn, nowIso } from './clock';
import type { Db } from './db/connection';
import { mint } from './plans/mint';

const shownDays = 14;

export const notify = async (db: Db, personId: string, words: string): Promise<void> => {
  await db.run('INSERT INTO notices (id, personId, at, words) VALUES (:id, :personId, :at, :words)', {
    id: mint(),
    personId,
    at: nowIso(),
    words: words.slice(0, 500),
  });
};

export const noticesOf = (db: Db, personId: string): Promise<{ id: string; words: string }[]> =>
  db.select('SELECT id, words FROM notices WHERE personId = :personId AND at > :since ORDER BY at DESC LIMIT 20', {
    personId,
    since: isoIn(-shownDays * 86_400_000),
  });
