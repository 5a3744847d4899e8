/** Who acts: their role and the places that go with it, as they are at this moment. */
import { type Actor, roleOf } from '#core/authority/index';
import type { Db, Tx } from '../db/connection';
import { joinedOne } from '../db/joined';

/** The person with an open account; null where there is none, so that an ended role ends all that it gave. */
export async function actorOf(db: Db, personId: string, tx?: Tx): Promise<Actor | null> {
  const account = await joinedOne(
    db,
    'account',
    { fields: ['role'], where: { personId, status: 'active' }, whose: { 'person.status': 'active' } },
    tx,
  );
  return account && { personId, role: account.role, ...(await placesOf(db, personId, account.role, tx)) };
}

/** Schools and classes as far as the role's scope asks for them. */
export async function placesOf(
  db: Db,
  personId: string,
  role: string,
  tx?: Tx,
): Promise<{ schoolIds: string[]; classIds: string[] }> {
  const { scope } = roleOf(role);
  const schools =
    scope === 'schools' || scope === 'classes'
      ? await db.models.affiliation.findAll({
          attributes: ['schoolId'],
          where: { personId, ends: null },
          transaction: tx,
          raw: true,
        })
      : [];
  const classes =
    scope === 'classes'
      ? await db.models.enrollment.findAll({
          attributes: ['classId'],
          where: { personId, ends: null, role: 'teacher' },
          transaction: tx,
          raw: true,
        })
      : [];
  return { schoolIds: schools.map((s) => s.schoolId), classIds: classes.map((c) => c.classId) };
}

/** Sees all without being a person: for counts that the program makes by itself. */
export const everywhere = {
  ...{ accountId: '', sessionId: '', personId: '', role: 'district' },
  ...{ isFresh: false, way: '', mustAddFactor: false },
  ...{ schoolIds: [], classIds: [] },
};
