/** Everything about one person, for the record sheet; and a single edit, which is a plan of one change that applies at once. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { may, theirRows, withFields } from '#core/authority/index';
import { addDays } from '#core/time/index';
import type { Body, Mine, PersonSheet } from '../contract';
import { faceOf, holds } from '../cards/face';
import { notFound, Fault } from '../faults';
import type { Config } from '../config';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import { unsealText } from '../auth/seal';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { calledName, type Person } from '#core/entities/index';
import { spokenName, personLabel } from '#core/register/index';
import { updates } from '#core/register/steps';
import { siblingsOf } from './contacts';
import { lacks } from './roll';
import { seatsSheet } from './seats';
import { joined, joinedOne } from '../db/joined';
import { teachersOf } from '../classes/teachers';
import { findPerson } from './find';
import { type CardRow, cardsOf, classesOf, devicesOf, groupsOf, historyOf, placesOf } from './sheet.queries';

/** Throws Fault missing, or says that they left. */
export async function person(db: Db, viewer: Viewer, id: string): Promise<Person> {
  const found = await findPerson(db, viewer, id);
  if (found) return found;
  const left = await lastSeen(db, viewer, id);
  if (left)
    throw new Fault(
      'not-allowed',
      say('people.leftOnTheNewSchool', { name: left.name, school: left.school, on: left.on }),
    );
  throw notFound(say('api.thisPerson'));
}

/** Of a person who went from one of the viewer's schools to another: that they left, and when. No more. */
async function lastSeen(
  db: Db,
  viewer: Viewer,
  id: string,
): Promise<{ name: string; school: string; on: string } | null> {
  if (!may(viewer, 'field.history')) return null;
  const left = await joinedOne(db, 'affiliation', {
    fields: ['ends'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName', school: 'school.name' },
    where: { personId: id, ends: { [Op.ne]: null } },
    within: [theirRows(viewer, 'atSchool', 'affiliation')],
    order: ['-ends'],
  });
  return left && { name: spokenName(left), school: left.school, on: left.ends! };
}

export async function personSheet(
  services: Pick<Services, 'db' | 'roll'> & { config: Pick<Config, 'today'> },
  viewer: Viewer,
  id: string,
): Promise<PersonSheet> {
  const { db, roll } = services;
  const found = await person(db, viewer, id);
  const [places, classes, account, cards, signedIn, groups, contacts, devices, one, history] = await Promise.all([
    placesOf(db, id),
    classesOf(db, id),
    db.models.account.findOne({
      attributes: ['username', 'status', 'role', 'secretVersion'],
      where: { personId: id },
      raw: true,
    }),
    cardsOf(db, id),
    db.models.signIns.findOne({ attributes: ['firstAt', 'lastAt'], where: { personId: id }, raw: true }),
    groupsOf(db, id),
    may(viewer, 'field.guardian')
      ? db.models.contact.findAll({ where: { personId: id }, order: ['id'], raw: true })
      : [],
    devicesOf(db, id),
    roll.of(id),
    may(viewer, 'field.history') ? historyOf(db, id) : [],
  ]);
  return {
    person: withFields(viewer, found),
    places,
    classes,
    account,
    card: cardOf(found, classes, account, cards),
    signedIn,
    groups,
    contacts,
    ...(await seatsSheet(services, viewer, found, { places, classes, account }, one)),
    devices,
    lacksDevice: one !== null && lacks(one, 'device'),
    siblings: await siblingsOf(db, viewer, found, contacts),
    history,
  };
}

/** The latest print, and whether any card holds. */
function cardOf(
  one: Person,
  classes: PersonSheet['classes'],
  account: PersonSheet['account'],
  cards: CardRow[],
): PersonSheet['card'] {
  const [latest] = cards;
  if (!latest || !account) return null;
  const rooms = classes.filter(({ kind, ends, role }) => kind === 'homeroom' && ends === null && role === 'student');
  const className = rooms.map(({ name }) => name).sort()[0] ?? null;
  const { familyName } = one;
  const face = () => faceOf({ familyName, givenName: calledName(one), username: account.username, className });
  const current = cards.some((card) =>
    holds({ ...card, isVoid: card.isVoid === 1 }, { secretVersion: account.secretVersion, face }),
  );
  return { printedAt: latest.printedAt, current };
}

export async function editPerson(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/people/:id/edit'>,
) {
  const found = await person(db, viewer, id);
  if ((field === 'givenName' || field === 'familyName') && !after)
    throw new Fault('invalid', say('people.aNameCantBeEmpty'));
  const place = await db.models.affiliation.findOne({
    attributes: ['schoolId'],
    where: { personId: id, ends: null },
    raw: true,
  });
  const change = {
    ...updates('person', id, { [field]: before }, { [field]: after }, say('classes.editedByHand')),
    label: personLabel(found),
    subject: id,
  };
  const { ledgerId, planId } = await applyNow(db, {
    kind: 'edit',
    title: say('people.edit', { name: personLabel(found) }),
    schoolId: place?.schoolId ?? null,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { ledgerId, planId };
}

/** The secret in clear, recorded with who, whom, when and why. */
export async function reveal(
  { db, config }: Services,
  viewer: Viewer,
  id: string,
  why: string,
): Promise<{ secret: string }> {
  const found = await person(db, viewer, id);
  const account = await db.models.account.findOne({
    attributes: ['secretSealed'],
    where: { personId: id, role: 'student' },
    raw: true,
  });
  if (!account?.secretSealed)
    throw new Fault('invalid', say('people.hasNoPasswordThatCan', { name: personLabel(found) }));
  await audit(db, { by: viewer.personId, action: 'secret.reveal', about: id, detail: why });
  return { secret: unsealText(config.key, id, account.secretSealed) };
}

export async function mine({ db, config }: Pick<Services, 'db' | 'config'>, viewer: Viewer): Promise<Mine> {
  const { personId: id } = viewer;
  const self = await joinedOne(db, 'person', {
    fields: ['givenName', 'familyName'],
    of: {
      username: 'allAccount.username',
      school: 'openAffiliation.school.name',
      grade: 'openAffiliation.grade',
    },
    where: { id },
    must: ['allAccount'],
  });
  const classes = await joined(db, 'enrollment', {
    fields: ['classId', 'goalMinutes'],
    of: { name: 'class.name', ofClass: 'class.goalMinutes' },
    where: { personId: id, ends: null },
    whose: { 'class.ends': null },
    order: ['-class.kind', 'class.name'],
  });
  const teachers = await teachersOf(
    db,
    classes.map(({ classId }) => classId),
  );
  if (!self) throw notFound(say('api.thisAccount'));
  const goals = classes.map(({ goalMinutes, ofClass }) => goalMinutes ?? ofClass ?? null);
  const today = config.today();
  const seconds = goals.some((goal) => goal !== null)
    ? await db.models.useDays.sum('seconds', {
        where: { personId: id, day: { [Op.between]: [addDays(today, -6), today] } },
      })
    : 0;
  const spent = Math.round(Number(seconds ?? 0) / 60);
  return {
    ...self,
    classes: classes.map(({ classId, name }, i) => ({
      name,
      teachers: teachers.get(classId) ?? null,
      goal: goals[i] === null ? null : { minutes: goals[i]!, spent },
    })),
  };
}
