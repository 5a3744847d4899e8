/** A teacher's own classes as Today shows them: what is missing in each, its code, who asks to join, what is due. */
import { literal, Op } from 'sequelize';
import { addDays } from '#core/time/index';
import type { TodayClass } from '../contract';
import { nowIso } from '../clock';
import { codes } from '../joining/codes';
import { waitingByClass } from '../joining/requests';
import { lacks } from '../people/roll';
import type { Services, Viewer } from '../services';
import { classRows } from './queries';

/** Assignments that are due within so many days, or close where no due date is set, are due soon. */
const soonDays = 7;

export async function classesToday(services: Services, viewer: Viewer): Promise<TodayClass[]> {
  const { db, roll } = services;
  const rows = await classRows(db, viewer, {});
  const ids = rows.map(({ id }) => id);
  const now = nowIso();
  const until = `${addDays(now.slice(0, 10), soonDays)}${now.slice(10)}`;
  const soon = { [Op.between]: [now, until] };
  const [open, asking, due, everyone] = await Promise.all([
    codes(services, viewer, {}),
    waitingByClass(db, viewer),
    db.models.work.findAll({
      attributes: ['id', 'classId', 'title', 'dueAt', 'closesAt'],
      where: {
        ...{ classId: ids, ends: null, library: null, opensAt: { [Op.lte]: now } },
        [Op.or]: [{ dueAt: soon }, { dueAt: null, closesAt: soon }],
      },
      order: [literal('COALESCE(dueAt, closesAt)'), literal('title')],
      raw: true,
    }),
    roll.everyone(),
  ]);
  const counts = new Map(ids.map((id) => [id, { students: 0, lackPassword: 0, lackCard: 0 }]));
  for (const one of everyone)
    for (const id of one.classes) {
      const count = counts.get(id);
      if (!count) continue;
      count.students++;
      if (lacks(one, 'account')) count.lackPassword++;
      if (lacks(one, 'card')) count.lackCard++;
    }
  return rows.map(({ id, name, school, kind, grade, subject, period, color }) => {
    const code = open.codes.find(({ classId, state }) => classId === id && state === 'open');
    return {
      ...{ id, name, school, kind, grade, subject, period, color, ...counts.get(id)! },
      code: code ? { id: code.id, code: code.code } : null,
      requests: asking.get(id) ?? 0,
      due: due.flatMap(({ id: workId, classId, title, dueAt, closesAt }) => {
        const at = dueAt ?? closesAt;
        return classId === id && at !== null ? [{ id: workId, title, at }] : [];
      }),
    };
  });
}
