/** How far the students of a class are with what they are assigned, and what is expected of them. */
import { say } from '#core/messages/say';
import { addDays } from '#core/time/index';
import { goalOf, type Goal, phaseOf, type Progress, progressOf, standingOf } from '#core/setwork/index';
import { updates } from '#core/register/steps';
import { col, fn, Op } from 'sequelize';
import type { ClassProgress } from '../contract';
import { nowIso } from '../clock';
import { classOf } from '../classes/make';
import type { Db } from '../db/connection';
import { notFound } from '../faults';
import { sheafIds } from '../people/sheaf';
import { applyNow } from '../plans/now';
import type { Services, Viewer } from '../services';
import { lastDay } from '../use/queries';
import { finished, nameOf, whom } from './work';

/** So many pieces, the newest, are shown side by side. */
const most = 40;
const goalOfRow = (row: { goalMinutes?: number | null; goalShare?: number | null }): Goal => ({
  minutes: row.goalMinutes ?? null,
  share: row.goalShare ?? null,
});

/** Throws Fault missing for a class that the viewer does not run. */
export async function classProgress(services: Services, viewer: Viewer, id: string): Promise<ClassProgress> {
  const { db, roll, config } = services;
  const one = await classOf(db, viewer, id);
  const works = await db.models.work.findAll({
    where: { classId: id, ends: null, library: { [Op.or]: [null, 0] } },
    order: [
      ['opensAt', 'DESC'],
      ['title', 'ASC'],
      ['id', 'ASC'],
    ],
    limit: most,
    raw: true,
  });
  const [gathered, people, done, enrollments, everyone, minutes] = await Promise.all([
    sheafIds(db, viewer.personId),
    whom(services, works),
    finished(db, works),
    db.models.enrollment.findAll({ where: { classId: id, ends: null, role: 'student' }, raw: true }),
    roll.everyone(),
    minutesOf(db, config.today(), id),
  ]);
  const now = nowIso();
  const marked = new Set(gathered);
  const goal = goalOfRow(one);
  const own = new Map(enrollments.map((row) => [row.personId, goalOfRow(row)]));
  const isFor = new Map(works.map((work) => [work.id, new Set(people.get(work.id)!.map((who) => who.id))]));
  const students = everyone
    .filter((who) => who.classes.includes(id))
    .map((who) => {
      const theirs = own.get(who.id) ?? { minutes: null, share: null };
      const cells = works.map((work) => {
        if (!isFor.get(work.id)!.has(who.id)) return null;
        const result = done.get(`${work.id} ${who.id}`);
        const doneAt = result?.doneAt ?? null;
        const share =
          result?.permille === undefined || result.permille === null ? null : Number(result.permille) / 1000;
        return { state: progressOf(work, doneAt, now), doneAt, share };
      });
      const pieces = works.flatMap((piece, i) => (cells[i] ? [{ piece, doneAt: cells[i].doneAt }] : []));
      const spent = minutes === null ? null : (minutes.get(who.id) ?? 0);
      const standing = standingOf(pieces, spent, goalOf(theirs, goal), now);
      return {
        id: who.id,
        name: nameOf(who),
        cells,
        minutes: spent,
        own: theirs,
        standing,
        gathered: marked.has(who.id),
      };
    })
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
  return {
    className: one.name,
    works: works.map((work, i) => {
      const { title, opensAt, dueAt, closesAt } = work;
      const counts: Record<Progress, number> = { done: 0, late: 0, missing: 0, open: 0, coming: 0 };
      for (const { cells } of students) if (cells[i]) counts[cells[i].state]++;
      return { id: work.id, title, opensAt, dueAt, closesAt, phase: phaseOf(work, now), counts };
    }),
    people: students,
    goal,
  };
}

/** Minutes of the last seven days by student; null: nothing was told of them. */
async function minutesOf(db: Db, today: string, classId: string): Promise<Map<string, number> | null> {
  const since = addDays(today, -6);
  const told = await lastDay(db, null);
  if (told === null || told < since) return null;
  const ids = await db.models.enrollment.findAll({
    attributes: ['personId'],
    where: { classId, ends: null, role: 'student' },
    raw: true,
  });
  const rows = (await db.models.useDays.findAll({
    attributes: ['personId', [fn('SUM', col('seconds')), 'seconds']],
    where: { personId: ids.map(({ personId }) => personId), day: { [Op.between]: [since, today] } },
    group: 'personId',
    raw: true,
  })) as { personId: string; seconds: number | string }[];
  return new Map(rows.map(({ personId, seconds }) => [personId, Math.round(Number(seconds) / 60)]));
}

/** Throws Fault missing for a class that is not the viewer's, or a student who is not in it. */
export async function setGoals(
  { db }: Services,
  viewer: Viewer,
  id: string,
  { personId, goal }: { personId: string | null; goal: Goal },
): Promise<{ planId: string }> {
  const one = await classOf(db, viewer, id);
  const where = { classId: id, personId: personId ?? '-', role: 'student', ends: null } as const;
  const place = personId === null ? null : await db.models.enrollment.findOne({ where, raw: true });
  if (personId !== null && !place) throw notFound(say('api.thisPerson'));
  const before = goalOfRow(place ?? one);
  const fields = ({ minutes, share }: Goal) => ({ goalMinutes: minutes, goalShare: share });
  const reason = say('materials.goalsOf', { name: one.name });
  const step = place
    ? updates('enrollment', place.id, fields(before), fields(goal), reason)
    : updates('class', id, fields(before), fields(goal), reason);
  const { planId } = await applyNow(db, {
    kind: 'edit',
    title: reason,
    schoolId: one.schoolId,
    createdBy: viewer.personId,
    plan: { changes: [{ ...step, label: one.name, subject: personId ?? id }] },
  });
  return { planId };
}
