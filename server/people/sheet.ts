/** Everything about one person, for the record sheet; and a single edit, which is a plan of one change that applies at once. */
import type { Body, Mine, PersonSheet } from '../api/contract';
import { audit, mayBeSeen, notFound, Fault, type Services, type Viewer } from '../api/context';
import { unsealText } from '../auth/seal';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { type Contact, type Person, personLabel } from '#core/register/index';
import { updates } from '#core/register/steps';
import { siblingsOf } from './contacts';
import { cardHolds } from './list';

export async function person(db: Db, viewer: Viewer, id: string): Promise<Person> {
  const scope = mayBeSeen(viewer);
  const found = await db.one<Person>(`SELECT p.* FROM people p WHERE p.id = :id AND ${scope.sql}`, {
    id,
    ...scope.params,
  });
  if (!found) throw notFound('This person');
  return found;
}

export async function personSheet(db: Db, viewer: Viewer, id: string): Promise<PersonSheet> {
  const found = await person(db, viewer, id);
  const [places, classes, account, card, signedIn, groups, contacts, history] = await Promise.all([
    db.select<PersonSheet['places'][number]>(
      'SELECT a.*, s.name AS school FROM affiliations a JOIN schools s ON s.id = a.schoolId WHERE a.personId = :id ORDER BY a.begins DESC',
      { id },
    ),
    db.select<PersonSheet['classes'][number]>(
      `SELECT e.id, e.classId, c.name, s.name AS school, e.role, e.begins, e.ends FROM enrollments e JOIN classes c ON c.id = e.classId JOIN schools s ON s.id = c.schoolId
       WHERE e.personId = :id ORDER BY e.ends IS NOT NULL, c.kind DESC, c.name`,
      { id },
    ),
    db.one<NonNullable<PersonSheet['account']>>(
      'SELECT username, status, role, secretVersion FROM accounts WHERE personId = :id',
      { id },
    ),
    db.one<{ printedAt: string; current: number }>(
      `SELECT r.at AS printedAt, ${cardHolds} AS current FROM people p JOIN accounts ac ON ac.personId = p.id JOIN printed_cards c ON c.personId = p.id JOIN prints r ON r.id = c.printId
       WHERE p.id = :id ORDER BY r.at DESC LIMIT 1`,
      { id },
    ),
    db.one<{ firstAt: string; lastAt: string }>('SELECT firstAt, lastAt FROM sign_ins WHERE personId = :id', { id }),
    db.select<PersonSheet['groups'][number]>(
      'SELECT g.id, g.name FROM memberships m JOIN class_groups g ON g.id = m.groupId WHERE m.personId = :id AND m.ends IS NULL AND g.ends IS NULL ORDER BY g.name',
      { id },
    ),
    db.select<Contact>('SELECT * FROM contacts WHERE personId = :id ORDER BY id', { id }),
    viewer.role === 'teacher' ? [] : historyOf(db, id),
  ]);
  return {
    person: found,
    places,
    classes,
    account,
    card: card && { ...card, current: card.current === 1 },
    signedIn,
    groups,
    contacts,
    siblings: await siblingsOf(db, viewer, found, contacts),
    history,
  };
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
  if ((field === 'givenName' || field === 'familyName') && !after) throw new Fault(422, 'A name cannot be empty.');
  const place = await db.one<{ schoolId: string }>(
    'SELECT schoolId FROM affiliations WHERE personId = :id AND ends IS NULL',
    { id },
  );
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
  const account = await db.one<{ secretSealed: string | null }>(
    "SELECT secretSealed FROM accounts WHERE personId = :id AND role = 'student'",
    { id },
  );
  if (!account?.secretSealed) throw new Fault(422, `${personLabel(found)} has no secret that can be shown.`);
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
