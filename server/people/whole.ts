/**
 * All that is kept about one person, as one document: every row of every table that names them. Tables are found by
 * their columns, so that one that is added later is in it without being thought of.
 */
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { WholeRecord } from '../contract';
import { mustRank } from '../authority/check';
import type { Db } from '../db/connection';
import { personSheet } from './sheet';

/** Columns that name a person. */
const naming = [
  'personId',
  'aboutPersonId',
  'byPersonId',
  'mergedInto',
  'ownerId',
  'createdBy',
  'askedBy',
  'settledBy',
  'savedBy',
];
/** What opens something, and files and documents that are about many: not written out. */
const withheld = new Set([
  'secretSealed',
  'passwordHash',
  'tokenHash',
  'codeMac',
  'codeSealed',
  'sealedPdf',
  'bytes',
  'draft',
  'input',
  'result',
  'summary',
  'held',
  'releases',
  'takenOut',
  'waiting',
  'matched',
  'unanswered',
  'settings',
  'reading',
  'state',
  'said',
  'body',
  'publicKey',
  'credentialId',
  'codeHash',
  'transfers',
]);

/** Tables and their columns that name a person. */
async function namingColumns(db: Db): Promise<Map<string, string[]>> {
  const columns = await db.select<{ tableName: string; columnName: string }>(
    'SELECT TABLE_NAME AS tableName, COLUMN_NAME AS columnName FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME IN (:naming) ORDER BY TABLE_NAME, ORDINAL_POSITION',
    { naming },
  );
  const found = new Map<string, string[]>();
  for (const { tableName, columnName } of columns) found.set(tableName, [...(found.get(tableName) ?? []), columnName]);
  return found;
}

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
    tables[table] = [
      ...(tables[table] ?? []),
      ...rows.map((row) => ({
        as,
        ...Object.fromEntries(Object.entries(row).filter(([name]) => !withheld.has(name))),
      })),
    ];
  };
  await add('people', 'id = :personId', 'id');
  for (const [table, columns] of await namingColumns(db))
    for (const column of columns) await add(table, `\`${column}\` = :personId`, column);
  for (const table of ['sessions', 'known_browsers', 'password_links', 'passkeys', 'app_codes', 'recovery_codes'])
    await add(table, 'accountId IN (SELECT id FROM accounts WHERE personId = :personId)', 'accountId');
  await add('plans', 'id IN (SELECT planId FROM touched WHERE personId = :personId)', 'touched');
  return { about: personId, on: config.today(), tables };
}
