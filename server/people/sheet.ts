/** Everything about one person, for the record sheet; and a single edit, which is a plan of one change that applies at once. */
import type { Body, ClassName, ClassRow, Mine, PersonSheet } from '../api/contract';
import { audit, mayBeSeen, notFound, orNone, Fault, type Services, type Viewer } from '../api/context';
import { unsealText } from '../auth/seal';
import type { Db, Params } from '../db/connection';
import { carryOut, PlanConflict } from '../plans/apply';
import { savePlan } from '../plans/store';
import { type Person, personLabel } from '#core/register/index';
import { cardHolds, gradeOrder } from './list';
import { lacks, type OnRoll, type Roll } from './roll';

async function person(db: Db, viewer: Viewer, id: string): Promise<Person> {
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
  const [places, classes, account, card, signedIn] = await Promise.all([
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
  ]);
  return { person: found, places, classes, account, card: card && { ...card, current: card.current === 1 }, signedIn };
}

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
    entity: 'person',
    id,
    op: 'update' as const,
    before: { [field]: before },
    after: { [field]: after },
    reason: 'corrected by hand',
    label: personLabel(found),
    subject: id,
  };
  try {
    const planId = await db.transaction((tx) =>
      savePlan(db, tx, {
        kind: 'edit',
        title: `Correction: ${personLabel(found)}`,
        schoolId: place?.schoolId ?? null,
        createdBy: viewer.personId,
        plan: { changes: [change] },
      }),
    );
    const { ledgerId } = await carryOut(db, planId, 'apply', viewer.personId);
    return { ledgerId, planId };
  } catch (error) {
    if (error instanceof PlanConflict)
      throw new Fault(
        409,
        `Someone changed this in between: ${error.conflicts[0]?.message}. Look at the record again.`,
      );
    throw error;
  }
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

export async function classList(
  roll: Roll,
  viewer: Viewer,
  filter: { school?: string; grade?: string; q?: string },
): Promise<ClassRow[]> {
  const scope =
    viewer.role === 'district' ? '1 = 1' : viewer.role === 'school' ? 'c.schoolId IN (:schools)' : 'c.id IN (:classes)';
  const rows = await roll.db.select<Omit<ClassRow, 'teachers' | 'students' | 'lackCard'>>(
    `SELECT c.id, c.name, s.name AS school, c.kind, c.grade, c.subject FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE c.ends IS NULL AND ${scope} ${filter.school ? 'AND c.schoolId = :school' : ''} ${filter.grade ? 'AND c.grade = :grade' : ''} ${filter.q ? 'AND (c.name LIKE :q OR c.subject LIKE :q)' : ''}
     ORDER BY s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT 20000`,
    {
      schools: orNone(viewer.schoolIds),
      classes: orNone(viewer.classIds),
      school: filter.school ?? null,
      grade: filter.grade ?? null,
      q: `${filter.q ?? ''}%`,
    },
  );
  const counts = new Map(rows.map(({ id }) => [id, { students: 0, lackCard: 0, teachers: [] as OnRoll[] }]));
  for (const one of await roll.everyone()) {
    for (const id of one.classes) {
      const count = counts.get(id);
      if (!count) continue;
      count.students++;
      if (lacks(one, 'card')) count.lackCard++;
    }
    for (const id of one.teaches) counts.get(id)?.teachers.push(one);
  }
  return rows.map((row) => {
    const { students, lackCard, teachers } = counts.get(row.id)!;
    const names = teachers
      .sort((a, b) => (a.sortFamily < b.sortFamily ? -1 : 1))
      .map(({ given, family }) => `${given} ${family}`);
    return { ...row, students, lackCard, teachers: names.join(', ') || null };
  });
}

/** Up to 60 open classes whose name, subject or school has a part that begins so. */
export async function classNames(
  db: Db,
  viewer: Viewer,
  { school, q }: { school?: string; q?: string },
): Promise<ClassName[]> {
  const scope =
    viewer.role === 'district' ? '1 = 1' : viewer.role === 'school' ? 'c.schoolId IN (:schools)' : 'c.id IN (:classes)';
  const words = (q ?? '')
    .split(/[\s·,]+/)
    .filter(Boolean)
    .slice(0, 4);
  const conditions = words.map(
    (_, i) =>
      `(c.name LIKE :q${i} OR c.name LIKE :w${i} OR c.subject LIKE :q${i} OR s.name LIKE :q${i} OR s.name LIKE :w${i})`,
  );
  const params: Params = {};
  words.forEach((word, i) => {
    const escaped = word.replace(/[\\%_]/g, (c) => `\\${c}`);
    Object.assign(params, { [`q${i}`]: `${escaped}%`, [`w${i}`]: `% ${escaped}%` });
  });
  return db.select<ClassName>(
    `SELECT c.id, c.name, s.name AS school, c.subject, c.grade FROM classes c JOIN schools s ON s.id = c.schoolId
     WHERE ${['c.ends IS NULL', scope, ...(school ? ['c.schoolId = :school'] : []), ...conditions].join(' AND ')}
     ORDER BY c.kind DESC, s.name, ${gradeOrder('c.grade')}, c.name, c.id LIMIT 60`,
    { ...params, school: school ?? null, schools: orNone(viewer.schoolIds), classes: orNone(viewer.classIds) },
  );
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
