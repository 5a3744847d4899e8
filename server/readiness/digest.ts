/** The week's letter to those who run a school: what their students still lack, what changed in a week, what waits for them. */
import { weekOf } from '#core/use/index';
import type { Viewer } from '../services';
import { everywhere } from '../authority/actor';
import { nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { Post } from '../mail';
import type { Roll } from '../people/roll';
import { today } from '../today';

const words = {
  account: 'an account',
  class: 'a class',
  seats: 'a seat',
  device: 'a device',
  card: 'a card that holds',
  'signed-in': 'their first sign-in',
} as const;
type Link = keyof typeof words;

interface Coordinator {
  personId: string;
  accountId: string;
  name: string;
  email: string;
  schools: string[];
}

/** School coordinators with an address who have not had this week's letter. */
async function due(db: Db, week: string): Promise<Coordinator[]> {
  const rows = await db.select<Omit<Coordinator, 'schools'> & { schoolId: string }>(
    `SELECT p.id AS personId, ac.id AS accountId, p.givenName AS name, p.email, a.schoolId FROM people p JOIN accounts ac ON ac.personId = p.id AND ac.role = 'school' AND ac.status = 'active'
     JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.status = 'active' AND p.email IS NOT NULL AND p.id NOT IN (SELECT personId FROM digests WHERE week = :week) ORDER BY p.id`,
    { week },
  );
  const found = new Map<string, Coordinator>();
  for (const { schoolId, ...row } of rows) {
    const one = found.get(row.personId) ?? { ...row, schools: [] };
    one.schools.push(schoolId);
    found.set(row.personId, one);
  }
  return [...found.values()];
}

async function letter(db: Db, config: Config, roll: Roll, one: Coordinator, week: string): Promise<string> {
  const { personId, accountId, schools } = one;
  const viewer: Viewer = { ...everywhere, personId, accountId, role: 'school', schoolIds: schools, classIds: [] };
  const { readiness, waits } = await today(roll, viewer, config.today());
  const before = new Map(
    (
      await db.select<{ schoolId: string; link: string; lacking: number }>(
        'SELECT d.schoolId, d.link, d.people - d.ready AS lacking FROM readiness_days d WHERE d.schoolId IN (:schools) AND d.day = (SELECT MAX(o.day) FROM readiness_days o WHERE o.schoolId = d.schoolId AND o.day < :week)',
        { schools, week },
      )
    ).map(({ schoolId, link, lacking }) => [`${schoolId} ${link}`, Number(lacking)]),
  );
  const lines: string[] = [`Good morning, ${one.name}.`, ''];
  for (const school of readiness.filter(({ parent }) => parent === null)) {
    lines.push(`${school.name}, ${school.people} students:`);
    for (const link of Object.keys(words) as Link[]) {
      const lacking = school.people - school.link[link];
      const was = before.get(`${school.id} ${link}`);
      const change =
        was === undefined || was === lacking
          ? ''
          : `, ${Math.abs(was - lacking)} ${lacking < was ? 'fewer' : 'more'} than a week ago`;
      lines.push(lacking === 0 ? `  all have ${words[link]}${change}` : `  ${lacking} lack ${words[link]}${change}`);
    }
    lines.push('');
  }
  if (waits.length > 0) lines.push('Waits for you:', ...waits.map(({ text }) => `  ${text}`), '');
  lines.push(config.url, '', 'The district can end these letters under Set up, Staff.');
  return lines.join('\n');
}

/**
 * Sends what is due of this week's letters, from Monday on; the number sent. Who is sent one is written down first, so
 * that two servers do not send it twice; where the mail server takes none it is tried again with the next round.
 */
export async function sendDigests(db: Db, config: Config, roll: Roll): Promise<number> {
  const here = await district(db);
  if (!config.mail || !here?.settings.digest) return 0;
  const week = weekOf(config.today());
  const coordinators = await due(db, week);
  if (coordinators.length === 0) return 0;
  const post = new Post(config.mail);
  let sent = 0;
  try {
    for (const one of coordinators) {
      const mine = await db.transaction((tx) =>
        db.update(
          'INSERT IGNORE INTO digests (week, personId, sentAt) VALUES (?, ?, ?)',
          [week, one.personId, nowIso()],
          tx,
        ),
      );
      if (mine === 0) continue;
      try {
        const text = await letter(db, config, roll, one, week);
        await post.send({ to: one.email, subject: `${here.name}: the week of ${week}`, text });
        sent++;
      } catch (error) {
        await db.models.digests.destroy({ where: { week, personId: one.personId } });
        throw error;
      }
    }
  } finally {
    post.close();
  }
  return sent;
}
