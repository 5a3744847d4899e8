/** How ready each school was, day by day: noted once a day and read as the last weeks. */
import { addDays } from '#core/time/index';
import { theirRows } from '#core/authority/index';
import type { ReadinessWeeks } from '../contract';
import type { Viewer } from '../services';
import { everywhere } from '../authority/actor';
import type { Db } from '../db/connection';
import type { Roll } from '../people/roll';
import { today } from '../today';

const links = ['account', 'class', 'seats', 'device', 'card', 'signed-in'] as const;
/** How many days are shown. */
const shownDays = 56;

/** Writes down how it stands now as of the day; the last time on a day counts. */
export async function noteReadiness(db: Db, roll: Roll, day: string): Promise<void> {
  const { readiness } = await today(roll, everywhere, day);
  const rows = readiness
    .filter(({ parent }) => parent === null)
    .flatMap(({ id, people, link }) => links.map((name) => [day, id, name, link[name], people]));
  await db.transaction((tx) =>
    db.batch(
      'INSERT INTO readiness_days (day, schoolId, link, ready, people) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE ready = VALUES(ready), people = VALUES(people)',
      rows,
      tx,
    ),
  );
}

export async function readinessWeeks(
  db: Db,
  viewer: Viewer,
  day: string,
  school: string | undefined,
): Promise<ReadinessWeeks> {
  const since = addDays(day, -shownDays);
  const rows = await db.select<{ day: string; link: (typeof links)[number]; ready: number; people: number }>(
    `SELECT day, link, SUM(ready) AS ready, SUM(people) AS people FROM readiness_days WHERE day > :since AND day <= :day
       AND ${theirRows(viewer, 'atSchool', 'readiness_days')} ${school ? 'AND schoolId = :school' : ''} GROUP BY day, link ORDER BY day`,
    { since, day, school: school ?? null },
  );
  const days = [...new Set(rows.map((row) => row.day))];
  const at = new Map(
    rows.map((row) => [`${row.day} ${row.link}`, Number(row.ready) / Math.max(1, Number(row.people))]),
  );
  return {
    days,
    links: links.map((link) => ({ link, shares: days.map((one) => at.get(`${one} ${link}`) ?? null) })),
  };
}
