/** Merging two people on record, parting them again, and what people decided of pairs. */
import { say } from '#core/messages/say';
import { isTheirWork } from '#core/authority/index';
import { type Fields, type Held, type Plan } from '#core/plan/index';
import type { Entity } from '#core/entities/index';
import { fullName } from '#core/register/index';
import { type Choices, planMerge, planUnmerge, type WithAll } from '#core/register/merge';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { carryOut, PlanConflict } from '../plans/apply';
import { changesOf, planHead, savePlan } from '../plans/store';
import { joined, joinedOne } from '../db/joined';
import { findPerson } from './find';

async function withAll(db: Db, viewer: Viewer, id: string): Promise<WithAll> {
  const person = await findPerson(db, viewer, id);
  if (!person) throw notFound(say('api.thisPerson'));
  return {
    person,
    affiliations: await db.models.affiliation.findAll({ where: { personId: id }, raw: true }),
    enrollments: await joined(db, 'enrollment', { of: { kind: 'class.kind' }, where: { personId: id } }),
    memberships: await db.models.membership.findAll({ where: { personId: id }, raw: true }),
    contacts: await db.models.contact.findAll({ where: { personId: id }, raw: true }),
    seats: await joined(db, 'seat', { of: { productId: 'license.productId' }, where: { personId: id } }),
    loans: await db.models.loan.findAll({ where: { personId: id }, raw: true }),
    account: await db.models.account.findOne({ where: { personId: id }, raw: true }),
  };
}

/** What holds a merge until a person says why it is right. */
function guards({ person: a }: WithAll, { person: b }: WithAll): Held[] {
  const held: Held[] = [];
  const names = [fullName(a), fullName(b)];
  if (a.birthDate && b.birthDate && a.birthDate !== b.birthDate)
    held.push({
      code: 'birth-dates',
      message: say('people.theBirthDatesDifferAnd', { birthDate: a.birthDate, other: b.birthDate }),
      count: 1,
      names,
    });
  return held;
}

/** Merges at once, or, where a guard holds it, makes the plan for a person to release. */
export async function mergePeople(
  { db, config }: Services,
  viewer: Viewer,
  input: { keep: string; gone: string; choices?: Choices },
): Promise<{ planId: string; held: boolean; ledgerId: string | null }> {
  if (input.keep === input.gone) throw new Fault('malformed', say('people.theseAreTheSameRecord'));
  const [keep, gone] = [await withAll(db, viewer, input.keep), await withAll(db, viewer, input.gone)];
  if (keep.person.role !== gone.person.role) throw new Fault('conflict', say('people.aStudentCantBeMerged'));
  if (keep.person.status === 'merged' || gone.person.status === 'merged')
    throw new Fault('conflict', say('people.oneOfTheTwoWas'));
  const held = guards(keep, gone);
  const plan = planMerge(keep, gone, input.choices ?? {}, config.today());
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      kind: 'merge',
      title: say('people.mergeInto', { name: fullName(gone.person), into: fullName(keep.person) }),
      createdBy: viewer.personId,
      plan,
      held,
    }),
  );
  if (held.length > 0) return { planId, held: true, ledgerId: null };
  const { ledgerId } = await carryOut(db, planId, 'apply', viewer.personId).catch(async (error: unknown) => {
    await db.models.plans.update({ status: 'set-aside' }, { where: { id: planId, status: 'ready' } });
    throw error instanceof PlanConflict ? new Fault('conflict', error.message) : error;
  });
  await audit(db, { by: viewer.personId, action: 'merge', about: keep.person.id, detail: `with ${gone.person.id}` });
  return { planId, held: false, ledgerId };
}

/** Parts what a merge joined, whatever changed since; says what stays as it is now. */
export async function unmerge(
  { db }: Services,
  viewer: Viewer,
  mergePlanId: string,
): Promise<{ ledgerId: string; kept: string[] }> {
  const head = await planHead(db, mergePlanId);
  if (!head || !isTheirWork(viewer, head.createdBy)) throw notFound(say('api.thisPlan'));
  if (head.kind !== 'merge' || head.status !== 'applied')
    throw new Fault('conflict', say('people.onlyAnAppliedMergeCan'));
  const merge: Plan = { changes: [] };
  for await (const changes of changesOf(db, head, false)) merge.changes.push(...changes);
  const rows = new Map<string, Fields>();
  for (const { entity, id } of merge.changes) {
    const row = await joinedOne(db, entity as Entity, { where: { id } });
    if (row) rows.set(`${entity}:${id}`, { ...row });
  }
  const { plan, kept } = planUnmerge(merge, (entity, id) => rows.get(`${entity}:${id}`));
  try {
    const planId = await db.transaction((tx) =>
      savePlan(db, tx, {
        kind: 'unmerge',
        title: say('people.separation', { title: head.title }),
        createdBy: viewer.personId,
        plan,
      }),
    );
    const { ledgerId } = await carryOut(db, planId, 'apply', viewer.personId, {
      alsoWithin: async (tx) => {
        await db.models.plans.update({ status: 'undone' }, { where: { id: mergePlanId }, transaction: tx });
      },
    });
    return { ledgerId, kept: kept.map(({ label, message }) => `${label}: ${message}`) };
  } catch (error) {
    if (error instanceof PlanConflict) throw new Fault('conflict', say('people.tryAgain', { message: error.message }));
    throw error;
  }
}

/** Two on record are not the same: remembered, so that nobody is asked again; null takes it back. */
export async function decidePair(db: Db, viewer: Viewer, one: string, two: string, same: false | null): Promise<void> {
  await withAll(db, viewer, one);
  await withAll(db, viewer, two);
  const [a, b] = [one, two].sort() as [string, string];
  await decide(db, { rowKey: `person:${a}`, rowHash: a, personId: b, same, by: viewer.personId });
}

/** Writes, changes or takes back (null) a decision. */
export async function decide(
  db: Db,
  d: { rowKey: string; rowHash: string; personId: string; same: boolean | null; by: string },
): Promise<void> {
  if (d.same === null) await db.models.decisions.destroy({ where: { rowHash: d.rowHash, personId: d.personId } });
  else
    await db.models.decisions.upsert({
      ...{ rowHash: d.rowHash, personId: d.personId, rowKey: d.rowKey },
      ...{ same: d.same ? 1 : 0, byPersonId: d.by, at: nowIso() },
    });
}
