/**
 * Staff: taken in by a coordinator with an account each, and their roles. How they get in is in invitations.
 */
import { say } from '#core/messages/say';
import { inScope, mayGiveRole } from '#core/authority/index';
import { UsernameGiver } from '#core/accounts/index';
import type { Change } from '#core/plan/index';
import type { AccountRole, Person } from '#core/entities/index';
import { fullName, ordered, personKey } from '#core/register/index';
import { creates, updates } from '#core/register/steps';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, StaffAlike } from '../contract';
import { givenUsernames } from '../people/given';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { newInvitation } from './invitations';
import { Op } from 'sequelize';
import { joined, joinedOne } from '../db/joined';
import { visible } from '../people/list';

export interface NewStaff {
  givenName: string;
  familyName: string;
  email: string;
  schoolId: string;
  role: Exclude<AccountRole, 'student'>;
}

/** Staff on record who could be the same: by address, or by both names. */
async function alike(db: Db, viewer: Viewer, one: NewStaff): Promise<StaffAlike[]> {
  const { email: address, familyName: family, givenName: given } = one;
  const rows = await joined(db, 'person', {
    fields: ['familyName', 'givenName', 'email'],
    of: { personId: 'id', school: 'openAffiliation.school.name', username: 'allAccount.username' },
    where: {
      ...{ role: 'staff', status: { [Op.ne]: 'merged' } },
      [Op.or]: [{ email: address }, { familyName: family, givenName: given }],
    },
  });
  const theirs = new Set(
    await visible(
      db,
      viewer,
      rows.map(({ personId }) => personId),
    ),
  );
  return rows.map(({ personId, familyName, givenName, email, school, username }) => ({
    personId,
    name: fullName({ familyName, givenName }),
    // Of staff elsewhere it is said that they are there, no more.
    school: theirs.has(personId) ? (school ?? say('joining.noSchool')) : say('intake.anotherSchool'),
    username: theirs.has(personId) ? username : null,
    why:
      email !== null && email.toLowerCase() === one.email.toLowerCase()
        ? say('staff.theSameAddress')
        : say('staff.theSameName'),
  }));
}

/**
 * Takes them in with an account each and an invitation. Where somebody alike is on record nothing is done unless
 * `anyway` says that it is another person; the answer names who is alike, by the line.
 */
export async function takeInStaff(
  services: Services,
  viewer: Viewer,
  { people, anyway }: Body<'POST /api/staff'>,
): Promise<{ planId: string | null; invitationIds: string[]; alike: { line: number; who: StaffAlike[] }[] }> {
  const { db, config } = services;
  for (const one of people) mayGive(viewer, one.role, one.schoolId);
  const addresses = people.map(({ email }) => email.toLowerCase());
  const twice = addresses.find((email, i) => addresses.indexOf(email) !== i);
  if (twice) throw new Fault('invalid', say('staff.isOnTwoLinesEach', { email: twice }));
  const found: { line: number; who: StaffAlike[] }[] = [];
  for (const [line, one] of people.entries()) {
    const who = anyway.includes(line) ? [] : await alike(db, viewer, one);
    if (who.length > 0) found.push({ line, who });
  }
  if (found.length > 0) return { planId: null, invitationIds: [], alike: found };
  const { plan, ids } = await staffPlan(db, config, people);
  const { planId } = await applyNow(db, {
    kind: 'staff',
    title:
      people.length === 1
        ? say('staff.newStaff2', { name: fullName(people[0]!) })
        : say('staff.newStaff3', { count: people.length }),
    schoolId: people[0]!.schoolId,
    createdBy: viewer.personId,
    plan,
  });
  const invitationIds: string[] = [];
  for (const [i, personId] of ids.entries())
    invitationIds.push(await newInvitation(db, viewer, personId, people[i]!.email));
  return { planId, invitationIds, alike: [] };
}

/** Only the district makes coordinators of the district; nobody gives what is not theirs. */
function mayGive(viewer: Viewer, role: AccountRole, schoolId: string): void {
  if (!inScope(viewer, schoolId)) throw new Fault('not-allowed', say('classes.thisSchoolIsNotYours'));
  if (!mayGiveRole(viewer, role)) throw new Fault('not-allowed', say('staff.onlyTheDistrictCanAdd'));
}

async function staffPlan(db: Db, config: Config, people: readonly NewStaff[]) {
  const { settings } = (await district(db))!;
  const given = await givenUsernames(db, config);
  // A number is what students have; staff are named by the pattern where it can, else by given initial and family name.
  const pattern = settings.usernamePattern.includes('{number') ? '{given:1}{family}' : settings.usernamePattern;
  const usernames = new UsernameGiver(pattern, given, given.held);
  const changes: Change[] = [];
  const ids = people.map(({ givenName, familyName, email, schoolId, role }) => {
    const id = mint();
    const person: Omit<Person, 'id'> = {
      role: 'staff',
      number: null,
      givenName,
      middleName: null,
      familyName,
      birthDate: null,
      email,
      guardianEmail: null,
      status: 'active',
      mergedInto: null,
    };
    const about = { label: fullName(person), subject: id };
    const username = usernames.give({ givenName, familyName, middleName: '', number: '' }, personKey(person));
    const reason = say('classes.addedByHand');
    changes.push(
      { ...creates('person', id, { ...person }, reason), ...about },
      {
        ...creates(
          'affiliation',
          mint(),
          { personId: id, schoolId, grade: null, begins: config.today(), ends: null },
          reason,
        ),
        ...about,
        needs: [id],
      },
      {
        ...creates(
          'account',
          mint(),
          {
            personId: id,
            username,
            role,
            status: 'active',
            secretSealed: null,
            secretVersion: 1,
            passwordHash: null,
          },
          reason,
        ),
        ...about,
        needs: [id],
      },
    );
    return id;
  });
  return { plan: ordered(changes), ids };
}

/** Gives another role. That the district keeps a coordinator is seen to where plans are applied. */
export async function giveRole(
  { db }: Services,
  viewer: Viewer,
  personId: string,
  role: NewStaff['role'],
): Promise<{ planId: string }> {
  const person = await joinedOne(db, 'account', {
    fields: ['role'],
    of: {
      accountId: 'id',
      familyName: 'person.familyName',
      givenName: 'person.givenName',
      schoolId: 'person.openAffiliation.schoolId',
    },
    where: { personId, role: { [Op.ne]: 'student' } },
    whose: { 'person.role': 'staff', 'person.status': 'active' },
  });
  if (!person) throw notFound(say('api.thisPerson'));
  if (person.role === role) throw new Fault('invalid', say('staff.theyAlreadyHaveThisRole'));
  const change: Change = {
    ...updates('account', person.accountId, { role: person.role }, { role }, say('staff.roleStudent', { role })),
    label: fullName(person),
    subject: personId,
  };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: say('staff.roleOfStudent', { name: fullName(person), role }),
    schoolId: person.schoolId,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId };
}
