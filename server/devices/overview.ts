/** What waits to be done with devices, and what must be replaced when. */
import { theirRows, isEverywhere } from '#core/authority/index';
import { refresh } from '#core/devices/index';
import type { Viewer } from '../services';
import type { DeviceOverview } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { oneToOne } from './assign';
import { carts } from './carts';
import { joined } from '../db/joined';
import { countWaiting, roomsWithLoans } from './queries';

export async function deviceOverview(
  db: Db,
  config: Pick<Config, 'today'>,
  viewer: Viewer,
  school: string | null,
): Promise<DeviceOverview> {
  const today = config.today();
  const { settings, year } = (await district(db))!;
  const ofSchool = school ? { schoolId: school } : {};
  const [counts, devices, collect, { troubles }, assigned] = await Promise.all([
    countWaiting(db, viewer, today, school),
    joined(db, 'device', {
      fields: ['model', 'boughtOn', 'updatesEnd', 'condition'],
      where: ofSchool,
      within: [theirRows(viewer, 'atSchool', 'device')],
    }),
    roomsWithLoans(db, viewer, school),
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
      notGiven: assigned.notGiven,
    },
    refresh: refresh(devices, { today, begins: year.begins.slice(5), years: settings.deviceYears }),
    collect,
  };
}
