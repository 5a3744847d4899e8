/** Classes that have ended: looked up by name, and brought back with everyone who was in them to the end. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { ordered, personLabel } from '#core/register/index';
import { type Change } from '#core/plan/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { ArchivedClass } from '../contract';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';
import { joined, joinedOne } from '../db/joined';
import { archivedClasses } from './queries';

const pageSize = 100;

/** The newest end first; `before`: the last row of the page before, "yyyy-mm-dd id". */
export async function archive(
  db: Db,
  viewer: Viewer,
  { q, before }: { q?: string; before?: string },
): Promise<{ classes: ArchivedClass[]; more: boolean }> {
  const rows = await archivedClasses(db, viewer, { q, before }, pageSize + 1);
  return { classes: rows.slice(0, pageSize), more: rows.length > pageSize };
}

/**
 * The class goes on, and so does the place in it of everyone who was there to the end and is still at its school. Of a
 * homeroom only of students who are in no other one by now; the sentence says how many stay where they are.
 */
export async function returnClass(
  { db }: Pick<Services, 'db'>,
  viewer: Viewer,
  id: string,
): Promise<{ planId: string; sentence: string }> {
  const one = await joinedOne(db, 'class', {
    fields: ['name', 'schoolId', 'ends', 'kind'],
    of: { school: 'school.name' },
    where: { id },
  });
  if (!one || !inScope(viewer, one.schoolId)) throw notFound(say('api.thisClass'));
  if (one.ends === null) throw new Fault('conflict', say('year.isNotInTheArchive', { name: one.name }));
  const { ends } = one;
  const all = await joined(db, 'enrollment', {
    fields: ['id', 'personId', 'role'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName', number: 'person.number' },
    where: { classId: id, ends },
    whose: { 'person.status': 'active', 'person.openAffiliation.schoolId': one.schoolId },
    order: ['person.familyName', 'person.givenName'],
  });
  const inHomeroom = await db.models.homerooms.findAll({
    attributes: ['personId'],
    where: { personId: all.map(({ personId }) => personId) },
    raw: true,
  });
  const isElsewhere = new Set(one.kind === 'homeroom' ? inHomeroom.map(({ personId }) => personId) : []);
  const people = all.filter(({ role, personId }) => role !== 'student' || !isElsewhere.has(personId));
  const stay = all.length - people.length;
  const back = {
    op: 'restore' as const,
    before: { ends },
    after: { ends: null },
    reason: say('year.isRestored2', { name: one.name }),
  };
  const changes: Change[] = [
    { ...back, entity: 'class', id, label: `${one.name} · ${one.school}`, subject: id },
    ...people.map((row): Change => ({
      ...back,
      entity: 'enrollment',
      id: row.id,
      label: personLabel(row),
      subject: row.personId,
    })),
  ];
  const { planId, sentence } = await applyNow(db, {
    kind: 'return',
    title: say('year.restoreFromTheArchive', { name: one.name }),
    createdBy: viewer.personId,
    plan: ordered(changes),
  });
  const others = stay > 0 ? ` ${say('year.stayInHomeroom', { n: stay })}` : '';
  return { planId, sentence: sentence + others };
}
