/** How ready each school was, day by day: noted once a day and read as the last weeks. */
import { addDays } from '#core/time/index';
import { theirRows } from '#core/authority/index';
import type { ReadinessWeeks } from '../contract';
import type { Viewer } from '../services';
import { everywhere } from '../authority/actor';
import type { Db } from '../db/connection';
import type { Roll } from '../people/roll';
import { today } from '../today';
import { Op } from 'sequelize';
import { insertMany } from '../db/bulk';
import { joined } from '../db/joined';

const links = ['account', 'class', 'seats', 'device', 'card', 'signed-in'] as const;
/** How many days are shown. */
const shownDays = 56;

/** Writes down how it stands now as of the day; the last time on a day counts. */
export async function noteReadiness(db: Db, roll: Roll, day: string): Promise<void> {
  const { readiness } = await today(roll, everywhere, day);
  const rows = readiness
    .filter(({ parent }) => parent === null)
    .flatMap(({ id: schoolId, people, link }) =>
      links.map((name) => ({ day, schoolId, link: name, ready: link[name], people })),
    );
  await db.transaction((tx) => insertMany(db, 'readinessDays', rows, tx, { ready: 'anew', people: 'anew' }));
}

export async function readinessWeeks(
  db: Db,
  viewer: Viewer,
  day: string,
  school: string | undefined,
): Promise<ReadinessWeeks> {
  const since = addDays(day, -shownDays);
  const rows = await joined(db, 'readinessDays', {
    where: { day: { [Op.gt]: since, [Op.lte]: day }, ...(school ? { schoolId: school } : {}) },
    within: [theirRows(viewer, 'atSchool', 'readinessDays')],
    order: ['day'],
  });
  const days = [...new Set(rows.map((row) => row.day))];
  const at = new Map<string, { ready: number; people: number }>();
  for (const row of rows) {
    const key = `${row.day} ${row.link}`;
    const sum = at.get(key) ?? { ready: 0, people: 0 };
    at.set(key, { ready: sum.ready + row.ready, people: sum.people + row.people });
  }
  const shareOf = (key: string): number | null => {
    const sum = at.get(key);
    return sum ? sum.ready / Math.max(1, sum.people) : null;
  };
  return {
    days,
    links: links.map((link) => ({ link, shares: days.map((one) => shareOf(`${one} ${link}`)) })),
  };
}
