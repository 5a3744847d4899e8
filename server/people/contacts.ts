/** Whom a school reaches for a child, and the siblings who share them. */
import { theirRows } from '#core/authority/index';
import type { Contact, Person } from '#core/entities/index';
import { fullName, personLabel } from '#core/register/index';
import { creates, updates } from '#core/register/steps';
import type { Change } from '#core/plan/index';
import { notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, PersonSheet } from '../contract';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';

/** Students here who have an address in common with the child: a guardian's from a file, or a contact's. */
export async function siblingsOf(
  db: Db,
  viewer: Viewer,
  { id, role, guardianEmail }: Person,
  contacts: readonly Contact[],
): Promise<PersonSheet['siblings']> {
  const emails = [...new Set([guardianEmail, ...contacts.map(({ email }) => email)].filter((email) => email !== null))];
  if (role !== 'student' || emails.length === 0) return [];
  const scope = theirRows(viewer, 'people', 'p');
  const rows = await db.select<
    Pick<Person, 'id' | 'familyName' | 'givenName'> & { grade: string | null; school: string | null; by: string }
  >(
    `SELECT p.id, p.familyName, p.givenName, a.grade, s.name AS school, MIN(f.email) AS \`by\` FROM
       (SELECT id AS personId, guardianEmail AS email FROM people WHERE guardianEmail IN (:emails) UNION SELECT personId, email FROM contacts WHERE email IN (:emails)) f
       JOIN people p ON p.id = f.personId AND p.role = 'student' AND p.status = 'active' AND p.id <> :id
       LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId
     WHERE ${scope} GROUP BY p.id, p.familyName, p.givenName, a.grade, s.name ORDER BY p.familyName, p.givenName LIMIT 30`,
    { emails, id },
  );
  return rows.map(({ id: siblingId, grade, school, by, ...name }) => ({
    id: siblingId,
    name: fullName(name),
    grade,
    school,
    by,
  }));
}

export async function changeContact(
  { db }: Services,
  viewer: Viewer,
  personId: string,
  { id, remove, ...fields }: Body<'POST /api/people/:id/contacts'>,
): Promise<{ planId: string }> {
  const scope = theirRows(viewer, 'people', 'p');
  const person = await db.one<Person>(`SELECT p.* FROM people p WHERE p.id = :personId AND ${scope}`, {
    personId,
  });
  if (!person) throw notFound('This person');
  const before = id === null ? null : await db.models.contact.findOne({ where: { id, personId }, raw: true });
  if (id !== null && !before) throw notFound('This contact');
  const change = { ...stepOf(before, personId, remove, fields), label: personLabel(person), subject: personId };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: `Contacts of ${personLabel(person)}`,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId };
}

type Fields = Omit<Contact, 'id' | 'personId'>;
function stepOf(
  before: Contact | null,
  personId: string,
  remove: boolean,
  fields: Fields,
): Omit<Change, 'label' | 'subject'> {
  if (!before) return creates('contact', mint(), { personId, ...fields }, 'contact added');
  const { id, ...old } = before;
  if (remove)
    return { entity: 'contact', id, op: 'purge', before: { ...old }, after: {}, reason: 'contact taken away' };
  const { name, email, phone, relation } = old;
  return updates('contact', id, { name, email, phone, relation }, { ...fields }, 'contact corrected');
}
