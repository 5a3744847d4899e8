/**
 * All that is kept about one person, as one document: every row of every table that names them. Tables are found by
 * what is declared of them, so that one that is added later is in it without being thought of.
 */
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import type { WholeRecord } from '../contract';
import { mustRank } from '../authority/check';
import { declared, namersOf, someModel, type TableName, withheldOf } from '../db/models';
import { person } from './sheet';

/** Throws Fault missing for somebody whom the viewer may not see. Who asked is in the trail. */
export async function wholeRecord(
  { db, config }: Pick<Services, 'db' | 'config'>,
  viewer: Viewer,
  personId: string,
): Promise<WholeRecord> {
  await person(db, viewer, personId);
  await mustRank(db, viewer, personId);
  await audit(db, { by: viewer.personId, action: 'export.person', about: personId, detail: 'all that is kept' });
  const tables: WholeRecord['tables'] = {};
  const add = async (name: TableName, where: Record<string, string | string[]>, as: string) => {
    const { table } = declared[name];
    const withheld = withheldOf(table);
    const rows = await someModel(db.models, name).findAll({
      attributes: { exclude: [...withheld] },
      where,
      limit: 10_000,
      raw: true,
    });
    if (rows.length === 0) return;
    tables[table] = [...(tables[table] ?? []), ...rows.map((row) => ({ as, ...row }))];
  };
  await add('person', { id: personId }, 'id');
  for (const { name, field } of namersOf('person')) await add(name, { [field]: personId }, field);
  const accounts = await db.models.account.findAll({ attributes: ['id'], where: { personId }, raw: true });
  const accountIds = accounts.map(({ id }) => id);
  for (const { name, field } of namersOf('account')) await add(name, { [field]: accountIds }, field);
  const touched = await db.models.touched.findAll({ attributes: ['planId'], where: { personId }, raw: true });
  await add('plans', { id: touched.map(({ planId }) => planId) }, 'touched');
  return { about: personId, on: config.today(), tables };
}
