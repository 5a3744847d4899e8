/** Whom a school reaches for a child, and the siblings who share them. */
import { say } from '#core/messages/say';
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
import { joined } from '../db/joined';
import { findPerson } from './find';

/** Students here who have an address in common with the child: a guardian's from a file, or a contact's. */
export async function siblingsOf(
  db: Db,
  viewer: Viewer,
  { id, role, guardianEmail }: Person,
  contacts: readonly Contact[],
): Promise<PersonSheet['siblings']> {
  const emails = [...new Set([guardianEmail, ...contacts.map(({ email }) => email)].filter((email) => email !== null))];
  if (role !== 'student' || emails.length === 0) return [];
  const mine = theirRows(viewer, 'people', 'person');
  const shared = new Map<string, string>();
  const note = (personId: string, email: string | null) => {
    const known = shared.get(personId);
    if (email !== null && (known === undefined || email < known)) shared.set(personId, email);
  };
  const inFiles = await joined(db, 'person', { fields: ['id', 'guardianEmail'], where: { guardianEmail: emails } });
  for (const one of inFiles) note(one.id, one.guardianEmail);
  const entered = await joined(db, 'contact', { fields: ['personId', 'email'], where: { email: emails } });
  for (const one of entered) note(one.personId, one.email);
  shared.delete(id);
  const rows = await joined(db, 'person', {
    fields: ['id', 'familyName', 'givenName'],
    of: { grade: 'openAffiliation.grade', school: 'openAffiliation.school.name' },
    where: { id: [...shared.keys()], role: 'student', status: 'active' },
    within: [mine],
    order: ['familyName', 'givenName'],
    limit: 30,
  });
  return rows.map(({ id: siblingId, grade, school, ...name }) => ({
    id: siblingId,
    name: fullName(name),
    grade,
    school,
    by: shared.get(siblingId)!,
  }));
}

export async function changeContact(
  { db }: Services,
  viewer: Viewer,
  personId: string,
  { id, remove, ...fields }: Body<'POST /api/people/:id/contacts'>,
): Promise<{ planId: string }> {
  const person = await findPerson(db, viewer, personId);
  if (!person) throw notFound(say('api.thisPerson'));
  const before = id === null ? null : await db.models.contact.findOne({ where: { id, personId }, raw: true });
  if (id !== null && !before) throw notFound(say('api.thisContact'));
  const change = { ...stepOf(before, personId, remove, fields), label: personLabel(person), subject: personId };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: say('people.contactsOf', { name: personLabel(person) }),
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
  if (!before) return creates('contact', mint(), { personId, ...fields }, say('people.contactAdded'));
  const { id, ...old } = before;
  if (remove)
    return { entity: 'contact', id, op: 'purge', before: { ...old }, after: {}, reason: say('people.contactRemoved') };
  const { name, email, phone, relation } = old;
  return updates('contact', id, { name, email, phone, relation }, { ...fields }, say('people.contactEdited'));
}
