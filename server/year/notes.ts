/** What teachers say of their students for next year's classes: level and support. The newest word holds. */
import { classOf } from '../classes/make';
import type { PlacementNotes } from '../contract';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { notFound } from '../faults';
import type { Services, Viewer } from '../services';
import { joined } from '../db/joined';
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';

/** Throws Fault missing for a class that the viewer does not run. */
export async function placementNotes({ db }: Services, viewer: Viewer, id: string): Promise<PlacementNotes> {
  const { name } = await classOf(db, viewer, id);
  const people = await joined(db, 'enrollment', {
    fields: ['personId'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName' },
    where: { classId: id, ends: null, role: 'student' },
  });
  const notes = await notesOf(
    db,
    people.map(({ personId }) => personId),
  );
  const students = people
    .map(({ personId, familyName, givenName }) => ({
      ...{ id: personId, familyName, givenName },
      level: notes.get(personId)?.level ?? null,
      support: notes.get(personId)?.support ?? null,
    }))
    .sort((a, b) => (fold(`${a.familyName} ${a.givenName}`) < fold(`${b.familyName} ${b.givenName}`) ? -1 : 1));
  return { name, students };
}

/** By person; who has none is not there. */
export async function notesOf(
  db: Db,
  ids: readonly string[],
): Promise<Map<string, { level: string | null; support: boolean | null }>> {
  const rows = await db.models.placementNotes.findAll({ where: { personId: [...ids] }, raw: true });
  return new Map(
    rows.map(({ personId, level, support }) => [personId, { level, support: support === null ? null : support === 1 }]),
  );
}

/** Throws Fault missing for who is not a student of that class. */
export async function keepNote(
  { db }: Services,
  viewer: Viewer,
  classId: string,
  { personId, level, support }: { personId: string; level: string | null; support: boolean | null },
): Promise<void> {
  await classOf(db, viewer, classId);
  const theirs = await db.models.enrollment.findOne({ where: { classId, personId, role: 'student', ends: null } });
  if (!theirs) throw notFound(say('api.thisPerson'));
  await db.models.placementNotes.upsert({
    ...{ personId, level, support: support === null ? null : Number(support) },
    ...{ byPersonId: viewer.personId, at: nowIso() },
  });
}
