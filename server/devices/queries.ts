/**
 * The worksheet of devices with its counts, and the people who need a device: many conditions over joins of tens of
 * thousands of devices.
 */
import { theirRows } from '#core/authority/index';
import type { Booked } from '#core/devices/index';
import type { Device } from '#core/entities/index';
import { orNone } from '../db/batches';
import type { Viewer } from '../services';
import type { DeviceFilter, DeviceOverview, DeviceRow, DeviceWhere } from '../contract';
import type { Db, Params } from '../db/connection';

const from = `devices d JOIN schools s ON s.id = d.schoolId LEFT JOIN carts c ON c.id = d.cartId
  LEFT JOIN loans l ON l.deviceId = d.id AND l.ends IS NULL LEFT JOIN people p ON p.id = l.personId`;
const columns = `d.id, d.tag, d.serial, d.model, d.schoolId, d.boughtOn, d.warrantyEnds, d.updatesEnd, d.\`condition\`, d.cartId, d.slot, d.room,
  s.name AS school, c.name AS cart, l.personId, CONCAT(p.familyName, ', ', p.givenName) AS holder, l.kind, l.due, COALESCE(l.due < :today, 0) AS late`;

const whereSql: Record<DeviceWhere, string> = {
  out: 'l.id IS NOT NULL',
  free: "l.id IS NULL AND d.`condition` IN ('good', 'worn')",
  late: 'l.due < :today',
  repair: "d.`condition` IN ('broken', 'repair')",
  missing: "d.`condition` = 'missing'",
};
function conditionsOf(viewer: Viewer, filter: DeviceFilter, but?: keyof DeviceFilter): { sql: string; params: Params } {
  const on = (key: keyof DeviceFilter, sql: string) => (filter[key] && key !== but ? [sql] : []);
  const parts = [
    theirRows(viewer, 'atSchool', 'd'),
    ...on('school', 'd.schoolId = :school'),
    ...on('model', 'd.model = :model'),
    ...on('cart', 'd.cartId = :cart'),
    ...on('where', filter.where ? whereSql[filter.where] : ''),
    ...on('q', '(d.tag LIKE :q OR d.serial LIKE :q OR p.familyName LIKE :q OR p.givenName LIKE :q)'),
  ];
  const { school = null, model = null, cart = null, q } = filter;
  const params = { school, model, cart, q: `${(q ?? '').replace(/[%_\\]/g, '\\$&')}%` };
  return { sql: parts.join(' AND '), params };
}

export type RawDevice = Omit<DeviceRow, 'late'> & { late: number };

/** One more than a page, by tag. */
export function devicesAfter(
  db: Db,
  viewer: Viewer,
  filter: DeviceFilter,
  page: { after?: string; limit: number; today: string },
): Promise<RawDevice[]> {
  const { sql, params } = conditionsOf(viewer, filter);
  return db.select(
    `SELECT ${columns} FROM ${from} WHERE ${sql} AND d.tag > :after ORDER BY d.tag LIMIT ${page.limit + 1}`,
    { ...params, after: page.after ?? '', today: page.today },
  );
}

export const deviceById = (db: Db, viewer: Viewer, id: string, today: string): Promise<RawDevice | null> =>
  db.one(`SELECT ${columns} FROM ${from} WHERE d.id = :id AND ${theirRows(viewer, 'atSchool', 'd')}`, { id, today });

const grouped = { school: ['d.schoolId', 's.name'], model: ['d.model', 'd.model'] } as const;
/** Under each value of a facet, with that facet's own choice left open. */
export function countBy(
  db: Db,
  viewer: Viewer,
  filter: DeviceFilter,
  today: string,
  by: keyof typeof grouped,
): Promise<{ value: string; label: string; count: number }[]> {
  const { sql, params } = conditionsOf(viewer, filter, by);
  const [value, label] = grouped[by];
  return db.select(
    `SELECT ${value} AS value, ${label} AS label, COUNT(*) AS count FROM ${from} WHERE ${sql} GROUP BY value, label ORDER BY label`,
    { ...params, today },
  );
}
export function countWhere(
  db: Db,
  viewer: Viewer,
  filter: DeviceFilter,
  today: string,
): Promise<Record<DeviceWhere, number | string | null> | null> {
  const { sql, params } = conditionsOf(viewer, filter, 'where');
  const sums = Object.entries(whereSql).map(([name, condition]) => `SUM(${condition}) AS \`${name}\``);
  return db.one(`SELECT ${sums.join(', ')} FROM ${from} WHERE ${sql}`, { ...params, today });
}
export async function countDevices(db: Db, viewer: Viewer, filter: DeviceFilter, today: string): Promise<number> {
  const { sql, params } = conditionsOf(viewer, filter);
  const row = await db.one<{ n: number }>(`SELECT COUNT(*) AS n FROM ${from} WHERE ${sql}`, { ...params, today });
  return row?.n ?? 0;
}

export interface Holder {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
  schoolId: string;
  grade: string;
  group: string | null;
  loanDeviceId: string | null;
}
/** Who is to have a device, with their homeroom and what they have: all of the grades, or these people. */
export function holdersFor(
  db: Db,
  grades: readonly string[],
  of: { school: string | null; personIds?: readonly string[] },
): Promise<Holder[]> {
  const people = of.personIds ? 'p.id IN (:ids)' : "p.role = 'student' AND a.grade IN (:grades)";
  return db.select(
    `SELECT p.id, p.familyName, p.givenName, p.number, a.schoolId, COALESCE(a.grade, '') AS grade,
       (SELECT MIN(c.id) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL WHERE e.personId = p.id AND e.ends IS NULL AND e.role = 'student') AS \`group\`,
       (SELECT MIN(l.deviceId) FROM loans l WHERE l.personId = p.id AND l.ends IS NULL ${of.personIds ? '' : "AND l.kind = 'own'"}) AS loanDeviceId
     FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE p.status = 'active' AND ${people} ${of.school ? 'AND a.schoolId = :school' : ''} ORDER BY a.schoolId, p.familyName, p.givenName, p.id`,
    { grades: orNone(grades), ids: orNone(of.personIds ?? []), school: of.school },
  );
}

/** Every device, of a school or of all, and whether somebody has it. */
export const devicesNow = (db: Db, school: string | null): Promise<(Device & { isOut: number })[]> =>
  db.select(
    `SELECT d.*, EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) AS isOut FROM devices d
     ${school ? 'WHERE d.schoolId = :school' : ''} ORDER BY d.tag`,
    { school },
  );

/** Bookings of carts that hold today or later, with how many children come. */
export const bookingsNow = (
  db: Db,
  viewer: Viewer,
  today: string,
  school: string | null,
): Promise<(Booked & { class: string })[]> =>
  db.select(
    `SELECT b.id, b.cartId, b.classId, b.weekday, b.period, b.begins, b.ends, k.name AS class,
       (SELECT COUNT(*) FROM enrollments e WHERE e.classId = k.id AND e.ends IS NULL AND e.role = 'student') AS students
     FROM bookings b JOIN carts c ON c.id = b.cartId JOIN classes k ON k.id = b.classId AND k.ends IS NULL
     WHERE c.ends IS NULL AND ${theirRows(viewer, 'atSchool', 'c')} ${school ? 'AND c.schoolId = :school' : ''}
       AND (b.ends IS NULL OR b.ends > :today) ORDER BY b.weekday, b.period, k.name`,
    { school, today },
  );

/** How many wait for something to be done. */
export const countWaiting = (
  db: Db,
  viewer: Viewer,
  today: string,
  school: string | null,
): Promise<Record<'late' | 'repair' | 'missing' | 'spare', string | null> | null> =>
  db.one(
    `SELECT SUM(l.due < :today) AS late, SUM(d.\`condition\` IN ('broken', 'repair')) AS repair, SUM(d.\`condition\` = 'missing') AS missing,
       SUM(l.id IS NULL AND d.cartId IS NULL AND d.\`condition\` IN ('good', 'worn') AND (d.updatesEnd IS NULL OR d.updatesEnd > :today)) AS spare
     FROM devices d LEFT JOIN loans l ON l.deviceId = d.id AND l.ends IS NULL
     WHERE ${theirRows(viewer, 'atSchool', 'd')} ${school ? 'AND d.schoolId = :school' : ''}`,
    { today, school },
  );

/** Homerooms in which somebody has a device, with how many. */
export const roomsWithLoans = (db: Db, viewer: Viewer, school: string | null): Promise<DeviceOverview['collect']> =>
  db.select(
    `SELECT c.id AS classId, c.name, s.name AS school, COUNT(DISTINCT e.personId) AS students, COUNT(DISTINCT l.deviceId) AS \`out\`
     FROM classes c JOIN schools s ON s.id = c.schoolId JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student'
       LEFT JOIN loans l ON l.personId = e.personId AND l.ends IS NULL
     WHERE c.kind = 'homeroom' AND c.ends IS NULL AND ${theirRows(viewer, 'atSchool', 'c')} ${school ? 'AND c.schoolId = :school' : ''}
     GROUP BY c.id, c.name, s.name HAVING COUNT(DISTINCT l.deviceId) > 0 ORDER BY s.name, LENGTH(c.name), c.name`,
    { school },
  );
