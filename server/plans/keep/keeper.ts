/** What keeps a rule of the register while a plan is applied or undone, within its transaction. */
import type { Change, Conflict } from '#core/plan/index';
import type { Entity } from '#core/entities/index';
import type { Db, Tx } from '../../db/connection';
import { countOnce } from './queries';

export interface Keeping {
  db: Db;
  tx: Tx;
  /** What was so before is brought back. */
  isUndo: boolean;
  /** Says what is in the way; nothing of the plan will be kept. */
  conflict: (conflict: Conflict) => void;
}

/** Changes come many of a kind at once: the same entity, operation and fields. */
export interface Keeper {
  /** Before rows are taken away. */
  purging?(changes: readonly Change[]): Promise<void>;
  /** After rows were written. */
  wrote?(changes: readonly Change[]): void | Promise<void>;
  /**
   * When the database refused them for a key that is taken. Whether it is worth another try: what was in the way lets go
   * of it until the end.
   */
  makeWay?(key: string, changes: readonly Change[]): Promise<boolean>;
  /** When everything was written and nothing was in the way so far: what only the whole can show. */
  end?(): Promise<void>;
}

export interface KeeperOf {
  /** Of changes of these it is told. */
  of: readonly Entity[];
  make: (keeping: Keeping) => Keeper;
}

/** So many ids are named in one statement. */
export const some = 4000;
/** So many conflicts of a rule are named. */
export const named = 200;

export const idsOf = (changes: readonly Change[]): string[] => changes.map(({ id }) => id);

interface KeyError {
  errno?: number;
  message?: string;
}
/** Of an error of the database about a key that is taken, the key; null: it is another error. */
export const takenKey = (error: unknown): string | null => {
  const { errno, message } = (error as { original?: KeyError }).original ?? (error as KeyError);
  if (errno !== 1062) return null;
  return message?.match(/Duplicate entry '.*' for key '(?:[^'.]+\.)?([^'.]+)'/s)?.[1] ?? '';
};
export const isTaken = (error: unknown): boolean => takenKey(error) !== null;

/**
 * Writes a row for each of what is to be counted: whoever counts the same waits until this is through and then sees what
 * it did, also on another server.
 */
export async function beforeCounting({ db, tx }: Pick<Keeping, 'db' | 'tx'>, what: readonly string[]): Promise<void> {
  for (let at = 0; at < what.length; at += some) await countOnce(db, tx, what.slice(at, at + some));
}
