/**
 * All that is kept about one person, as one document: every row of every table that names them. Tables are found by
 * what is declared of them, so that one that is added later is in it without being thought of.
 */
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { WholeRecord } from '../contract';
import { mustRank } from '../authority/check';
import { namersOf, withheldOf } from '../db/models';
import { personSheet } from './sheet';

/** Throws Fault missing for somebody whom the viewer may not see. Who asked is in the trail. */
export async function wholeRecord(
  { db, config, roll }: Pick<Services, 'db' | 'config' | 'roll'>,
  viewer: Viewer,
  personId: string,
): Promise<WholeRecord> {
  await personSheet(roll, viewer, personId);
  await mustRank(db, viewer, personId);
  await audit(db, { by: viewer.personId, action: 'export.person', about: personId, detail: 'all that is kept' });
  const tables: WholeRecord['tables'] = {};
  const add = async (table: string, condition: string, as: string) => {
    const rows = await db.select<Record<string, unknown>>(`SELECT * FROM \`${table}\` WHERE ${condition} LIMIT 10000`, {
      personId,
    });
    if (rows.length === 0) return;
    const withheld = withheldOf(table);
    tables[table] = [
      ...(tables[table] ?? []),
      ...rows.map((row) => ({
        as,
        ...Object.fromEntries(Object.entries(row).filter(([name]) => !withheld.has(name))),
      })),
    ];
  };
  await add('people', 'id = :personId', 'id');
  for (const { table, field } of namersOf('person')) await add(table, `\`${field}\` = :personId`, field);
  for (const { table, field } of namersOf('account'))
    await add(table, `\`${field}\` IN (SELECT id FROM accounts WHERE personId = :personId)`, field);
  await add('plans', 'id IN (SELECT planId FROM touched WHERE personId = :personId)', 'touched');
  return { about: personId, on: config.today(), tables };
}
