/** A feed's bundle beside the one before it: what is compared, and what of the register it takes. */
import { type Keys, newsOf, placesOf, type RosterIntent, type RosterRows, rosterRows } from '#core/intake/index';
import { type Snapshot, touchedBy } from '#core/intake/index';
import { type Bundle, enrollmentsSince, usersSince } from '#core/oneroster/index';
import type { Db } from '../db/connection';
import { Part, readSnapshot } from './snapshot.queries';

export interface NightRead {
  night: NonNullable<RosterIntent['night']>;
  roster: RosterRows;
  snapshot: Snapshot;
}

/** Most of a large register costs more to read by name than the whole of it. */
const mostByName = 1 / 3;

/**
 * Files are compared and taken apart while the database looks up, each thing asked for as soon as it is known.
 * `again`: users (sourcedIds) who are looked at though the feed says what it said; `classes`: only those.
 */
export async function readNight(
  db: Db,
  before: Bundle,
  bundle: Bundle,
  keys: Keys,
  { again = [], classes }: { again?: Iterable<string>; classes?: readonly string[] } = {},
): Promise<NightRead> {
  const part = new Part(db);
  const everyone = part.everyone();
  await db.sent();
  const since = usersSince(before, bundle);
  for (const id of again) if (!since.gone.has(id)) since.users.add(id);
  const news = newsOf(since, bundle, keys, classes);
  const { ids, numbers } = touchedBy(news, bundle, keys);
  let byName = ids.length <= keys.people.size * mostByName;
  if (byName) {
    part.people(ids, numbers);
    await db.sent();
  }
  const enrollments = enrollmentsSince(before, bundle);
  if (byName) {
    part.places(placesOf(enrollments, bundle, keys, ids));
    await db.sent();
  }
  const roster = rosterRows(bundle, classes, news);
  const all = await everyone;
  const unnamed = all.filter((id) => !news.named.has(id));
  byName &&= ids.length + unnamed.length <= all.length * mostByName;
  if (byName) part.people(unnamed);
  const snapshot = byName ? await part.snapshot() : await readSnapshot(db, 'whole');
  return { snapshot, roster, night: { news, enrollments } };
}
