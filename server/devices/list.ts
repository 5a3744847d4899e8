/** The worksheet of devices: filtered, paged by tag, with counts; one device with everyone who had it. */
import { say } from '#core/messages/say';
import { notFound } from '../faults';
import type { Viewer } from '../services';
import type { DeviceFacets, DeviceFilter, DevicePage, DeviceRow, DeviceSheet, DeviceWhere } from '../contract';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';
import { countBy, countDevices, countWhere, deviceById, devicesAfter, type RawDevice } from './queries';

const whereLabels: Record<DeviceWhere, string> = {
  out: say('devices.checkedOut'),
  free: say('devices.whereFree'),
  late: say('devices.whereOverdue'),
  repair: say('devices.brokenOrInRepair3'),
  missing: say('devices.whereMissing'),
};

const shown = ({ late, ...row }: RawDevice): DeviceRow => ({ ...row, late: Number(late) === 1 });

export async function devicePage(
  db: Db,
  viewer: Viewer,
  filter: DeviceFilter,
  page: { after?: string; limit: number; today: string },
): Promise<DevicePage> {
  const rows = await devicesAfter(db, viewer, filter, page);
  const more = rows.length > page.limit;
  if (more) rows.pop();
  return { rows: rows.map(shown), next: more ? rows.at(-1)!.tag : null };
}

export async function deviceFacets(db: Db, viewer: Viewer, filter: DeviceFilter, today: string): Promise<DeviceFacets> {
  const count = async (but: 'school' | 'model') =>
    (await countBy(db, viewer, filter, today, but)).map((row) => ({ ...row, count: Number(row.count) }));
  const wheres = Object.keys(whereLabels) as DeviceWhere[];
  const [school, model, byWhere, total] = await Promise.all([
    count('school'),
    count('model'),
    countWhere(db, viewer, filter, today),
    countDevices(db, viewer, filter, today),
  ]);
  const where = wheres.map((value) => ({ value, label: whereLabels[value], count: Number(byWhere?.[value] ?? 0) }));
  return { total, school, model, where: where.filter((facet) => facet.count > 0) };
}

/** Throws Fault missing where it is not there, or at a school that is not the viewer's. */
export async function deviceOf(db: Db, viewer: Viewer, id: string, today: string): Promise<DeviceRow> {
  const row = await deviceById(db, viewer, id, today);
  if (!row) throw notFound(say('api.thisDevice'));
  return shown(row);
}

export async function deviceSheet(db: Db, viewer: Viewer, id: string, today: string): Promise<DeviceSheet> {
  const device = await deviceOf(db, viewer, id, today);
  const all = await joined(db, 'loan', {
    of: { familyName: 'person.familyName', givenName: 'person.givenName' },
    where: { deviceId: id },
    order: ['-begins'],
  });
  const loans = [...all.filter(({ ends }) => ends === null), ...all.filter(({ ends }) => ends !== null)]
    .slice(0, 50)
    .map(({ familyName, givenName, ...loan }) => ({ ...loan, holder: `${familyName}, ${givenName}` }));
  return { device, loans };
}
