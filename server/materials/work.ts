/** Set work of classes: setting, changing, copying, opening and taking it back; who has done it. */
import { few, say } from '#core/messages/say';
import { theirRows } from '#core/authority/index';
import { type Change, type Fields } from '#core/plan/index';
import type { Material, SetWork } from '#core/entities/index';
import { ends, updates } from '#core/register/steps';
import { libraryError, phaseOf, planSetWork, timesError, type Target, type WorkFields } from '#core/setwork/index';
import { Fault, notFound, orFault } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, WorkOrder, WorkRow, WorkSheet } from '../contract';
import { classOf } from '../classes/make';
import { groupOf } from '../classes/groups';
import { nowIso } from '../clock';
import { productLabel } from '../licenses/state';
import type { OnRoll } from '../people/roll';
import { sheafIds } from '../people/sheaf';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { productsOf } from './materials';
import { endsAfter, joined } from '../db/joined';
import { finishedWork, type Result } from './queries';

type Made = { planId: string; sentence: string };

export const nameOf = ({ family, given }: OnRoll): string => `${family}, ${given}`;

const withNames = {
  of: {
    className: 'class.name',
    classKind: 'class.kind',
    schoolId: 'class.schoolId',
    school: 'class.school.name',
    groupName: 'group.name',
    groupEnds: 'group.ends',
    material: 'material.title',
    kind: 'material.kind',
    productName: 'material.product.name',
    edition: 'material.product.edition',
  },
} as const;
const rowsOf = (db: Services['db'], ids: readonly string[]) =>
  joined(db, 'work', { ...withNames, where: { id: [...ids], ends: null }, whose: { 'class.ends': null } });
type Row = Awaited<ReturnType<typeof rowsOf>>[number];

/** For whom each piece is, as of now. */
export async function whom(
  { db, roll }: Pick<Services, 'db' | 'roll'>,
  rows: readonly SetWork[],
): Promise<Map<string, OnRoll[]>> {
  const classes = new Set(rows.map(({ classId }) => classId));
  const inClass = new Map<string, OnRoll[]>([...classes].map((id) => [id, []]));
  for (const one of await roll.everyone()) for (const id of one.classes) inClass.get(id)?.push(one);
  const some = new Map<string, Set<string>>();
  const named = rows.flatMap(({ id, whom: kind }) => (kind === 'some' ? id : []));
  for (const { workId, personId } of await db.models.assignee.findAll({
    attributes: ['workId', 'personId'],
    where: { workId: named },
    raw: true,
  }))
    some.set(workId, (some.get(workId) ?? new Set<string>()).add(personId));
  return new Map(
    rows.map(({ id, classId, whom: kind, groupId }) => {
      const all = inClass.get(classId)!;
      return [
        id,
        kind === 'some'
          ? all.filter((one) => some.get(id)?.has(one.id))
          : kind === 'group'
            ? all.filter((one) => one.groups.includes(groupId ?? ''))
            : all,
      ];
    }),
  );
}

/** Who finished which piece: a result of its material since it opened. By piece and person the first moment, and the best share. */
export async function finished(db: Services['db'], rows: readonly SetWork[]): Promise<Map<string, Result>> {
  const found = new Map<string, Result>();
  if (rows.length === 0) return found;
  for (const { id, ...result } of await finishedWork(
    db,
    rows.map(({ id }) => id),
  ))
    found.set(`${id} ${result.personId}`, result);
  return found;
}
async function shown(services: Pick<Services, 'db' | 'roll'>, rows: readonly Row[]): Promise<WorkRow[]> {
  const [people, done] = await Promise.all([whom(services, rows), finished(services.db, rows)]);
  const now = nowIso();
  return rows.map(({ productName, edition, schoolId: _, groupEnds, classKind, ...row }) => ({
    ...row,
    groupEnded: groupEnds !== null,
    forStaff: classKind === 'template',
    product: productLabel({ name: productName, edition }),
    phase: phaseOf(row, now),
    people: people.get(row.id)!.length,
    done: people.get(row.id)!.filter((one) => done.get(`${row.id} ${one.id}`)?.doneAt).length,
  }));
}

/** Of the classes that the viewer runs; what closed more than two weeks ago only with `past`. */
export async function workList(
  services: Services,
  viewer: Viewer,
  { classId, school, past }: { classId?: string; school?: string; past?: boolean },
): Promise<WorkRow[]> {
  const since = new Date(Date.parse(nowIso()) - 14 * 86_400_000).toISOString();
  const rows = await joined(services.db, 'work', {
    ...withNames,
    where: {
      ends: null,
      ...(classId ? { classId } : {}),
      ...(past ? {} : { closesAt: endsAfter(since) }),
    },
    whose: { 'class.ends': null, ...(school ? { 'class.schoolId': school } : {}) },
    within: [theirRows(viewer, 'classes', '`class`')],
    order: ['-opensAt', 'title', 'class.name'],
    limit: 2000,
  });
  return shown(services, rows);
}

/** Pieces that the viewer may change, in the order asked for. Throws Fault missing. */
async function workOf({ db }: Pick<Services, 'db'>, viewer: Viewer, ids: readonly string[]): Promise<Row[]> {
  const rows = await rowsOf(db, ids);
  const byId = new Map(rows.map((row) => [row.id, row]));
  for (const classId of new Set(rows.map((row) => row.classId))) await classOf(db, viewer, classId);
  return ids.map((id) => {
    const row = byId.get(id);
    if (!row) throw notFound(say('api.thisAssignment'));
    return row;
  });
}

export async function workSheet(services: Services, viewer: Viewer, id: string): Promise<WorkSheet> {
  const rows = await workOf(services, viewer, [id]);
  const [work] = (await shown(services, rows)) as [WorkRow];
  const [people, done] = await Promise.all([whom(services, rows), finished(services.db, rows)]);
  return {
    work,
    url: `${services.config.url}/w/${id}`,
    people: people
      .get(id)!
      .map((one) => {
        const result = done.get(`${id} ${one.id}`);
        return {
          id: one.id,
          name: nameOf(one),
          doneAt: result?.doneAt ?? null,
          share: result?.permille === undefined || result.permille === null ? null : Number(result.permille) / 1000,
          minutes:
            result?.seconds === undefined || result.seconds === null ? null : Math.round(Number(result.seconds) / 60),
        };
      })
      .sort((a, b) => a.name.localeCompare(b.name, 'en')),
  };
}

async function carry(services: Services, viewer: Viewer, title: string, changes: Change[]): Promise<Made> {
  const { planId, sentence } = await applyNow(services.db, {
    kind: 'work',
    title,
    createdBy: viewer.personId,
    plan: { changes },
  });
  return { planId, sentence };
}

/** Throws Fault missing for a class or group that is not the viewer's, invalid for a class that is not entitled to the material. */
async function targetsOf(
  services: Services,
  viewer: Viewer,
  material: Material,
  wanted: WorkOrder['targets'],
  gathered: boolean,
): Promise<Target[]> {
  const { db, roll } = services;
  const ids = gathered ? new Set(await sheafIds(db, viewer.personId)) : null;
  const everyone = ids ? (await roll.everyone()).filter(({ id }) => ids.has(id)) : [];
  const targets: Target[] = [];
  for (const { classId, groupId } of wanted) {
    const one = await classOf(db, viewer, classId);
    const group = groupId === null ? null : await groupOf(db, viewer, groupId);
    if (group && group.classId !== classId)
      throw new Fault('invalid', say('materials.isNotAGroupIn', { name: group.name, class: one.name }));
    // What teachers keep for others is not for children, so nobody in it is entitled to anything.
    if (one.kind !== 'template' && !(await productsOf(roll, classId)).has(material.productId))
      throw new Fault('invalid', say('materials.isNotEntitledToAdd', { name: one.name, title: material.title }));
    targets.push({
      classId,
      className: one.name,
      groupId,
      groupName: group?.name ?? null,
      some: ids
        ? everyone.flatMap((who) => (who.classes.includes(classId) ? { id: who.id, label: nameOf(who) } : []))
        : null,
    });
  }
  return targets;
}

async function materialOf({ db }: Services, id: string): Promise<Material> {
  const found = await db.models.material.findByPk(id, { raw: true });
  if (!found) throw notFound(say('api.thisMaterial'));
  return found;
}

export async function setWork(services: Services, viewer: Viewer, order: WorkOrder): Promise<Made> {
  const material = await materialOf(services, order.materialId);
  const targets = await targetsOf(services, viewer, material, order.targets, order.gathered);
  const { plan } = orFault(() => planSetWork(material.id, order.fields, targets, mint));
  return carry(
    services,
    viewer,
    say('materials.for3', { title: order.fields.title, list: few(targets.map((t) => t.className)) }),
    plan.changes,
  );
}

/** Each of them for each of the classes, whole; `opensAt`: when, instead of as the original. */
export async function copyWork(
  services: Services,
  viewer: Viewer,
  { ids, classIds, opensAt }: Body<'POST /api/work/copy'>,
): Promise<Made> {
  const rows = await workOf(services, viewer, ids);
  const changes: Change[] = [];
  for (const row of rows) {
    const wanted = classIds.map((classId) => ({ classId, groupId: null }));
    const targets = await targetsOf(services, viewer, await materialOf(services, row.materialId), wanted, false);
    // A later start takes its end along.
    const later = opensAt === null ? 0 : Date.parse(opensAt) - Date.parse(row.opensAt);
    const after = (moment: string | null) =>
      moment === null ? null : new Date(Date.parse(moment) + later).toISOString();
    const fields: WorkFields = {
      title: row.title,
      opensAt: opensAt ?? row.opensAt,
      dueAt: after(row.dueAt),
      closesAt: after(row.closesAt),
      minutes: row.minutes,
      entryWord: row.entryWord,
      paused: 0,
      answers: row.answers,
      library: row.library ?? null,
    };
    changes.push(...orFault(() => planSetWork(row.materialId, fields, targets, mint)).plan.changes);
  }
  return carry(services, viewer, say('materials.copyAssignmentsToClasses', { count: classIds.length }), changes);
}

const edited = (row: Row, before: Fields, after: Fields, reason: string): Change => ({
  ...updates('work', row.id, before, after, reason),
  label: `${row.title} · ${row.className}`,
  subject: row.id,
});

export async function editWork(
  services: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/work/:id/edit'>,
): Promise<{ planId: string }> {
  const [row] = (await workOf(services, viewer, [id])) as [Row];
  const next = { ...row, [field]: after };
  const wrong = timesError(next) ?? libraryError(next);
  if (wrong) throw new Fault('invalid', wrong);
  const change = edited(row, { [field]: before }, { [field]: after }, say('classes.editedByHand'));
  return carry(services, viewer, `${row.title} · ${row.className}`, [change]);
}

export async function openNow(services: Services, viewer: Viewer, ids: string[]): Promise<Made> {
  const now = nowIso();
  const rows = (await workOf(services, viewer, ids)).filter((row) => phaseOf(row, now) !== 'open');
  const changes = rows.map((row) => {
    if (row.closesAt !== null && row.closesAt <= now)
      throw new Fault('invalid', say('materials.inIsClosedChooseAnother', { title: row.title, name: row.className }));
    const { opensAt, paused } = row;
    return edited(
      row,
      { opensAt, paused },
      { opensAt: opensAt > now ? now : opensAt, paused: 0 },
      say('materials.openedByHand'),
    );
  });
  if (changes.length === 0) throw new Fault('invalid', say('materials.allOfTheseAssignmentsAre'));
  return carry(services, viewer, say('materials.openAssignmentsForClasses', { count: changes.length }), changes);
}

export async function takeBack({ config, ...services }: Services, viewer: Viewer, ids: string[]): Promise<Made> {
  const rows = await workOf(services, viewer, ids);
  const changes = rows.map((row) => ({
    ...ends('work', row.id, config.today(), say('plan.removed')),
    label: `${row.title} · ${row.className}`,
    subject: row.id,
  }));
  return carry(
    { config, ...services },
    viewer,
    say('materials.removeAssignmentsFromClasses', { count: changes.length }),
    changes,
  );
}
