/** Errors of the database that say nothing of what was asked: somebody else was first, or it does not answer. */
import { ConnectionAcquireTimeoutError, ConnectionError } from 'sequelize';

interface Told {
  errno?: number;
  code?: string;
  fatal?: boolean;
}
const told = (error: unknown): Told => {
  const { original, parent } = error as { original?: Told; parent?: Told };
  return original ?? parent ?? (error as Told);
};

/**
 * Two transactions wait for each other (1213; a cluster says so as well when another of its servers was first), one
 * waited too long (1205), or a row changed since it was read (1020). The database has undone the transaction.
 */
const givenWay = new Set([1213, 1205, 1020]);
/**
 * It is ending (1053), has ended this query or connection (1317, 1927), takes no more of them (1040), is not ready as
 * one of its cluster (1047), or the connection broke: numbers of the driver, which begin at 45,000 (45009: closed by the
 * other side; 45013: no longer usable), and of the system.
 */
const gone = new Set([1053, 1317, 1927, 1040, 1047, 2006, 2013, 45009, 45012, 45013, 45028, 45044]);
const broken = /^(ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOTFOUND)/;

export const hasGivenWay = (error: unknown): boolean =>
  error instanceof GivenWay || givenWay.has(told(error).errno ?? 0);

/** The transaction was undone without a word. */
export class GivenWay extends Error {
  constructor() {
    super('The database gave this up for another transaction.');
  }
}

/** It took the database longer than a statement may take; what was done of it is undone. */
export const isTooLong = (error: unknown): boolean => told(error).errno === 1969;

/** All connections were in use for so long that waiting for one was given up. */
export const isCrowded = (error: unknown): boolean => error instanceof ConnectionAcquireTimeoutError;

/** The database does not answer, or not on this connection any more. */
export function isAway(error: unknown): boolean {
  if (isCrowded(error) || isTooLong(error)) return false;
  if (error instanceof ConnectionError) return true;
  if (typeof error !== 'object' || error === null) return false;
  const { errno, code, fatal } = told(error);
  return gone.has(errno ?? 0) || broken.test(code ?? '') || (fatal === true && !hasGivenWay(error));
}

/** It is there and takes nobody of this name or password (1044, 1045), has no such database (1049), or shows another certificate. */
export function isRefused(error: unknown): boolean {
  const { errno, code = '' } = told(error);
  return [1044, 1045, 1049].includes(errno ?? 0) || /CERT|SELF_SIGNED|UNABLE_TO_|ERR_TLS|ERR_SSL/.test(code);
}

/** The answer to a COMMIT was lost: whether it happened is known to the database alone. */
export class CommitLost extends Error {
  constructor(cause: unknown) {
    super('The database did not answer whether this was kept.', { cause });
  }
}
