/**
 * The rows of a plan, written many at once: a hundred thousand enrollments in seconds, where models would write them one
 * by one or as one long text. `./run bench lists nights` measures them beside the bare rows.
 */
import type { Change, Fields, Value } from '#core/plan/index';
import type { Db, Tx } from '../db/connection';

/** What each field is set to: what only grows counts on. */
const setting = (fields: readonly string[], grows: readonly string[]): string =>
  fields.map((field) => `\`${field}\` = ${grows.includes(field) ? `\`${field}\` + 1` : '?'}`).join(', ');
const quoted = (fields: readonly string[]): string => fields.map((field) => `\`${field}\``).join(', ');

/** To which the transaction can go back when a statement wrote other rows than were meant. */
export const mark = (db: Db, tx: Tx, name: 'alike' | 'passing'): Promise<number> => db.run(`SAVEPOINT ${name}`, {}, tx);
export const backToMark = (db: Db, tx: Tx, name: 'alike' | 'passing'): Promise<number> =>
  db.run(`ROLLBACK TO SAVEPOINT ${name}`, {}, tx);

/** One statement for rows that go from the same to the same; how many there were. To the byte: collations take letters for the same that are not. */
export const updateAlike = (
  db: Db,
  tx: Tx,
  table: string,
  {
    set,
    check,
    grows,
    ids,
  }: { set: [string, Value][]; check: [string, Value][]; grows: readonly string[]; ids: readonly string[] },
): Promise<number> =>
  db.update(
    `UPDATE ${table} SET ${setting(
      set.map(([field]) => field),
      grows,
    )}
     WHERE id IN (${ids.map(() => '?').join(', ')})${check.map(([field]) => ` AND BINARY \`${field}\` <=> BINARY ?`).join('')}`,
    [
      ...set.flatMap(([field, value]) => (grows.includes(field) ? [] : [value])),
      ...ids,
      ...check.map(([, value]) => value),
    ],
    tx,
  );

/** Locked, so that what was checked of them holds until the end. */
export const lockedRows = (
  db: Db,
  tx: Tx,
  table: string,
  fields: readonly string[],
  ids: readonly string[],
): Promise<(Fields & { id: string })[]> =>
  db.rows(`SELECT ${quoted(fields)} FROM ${table} WHERE id IN (?) FOR UPDATE`, [ids], tx);

export const deleteRows = (db: Db, tx: Tx, table: string, ids: readonly string[]): Promise<number> =>
  db.update(`DELETE FROM ${table} WHERE id IN (?)`, [ids], tx);

/** Each row to what its change says. */
export const updateRows = (
  db: Db,
  tx: Tx,
  table: string,
  fields: readonly string[],
  grows: readonly string[],
  changes: readonly Change[],
): Promise<void> =>
  db.batch(
    `UPDATE ${table} SET ${setting(fields, grows)} WHERE id = ?`,
    changes.map(({ id, after }) => [
      ...fields.flatMap((field) => (grows.includes(field) ? [] : [after[field] ?? null])),
      id,
    ]),
    tx,
  );
