/** A feed's bundle beside the one before it: what is compared, and what of the register it takes. */
import {
  type Keys,
  type News,
  newsOf,
  type RosterRows,
  rosterRows,
  type Snapshot,
  touchedBy,
} from '#core/intake/index';
import { type Bundle, nightOf } from '#core/oneroster/index';
import type { Db } from '../db/connection';
import { readSnapshot } from './snapshot';

export interface NightRead {
  news: News;
  roster: RosterRows;
  snapshot: Snapshot;
}

/**
 * Files are compared and taken apart while the database looks up. `again`: users (sourcedIds) who are looked at
 * though the feed says what it said; `classes`: only those.
 */
export async function readNight(
  db: Db,
  before: Bundle,
  bundle: Bundle,
  keys: Keys,
  { again = [], classes }: { again?: Iterable<string>; classes?: readonly string[] } = {},
): Promise<NightRead> {
  let news: News | null = null;
  let roster: RosterRows | null = null;
  const snapshot = await readSnapshot(db, true, {
    first: () => {
      const night = nightOf(before, bundle);
      for (const id of again) if (!night.gone.has(id)) night.users.add(id);
      news = newsOf(night, bundle, keys, classes);
    },
    chosen: (ids) => touchedBy(news!, bundle, keys, ids),
    meanwhile: () => (roster = rosterRows(bundle, classes, news!)),
  });
  return { snapshot, news: news!, roster: roster! };
}
