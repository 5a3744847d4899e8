/**
 * The rows of a plan, written many at once: a hundred thousand enrollments in seconds, where models would write them one
 * by one or as one long text. `./run bench lists nights` measures them beside the bare rows.
 */
import type { Change, Fields, Value } from '#core/plan/index';
import type { Db, Tx } from '../db/connection';

const quoted = (fields: readonly string[], mark = ''): string =>
  fields.map((field) => `\`${field}\`${mark}`).join(', ');

/** To which the transaction can go back when a statement wrote other rows than were meant. */
export const mark = (db: Db, tx: Tx): Promise<number> => db.run('SAVEPOINT alike', {}, tx);
export const backToMark = (db: Db, tx: Tx): Promise<number> => db.run('ROLLBACK TO SAVEPOINT alike', {}, tx);

/** One statement for rows that go from the same to the same; how many there were. To the byte: collations take letters for the same that are not. */
export const updateAlike = (
  db: Db,
  tx: Tx,
  table: string,
  { set, check, ids }: { set: [string, Value][]; check: [string, Value][]; ids: readonly string[] },
): Promise<number> =>
  db.update(
    `UPDATE ${table} SET ${quoted(
      set.map(([field]) => field),
      ' = ?',
    )}
     WHERE id IN (${ids.map(() => '?').join(', ')})${check.map(([field]) => ` AND BINARY \`${field}\` <=> BINARY ?`).join('')}`,
    [...set.map(([, value]) => value), ...ids, ...check.map(([, value]) => value)],
    tx,
  );

/** Locked, so that what was checked of them holds until the end. */
export const lockedRows = (
  db: Db,
  tx: Tx,
  table: string,
  fields: readonly string[],
  ids: string[],
): Promise<(Fields & { id: string })[]> =>
  db.select(`SELECT ${quoted(fields)} FROM ${table} WHERE id IN (:ids) FOR UPDATE`, { ids }, tx);

/** Each row to what its change says. */
export const updateRows = (
  db: Db,
  tx: Tx,
  table: string,
  fields: readonly string[],
  changes: readonly Change[],
): Promise<void> =>
  db.batch(
    `UPDATE ${table} SET ${quoted(fields, ' = ?')} WHERE id = ?`,
    changes.map((change) => [...fields.map((field) => change.after[field] ?? null), change.id]),
    tx,
  );
