/** Groups: their list with what contradicts their names, and making, copying, renaming and ending them. */
import { say } from '#core/messages/say';
import { isTheirs, theirRows } from '#core/authority/index';
import {
  belongs,
  contradictions,
  copiedName,
  type GroupRule,
  type Peopled,
  planGroup,
  planGroupEnd,
} from '#core/classes/index';
import type { Group } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { updates } from '#core/register/steps';
import { gradeLabel } from '#core/tabular/index';
import { orNone } from '../db/batches';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, GroupRow } from '../contract';
import type { Db } from '../db/connection';
import { memberTest, ruleOf } from '../people/membership';
import type { OnRoll, Roll } from '../people/roll';
import { sheafIds } from '../people/sheaf';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { classOf } from './make';
import { Op } from 'sequelize';
import { joined } from '../db/joined';

/** An open group that the viewer may change: of a class that they run, of a school that they coordinate. Throws Fault missing. */
export async function groupOf(db: Db, viewer: Viewer, id: string): Promise<Group> {
  const group = await db.models.group.findOne({ where: { id, ends: null }, raw: true });
  if (!group) throw notFound(say('api.thisGroup'));
  if (group.classId !== null) await classOf(db, viewer, group.classId);
  else if (!isTheirs(viewer, 'ofClass', group)) throw notFound(say('api.thisGroup'));
  return group;
}

/** An open group of the viewer's schools or classes. Throws Fault missing. */
export async function group(services: Services, viewer: Viewer, id: string): Promise<GroupRow> {
  const known = await services.db.models.group.findOne({ attributes: ['schoolId'], where: { id }, raw: true });
  const found = known && (await groups(services, viewer, { school: known.schoolId })).find((one) => one.id === id);
  if (!found) throw notFound(say('api.thisGroup'));
  return found;
}

/** Groups of one's schools, or of one's own classes; `classId`: of this class alone. */
export async function groups(
  { db, roll }: Services,
  viewer: Viewer,
  { school, classId }: { school?: string; classId?: string },
): Promise<GroupRow[]> {
  const near = classId
    ? await db.models.class.findOne({ attributes: ['schoolId'], where: { id: classId }, raw: true })
    : null;
  const rows = await joined(db, 'group', {
    of: { school: 'school.name', className: 'class.name' },
    where: {
      [Op.and]: [
        { ends: null },
        school ? { schoolId: school } : {},
        classId ? { schoolId: near?.schoolId ?? '-' } : {},
      ],
    },
    whose: { 'class.ends': null },
    within: [theirRows(viewer, 'ofClass', '`group`')],
    order: ['school.name', 'class.name', 'name'],
    limit: 2000,
  });
  const members = await membersOf(roll, rows);
  const homerooms = await db.models.class.findAll({
    attributes: ['id', 'name', 'schoolId'],
    where: { kind: 'homeroom', ends: null, schoolId: [...orNone([...new Set(rows.map(({ schoolId }) => schoolId))])] },
    raw: true,
  });
  const peopled = rows.map((row): Peopled & { schoolId: string } => ({ ...row, members: members.get(row.id)! }));
  const namesOf = new Map<string, Map<string, string>>();
  for (const { id, name, schoolId } of homerooms)
    namesOf.set(schoolId, (namesOf.get(schoolId) ?? new Map<string, string>()).set(id, name));
  const shown = rows.map((row, i) => ({
    id: row.id,
    name: row.name,
    kind: row.kind,
    schoolId: row.schoolId,
    school: row.school,
    classId: row.classId,
    className: row.className,
    rule: ruleOf(row),
    ruleText: inWords(ruleOf(row), namesOf.get(row.schoolId)),
    members: members.get(row.id)!.length,
    notes: contradictions(
      peopled[i]!,
      namesOf.get(row.schoolId) ?? new Map(),
      peopled.filter(({ schoolId }) => schoolId === row.schoolId),
    ),
  }));
  return classId ? shown.filter((row) => row.classId === classId) : shown;
}

function inWords(rule: GroupRule | null, names: ReadonlyMap<string, string> | undefined): string | null {
  if (!rule) return null;
  const classes = rule.classIds.map((id) => names?.get(id) ?? say('classes.aClassThatEnded')).join(', ');
  return [
    'all',
    rule.grade === null ? '' : say('classes.inGrade', { grade: gradeLabel(rule.grade) }),
    classes && say('classes.in2', { classes }),
  ]
    .filter(Boolean)
    .join(' ');
}

async function membersOf(roll: Roll, groupRows: readonly Group[]): Promise<Map<string, OnRoll[]>> {
  const found = new Map(groupRows.map(({ id }) => [id, [] as OnRoll[]]));
  const rules = groupRows.filter(({ rule }) => rule !== null).map((group) => ({ id: group.id, is: memberTest(group) }));
  for (const one of await roll.everyone()) {
    for (const id of one.groups) found.get(id)?.push(one);
    for (const { id, is } of rules) if (is(one)) found.get(id)!.push(one);
  }
  return found;
}

const labelOf = ({ family, given, number }: OnRoll): string =>
  personLabel({ familyName: family, givenName: given, number: number || null });

/** Without a class or a school, the group belongs to the school that all gathered students share. `left`: the people it did not take, since they are not of the class or the school. */
export async function makeGroup(
  { db, roll, config }: Services,
  viewer: Viewer,
  { gathered, ...order }: Body<'POST /api/groups'>,
): Promise<{ planId: string; id: string; sentence: string; left: string[] }> {
  const ids = new Set(gathered && !order.rule ? await sheafIds(db, viewer.personId) : []);
  const people = (await roll.everyone()).filter(({ id }) => ids.has(id));
  const ofGathered = new Set(people.filter(({ role }) => role === 'student').map((one) => one.schoolId));
  const schoolId = order.classId
    ? (await classOf(db, viewer, order.classId)).schoolId
    : (order.schoolId ?? (ofGathered.size === 1 ? [...ofGathered][0]! : null));
  if (schoolId === null && ofGathered.size > 1) throw new Fault('invalid', say('classes.theyAreOfSeveralSchools'));
  if (!schoolId || !isTheirs(viewer, 'ofClass', { schoolId, classId: order.classId }))
    throw new Fault('not-allowed', say('classes.makeAGroupInOne'));
  if (order.rule && order.classId) throw new Fault('invalid', say('classes.aRuleMakesGroupsAcross'));
  if (order.rule && order.rule.grade === null && order.rule.classIds.length === 0)
    throw new Fault('invalid', say('classes.chooseAGradeOrClasses'));
  const fits = (one: OnRoll) =>
    one.role === 'student' && one.status === 'active' && belongs({ ...order, schoolId }, one);
  const made = planGroup(
    { ...order, schoolId },
    people.filter(fits).map((one) => ({ id: one.id, label: labelOf(one) })),
    { date: config.today(), mint },
  );
  const { planId, sentence } = await applyNow(db, {
    kind: 'group',
    title: say('classes.newGroup2', { name: order.name }),
    schoolId,
    createdBy: viewer.personId,
    plan: made.plan,
  });
  return { planId, id: made.id, sentence, left: people.filter((one) => !fits(one)).map(labelOf) };
}

/** For another class: those of its members who are in that class too. */
export async function copyGroup(
  { db, roll, config }: Services,
  viewer: Viewer,
  id: string,
  classId: string,
): Promise<{ planId: string; id: string; name: string; left: string[] }> {
  const group = await groupOf(db, viewer, id);
  const to = await classOf(db, viewer, classId);
  const from = group.classId ? await db.models.class.findByPk(group.classId, { raw: true }) : null;
  const members = (await membersOf(roll, [group])).get(id)!;
  const name = copiedName(group.name, from, to);
  const fits = members.filter(({ classes }) => classes.includes(classId));
  const made = planGroup(
    { schoolId: to.schoolId, classId, name, kind: group.kind, rule: null },
    fits.map((one) => ({ id: one.id, label: labelOf(one) })),
    { date: config.today(), mint },
  );
  const { planId } = await applyNow(db, {
    kind: 'group',
    title: say('classes.copyAs', { name: group.name, copy: name }),
    schoolId: to.schoolId,
    createdBy: viewer.personId,
    plan: made.plan,
  });
  return { planId, id: made.id, name, left: members.filter((one) => !fits.includes(one)).map(labelOf) };
}

export async function renameGroup(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { before, after }: { before: string; after: string },
): Promise<{ planId: string }> {
  const group = await groupOf(db, viewer, id);
  const change = { ...updates('group', id, { name: before }, { name: after }, 'renamed'), label: after, subject: id };
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: say('classes.editGroup', { name: group.name }),
    schoolId: group.schoolId,
    createdBy: viewer.personId,
    plan: { changes: [change] },
  });
  return { planId };
}

export async function endGroup({ db, config }: Services, viewer: Viewer, id: string): Promise<{ planId: string }> {
  const group = await groupOf(db, viewer, id);
  const rows = await joined(db, 'membership', {
    of: { familyName: 'person.familyName', givenName: 'person.givenName', number: 'person.number' },
    where: { groupId: id, ends: null },
  });
  const { planId } = await applyNow(db, {
    kind: 'group',
    title: say('classes.endGroup', { name: group.name }),
    schoolId: group.schoolId,
    createdBy: viewer.personId,
    plan: planGroupEnd(
      group,
      rows.map((row) => ({ ...row, label: personLabel(row) })),
      config.today(),
    ),
  });
  return { planId };
}
