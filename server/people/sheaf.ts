/** The sheaf: people gathered by one person, kept until let go. */
import { gradeLabel } from '#core/tabular/index';
import { fold } from '#core/names/index';
import type { KeptSheaf, PeopleFilter, SheafState } from '../contract';
import { Fault, notFound } from '../faults';
import type { Viewer } from '../services';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { mint } from '../plans/mint';
import { idsOf, visible } from './list';
import type { Roll } from './roll';

/** Whoever was merged into another record since is no longer there. */
const ofOwner = "FROM sheaves s JOIN people p ON p.id = s.personId AND p.status <> 'merged' WHERE s.ownerId = :owner";

export async function sheafState(db: Db, viewer: Viewer): Promise<SheafState> {
  const owner = viewer.personId;
  const grades = await db.select<{ value: string; count: number }>(
    `SELECT COALESCE(a.grade, '') AS value, COUNT(*) AS count FROM sheaves s LEFT JOIN affiliations a ON a.personId = s.personId AND a.ends IS NULL
     WHERE s.ownerId = :owner GROUP BY value ORDER BY value`,
    { owner },
  );
  const byClass = await db.select<{ value: string; label: string; count: number }>(
    `SELECT c.id AS value, c.name AS label, COUNT(*) AS count FROM sheaves s JOIN enrollments e ON e.personId = s.personId AND e.ends IS NULL
     JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE s.ownerId = :owner GROUP BY c.id, c.name ORDER BY count DESC, c.name LIMIT 6`,
    { owner },
  );
  const total = await db.one<{ n: number }>(`SELECT COUNT(*) AS n ${ofOwner}`, { owner });
  return {
    count: total?.n ?? 0,
    byGrade: grades.map((g) => ({ ...g, label: g.value ? gradeLabel(g.value) : 'staff' })),
    byClass,
  };
}

/** Puts in the given people, or all that a filter shows. Those whom the viewer may not see are passed over. */
export async function gather(
  roll: Roll,
  viewer: Viewer,
  what: { ids?: string[]; filter?: PeopleFilter },
): Promise<void> {
  const { db } = roll;
  const ids = what.ids ? await visible(db, viewer, what.ids) : await idsOf(roll, viewer, what.filter ?? {});
  await db.transaction((tx) =>
    db.batch(
      'INSERT IGNORE INTO sheaves (ownerId, personId) VALUES (?, ?)',
      ids.map((id) => [viewer.personId, id]),
      tx,
    ),
  );
}

export async function letGo(db: Db, viewer: Viewer, what: { ids?: string[]; all?: boolean }): Promise<void> {
  const { personId: ownerId } = viewer;
  if (what.all) await db.models.sheaves.destroy({ where: { ownerId } });
  else if (what.ids?.length) await db.models.sheaves.destroy({ where: { ownerId, personId: what.ids } });
}

export const sheafIds = async (db: Db, ownerId: string): Promise<string[]> =>
  (await db.select<{ personId: string }>(`SELECT s.personId ${ofOwner}`, { owner: ownerId })).map(
    ({ personId }) => personId,
  );

/** What somebody keeps, by name. People merged since count no more. */
export const keptSheaves = (db: Db, { personId: owner }: Viewer): Promise<KeptSheaf[]> =>
  db.select<KeptSheaf>(
    `SELECT k.id, k.name, COUNT(p.id) AS count FROM kept_sheaves k LEFT JOIN kept_people kp ON kp.sheafId = k.id
       LEFT JOIN people p ON p.id = kp.personId AND p.status <> 'merged'
     WHERE k.ownerId = :owner GROUP BY k.id, k.name ORDER BY k.name`,
    { owner },
  );

/** Keeps those who are gathered under the name; what was kept under it before is replaced. */
export async function keepSheaf(db: Db, viewer: Viewer, name: string): Promise<KeptSheaf> {
  const owner = viewer.personId;
  if ((await sheafIds(db, owner)).length === 0) throw new Fault('invalid', 'Nobody is gathered.');
  await db.transaction(async (tx) => {
    const id = mint();
    await db.models.keptSheaves.destroy({ where: { ownerId: owner, name }, transaction: tx });
    await db.models.keptSheaves.create({ id, ownerId: owner, name, keptAt: nowIso() }, { transaction: tx });
    await db.run(
      'INSERT INTO kept_people (sheafId, personId) SELECT :id, personId FROM sheaves WHERE ownerId = :owner',
      { id, owner },
      tx,
    );
  });
  return (await keptSheaves(db, viewer)).find((one) => fold(one.name) === fold(name))!;
}

/** Ids of a kept sheaf that is the viewer's own. Throws Fault missing. */
export async function keptIds(db: Db, viewer: Viewer, id: string): Promise<string[]> {
  const own = await db.models.keptSheaves.findOne({ where: { id, ownerId: viewer.personId } });
  if (!own) throw notFound('This sheaf');
  return (await db.models.keptPeople.findAll({ where: { sheafId: id }, raw: true })).map(({ personId }) => personId);
}

export async function dropSheaf(db: Db, viewer: Viewer, id: string): Promise<void> {
  await keptIds(db, viewer, id);
  await db.models.keptSheaves.destroy({ where: { id } });
}
