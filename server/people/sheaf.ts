/** The sheaf: people gathered by one person, kept until let go. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
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
import { insertMany } from '../db/bulk';
import { joined } from '../db/joined';
import { countKept, gatheredByClass, gatheredByGrade, keepGathered } from './queries';

/** Whoever was merged into another record since is no longer there. */
const isNotMerged = { 'person.status': { [Op.ne]: 'merged' } };

export async function sheafState(db: Db, viewer: Viewer): Promise<SheafState> {
  const owner = viewer.personId;
  const [grades, byClass, total] = await Promise.all([
    gatheredByGrade(db, owner),
    gatheredByClass(db, owner),
    db.models.sheaves.count({
      where: { ownerId: owner },
      include: [{ association: 'person', where: { status: { [Op.ne]: 'merged' } }, required: true }],
    }),
  ]);
  return {
    count: total,
    byGrade: grades.map((g) => ({ ...g, label: g.value ? gradeLabel(g.value) : say('people.staff') })),
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
  const rows = ids.map((personId) => ({ ownerId: viewer.personId, personId }));
  await db.transaction((tx) => insertMany(db, 'sheaves', rows, tx, 'skip'));
}

export async function letGo(db: Db, viewer: Viewer, what: { ids?: string[]; all?: boolean }): Promise<void> {
  const { personId: ownerId } = viewer;
  if (what.all) await db.models.sheaves.destroy({ where: { ownerId } });
  else if (what.ids?.length) await db.models.sheaves.destroy({ where: { ownerId, personId: what.ids } });
}

export const sheafIds = async (db: Db, ownerId: string): Promise<string[]> =>
  (await joined(db, 'sheaves', { fields: ['personId'], where: { ownerId }, whose: isNotMerged })).map(
    ({ personId }) => personId,
  );

/** What somebody keeps, by name. People merged since count no more. */
export const keptSheaves = (db: Db, { personId: owner }: Viewer): Promise<KeptSheaf[]> => countKept(db, owner);

/** Keeps those who are gathered under the name; what was kept under it before is replaced. */
export async function keepSheaf(db: Db, viewer: Viewer, name: string): Promise<KeptSheaf> {
  const owner = viewer.personId;
  if ((await sheafIds(db, owner)).length === 0) throw new Fault('invalid', say('people.noOneIsGathered'));
  await db.transaction(async (tx) => {
    const id = mint();
    await db.models.keptSheaves.destroy({ where: { ownerId: owner, name }, transaction: tx });
    await db.models.keptSheaves.create({ id, ownerId: owner, name, keptAt: nowIso() }, { transaction: tx });
    await keepGathered(db, tx, id, owner);
  });
  return (await keptSheaves(db, viewer)).find((one) => fold(one.name) === fold(name))!;
}

/** Ids of a kept sheaf that is the viewer's own. Throws Fault missing. */
export async function keptIds(db: Db, viewer: Viewer, id: string): Promise<string[]> {
  const own = await db.models.keptSheaves.findOne({ where: { id, ownerId: viewer.personId } });
  if (!own) throw notFound(say('api.thisSheaf'));
  return (await db.models.keptPeople.findAll({ where: { sheafId: id }, raw: true })).map(({ personId }) => personId);
}

export async function dropSheaf(db: Db, viewer: Viewer, id: string): Promise<void> {
  await keptIds(db, viewer, id);
  await db.models.keptSheaves.destroy({ where: { id } });
}
