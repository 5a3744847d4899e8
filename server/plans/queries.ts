/** The trail and the ledger as pages that narrow themselves by what the viewer may see, and what plans weigh. */
import { keysSaying } from '#core/messages/languages';
import { type Actor, theirWork } from '#core/authority/index';
import { addDays, startOf } from '#core/time/index';
import { clock } from '../clock';
import type { AuditRow, LedgerRow } from '../contract';
import { orNone } from '../db/batches';
import type { Db, Tx } from '../db/connection';

const personName = (alias: string): string => `CONCAT(${alias}.givenName, ' ', ${alias}.familyName)`;
/** So many lines of a page. */
const most = 200;

/** The trail, the latest first; what others did is the district's to see. */
export const trailRows = (db: Db, viewer: Actor, before: string | null): Promise<AuditRow[]> =>
  db.select(
    `SELECT au.id, au.at, ${personName('b')} AS \`by\`, au.action, ${personName('p')} AS about, au.detail FROM audit au LEFT JOIN people b ON b.id = au.byPersonId LEFT JOIN people p ON p.id = au.aboutPersonId
     WHERE ${theirWork(viewer, 'au.byPersonId')} ${before ? 'AND au.id < :before' : ''} ORDER BY au.id DESC LIMIT ${most}`,
    { before },
  );

/** Rooms of the catalog that have titles of plans. */
const titleRooms = [
  'api',
  'classes',
  'devices',
  'directory',
  'district',
  'jobs',
  'joining',
  'licenses',
  'materials',
  'people',
  'retention',
  'staff',
  'use',
  'year',
] as const;
export interface EntryRow extends Omit<LedgerRow, 'canUndo'> {
  /** Of the last entry of the same plan. */
  latest: number;
  version: number;
  status: string;
  kind: string;
}
/** The ledger before an entry, the latest first. Words are looked for in the entry, in classes and in people that the plan touched. */
export function entriesBefore(
  db: Db,
  viewer: Actor,
  { before, words, day }: { before: string | null; words: readonly string[]; day: string | null },
): Promise<EntryRow[]> {
  // Titles are kept by key, so words are looked for in what the keys say.
  const keys = words.length > 0 ? keysSaying(words.join(' '), titleRooms, 40) : [];
  const found = `(pl.title LIKE :like OR l.sentence LIKE :like ${keys.map((_, i) => `OR pl.title LIKE :key${i}`).join(' ')} OR l.planId IN (SELECT t.planId FROM touched_classes t JOIN classes c ON c.id = t.classId WHERE c.name LIKE :begins) OR l.planId IN (SELECT t.planId FROM touched t JOIN people w ON w.id = t.personId
    WHERE ${words.map((_, i) => `(w.familyName LIKE :w${i} OR w.givenName LIKE :w${i} OR w.number = :n${i})`).join(' AND ')}))`;
  const plain = (text: string) => text.replace(/[%_\\]/g, '\\$&');
  return db.select(
    `SELECT l.id, l.planId, pl.title, pl.kind, l.action, ${personName('p')} AS \`by\`, l.at, l.changes, l.sentence, pl.status,
       (SELECT MAX(o.version) FROM ledger o WHERE o.planId = l.planId) AS latest, l.version
     FROM ledger l JOIN plans pl ON pl.id = l.planId LEFT JOIN people p ON p.id = l.byPersonId
     WHERE ${theirWork(viewer, 'pl.createdBy')} ${before ? 'AND l.version < (SELECT version FROM ledger WHERE id = :before)' : ''} ${words.length > 0 ? `AND ${found}` : ''}
       ${day ? 'AND l.at >= :day AND l.at < :dayAfter' : ''} ORDER BY l.version DESC LIMIT ${most}`,
    {
      before,
      like: `%${plain(words.join(' '))}%`,
      ...Object.fromEntries(keys.map((key, i) => [`key${i}`, `%${key}%`])),
      begins: `${plain(words.join(' '))}%`,
      ...Object.fromEntries(
        words.flatMap((word, i) => [
          [`w${i}`, `${plain(word)}%`],
          [`n${i}`, word],
        ]),
      ),
      day: day ? startOf(clock.zone, day) : null,
      dayAfter: day ? startOf(clock.zone, addDays(day, 1)) : null,
    },
  );
}

/** How many are at each school: guards weigh a plan by it, of a hundred thousand places. */
export const sizesOf = (db: Db, tx: Tx | undefined): Promise<{ id: string; name: string; size: number }[]> =>
  db.select(
    `SELECT s.id, s.name, COUNT(a.id) AS size FROM schools s LEFT JOIN affiliations a ON a.schoolId = s.id AND a.ends IS NULL GROUP BY s.id, s.name`,
    {},
    tx,
  );

/** Plans about the subjects that were applied or undone since this one was made ('apply') or last carried out ('undo'), the latest first. */
export function sincePlans(
  db: Db,
  planId: string,
  action: 'apply' | 'undo',
  subjects: readonly string[],
  most: number,
): Promise<{ id: string; title: string; createdBy: string }[]> {
  const since =
    action === 'apply'
      ? '(SELECT version FROM plans WHERE id = :planId)'
      : '(SELECT MAX(version) FROM ledger WHERE planId = :planId)';
  return db.select(
    `SELECT p.id, p.title, p.createdBy FROM ledger l JOIN plans p ON p.id = l.planId
     WHERE l.version > ${since} AND p.id <> :planId AND (EXISTS (SELECT 1 FROM touched t WHERE t.planId = p.id AND t.personId IN (:subjects))
       OR EXISTS (SELECT 1 FROM touched_classes t WHERE t.planId = p.id AND t.classId IN (:subjects)))
     GROUP BY p.id, p.title, p.createdBy ORDER BY MAX(l.version) DESC LIMIT ${most}`,
    { planId, subjects: orNone(subjects) },
  );
}
