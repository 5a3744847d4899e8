/** The trail of what people did, beside the ledger of what changed. */
import { nowIso } from './clock';
import type { Db, Tx } from './db/connection';
import { mint } from './plans/mint';

export async function audit(
  db: Db,
  entry: { by: string | null; action: string; about?: string | null; detail: string },
  tx?: Tx,
): Promise<void> {
  const { by: byPersonId, action, about: aboutPersonId = null, detail } = entry;
  await db.models.audit.create(
    { id: mint(), at: nowIso(), byPersonId, action, aboutPersonId, detail },
    { transaction: tx },
  );
}
