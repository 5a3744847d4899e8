/** The school year's days and the district's time zone, as they are and as a plan that changes them. */
import { say } from '#core/messages/say';
import { type Calendar, calendarProblems, type KeptCalendar, planCalendar } from '#core/year/index';
import type { Body, CalendarSheet } from '../contract';
import type { Db } from '../db/connection';
import { type District, district } from '../district';
import { Fault } from '../faults';
import { mint } from '../plans/mint';
import { savePlan } from '../plans/store';
import type { Services, Viewer } from '../services';

async function keptCalendar(db: Db, { id, name, zone, year }: District): Promise<KeptCalendar> {
  const asked = { where: { yearId: year.id }, order: [['begins', 'ASC']] as [string, string][] };
  const [terms, daysOff] = await Promise.all([db.models.term.findAll(asked), db.models.dayOff.findAll(asked)]);
  return {
    district: { id, name, zone },
    year,
    terms: terms.map((row) => row.get({ plain: true })),
    daysOff: daysOff.map((row) => row.get({ plain: true })),
  };
}

/** `here`: where it is known already. */
export async function calendarSheet(db: Db, here?: District): Promise<CalendarSheet> {
  const { district: place, year, terms, daysOff } = await keptCalendar(db, here ?? (await district(db))!);
  const of = ({ name, begins, ends }: Calendar['year']) => ({ name, begins, ends });
  return { zone: place.zone, year: of(year), terms: terms.map(of), daysOff: daysOff.map(of) };
}

/** Throws Fault invalid with every mistake, or when nothing would change. */
export async function calendarPlan(
  { db }: Services,
  viewer: Viewer,
  asked: Body<'POST /api/school-year/plan'>,
): Promise<{ planId: string }> {
  const problems = calendarProblems(asked);
  if (problems.length > 0) throw new Fault('invalid', problems.join(' '));
  const changes = planCalendar(await keptCalendar(db, (await district(db))!), asked, mint);
  if (changes.length === 0) throw new Fault('invalid', say('year.nothingDiffersFromWhatIs'));
  const plan = {
    kind: 'edit',
    title: say('year.schoolYear', { name: asked.year.name }),
    schoolId: null,
    plan: { changes },
  };
  return { planId: await db.transaction((tx) => savePlan(db, tx, { ...plan, createdBy: viewer.personId })) };
}
