/**
 * Undoing new passwords: the ones from before would hold again, which whoever has an old card or list may know. So new
 * ones are made instead, unless the person who undoes says that the old ones shall hold.
 */
import { makeSecret, recipeFor } from '#core/accounts/index';
import type { Change } from '#core/plan/index';
import { sealText, secretBelow } from '../auth/seal';
import type { Config } from '../config';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';

export const changesPassword = ({ entity, op, after }: Change): boolean =>
  entity === 'account' && op === 'update' && 'secretSealed' in after;

/** The changes with a new password in the place of each that they would bring back. */
export async function withNewPasswords(
  db: Db,
  config: Config,
  changes: Change[],
  tx: Tx,
): Promise<{ changes: Change[]; count: number }> {
  const ids = changes.flatMap((change) => (changesPassword(change) ? change.subject : []));
  if (ids.length === 0) return { changes, count: 0 };
  const { bands } = (await district(db, tx))!.settings;
  const grades = new Map(
    (
      await inBatches(ids, 4000, (some) =>
        db.models.affiliation.findAll({
          attributes: ['personId', 'grade'],
          where: { ends: null, personId: [...some] },
          raw: true,
          transaction: tx,
        }),
      )
    ).map(({ personId, grade }) => [personId, grade]),
  );
  const fresh = changes.map((change): Change => {
    if (!changesPassword(change) || change.after.secretSealed === null) return change;
    const secret = makeSecret(recipeFor(grades.get(change.subject) ?? null, bands), secretBelow);
    return { ...change, after: { ...change.after, secretSealed: sealText(config.key, change.subject, secret) } };
  });
  return { changes: fresh, count: ids.length };
}
