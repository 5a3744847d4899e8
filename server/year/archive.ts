/** Classes that have ended: looked up by name, and brought back with everyone who was in them to the end. */
import { inScope, theirRows } from '#core/authority/index';
import { ordered, personLabel } from '#core/register/index';
import { type Change, counted } from '#core/plan/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { ArchivedClass } from '../contract';
import type { Db } from '../db/connection';
import { applyNow } from '../plans/now';

const pageSize = 100;

/** The newest end first; `before`: the last row of the page before, "yyyy-mm-dd id". */
export async function archive(
  db: Db,
  viewer: Viewer,
  { q, before }: { q?: string; before?: string },
): Promise<{ classes: ArchivedClass[]; more: boolean }> {
  const [beforeDay, beforeId] = before?.split(' ') ?? [];
  const rows = await db.select<ArchivedClass>(
    `SELECT c.id, c.name, s.name AS school, c.grade, c.kind, c.begins, c.ends,
       (SELECT COUNT(*) FROM enrollments e WHERE e.classId = c.id AND e.role = 'student' AND e.ends = c.ends) AS students,
       (SELECT GROUP_CONCAT(CONCAT(p.givenName, ' ', p.familyName) ORDER BY p.familyName SEPARATOR ', ') FROM enrollments e JOIN people p ON p.id = e.personId
        WHERE e.classId = c.id AND e.role = 'teacher' AND e.ends = c.ends) AS teachers
     FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE c.ends IS NOT NULL AND ${theirRows(viewer, 'classes', 'c')} ${q ? 'AND c.name LIKE :like' : ''}
       ${before ? 'AND (c.ends, c.id) < (:beforeDay, :beforeId)' : ''}
     ORDER BY c.ends DESC, c.id DESC LIMIT ${pageSize + 1}`,
    {
      like: `%${(q ?? '').replace(/[%_\\]/g, '\\$&')}%`,
      beforeDay: beforeDay ?? null,
      beforeId: beforeId ?? null,
    },
  );
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
  const one = await db.one<{ name: string; schoolId: string; school: string; ends: string | null }>(
    'SELECT c.name, c.schoolId, c.ends, s.name AS school FROM classes c JOIN schools s ON s.id = c.schoolId WHERE c.id = :id',
    { id },
  );
  if (!one || !inScope(viewer, one.schoolId)) throw notFound('This class');
  if (one.ends === null) throw new Fault('conflict', `${one.name} is not in the archive.`);
  const { ends } = one;
  const all = await db.select<{
    id: string;
    isElsewhere: number;
    personId: string;
    familyName: string;
    givenName: string;
    number: string | null;
  }>(
    `SELECT e.id, p.id AS personId, p.familyName, p.givenName, p.number,
       c.kind = 'homeroom' AND e.role = 'student' AND EXISTS (SELECT 1 FROM claims k WHERE k.kind = 'homeroom' AND k.what = p.id) AS isElsewhere
     FROM enrollments e JOIN classes c ON c.id = e.classId JOIN people p ON p.id = e.personId AND p.status = 'active'
       JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId = :schoolId WHERE e.classId = :id AND e.ends = :ends ORDER BY p.familyName, p.givenName`,
    { id, schoolId: one.schoolId, ends },
  );
  const people = all.filter(({ isElsewhere }) => isElsewhere === 0);
  const stay = all.length - people.length;
  const back = { op: 'restore' as const, before: { ends }, after: { ends: null }, reason: `${one.name} comes back` };
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
    title: `${one.name} back from the archive`,
    createdBy: viewer.personId,
    plan: ordered(changes),
  });
  const others = stay > 0 ? ` ${counted(stay, ['student stays', 'students stay'])} in the homeroom of now.` : '';
  return { planId, sentence: sentence + others };
}
