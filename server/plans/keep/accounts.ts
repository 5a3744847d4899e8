/** Usernames are given once for ever; who has a new password, another role or no account any more is signed out. */
import { say } from '#core/messages/say';
import { fieldsThat } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { endSessionsOf } from '../../auth/sessions';
import { nowIso } from '../../clock';
import { idsOf, type Keeper, type KeeperOf, type Keeping, named, some } from './keeper';
import { keepUsernames, othersUsernames } from './queries';

class Usernames implements Keeper {
  /** Accounts that were made. */
  private readonly made = new Map<string, Change>();

  constructor(private readonly keeping: Keeping) {}

  wrote(changes: readonly Change[]): void {
    if (changes[0]!.op === 'create') for (const change of changes) this.made.set(change.id, change);
  }

  /**
   * A username that was once given stays that person's, also when the plan is undone. Looked at in the end, since a plan
   * may change the number by which the person is known again. An undo brings back an account that had the username.
   */
  async end(): Promise<void> {
    const { db, tx, isUndo, conflict } = this.keeping;
    const all = [...this.made.keys()];
    for (let at = 0; at < all.length; at += some) {
      const ids = all.slice(at, at + some);
      // All were inserted, so none was given before.
      if ((await keepUsernames(db, tx, ids)) === ids.length || isUndo) continue;
      for (const { id, username } of await othersUsernames(db, tx, ids, named)) {
        const change = this.made.get(id);
        conflict({
          key: `account:${id}:create`,
          label: change?.label ?? username,
          message: say('plan.anotherPersonHadTheUsername', { username }),
          subject: change?.subject,
        });
      }
    }
  }
}

const ending = fieldsThat('account', ({ facts }) => facts.endsSessions);

class SignIns implements Keeper {
  constructor(private readonly keeping: Keeping) {}

  purging = (changes: readonly Change[]): Promise<void> => this.over(changes, true);

  async wrote(changes: readonly Change[]): Promise<void> {
    const [{ op, after }] = changes as [Change];
    if (op === 'create' || op === 'purge' || !ending.some((field) => field in after)) return;
    await this.over(changes, 'secretSealed' in after);
  }

  /**
   * `cards`: cards that were printed before open nothing for good, also where an undo brings an earlier password back.
   */
  private async over(changes: readonly Change[], cards: boolean): Promise<void> {
    const { db, tx } = this.keeping;
    const ids = idsOf(changes);
    await endSessionsOf(db, ids, tx);
    if (!cards) return;
    const personId = await this.holders(changes);
    await db.models.printedCards.update(
      { voidedAt: nowIso() },
      { where: { voidedAt: null, personId }, transaction: tx },
    );
  }

  /** The people with these accounts. A purge carries the whole row, so it is not read again. */
  private async holders(changes: readonly Change[]): Promise<string[]> {
    if (changes[0]!.op === 'purge') return changes.map(({ before }) => String(before.personId));
    const { db, tx } = this.keeping;
    const where = { id: idsOf(changes) };
    const rows = await db.models.account.findAll({ attributes: ['personId'], where, transaction: tx, raw: true });
    return rows.map(({ personId }) => personId);
  }
}

export const accountKeepers: KeeperOf[] = [
  { of: ['account'], make: (keeping) => new Usernames(keeping) },
  { of: ['account'], make: (keeping) => new SignIns(keeping) },
];
