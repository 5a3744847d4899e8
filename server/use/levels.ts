/** Levels that products reported of a class, and groups proposed by them. */
import { say } from '#core/messages/say';
import type { Band } from '#core/use/index';
import { groupsByLevel } from '#core/classes/index';
import { type Change } from '#core/plan/index';
import type { SchoolClass } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates } from '#core/register/steps';
import { orNone } from '../db/batches';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import type { LevelGroups, LevelOrder, Levels } from '../contract';
import { classOf } from '../classes/make';
import { productLabel } from '../licenses/state';
import type { OnRoll, Roll } from '../people/roll';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { skillsOf } from './queries';

const studentsOf = async (roll: Roll, classId: string): Promise<OnRoll[]> =>
  (await roll.everyone()).filter((one) => one.role === 'student' && one.classes.includes(classId));

export async function levels({ db, roll }: Services, viewer: Viewer, classId: string): Promise<Levels> {
  await classOf(db, viewer, classId);
  const students = await studentsOf(roll, classId);
  const rows = await skillsOf(
    db,
    students.map(({ id }) => id),
  );
  return {
    skills: rows.map(({ productId, skill, people, ...product }) => ({
      productId,
      product: productLabel(product),
      skill,
      people: Number(people),
    })),
  };
}

const letters = 'ABCDEFGHIJKLMNOP';

async function proposed(
  { db, roll }: Services,
  viewer: Viewer,
  { classId, productId, skill, how, groups }: LevelOrder,
): Promise<LevelGroups & { one: SchoolClass }> {
  const one = await classOf(db, viewer, classId);
  const students = await studentsOf(roll, classId);
  const bands = new Map(
    (
      await db.models.levels.findAll({
        attributes: ['personId', 'band'],
        where: { productId, skill, personId: [...orNone(students.map(({ id }) => id))] },
        raw: true,
      })
    ).map(({ personId, band }) => [personId, band as Band]),
  );
  if (bands.size === 0) throw new Fault('invalid', say('use.hasNoResultsIn', { name: one.name, skill }));
  try {
    const made = groupsByLevel(
      students.map((who) => ({ id: who.id, label: `${who.family}, ${who.given}`, band: bands.get(who.id) ?? null })),
      how,
      groups,
    );
    return { one, groups: made.map((members, i) => ({ name: `${skill} ${letters[i]}`, members })) };
  } catch (error) {
    throw error instanceof RangeError ? new Fault('invalid', error.message) : error;
  }
}

export async function previewLevels(services: Services, viewer: Viewer, order: LevelOrder): Promise<LevelGroups> {
  return { groups: (await proposed(services, viewer, order)).groups };
}

/** Makes the groups at once; undone as one. */
export async function makeLevels(
  services: Services,
  viewer: Viewer,
  order: LevelOrder,
): Promise<{ planId: string; sentence: string }> {
  const { one, groups } = await proposed(services, viewer, order);
  const begins = services.config.today();
  const changes = groups.flatMap(({ name, members }): Change[] => {
    const id = mint();
    const about = { schoolId: one.schoolId, classId: one.id, name, kind: 'level', rule: null } as const;
    const after = { ...about, begins, ends: null };
    return [
      {
        ...creates('group', id, after, say('use.byLevelInMixedLevels', { skill: order.skill, how: order.how })),
        label: name,
        subject: id,
      },
      ...members.map((who) => ({
        ...creates(
          'membership',
          mint(),
          { personId: who.id, groupId: id, begins, ends: null },
          say('classes.in', { name }),
        ),
        label: who.label,
        subject: who.id,
        needs: [id],
      })),
    ];
  });
  const { planId, sentence } = await applyNow(services.db, {
    kind: 'group',
    title: say('use.groupsInBy', { name: one.name, skill: order.skill }),
    schoolId: one.schoolId,
    createdBy: viewer.personId,
    plan: ordered(changes),
  });
  return { planId, sentence };
}
