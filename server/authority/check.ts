/** Refuses what is not the actor's: whole plans where they are stored, applied, undone; acts on one person; parts of an import. */
import { say } from '#core/messages/say';
import {
  type Actor,
  ChangeCheck,
  type Grant,
  isEverywhere,
  may,
  mayActOn,
  placesThatCount,
  type Refused,
  type Right,
} from '#core/authority/index';
import type { Change } from '#core/plan/index';
import type { Db, Tx } from '../db/connection';
import { actorOf } from './actor';
import { factsFor } from './facts';

/** Not theirs to do. The message is for the person who tried. */
export class NotAllowed extends Error {
  constructor(readonly why: Refused) {
    super(messages[why]);
  }
}
const messages: Record<Refused, string> = {
  right: say('api.yourRoleDoesNotAllow'),
  elsewhere: say('accounts.someOfThesePeopleOr'),
  rank: say('accounts.thisPersonHasAHigher'),
};

/** Throws NotAllowed unless the actor has the right. */
export function must(actor: Pick<Actor, 'role'>, right: Right): void {
  if (!may(actor, right)) throw new NotAllowed('right');
}

/**
 * Throws NotAllowed where a change is not the person's to make, with the role that they have now. `chunks`: the plan's
 * changes in their order. Nothing of the plan may have been written yet.
 */
export async function mustMake(
  db: Db,
  personId: string,
  grant: Grant | null,
  chunks: AsyncIterable<Change[]> | Iterable<Change[]>,
  tx?: Tx,
): Promise<void> {
  if (grant?.is === 'opening') return;
  // A code lets in also a student who has no account yet.
  const actor =
    grant?.is === 'join' ? { personId, role: 'student', schoolIds: [], classIds: [] } : await actorOf(db, personId, tx);
  if (!actor) throw new NotAllowed('right');
  if (!grant) must(actor, 'plans');
  // All of the district is theirs; whom they outrank is everyone.
  if (!grant && isEverywhere(actor)) return;
  const all: Change[] = [];
  for await (const changes of chunks) all.push(...changes);
  const check = new ChangeCheck(actor, await factsFor(db, all, actor, tx), grant);
  for (const change of all) {
    const why = check.refusal(change);
    if (why) throw new NotAllowed(why);
  }
}

/** Throws NotAllowed where the person outranks the actor or has a wider scope, see mayActOn. */
export async function mustRank(db: Db, actor: Actor, personId: string, tx?: Tx): Promise<void> {
  const account = await db.models.account.findOne({
    attributes: ['role'],
    where: { personId },
    raw: true,
    transaction: tx,
  });
  const places = await db.models.affiliation.findAll({
    attributes: ['id', 'schoolId', 'begins', 'ends'],
    where: { personId },
    raw: true,
    transaction: tx,
  });
  const schoolIds = placesThatCount(places).map(({ schoolId }) => schoolId);
  if (!mayActOn(actor, { role: account?.role ?? null, schoolIds })) throw new NotAllowed('rank');
}
