/** One class that has ended: who was in it, what they worked on, and how that went. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { personLabel } from '#core/register/index';
import type { ArchivedClassSheet } from '../contract';
import type { Db } from '../db/connection';
import { joined, joinedOne } from '../db/joined';
import { notFound } from '../faults';
import { finishedWork } from '../materials/queries';
import type { Viewer } from '../services';

/** So many pieces, the newest, are shown side by side. */
const most = 40;

/** Throws Fault missing for one that is not the viewer's, or that still runs. */
export async function archivedClass(db: Db, viewer: Viewer, id: string): Promise<ArchivedClassSheet> {
  const one = await joinedOne(db, 'class', {
    fields: ['id', 'name', 'schoolId', 'grade', 'subject', 'begins', 'ends'],
    of: { school: 'school.name' },
    where: { id },
  });
  if (!one || one.ends === null || !inScope(viewer, one.schoolId)) throw notFound(say('api.thisClass'));
  const { name, school, grade, subject, begins, ends } = one;
  const [enrollments, works] = await Promise.all([
    joined(db, 'enrollment', {
      fields: ['id', 'personId', 'role', 'begins', 'ends'],
      of: {
        familyName: 'person.familyName',
        givenName: 'person.givenName',
        number: 'person.number',
        status: 'person.status',
        schoolNow: 'person.openAffiliation.school.name',
      },
      where: { classId: id },
      order: ['person.familyName', 'person.givenName', 'id'],
    }),
    db.models.work.findAll({
      attributes: ['id', 'title', 'opensAt', 'dueAt'],
      where: { classId: id },
      order: [
        ['opensAt', 'DESC'],
        ['title', 'ASC'],
      ],
      limit: most,
      raw: true,
    }),
  ]);
  const results = new Map(
    (
      await finishedWork(
        db,
        works.map((work) => work.id),
      )
    ).map((result) => [`${result.id} ${result.personId}`, result]),
  );
  const resultOf = (workId: string, personId: string) => {
    const found = results.get(`${workId} ${personId}`);
    if (!found?.doneAt) return null;
    return { doneAt: found.doneAt, share: found.permille === null ? null : Number(found.permille) / 1000 };
  };
  return {
    ...{ id, name, school, grade, subject, begins, ends },
    works,
    people: enrollments.map((row) => ({
      id: row.id,
      personId: row.personId,
      name: personLabel(row),
      role: row.role,
      begins: row.begins,
      ends: row.ends,
      now: row.status === 'active' ? row.schoolNow : null,
      results: works.map((work) => resultOf(work.id, row.personId)),
    })),
  };
}
