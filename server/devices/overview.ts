/** What waits to be done with devices, and what must be replaced when. */
import { theirRows, isEverywhere } from '#core/authority/index';
import { refresh } from '#core/devices/index';
import type { Device } from '#core/entities/index';
import type { Viewer } from '../services';
import type { DeviceOverview } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { oneToOne } from './assign';
import { carts } from './carts';

export async function deviceOverview(
  db: Db,
  config: Pick<Config, 'today'>,
  viewer: Viewer,
  school: string | null,
): Promise<DeviceOverview> {
  const today = config.today();
  const { settings, year } = (await district(db))!;
  const params = { today, school };
  const here = `${theirRows(viewer, 'atSchool', 'd')} ${school ? 'AND d.schoolId = :school' : ''}`;
  const [counts, devices, collect, { troubles }, assigned] = await Promise.all([
    db.one<Record<'late' | 'repair' | 'missing' | 'spare', string | null>>(
      `SELECT SUM(l.due < :today) AS late, SUM(d.\`condition\` IN ('broken', 'repair')) AS repair, SUM(d.\`condition\` = 'missing') AS missing,
         SUM(l.id IS NULL AND d.cartId IS NULL AND d.\`condition\` IN ('good', 'worn') AND (d.updatesEnd IS NULL OR d.updatesEnd > :today)) AS spare
       FROM devices d LEFT JOIN loans l ON l.deviceId = d.id AND l.ends IS NULL WHERE ${here}`,
      params,
    ),
    db.select<Device>(`SELECT d.model, d.boughtOn, d.updatesEnd, d.\`condition\` FROM devices d WHERE ${here}`, params),
    db.select<DeviceOverview['collect'][number]>(
      `SELECT c.id AS classId, c.name, s.name AS school, COUNT(DISTINCT e.personId) AS students, COUNT(DISTINCT l.deviceId) AS \`out\`
       FROM classes c JOIN schools s ON s.id = c.schoolId JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student'
         LEFT JOIN loans l ON l.personId = e.personId AND l.ends IS NULL
       WHERE c.kind = 'homeroom' AND c.ends IS NULL AND ${theirRows(viewer, 'atSchool', 'c')} ${school ? 'AND c.schoolId = :school' : ''}
       GROUP BY c.id, c.name, s.name HAVING COUNT(DISTINCT l.deviceId) > 0 ORDER BY s.name, LENGTH(c.name), c.name`,
      params,
    ),
    carts(db, viewer, today, school ?? undefined),
    oneToOne(db, config, { school, schools: isEverywhere(viewer) ? null : viewer.schoolIds }),
  ]);
  const n = (key: 'late' | 'repair' | 'missing' | 'spare') => Number(counts?.[key] ?? 0);
  const { moves, unmet, mixed, shortYears } = assigned.made;
  return {
    late: n('late'),
    repair: n('repair'),
    missing: n('missing'),
    spare: n('spare'),
    troubles: troubles.map(({ text }) => text),
    oneToOne: {
      grades: settings.oneToOne,
      lacking: assigned.lacking,
      kept: assigned.kept,
      moves,
      unmet,
      mixed,
      shortYears,
    },
    refresh: refresh(devices, { today, begins: year.begins.slice(5), years: settings.deviceYears }),
    collect,
  };
}
