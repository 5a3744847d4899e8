/** The week's letter to those who run a school: what their students still lack, what changed in a week, what waits for them. */
import { say, spoken } from '#core/messages/say';
import { weekOf } from '#core/use/index';
import type { Services, Viewer } from '../services';
import { attention } from '../attention';
import { everywhere } from '../authority/actor';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { speechFor } from '../preferences';
import { district } from '../district';
import { Post } from '../mail';
import { today } from '../today';
import { Op, UniqueConstraintError } from 'sequelize';
import { joined } from '../db/joined';

const links = ['account', 'class', 'seats', 'device', 'card', 'signed-in'] as const;

type Asked = Pick<Services, 'db' | 'config' | 'roll' | 'licenses'>;

interface Coordinator {
  personId: string;
  accountId: string;
  name: string;
  email: string;
  role: Viewer['role'];
  schools: string[];
}

/** Coordinators with an address who have not had this week's letter. */
async function due(db: Db, week: string): Promise<Coordinator[]> {
  const had = await db.models.digests.findAll({ attributes: ['personId'], where: { week }, raw: true });
  const rows = await joined(db, 'account', {
    fields: ['personId'],
    of: {
      accountId: 'id',
      name: 'person.givenName',
      email: 'person.email',
      role: 'role',
      schoolId: 'person.openAffiliation.schoolId',
    },
    where: {
      role: ['school', 'district'],
      status: 'active',
      personId: { [Op.notIn]: had.map(({ personId }) => personId) },
    },
    whose: { 'person.status': 'active', 'person.email': { [Op.ne]: null } },
    order: ['personId'],
  });
  const found = new Map<string, Coordinator>();
  const all = rows.some(({ role }) => role === 'district')
    ? (await db.models.school.findAll({ attributes: ['id'], order: ['name'], raw: true })).map(({ id }) => id)
    : [];
  for (const { schoolId, email, role, ...row } of rows) {
    const one = found.get(row.personId) ?? { ...row, role, email: email!, schools: role === 'district' ? all : [] };
    if (role === 'school' && schoolId) one.schools.push(schoolId);
    found.set(row.personId, one);
  }
  return [...found.values()].filter(({ schools }) => schools.length > 0);
}

async function letter(services: Asked, one: Coordinator, week: string): Promise<string> {
  const { db, config, roll } = services;
  const { personId, accountId, role, schools } = one;
  const viewer: Viewer =
    role === 'district'
      ? { ...everywhere, personId, accountId }
      : { ...everywhere, personId, accountId, role, schoolIds: schools, classIds: [] };
  const [{ readiness, waits: own }, beside] = await Promise.all([
    today(roll, viewer, config.today()),
    attention(services, viewer),
  ]);
  const waits = [...own, ...beside].sort((a, b) => b.urgency - a.urgency);
  const before = new Map<string, number>();
  for (const schoolId of schools) {
    const day = (await db.models.readinessDays.max('day', {
      where: { schoolId, day: { [Op.lt]: week } },
    })) as string | null;
    if (day === null) continue;
    for (const row of await db.models.readinessDays.findAll({ where: { schoolId, day }, raw: true }))
      before.set(`${schoolId} ${row.link}`, row.people - row.ready);
  }
  const speech = await speechFor(db, personId);
  const lines: string[] = [say('letters.digestHello', { name: one.name }), ''];
  for (const school of readiness.filter(({ parent }) => parent === null)) {
    lines.push(say('letters.digestSchool', { school: school.name, n: school.people }));
    for (const link of links) {
      const lacking = school.people - school.link[link];
      const was = before.get(`${school.id} ${link}`);
      const change =
        was === undefined || was === lacking
          ? ''
          : say(lacking < was ? 'letters.digestFewer' : 'letters.digestMore', { n: Math.abs(was - lacking) });
      const says = lacking === 0 ? 'letters.digestAll' : 'letters.digestSome';
      lines.push(`  ${say(says, { n: lacking, link, change })}`);
    }
    lines.push('');
  }
  if (waits.length > 0) lines.push(say('letters.digestAttention'), ...waits.map(({ text }) => `  ${text}`), '');
  lines.push(config.url, '', say('letters.digestOff'));
  return spoken(lines.join('\n'), speech);
}

/** False: another server sends it. */
async function claimed(db: Db, week: string, personId: string): Promise<boolean> {
  try {
    await db.models.digests.create({ week, personId, sentAt: nowIso() });
    return true;
  } catch (error) {
    if (error instanceof UniqueConstraintError) return false;
    throw error;
  }
}

/**
 * Sends what is due of this week's letters, from Monday on; the number sent. Who is sent one is written down first, so
 * that two servers do not send it twice; where the mail server takes none it is tried again with the next round.
 */
export async function sendDigests(services: Asked): Promise<number> {
  const { db, config } = services;
  const here = await district(db);
  if (!config.mail || !here?.settings.digest) return 0;
  const week = weekOf(config.today());
  const coordinators = await due(db, week);
  if (coordinators.length === 0) return 0;
  const post = new Post(config.mail);
  let sent = 0;
  try {
    for (const one of coordinators) {
      const isMine = await claimed(db, week, one.personId);
      if (!isMine) continue;
      try {
        const text = await letter(services, one, week);
        const subject = spoken(
          say('letters.digestSubject', { district: here.name, week }),
          await speechFor(db, one.personId),
        );
        await post.send({ to: one.email, subject, text });
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
