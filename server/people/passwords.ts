/** New passwords of students: a plan by which what they had, and the cards that show it, no longer hold. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import type { Change } from '#core/plan/index';
import { makeSecret, recipeFor } from '#core/accounts/index';
import { ordered, personLabel, spokenName } from '#core/register/index';
import { sealText, secretBelow } from '../auth/seal';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';
import { district } from '../district';
import { Fault, notFound } from '../faults';
import { applyNow } from '../plans/now';
import type { NewPlan } from '../plans/store';
import type { Services, Viewer } from '../services';
import { findPerson } from './find';

/** Leaves out who has no password that Sheaf made. Throws Fault invalid where nobody is left. */
export async function planPasswords(
  db: Db,
  config: Config,
  personIds: readonly string[],
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan'>> {
  const { bands } = (await district(db))!.settings;
  const accounts = await joined(db, 'account', {
    fields: ['id', 'personId', 'secretSealed', 'secretVersion'],
    of: {
      grade: 'person.openAffiliation.grade',
      familyName: 'person.familyName',
      givenName: 'person.givenName',
      number: 'person.number',
    },
    where: { secretSealed: { [Op.ne]: null }, personId: [...personIds] },
  });
  const changes = accounts.map((account): Change => ({
    entity: 'account',
    id: account.id,
    op: 'update',
    label: personLabel(account),
    subject: account.personId,
    reason: say('people.newPasswordPrintedCardsAre'),
    before: { secretSealed: account.secretSealed, secretVersion: account.secretVersion },
    after: {
      secretSealed: sealText(config.key, account.personId, makeSecret(recipeFor(account.grade, bands), secretBelow)),
      secretVersion: account.secretVersion + 1,
    },
  }));
  if (changes.length === 0) throw new Fault('invalid', say('people.noneOfThemHasA'));
  return {
    kind: 'secrets',
    title: say('people.newPasswordsForPeople', { count: changes.length }),
    plan: ordered(changes),
  };
}

/** A new password for one student, at once. */
export async function newPassword(
  { db, config }: Services,
  viewer: Viewer,
  id: string,
): Promise<{ planId: string; sentence: string }> {
  const found = await findPerson(db, viewer, id);
  if (!found) throw notFound(say('api.thisPerson'));
  const made = await planPasswords(db, config, [id]);
  const place = await db.models.affiliation.findOne({
    attributes: ['schoolId'],
    where: { personId: id, ends: null },
    raw: true,
  });
  const title = say('people.newPasswordFor', { name: personLabel(found) });
  const { planId } = await applyNow(db, {
    ...made,
    title,
    schoolId: place?.schoolId ?? null,
    createdBy: viewer.personId,
  });
  return { planId, sentence: say('people.hasANewPasswordPrinted', { name: spokenName(found) }) };
}
