/** The register as a bundle of the open roster standard, as far as one may see it. */
import { theirRows } from '#core/authority/index';
import { zipSync } from 'fflate';
import type { Affiliation, Enrollment, Person, School, SchoolClass } from '#core/entities/index';
import { toFiles, toRecords } from '#core/oneroster/index';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import { district } from '../district';

export async function rosterZip({ db }: Services, viewer: Viewer): Promise<Uint8Array> {
  const here = await district(db);
  if (!here) throw new Fault('conflict', 'There is no district yet.');
  const scope = theirRows(viewer, 'people', 'p');
  const mine = `SELECT p.id FROM people p WHERE p.status = 'active' AND ${scope}`;
  const accounts = await db.select<{ personId: string; username: string }>(
    `SELECT personId, username FROM accounts WHERE personId IN (${mine})`,
  );
  const records = toRecords({
    district: here.name,
    year: here.year,
    schools: await db.select<School>(
      `SELECT * FROM schools s WHERE ${theirRows(viewer, 'schools', 's')} ORDER BY name`,
    ),
    people: await db.select<Person>(
      `SELECT p.* FROM people p WHERE p.id IN (${mine}) ORDER BY p.familyName, p.givenName, p.id`,
    ),
    affiliations: await db.select<Affiliation>(
      `SELECT * FROM affiliations WHERE ends IS NULL AND personId IN (${mine})`,
    ),
    classes: await db.select<SchoolClass>(
      `SELECT * FROM classes c WHERE ends IS NULL AND kind <> 'template' AND ${theirRows(viewer, 'classes', 'c')} ORDER BY schoolId, name`,
    ),
    enrollments: await db.select<Enrollment>(
      `SELECT * FROM enrollments WHERE ends IS NULL AND personId IN (${mine}) AND classId NOT IN (SELECT id FROM classes WHERE kind = 'template')`,
    ),
    usernames: new Map(accounts.map((a) => [a.personId, a.username])),
  });
  return zipSync(Object.fromEntries(toFiles(records, '1.2')), { level: 6 });
}
