/** Everything about one person, for the record sheet; and a single edit, which is a plan of one change that applies at once. */
import { may, theirRows, withFields } from '#core/authority/index';
import type { Body, Mine, PersonSheet } from '../contract';
import { faceOf, holds } from '../cards/face';
import { notFound, Fault } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import { unsealText } from '../auth/seal';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { calledName, type Person } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { updates } from '#core/register/steps';
import { productLabel } from '../licenses/state';
import { siblingsOf } from './contacts';
import { lacks, type Roll } from './roll';

export async function person(db: Db, viewer: Viewer, id: string): Promise<Person> {
  const scope = theirRows(viewer, 'people', 'p');
  const found = await db.one<Person>(`SELECT p.* FROM people p WHERE p.id = :id AND ${scope}`, {
    id,
  });
  if (found) return found;
  const left = await lastSeen(db, viewer, id);
  if (left)
    throw new Fault(
      'not-allowed',
      `${left.name} left ${left.school} on ${left.on}. Their present school has the record.`,
    );
  throw notFound('This person');
}

/** Of a person who went from one of the viewer's schools to another: that they left, and when. No more. */
async function lastSeen(
  db: Db,
  viewer: Viewer,
  id: string,
): Promise<{ name: string; school: string; on: string } | null> {
  if (!may(viewer, 'field.history')) return null;
  return db.one<{ name: string; school: string; on: string }>(
    `SELECT CONCAT(p.givenName, ' ', p.familyName) AS name, s.name AS school, a.ends AS \`on\` FROM affiliations a JOIN people p ON p.id = a.personId JOIN schools s ON s.id = a.schoolId
     WHERE a.personId = :id AND a.ends IS NOT NULL AND ${theirRows(viewer, 'atSchool', 'a')} ORDER BY a.ends DESC LIMIT 1`,
    { id },
  );
}

export async function personSheet(roll: Roll, viewer: Viewer, id: string): Promise<PersonSheet> {
  const { db } = roll;
  const found = await person(db, viewer, id);
  const [places, classes, account, cards, signedIn, groups, contacts, seats, devices, one, history] = await Promise.all(
    [
      db.select<PersonSheet['places'][number]>(
        'SELECT a.*, s.name AS school FROM affiliations a JOIN schools s ON s.id = a.schoolId WHERE a.personId = :id ORDER BY a.begins DESC',
        { id },
      ),
      db.select<PersonSheet['classes'][number]>(
        `SELECT e.id, e.classId, c.name, c.kind, s.name AS school, e.role, e.begins, e.ends FROM enrollments e JOIN classes c ON c.id = e.classId JOIN schools s ON s.id = c.schoolId
       WHERE e.personId = :id ORDER BY e.ends IS NOT NULL, c.kind DESC, c.name`,
        { id },
      ),
      db.models.account.findOne({
        attributes: ['username', 'status', 'role', 'secretVersion'],
        where: { personId: id },
        raw: true,
      }),
      db.select<{ printedAt: string; isVoid: number; secretVersion: number; face: string | null }>(
        'SELECT r.at AS printedAt, c.voidedAt IS NOT NULL AS isVoid, c.secretVersion, c.face FROM printed_cards c JOIN prints r ON r.id = c.printId WHERE c.personId = :id ORDER BY r.at DESC LIMIT 50',
        { id },
      ),
      db.models.signIns.findOne({ attributes: ['firstAt', 'lastAt'], where: { personId: id }, raw: true }),
      db.select<PersonSheet['groups'][number]>(
        'SELECT g.id, g.name FROM memberships m JOIN class_groups g ON g.id = m.groupId WHERE m.personId = :id AND m.ends IS NULL AND g.ends IS NULL ORDER BY g.name',
        { id },
      ),
      may(viewer, 'field.guardian')
        ? db.models.contact.findAll({ where: { personId: id }, order: ['id'], raw: true })
        : [],
      db.select<PersonSheet['seats'][number]>(
        `SELECT s.id, l.productId, p.name, p.edition, s.begins, LEAST(COALESCE(s.ends, l.ends), l.ends) AS until FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN products p ON p.id = l.productId
       WHERE s.personId = :id ORDER BY until DESC, p.name LIMIT 40`,
        { id },
      ),
      db.select<PersonSheet['devices'][number]>(
        'SELECT l.id, l.deviceId, d.tag, d.model, l.kind, l.begins, l.due, l.ends FROM loans l JOIN devices d ON d.id = l.deviceId WHERE l.personId = :id ORDER BY l.ends IS NOT NULL, l.begins DESC LIMIT 20',
        { id },
      ),
      roll.of(id),
      may(viewer, 'field.history') ? historyOf(db, id) : [],
    ],
  );
  return {
    person: withFields(viewer, found),
    places,
    classes,
    account,
    card: cardOf(found, classes, account, cards),
    signedIn,
    groups,
    contacts,
    seats,
    lacksSeats: await productNames(db, one ? one.needs.filter((product) => !one.seats.includes(product)) : []),
    devices,
    lacksDevice: one !== null && lacks(one, 'device'),
    siblings: await siblingsOf(db, viewer, found, contacts),
    history,
  };
}

async function productNames(db: Db, ids: string[]): Promise<string[]> {
  if (ids.length === 0) return [];
  const rows = await db.models.product.findAll({
    attributes: ['name', 'edition'],
    where: { id: [...ids] },
    order: ['name'],
    raw: true,
  });
  return rows.map(productLabel);
}

/** The latest print, and whether any card holds. */
function cardOf(
  one: Person,
  classes: PersonSheet['classes'],
  account: PersonSheet['account'],
  cards: { printedAt: string; isVoid: number; secretVersion: number; face: string | null }[],
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

const historyOf = (db: Db, id: string): Promise<PersonSheet['history']> =>
  db.select<PersonSheet['history'][number]>(
    `SELECT l.id AS ledgerId, l.planId, pl.title, l.action, CONCAT(b.givenName, ' ', b.familyName) AS \`by\`, l.at FROM touched t JOIN ledger l ON l.planId = t.planId JOIN plans pl ON pl.id = t.planId
       LEFT JOIN people b ON b.id = l.byPersonId WHERE t.personId = :id ORDER BY l.id DESC LIMIT 40`,
    { id },
  );

export async function editPerson(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/people/:id/edit'>,
) {
  const found = await person(db, viewer, id);
  if ((field === 'givenName' || field === 'familyName') && !after)
    throw new Fault('invalid', 'A name cannot be empty.');
  const place = await db.models.affiliation.findOne({
    attributes: ['schoolId'],
    where: { personId: id, ends: null },
    raw: true,
  });
  const change = {
    ...updates('person', id, { [field]: before }, { [field]: after }, 'corrected by hand'),
    label: personLabel(found),
    subject: id,
  };
  const { ledgerId, planId } = await applyNow(db, {
    kind: 'edit',
    title: `Correction: ${personLabel(found)}`,
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
  if (!account?.secretSealed) throw new Fault('invalid', `${personLabel(found)} has no secret that can be shown.`);
  await audit(db, { by: viewer.personId, action: 'secret.reveal', about: id, detail: why });
  return { secret: unsealText(config.key, id, account.secretSealed) };
}

export async function mine(db: Db, viewer: Viewer): Promise<Mine> {
  const { personId: id } = viewer;
  const self = await db.one<Omit<Mine, 'classes'>>(
    `SELECT p.givenName, p.familyName, ac.username, s.name AS school, a.grade FROM people p JOIN accounts ac ON ac.personId = p.id
     LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId WHERE p.id = :id`,
    { id },
  );
  const classes = await db.select<Mine['classes'][number]>(
    `SELECT c.name, (SELECT GROUP_CONCAT(CONCAT(t.givenName, ' ', t.familyName) SEPARATOR ', ') FROM enrollments te JOIN people t ON t.id = te.personId WHERE te.classId = c.id AND te.ends IS NULL AND te.role = 'teacher') AS teachers
     FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = :id AND e.ends IS NULL AND c.ends IS NULL ORDER BY c.kind DESC, c.name`,
    { id },
  );
  if (!self) throw notFound('This account');
  return { ...self, classes };
}
