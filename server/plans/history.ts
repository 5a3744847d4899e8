/** The ledger as it is read. */
import type { Viewer } from '../services';
import type { LedgerFilter, LedgerRow } from '../contract';
import type { Db } from '../db/connection';
import { openingKind } from './apply';
import { entriesBefore } from './queries';

/**
 * The ledger's latest 200 entries before one of them; those whose plan the viewer made, or all for the district. Words
 * are searched in the plan's title and sentence, and in the names and numbers of the people it touched.
 */
export async function ledgerRows(
  db: Db,
  viewer: Viewer,
  { before, q, day }: LedgerFilter & { before?: string } = {},
): Promise<LedgerRow[]> {
  const words = (q ?? '')
    .trim()
    .split(/[\s,·]+/)
    .filter(Boolean)
    .slice(0, 4);
  const rows = await entriesBefore(db, viewer, { before: before ?? null, words, day: day ?? null });
  return rows.map(({ latest, version, status, kind, ...row }) => ({
    ...row,
    canUndo: row.action === 'apply' && status === 'applied' && latest === version && kind !== openingKind,
  }));
}
