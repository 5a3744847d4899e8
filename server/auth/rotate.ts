/**
 * A new key in the place of the one before: everything that is sealed is sealed anew, a part at a time, each in a
 * transaction of its own. What was sealed by either key opens meanwhile, so the server may run, and what was interrupted
 * goes on where it stopped. The rows of plans are sealed anew with those that they set, so that undoing still fits.
 */
import { type Change, pack, unpack } from '#core/plan/index';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import type { Keys } from './keys';
import { isCurrent, macOf, resealed, unsealText } from './seal';

const atOnce = 2000;

const anew = (keys: Keys, bound: string, text: string): string | null => {
  const bytes = Buffer.from(text, 'base64');
  return isCurrent(keys, bytes) ? null : resealed(keys, bound, bytes).toString('base64');
};

/** Columns of sealed text: the table, its key, what each is bound to, and the column. */
const columns = [
  { table: 'accounts', id: 'id', bound: 'personId', column: 'secretSealed' },
  { table: 'join_codes', id: 'id', bound: 'id', column: 'codeSealed' },
  { table: 'feeds', id: 'id', bound: 'id', column: 'secretSealed' },
  { table: 'app_codes', id: 'accountId', bound: 'accountId', column: 'secretSealed' },
] as const;

/** Seals everything by the current key. `progress` is told rows looked at, of how many. Returns the rows changed. */
export async function rotate(
  db: Db,
  keys: Keys,
  progress: (done: number, total: number) => void = () => {},
): Promise<number> {
  await db.run('INSERT IGNORE INTO seal_keys (id, createdAt) VALUES (:id, :at)', { id: keys.current.id, at: nowIso() });
  const count = async (sql: string) => Number((await db.one<{ n: number }>(sql))?.n ?? 0);
  const chunks = "SELECT COUNT(*) AS n FROM plan_chunks WHERE kind LIKE 'account.%'";
  let total = await count(chunks);
  for (const { table } of columns) total += await count(`SELECT COUNT(*) AS n FROM ${table}`);
  let [done, changed] = [0, 0];
  for (const { table, id, bound, column } of columns)
    for (let after = ''; ;) {
      const rows = await db.select<{ id: string; bound: string; text: string | null }>(
        `SELECT ${id} AS id, ${bound} AS bound, ${column} AS text FROM ${table} WHERE ${id} > :after ORDER BY ${id} LIMIT ${atOnce}`,
        { after },
      );
      if (rows.length === 0) break;
      after = rows.at(-1)!.id;
      const fresh = rows.flatMap((row): unknown[][] => {
        const text = row.text === null ? null : anew(keys, row.bound, row.text);
        if (text === null) return [];
        // Somebody who had a new password meanwhile keeps that one.
        const set = table === 'join_codes' ? [text, macOf(keys, unsealText(keys, row.bound, text))] : [text];
        return [[...set, row.id, row.text]];
      });
      await db.transaction((tx) =>
        db.batch(
          `UPDATE ${table} SET ${column} = ?${table === 'join_codes' ? ', codeMac = ?' : ''} WHERE ${id} = ? AND ${column} = ?`,
          fresh,
          tx,
        ),
      );
      changed += fresh.length;
      progress((done += rows.length), total);
    }
  for (const { planId, seq } of await db.select<{ planId: string; seq: number }>(
    "SELECT planId, seq FROM plan_chunks WHERE kind LIKE 'account.%'",
  )) {
    const row = await db.one<{ body: string }>('SELECT body FROM plan_chunks WHERE planId = :planId AND seq = :seq', {
      planId,
      seq,
    });
    const changes = unpack(row!.body);
    const fresh = changes.map((change) => withSealed(keys, change));
    if (fresh.some((change, i) => change !== changes[i])) {
      await db.run('UPDATE plan_chunks SET body = :body WHERE planId = :planId AND seq = :seq', {
        body: pack(fresh),
        planId,
        seq,
      });
      changed++;
    }
    progress(++done, total);
  }
  // Prints hold for an hour; those by an earlier key are printed again.
  await db.run('UPDATE prints SET sealedPdf = NULL WHERE sealedPdf IS NOT NULL AND LEFT(HEX(sealedPdf), 18) <> :head', {
    head: `02${keys.current.id}`.toUpperCase(),
  });
  await db.run('UPDATE seal_keys SET retiredAt = :at WHERE id <> :id AND retiredAt IS NULL', {
    at: nowIso(),
    id: keys.current.id,
  });
  return changed;
}

function withSealed(keys: Keys, change: Change): Change {
  const { before, after, subject } = change;
  const bound =
    typeof after.personId === 'string'
      ? after.personId
      : typeof before.personId === 'string'
        ? before.personId
        : subject;
  const part = (fields: Change['before']) => {
    const text = fields.secretSealed;
    const fresh = typeof text === 'string' ? anew(keys, bound, text) : null;
    return fresh === null ? fields : { ...fields, secretSealed: fresh };
  };
  const [b, a] = [part(before), part(after)];
  return b === before && a === after ? change : { ...change, before: b, after: a };
}
