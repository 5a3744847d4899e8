/**
 * What says who needs a seat, of the whole district: a hundred thousand people and more, read as few columns as there
 * must be, and for the classes that rules speak of alone.
 */
import type { Rule, SchoolClass } from '#core/entities/index';
import { termsOf } from '#core/licenses/index';
import type { Db } from '../db/connection';

export interface SeatRow {
  id: string;
  personId: string;
  licenseId: string;
  begins: string;
  ends: string | null;
}

export interface PersonRow {
  id: string;
  role: 'student' | 'staff';
  status: string;
  account: string | null;
  familyName: string;
  givenName: string;
  number: string | null;
}

/** In the order in which seats go where not all can have one: by grade they are told apart already. */
export const holdersNow = (db: Db): Promise<PersonRow[]> =>
  db.select(
    `SELECT p.id, p.role, p.status, p.familyName, p.givenName, p.number, ac.status AS account FROM people p LEFT JOIN accounts ac ON ac.personId = p.id
     WHERE p.status <> 'merged' ORDER BY p.familyName, p.givenName, p.id`,
  );

/** Who is in the classes that the rules speak of. */
export const studiesNow = (
  db: Db,
  today: string,
  rules: readonly Rule[],
): Promise<{ personId: string; classId: string; role: 'student' | 'teacher'; begins: string; ends: string | null }[]> =>
  db.select(
    `SELECT e.personId, e.classId, e.role, e.begins, e.ends FROM enrollments e JOIN classes c ON c.id = e.classId
     WHERE (e.ends IS NULL OR e.ends > :today) AND (${classesIn(rules)})`,
    { today, ...ruleParams(rules) },
  );

export const seatsNow = (db: Db, today: string): Promise<SeatRow[]> =>
  db.select(
    `SELECT s.id, s.personId, s.licenseId, s.begins, s.ends FROM seats s JOIN licenses l ON l.id = s.licenseId
     WHERE (s.ends IS NULL OR s.ends > :today) AND l.ends > :today ORDER BY s.begins, s.id`,
    { today },
  );

/** The classes that the rules speak of, from the day on. */
export const classesOfRules = (
  db: Db,
  day: string,
  rules: readonly Rule[],
): Promise<Pick<SchoolClass, 'id' | 'schoolId' | 'grade' | 'subject' | 'begins' | 'ends'>[]> =>
  db.select(
    `SELECT c.id, c.schoolId, c.grade, c.subject, c.begins, c.ends FROM classes c WHERE (c.ends IS NULL OR c.ends > :day) AND (${classesIn(rules)})`,
    { day, ...ruleParams(rules) },
  );

const some = <T>(list: T[], otherwise: T): T[] => (list.length > 0 ? list : [otherwise]);
/** Values for `classesIn`. */
const ruleParams = (rules: readonly Rule[]): { ruleClasses: string[]; ruleSubjects: string[] } => ({
  ruleClasses: some(
    rules.map(termsOf).flatMap(({ classes, except }) => [...classes, ...except.classes]),
    '-',
  ),
  ruleSubjects: some(
    rules.map(termsOf).flatMap(({ subjects }) => subjects),
    '-',
  ),
});
/** A condition on classes `c`: those that rules may speak of. By grade of what a teacher teaches: all. */
const classesIn = (rules: readonly Rule[]): string =>
  rules.some((rule) => {
    const { grades, except } = termsOf(rule);
    return rule.role === 'teacher' && grades.length + except.grades.length > 0;
  })
    ? '1 = 1'
    : 'c.id IN (:ruleClasses) OR c.subject IN (:ruleSubjects)';

/** Who is a student of which homeroom, of all: for the classes of which some need a product. */
export const homeroomStudents = (
  db: Db,
): Promise<(Pick<SchoolClass, 'id' | 'name' | 'schoolId' | 'grade'> & { personId: string })[]> =>
  db.select(
    `SELECT c.id, c.name, c.schoolId, c.grade, e.personId FROM classes c JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student'
     WHERE c.kind = 'homeroom' AND c.ends IS NULL AND c.grade IS NOT NULL ORDER BY c.name`,
  );

/**
 * What changes when the state of licenses may have: asked before each answer, so in one statement. What products tell
 * comes all day long: idle seats are counted anew once an hour.
 */
export const marksOf = (
  db: Db,
): Promise<Record<'version' | 'uses' | 'settings' | 'told' | 'decided', string | null> | null> =>
  db.one(
    `SELECT (SELECT version FROM register) AS version, (SELECT MAX(id) FROM audit WHERE action = 'uses.take') AS uses,
       (SELECT settings FROM district LIMIT 1) AS settings,
       (SELECT LEFT(MAX(lastAt), 13) FROM product_keys) AS told, (SELECT MAX(savedAt) FROM year_drafts) AS decided`,
  );
