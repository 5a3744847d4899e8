/** The worksheet of devices: filtered, paged by tag, with counts; one device with everyone who had it. */
import { theirRows } from '#core/authority/index';
import type { Loan } from '#core/entities/index';
import { notFound } from '../faults';
import type { Viewer } from '../services';
import type { DeviceFacets, DeviceFilter, DevicePage, DeviceRow, DeviceSheet, DeviceWhere } from '../contract';
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
const whereLabels: Record<DeviceWhere, string> = {
  out: 'with somebody',
  free: 'free',
  late: 'late',
  repair: 'broken or in repair',
  missing: 'missing',
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

type Raw = Omit<DeviceRow, 'late'> & { late: number };
const shown = ({ late, ...row }: Raw): DeviceRow => ({ ...row, late: Number(late) === 1 });

export async function devicePage(
  db: Db,
  viewer: Viewer,
  filter: DeviceFilter,
  page: { after?: string; limit: number; today: string },
): Promise<DevicePage> {
  const where = conditionsOf(viewer, filter);
  const rows = await db.select<Raw>(
    `SELECT ${columns} FROM ${from} WHERE ${where.sql} AND d.tag > :after ORDER BY d.tag LIMIT ${page.limit + 1}`,
    { ...where.params, after: page.after ?? '', today: page.today },
  );
  const more = rows.length > page.limit;
  if (more) rows.pop();
  return { rows: rows.map(shown), next: more ? rows.at(-1)!.tag : null };
}

export async function deviceFacets(db: Db, viewer: Viewer, filter: DeviceFilter, today: string): Promise<DeviceFacets> {
  const count = async (but: keyof DeviceFilter, value: string, label: string) => {
    const { sql, params } = conditionsOf(viewer, filter, but);
    const rows = await db.select<{ value: string; label: string; count: number }>(
      `SELECT ${value} AS value, ${label} AS label, COUNT(*) AS count FROM ${from} WHERE ${sql} GROUP BY value, label ORDER BY label`,
      { ...params, today },
    );
    return rows.map((row) => ({ ...row, count: Number(row.count) }));
  };
  const open = conditionsOf(viewer, filter, 'where');
  const all = conditionsOf(viewer, filter);
  const wheres = Object.keys(whereSql) as DeviceWhere[];
  const [school, model, byWhere, total] = await Promise.all([
    count('school', 'd.schoolId', 's.name'),
    count('model', 'd.model', 'd.model'),
    db.one<Record<DeviceWhere, number>>(
      `SELECT ${wheres.map((name) => `SUM(${whereSql[name]}) AS \`${name}\``).join(', ')} FROM ${from} WHERE ${open.sql}`,
      { ...open.params, today },
    ),
    db.one<{ n: number }>(`SELECT COUNT(*) AS n FROM ${from} WHERE ${all.sql}`, { ...all.params, today }),
  ]);
  const where = wheres.map((value) => ({ value, label: whereLabels[value], count: Number(byWhere?.[value] ?? 0) }));
  return { total: total?.n ?? 0, school, model, where: where.filter((facet) => facet.count > 0) };
}

/** Throws Fault missing where it is not there, or at a school that is not the viewer's. */
export async function deviceOf(db: Db, viewer: Viewer, id: string, today: string): Promise<DeviceRow> {
  const row = await db.one<Raw>(
    `SELECT ${columns} FROM ${from} WHERE d.id = :id AND ${theirRows(viewer, 'atSchool', 'd')}`,
    {
      id,
      today,
    },
  );
  if (!row) throw notFound('This device');
  return shown(row);
}

export async function deviceSheet(db: Db, viewer: Viewer, id: string, today: string): Promise<DeviceSheet> {
  const device = await deviceOf(db, viewer, id, today);
  const loans = await db.select<Loan & { holder: string }>(
    `SELECT l.*, CONCAT(p.familyName, ', ', p.givenName) AS holder FROM loans l JOIN people p ON p.id = l.personId
     WHERE l.deviceId = :id ORDER BY l.ends IS NOT NULL, l.begins DESC LIMIT 50`,
    { id },
  );
  return { device, loans };
}
