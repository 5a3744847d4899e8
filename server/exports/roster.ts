/** The register as a bundle of the open roster standard, as far as one may see it. */
import { Op } from 'sequelize';
import { theirRows } from '#core/authority/index';
import { zipSync } from 'fflate';
import { toFiles, toRecords } from '#core/oneroster/index';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import { district } from '../district';
import { joined } from '../db/joined';

export async function rosterZip({ db }: Services, viewer: Viewer): Promise<Uint8Array> {
  const here = await district(db);
  if (!here) throw new Fault('conflict', 'There is no district yet.');
  const theirs = theirRows(viewer, 'people', 'person');
  const ofTheirs = { where: { ends: null }, whose: { 'person.status': 'active' }, within: [theirs] };
  const accounts = await joined(db, 'account', {
    fields: ['personId', 'username'],
    whose: { 'person.status': 'active' },
    within: [theirs],
  });
  const records = toRecords({
    district: here.name,
    year: here.year,
    schools: await joined(db, 'school', { within: [theirRows(viewer, 'schools', 'school')], order: ['name'] }),
    people: await joined(db, 'person', {
      where: { status: 'active' },
      within: [theirs],
      order: ['familyName', 'givenName', 'id'],
    }),
    affiliations: await joined(db, 'affiliation', ofTheirs),
    classes: await joined(db, 'class', {
      where: { ends: null, kind: { [Op.ne]: 'template' } },
      within: [theirRows(viewer, 'classes', '`class`')],
      order: ['schoolId', 'name'],
    }),
    enrollments: await joined(db, 'enrollment', {
      ...ofTheirs,
      whose: { ...ofTheirs.whose, 'class.kind': { [Op.ne]: 'template' } },
    }),
    usernames: new Map(accounts.map((a) => [a.personId, a.username])),
  });
  return zipSync(Object.fromEntries(toFiles(records, '1.2')), { level: 6 });
}
