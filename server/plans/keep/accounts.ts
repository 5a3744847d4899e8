/** Usernames are given once for ever; who has a new password, another role or no account any more is signed out. */
import { fieldsThat } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { endSessionsOf } from '../../auth/sessions';
import { nowIso } from '../../clock';
import { idsOf, type Keeper, type KeeperOf, type Keeping, named } from './keeper';

class Usernames implements Keeper {
  constructor(private readonly keeping: Keeping) {}

  /** A username that was once given stays that person's, also when the plan is undone. */
  async wrote(changes: readonly Change[]): Promise<void> {
    if (changes[0]!.op !== 'create') return;
    const { db, tx, conflict } = this.keeping;
    const ids = idsOf(changes);
    const key = "COALESCE(p.number, CONCAT(p.familyName, '|', p.givenName, '|', COALESCE(p.birthDate, '')))";
    await db.run(
      `INSERT IGNORE INTO given_usernames (username, personKey, personId)
       SELECT a.username, ${key}, p.id FROM accounts a JOIN people p ON p.id = a.personId WHERE a.id IN (:ids)`,
      { ids },
      tx,
    );
    for (const { id, username } of await db.select<{ id: string; username: string }>(
      `SELECT a.id, a.username FROM accounts a JOIN people p ON p.id = a.personId JOIN given_usernames g ON g.username = a.username
       WHERE a.id IN (:ids) AND g.personKey <> ${key} AND NOT (g.personId <=> p.id) LIMIT ${named}`,
      { ids },
      tx,
    )) {
      const change = changes.find((one) => one.id === id);
      conflict({
        key: `account:${id}:create`,
        label: change?.label ?? username,
        message: `the username ${username} was somebody else’s before; plan this again`,
        subject: change?.subject,
      });
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
    if (cards)
      await db.run(
        'UPDATE printed_cards SET voidedAt = :at WHERE voidedAt IS NULL AND personId IN (SELECT personId FROM accounts WHERE id IN (:ids))',
        { at: nowIso(), ids },
        tx,
      );
  }
}

export const accountKeepers: KeeperOf[] = [
  { of: ['account'], make: (keeping) => new Usernames(keeping) },
  { of: ['account'], make: (keeping) => new SignIns(keeping) },
];
