/**
 * Use, of millions of days of people: in the order in which they lie in the table, as few texts or as counts. `./run bench
 * lists` measures it beside plain counting in the database.
 */
import { may, theirRows } from '#core/authority/index';
import { type Held, hurriedShare, type Paced } from '#core/use/index';
import { orNone } from '../db/batches';
import type { Viewer } from '../services';
import type { UseFilter } from '../contract';
import type { Db, Param, Tx } from '../db/connection';
import { mergedSql } from '../people/merged';

interface Days {
  from: string;
  to: string;
}

/** The last day of which something is told: of each product it is the end of its part of the index. */
export async function lastDay(db: Db, product: string | null): Promise<string | null> {
  const last = await db.one<{ day: string | null }>(
    `SELECT MAX(day) AS day FROM (SELECT MAX(day) AS day FROM use_days ${product ? 'WHERE productId = :product' : ''} GROUP BY productId) d`,
    { product },
  );
  return last?.day ?? null;
}

/** About how many days of people there are: the database's own guess, as counting them takes seconds. */
export async function roughDays(db: Db): Promise<number> {
  const told = await db.one<{ n: number }>(
    "SELECT TABLE_ROWS AS n FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'use_days'",
  );
  return Number(told?.n ?? 0);
}

export const namedPeople = (
  db: Db,
  ids: string[],
  most: number,
): Promise<{ id: string; familyName: string; givenName: string; number: string | null; school: string }[]> =>
  db.rows(
    `SELECT p.id, p.familyName, p.givenName, p.number, s.name AS school FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId
     WHERE p.id IN (?) ORDER BY p.familyName, p.givenName, p.id LIMIT ${most}`,
    [ids],
  );

export const homeroomsOf = (db: Db, ids: string[]): Promise<{ personId: string; name: string }[]> =>
  db.rows(
    `SELECT e.personId, MIN(c.name) AS name FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL
     WHERE e.ends IS NULL AND e.role = 'student' AND e.personId IN (?) GROUP BY e.personId`,
    [ids],
  );

export const lastUsesOf = (
  db: Db,
  products: string[],
  ids: string[],
): Promise<{ personId: string; usedOn: string }[]> =>
  db.rows(
    'SELECT personId, MAX(usedOn) AS usedOn FROM last_uses WHERE productId IN (?) AND personId IN (?) GROUP BY personId',
    [products, ids],
  );

export const daysOfUse = (
  db: Db,
  products: string[],
  { from, to }: Days,
  ids: string[],
): Promise<{ personId: string; day: string }[]> =>
  db.rows(
    'SELECT DISTINCT personId, day FROM use_days WHERE productId IN (?) AND day BETWEEN ? AND ? AND personId IN (?)',
    [products, from, to, ids],
  );

/** What a line is of: schools, the classes of a school, the groups of a class. */
function unitOf(viewer: Viewer, filter: UseFilter): { join: string; id: string } {
  if (filter.classId)
    return {
      join: 'LEFT JOIN memberships j ON j.personId = p.id AND j.ends IS NULL LEFT JOIN class_groups k ON k.id = j.groupId AND k.classId = :classId AND k.ends IS NULL',
      id: 'k.id',
    };
  if (filter.school || !may(viewer, 'classes.all') || viewer.schoolIds.length === 1)
    return {
      join: `LEFT JOIN enrollments j ON j.personId = p.id AND j.ends IS NULL AND j.role = 'student' LEFT JOIN classes k ON k.id = j.classId AND k.ends IS NULL AND ${theirRows(viewer, 'classes', 'k')} ${may(viewer, 'classes.all') ? 'AND k.schoolId = a.schoolId' : ''}`,
      id: 'k.id',
    };
  return { join: '', id: 'a.schoolId' };
}

/** Students of the viewer's who are asked for, as conditions on people `p` and their open affiliation `a`. */
const asked = (viewer: Viewer, filter: Pick<UseFilter, 'school' | 'grade' | 'classId' | 'group'>): string[] =>
  [
    "p.role = 'student' AND p.status = 'active'",
    theirRows(viewer, 'people', 'p'),
    theirRows(viewer, 'atSchool', 'a'),
    filter.school && 'a.schoolId = :school',
    filter.grade && 'a.grade = :grade',
    filter.classId &&
      "EXISTS (SELECT 1 FROM enrollments fe WHERE fe.personId = p.id AND fe.classId = :classId AND fe.ends IS NULL AND fe.role = 'student')",
    filter.group &&
      'EXISTS (SELECT 1 FROM memberships fm WHERE fm.personId = p.id AND fm.groupId = :group AND fm.ends IS NULL)',
  ].filter((one) => typeof one === 'string');

/** How many students signed in, by week (its Monday). */
export const signInWeeks = (
  db: Db,
  viewer: Viewer,
  filter: UseFilter & { from: string; to: string },
): Promise<{ week: string; people: number }[]> =>
  db.select(
    `SELECT DATE_FORMAT(DATE_SUB(d.day, INTERVAL WEEKDAY(d.day) DAY), '%Y-%m-%d') AS week, COUNT(DISTINCT d.personId) AS people
     FROM sign_in_days d JOIN people p ON p.id = d.personId JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE d.day BETWEEN :from AND :to AND ${asked(viewer, filter).join(' AND ')} GROUP BY week`,
    {
      ...{ from: filter.from, to: filter.to, school: filter.school ?? null, grade: filter.grade ?? null },
      ...{ classId: filter.classId ?? null, group: filter.group ?? null },
    },
  );

/** Students asked for by what they are counted under, many ids in one text: a row for each would cost more than all the rest. */
export function idsByUnit(db: Db, viewer: Viewer, filter: UseFilter): Promise<{ unit: string | null; ids: string }[]> {
  const conditions = asked(viewer, filter);
  const unit = unitOf(viewer, filter);
  // A row for each would cost more than all the rest.
  return db.select(
    `SELECT ${unit.id} AS unit, GROUP_CONCAT(p.id) AS ids FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL ${unit.join}
     WHERE ${conditions.join(' AND ')} GROUP BY 1, RIGHT(p.id, 1)`,
    {
      school: filter.school ?? null,
      grade: filter.grade ?? null,
      classId: filter.classId ?? null,
      group: filter.group ?? null,
    },
  );
}

/** Each day of a product as one text, of ids with six digits of seconds after each. `only`: of these people; null: of all. */
export function dayTexts(
  db: Db,
  products: readonly string[],
  { from, to }: Days,
  only: string[] | null,
): Promise<{ productId: string; day: string; people: number; each: Buffer }[]> {
  const values: Param[] = [orNone(products), from, to];
  return db.rows(
    `SELECT productId, day, COUNT(*) AS people, CAST(GROUP_CONCAT(personId, LPAD(LEAST(seconds, 999999), 6, '0') SEPARATOR '') AS BINARY) AS \`each\` FROM use_days ${only ? 'FORCE INDEX (byPerson)' : ''}
     WHERE productId IN (?) AND day BETWEEN ? AND ? ${only ? 'AND personId IN (?)' : ''} GROUP BY productId, day`,
    only ? [...values, only] : values,
  );
}

/** Seats that people have, and how many of them they never or not lately used, whichever record it was told of. */
export function heldRows(
  db: Db,
  products: readonly string[],
  from: string,
  today: string,
  only: string[] | null,
): Promise<(Held & { personId: string })[]> {
  const values: Param[] = [from, from, orNone(products), today, today, today];
  return db.rows(
    `SELECT s.personId, COUNT(DISTINCT l.productId) AS held, COUNT(DISTINCT IF(COALESCE(lu.usedOn, lm.usedOn) IS NULL, l.productId, NULL)) AS never,
       COUNT(DISTINCT IF(COALESCE(lu.usedOn, lm.usedOn) < ? AND COALESCE(lm.usedOn, lu.usedOn) < ?, l.productId, NULL)) AS idle
     FROM licenses l JOIN seats s ON s.licenseId = l.id LEFT JOIN last_uses lu ON lu.personId = s.personId AND lu.productId = l.productId
     LEFT JOIN (${mergedSql} SELECT g.at AS personId, u.productId, MAX(u.usedOn) AS usedOn FROM gone g JOIN last_uses u ON u.personId = g.id GROUP BY g.at, u.productId) lm
       ON lm.personId = s.personId AND lm.productId = l.productId
     WHERE l.productId IN (?) AND s.begins <= ? AND (s.ends IS NULL OR s.ends > ?) AND l.ends > ? ${only ? 'AND s.personId IN (?)' : ''} GROUP BY s.personId`,
    only ? [...values, only] : values,
  );
}

/** How much of what has a usual time was finished, and how much of it in a hurry. */
export function pacedRows(
  db: Db,
  products: readonly string[],
  { from, to }: Days,
  only: string[] | null,
): Promise<(Paced & { personId: string })[]> {
  const values: Param[] = [hurriedShare, orNone(products), from, `${to}T99`];
  return db.rows(
    `SELECT r.personId, COUNT(*) AS timed, SUM(r.seconds < m.minutes * 60 * ?) AS quick FROM results r JOIN materials m ON m.id = r.materialId
     WHERE m.productId IN (?) AND r.finished AND r.seconds > 0 AND m.minutes > 0 AND r.at >= ? AND r.at < ? ${only ? 'AND r.personId IN (?)' : ''} GROUP BY r.personId`,
    only ? [...values, only] : values,
  );
}

/** Names of schools, classes and groups, whichever the ids are of. */
export const unitNames = (db: Db, ids: string[]): Promise<{ id: string; name: string; school: string }[]> =>
  db.select(
    `SELECT id, name, name AS school FROM schools WHERE id IN (:ids) UNION ALL
     SELECT c.id, c.name, s.name FROM classes c JOIN schools s ON s.id = c.schoolId WHERE c.id IN (:ids) UNION ALL
     SELECT g.id, g.name, s.name FROM class_groups g JOIN schools s ON s.id = g.schoolId WHERE g.id IN (:ids)`,
    { ids: orNone(ids) },
  );

/** Skills of which something is reported of these people. */
export const skillsOf = (
  db: Db,
  ids: string[],
): Promise<{ productId: string; name: string; edition: string | null; skill: string; people: number }[]> =>
  db.select(
    `SELECT l.productId, p.name, p.edition, l.skill, COUNT(*) AS people FROM levels l JOIN products p ON p.id = l.productId
     WHERE l.personId IN (:ids) GROUP BY l.productId, p.name, p.edition, l.skill ORDER BY p.name, l.skill LIMIT 200`,
    { ids: orNone(ids) },
  );

/** Whom words name, each by its own index; addresses have none, so they are looked for only where somebody is named by one. */
export const calledSo = (
  db: Db,
  { names, some }: { names: string[]; some: string[] },
  tx?: Tx,
): Promise<{ id: string; number: string | null; email: string | null; username: string | null }[]> =>
  db.select(
    `SELECT p.id, p.number, p.email, ac.username FROM (
       SELECT personId AS id FROM accounts WHERE username IN (:names) UNION SELECT id FROM people WHERE number IN (:some)
       ${some.some((who) => who.includes('@')) ? 'UNION SELECT id FROM people WHERE email IN (:some)' : ''}
     ) f JOIN people p ON p.id = f.id LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.status <> 'merged'`,
    { names, some },
    tx,
  );

/** Words that were missed before are known from then on; what was never missed is not kept. Rows: moment, moment again, product, word, person. */
export const writeKnown = (db: Db, tx: Tx, rows: unknown[][]): Promise<void> =>
  db.batch(
    'UPDATE missed_words SET knownAt = GREATEST(COALESCE(knownAt, ?), ?) WHERE productId = ? AND word = ? AND personId = ?',
    rows,
    tx,
  );

/** Levels as they were last seen: an older report changes nothing. Rows: product, skill, person, band, day. */
export const writeLevels = (db: Db, tx: Tx, rows: unknown[][]): Promise<void> =>
  db.batch(
    `INSERT INTO levels (productId, skill, personId, band, seenOn) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE band = IF(VALUES(seenOn) >= seenOn, VALUES(band), band), seenOn = GREATEST(seenOn, VALUES(seenOn))`,
    rows,
    tx,
  );
