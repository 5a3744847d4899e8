/**
 * The ledger, and the register's version: one row that each entry writes, last before its commit, so that a long plan
 * does not hold up a short one. Entries are in the order of their versions, whatever the clocks of their servers say,
 * and whoever has seen a version has seen all that came before it.
 */
import { literal } from 'sequelize';
import { nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';

export interface Entry {
  id: string;
  planId: string;
  action: 'apply' | 'undo' | 'purge';
  /** null: the program itself. */
  byPersonId: string | null;
  changes: number;
  sentence: string;
}

/** The next version, written within the transaction: others that want one wait until it is through. */
export async function nextVersion(db: Db, tx: Tx): Promise<number> {
  const { register } = db.models;
  await register.update({ version: literal('version + 1') as never }, { where: {}, transaction: tx });
  return (await register.findOne({ attributes: ['version'], transaction: tx, raw: true }))!.version;
}

export const versionNow = async (db: Db): Promise<number> =>
  (await db.models.register.findOne({ attributes: ['version'], raw: true }))!.version;

/** Writes an entry. Nothing that takes long comes after it in its transaction. */
export async function enter(db: Db, tx: Tx, entry: Entry): Promise<void> {
  const version = await nextVersion(db, tx);
  await db.models.ledger.create({ ...entry, at: nowIso(), version }, { transaction: tx });
}

/** What an entry says, where there is one of this id. */
export const entered = (db: Db, tx: Tx, id: string): Promise<Pick<Entry, 'changes' | 'sentence'> | null> =>
  db.models.ledger.findOne({ attributes: ['changes', 'sentence'], where: { id }, transaction: tx, raw: true });
