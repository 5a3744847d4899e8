/**
 * The record sheet: eight questions of one person, each by an index, asked at once. By the models the same sheet takes
 * twice as long (`./run bench lists`, one record): making and reading their statements costs more than the database does.
 */
import type { PersonSheet } from '../contract';
import type { Db } from '../db/connection';

export const placesOf = (db: Db, id: string): Promise<PersonSheet['places']> =>
  db.select(
    'SELECT a.*, s.name AS school FROM affiliations a JOIN schools s ON s.id = a.schoolId WHERE a.personId = :id ORDER BY a.begins DESC',
    { id },
  );

export const classesOf = (db: Db, id: string): Promise<PersonSheet['classes']> =>
  db.select(
    `SELECT e.id, e.classId, c.name, c.kind, s.name AS school, e.role, e.begins, e.ends FROM enrollments e JOIN classes c ON c.id = e.classId JOIN schools s ON s.id = c.schoolId
     WHERE e.personId = :id ORDER BY e.ends IS NOT NULL, c.kind DESC, c.name`,
    { id },
  );

export interface CardRow {
  printedAt: string;
  isVoid: number;
  secretVersion: number;
  face: string | null;
}
/** The last prints. */
export const cardsOf = (db: Db, id: string): Promise<CardRow[]> =>
  db.select(
    'SELECT r.at AS printedAt, c.voidedAt IS NOT NULL AS isVoid, c.secretVersion, c.face FROM printed_cards c JOIN prints r ON r.id = c.printId WHERE c.personId = :id ORDER BY r.at DESC LIMIT 50',
    { id },
  );

export const groupsOf = (db: Db, id: string): Promise<PersonSheet['groups']> =>
  db.select(
    'SELECT g.id, g.name FROM memberships m JOIN class_groups g ON g.id = m.groupId WHERE m.personId = :id AND m.ends IS NULL AND g.ends IS NULL ORDER BY g.name',
    { id },
  );

/** The latest seats, each as long as its license lasts. */
export const seatsOf = (db: Db, id: string): Promise<Omit<PersonSheet['seats'][number], 'why'>[]> =>
  db.select(
    `SELECT s.id, l.productId, p.name, p.edition, s.begins, LEAST(COALESCE(s.ends, l.ends), l.ends) AS until FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN products p ON p.id = l.productId
     WHERE s.personId = :id ORDER BY until DESC, p.name LIMIT 40`,
    { id },
  );

export const devicesOf = (db: Db, id: string): Promise<PersonSheet['devices']> =>
  db.select(
    'SELECT l.id, l.deviceId, d.tag, d.model, l.kind, l.begins, l.due, l.ends FROM loans l JOIN devices d ON d.id = l.deviceId WHERE l.personId = :id ORDER BY l.ends IS NOT NULL, l.begins DESC LIMIT 20',
    { id },
  );

/** What plans did that were about the person, the latest first. */
export const historyOf = (db: Db, id: string): Promise<PersonSheet['history']> =>
  db.select(
    `SELECT l.id AS ledgerId, l.planId, pl.title, l.action, CONCAT(b.givenName, ' ', b.familyName) AS \`by\`, l.at FROM touched t JOIN ledger l ON l.planId = t.planId JOIN plans pl ON pl.id = t.planId
       LEFT JOIN people b ON b.id = l.byPersonId WHERE t.personId = :id ORDER BY l.id DESC LIMIT 40`,
    { id },
  );
