/**
 * What is read of many people at once: the roll, 10,000 at a time, in as few columns as there must be; a page of the list
 * with its classes as a line; who is gathered, counted where the rows are.
 */
import { listFields, type ListField, type Person, searchFields } from '#core/entities/index';
import type { KeptSheaf, PersonRow as ShownRow } from '../contract';
import type { Db, Params, Tx } from '../db/connection';

export type RollField = Extract<keyof Person, ListField | (typeof searchFields)[number]>;
const rollFields: readonly RollField[] = [...new Set<RollField>([...listFields, ...searchFields])];

export interface Place {
  id: string;
  personId: string;
  schoolId: string;
  grade: string | null;
  begins: string;
  ends: string | null;
}
export interface PersonRow extends Pick<Person, RollField> {
  id: string;
  role: Person['role'];
  status: 'active' | 'left';
  username: string | null;
  account: 'active' | 'frozen' | null;
  secretVersion: number | null;
}
export type Which = { from: string; to: string } | { ids: string[] };

/** Everything that the roll says of some people; `day`: on which seats are looked at. */
export async function rollRows(db: Db, which: Which, day: string) {
  const where = (column: string) => ('ids' in which ? `${column} IN (:ids)` : `${column} BETWEEN :from AND :to`);
  const params: Params = { ...which, day };
  const ask = <T extends object>(sql: string): Promise<T[]> => db.select<T>(sql, params);
  const [people, places, enrollments, ended, cards, memberships, signIns, seats, loans] = await Promise.all([
    ask<PersonRow>(
      `SELECT p.id, p.role, p.status, ${rollFields.map((field) => `p.${field}`).join(', ')}, ac.username, ac.status AS account, ac.secretVersion
       FROM people p LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.status <> 'merged' AND ${where('p.id')}`,
    ),
    ask<Place>(`SELECT id, personId, schoolId, grade, begins, ends FROM affiliations WHERE ${where('personId')}`),
    ask<{ personId: string; classId: string; role: string }>(
      `SELECT personId, classId, role FROM enrollments WHERE ends IS NULL AND ${where('personId')}`,
    ),
    ask<{ personId: string }>(
      `SELECT DISTINCT personId FROM enrollments WHERE ends IS NOT NULL AND role = 'student' AND ${where('personId')}`,
    ),
    ask<{ personId: string; secretVersion: number; isVoid: number; face: string | null }>(
      `SELECT DISTINCT personId, secretVersion, voidedAt IS NOT NULL AS isVoid, face FROM printed_cards WHERE ${where('personId')}`,
    ),
    ask<{ personId: string; groupId: string; classId: string | null; schoolId: string }>(
      `SELECT m.personId, m.groupId, g.classId, g.schoolId FROM memberships m JOIN class_groups g ON g.id = m.groupId WHERE m.ends IS NULL AND ${where('m.personId')}`,
    ),
    ask<{ personId: string }>(`SELECT personId FROM sign_ins WHERE ${where('personId')}`),
    ask<{ personId: string; productId: string }>(
      `SELECT s.personId, l.productId FROM seats s JOIN licenses l ON l.id = s.licenseId
       WHERE s.begins <= :day AND (s.ends IS NULL OR s.ends > :day) AND l.begins <= :day AND l.ends > :day AND ${where('s.personId')}`,
    ),
    ask<{ personId: string }>(
      `SELECT personId FROM loans WHERE ends IS NULL AND kind = 'own' AND ${where('personId')}`,
    ),
  ]);
  return { people, places, enrollments, ended, cards, memberships, signIns, seats, loans };
}

export interface Marks {
  version: number;
  signIn: string | null;
  /** The district's, as they are written down, with the year. */
  settings: string | null;
}
/** What tells the roll that it is out of date. Read before each answer, so in one statement. */
export const readMarks = async (db: Db): Promise<Marks> =>
  (await db.one<Marks>(
    `SELECT version, (SELECT MAX(firstAt) FROM sign_ins) AS signIn,
       (SELECT CONCAT(settings, COALESCE((SELECT MAX(begins) FROM school_years), '')) FROM district LIMIT 1) AS settings FROM register`,
  ))!;

/** A page of the list, as it is shown; `me`: whose gathering is marked. */
export const shownRows = (
  db: Db,
  me: string,
  ids: string[],
): Promise<(Omit<ShownRow, 'lacks' | 'gathered'> & { isGathered: number })[]> =>
  db.select(
    `SELECT p.id, ${listFields.map((field) => `p.${field}`).join(', ')}, p.role, a.grade, s.name AS school, ac.username,
       (SELECT GROUP_CONCAT(c.name ORDER BY c.kind DESC, c.name SEPARATOR ', ') FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND e.ends IS NULL) AS classes,
       EXISTS (SELECT 1 FROM sheaves g WHERE g.ownerId = :me AND g.personId = p.id) AS isGathered
     FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN accounts ac ON ac.personId = p.id
       LEFT JOIN schools s ON s.id = a.schoolId WHERE p.id IN (:ids)`,
    { ids, me },
  );

export interface ReadyRow extends Person {
  schoolId: string | null;
  grade: string | null;
  accountId: string | null;
  account: string | null;
  deviceId: string | null;
}
/** What of an account and a device people have already. */
export const toMakeReady = (db: Db, ids: string[]): Promise<ReadyRow[]> =>
  db.select(
    `SELECT p.*, a.schoolId, a.grade, ac.id AS accountId, ac.status AS account,
       (SELECT MIN(l.deviceId) FROM loans l WHERE l.personId = p.id AND l.ends IS NULL) AS deviceId
     FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN accounts ac ON ac.personId = p.id
     WHERE p.id IN (:ids) ORDER BY p.familyName, p.givenName, p.id`,
    { ids },
  );

/** Every username that was ever given, and whether an account has it now. */
export const everGiven = (db: Db): Promise<{ username: string; personKey: string; held: number }[]> =>
  db.select(
    'SELECT g.username, g.personKey, ac.id IS NOT NULL AS held FROM given_usernames g LEFT JOIN accounts ac ON ac.username = g.username',
  );

export const gatheredByGrade = (db: Db, owner: string): Promise<{ value: string; count: number }[]> =>
  db.select(
    `SELECT COALESCE(a.grade, '') AS value, COUNT(*) AS count FROM sheaves s LEFT JOIN affiliations a ON a.personId = s.personId AND a.ends IS NULL
     WHERE s.ownerId = :owner GROUP BY value ORDER BY value`,
    { owner },
  );
/** The homerooms that most of them are in. */
export const gatheredByClass = (db: Db, owner: string): Promise<{ value: string; label: string; count: number }[]> =>
  db.select(
    `SELECT c.id AS value, c.name AS label, COUNT(*) AS count FROM sheaves s JOIN enrollments e ON e.personId = s.personId AND e.ends IS NULL
     JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE s.ownerId = :owner GROUP BY c.id, c.name ORDER BY count DESC, c.name LIMIT 6`,
    { owner },
  );
/** What somebody keeps, with how many; people merged since count no more. */
export const countKept = (db: Db, owner: string): Promise<KeptSheaf[]> =>
  db.select(
    `SELECT k.id, k.name, COUNT(p.id) AS count FROM kept_sheaves k LEFT JOIN kept_people kp ON kp.sheafId = k.id
       LEFT JOIN people p ON p.id = kp.personId AND p.status <> 'merged'
     WHERE k.ownerId = :owner GROUP BY k.id, k.name ORDER BY k.name`,
    { owner },
  );
/** Those who are gathered, up to a whole district, go into what is kept. */
export const keepGathered = (db: Db, tx: Tx, id: string, owner: string): Promise<number> =>
  db.run(
    'INSERT INTO kept_people (sheafId, personId) SELECT :id, personId FROM sheaves WHERE ownerId = :owner',
    { id, owner },
    tx,
  );
