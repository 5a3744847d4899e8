/** The trail of what people did, beside the ledger of what changed. */
import { nowIso } from './clock';
import type { Db, Tx } from './db/connection';
import { mint } from './plans/mint';

export async function audit(
  db: Db,
  entry: { by: string | null; action: string; about?: string | null; detail: string },
  tx?: Tx,
): Promise<void> {
  await db.run(
    'INSERT INTO audit (id, at, byPersonId, action, aboutPersonId, detail) VALUES (:id, :at, :by, :action, :about, :detail)',
    { id: mint(), at: nowIso(), by: entry.by, action: entry.action, about: entry.about ?? null, detail: entry.detail },
    tx,
  );
}
