/** Readiness over time, and the week's letter to a real mail server, once to each. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ReadinessWeeks, Today } from '../contract';
import { Mailbox } from '../testing/mailbox';
import { World } from '../testing/world';
import { noteReadiness } from './days';
import { sendDigests } from './digest';

let world: World;
let mailbox: Mailbox;
beforeAll(async () => {
  [world, mailbox] = await Promise.all([World.open('readiness'), Mailbox.start()]);
});
afterAll(async () => {
  mailbox.stop();
  await world.close();
});

it('is noted by the day, shown as shares over weeks, and sent on Monday with what changed', async () => {
  const { db, config, services } = world;
  await noteReadiness(db, services.roll, '2026-08-09');
  const school = (await db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  // A week ago five more had a card.
  await db.run("UPDATE readiness_days SET ready = ready + 5 WHERE schoolId = :school AND link = 'card'", { school });
  await noteReadiness(db, services.roll, config.today());
  await noteReadiness(db, services.roll, config.today());
  const coordinator = await world.as('school');
  const weeks = (await coordinator.get<ReadinessWeeks>('/api/readiness')).body;
  expect(weeks.days).toEqual(['2026-08-09', config.today()]);
  const today = (await coordinator.get<Today>('/api/today')).body;
  const [own] = today.readiness.filter(({ parent }) => parent === null);
  const card = weeks.links.find(({ link }) => link === 'card')!.shares;
  expect(card[1]).toBeCloseTo(own!.link.card / own!.people, 9);
  expect(card[0]! - card[1]!).toBeCloseTo(5 / own!.people, 9);
  // Narrowed to a grade and a class, it counts those alone.
  const { classId, n } = (await db.one<{ classId: string; n: number }>(
    "SELECT c.id AS classId, COUNT(*) AS n FROM classes c JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student' WHERE c.schoolId = :school AND c.kind = 'homeroom' AND c.grade = '07' AND c.ends IS NULL GROUP BY c.id ORDER BY c.name LIMIT 1",
    { school },
  ))!;
  const narrow = (await coordinator.get<Today>(`/api/today?school=${school}&grade=07&classId=${classId}`)).body;
  expect(narrow.readiness.map(({ people }) => people)).toEqual([Number(n), Number(n)]);
  const all = (await (await world.as('district')).get<ReadinessWeeks>('/api/readiness')).body;
  const account = await db.one<{ share: number }>(
    "SELECT COUNT(ac.id) / COUNT(*) AS share FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN accounts ac ON ac.personId = p.id AND ac.status = 'active' WHERE p.role = 'student' AND p.status = 'active'",
  );
  expect(all.links.find(({ link }) => link === 'account')!.shares[1]).toBeCloseTo(Number(account!.share), 3);

  await db.run(
    "UPDATE people p JOIN accounts a ON a.personId = p.id AND a.role IN ('school', 'district') SET p.email = CONCAT(a.username, '@skerry.example')",
  );
  expect(await sendDigests(services)).toBe(0);
  const withMail = { ...config, mail: mailbox.mail };
  const count = Number(
    (await db.one<{ n: number }>(
      "SELECT COUNT(*) AS n FROM accounts a JOIN people p ON p.id = a.personId AND p.email IS NOT NULL WHERE a.role IN ('school', 'district') AND a.status = 'active'",
    ))!.n,
  );
  const [one, two] = await Promise.all([
    sendDigests({ ...services, config: withMail }),
    sendDigests({ ...services, config: withMail }),
  ]);
  expect([one + two, count > 0]).toEqual([count, true]);
  expect(await sendDigests({ ...services, config: { ...withMail, today: () => '2026-08-20' } })).toBe(0);
  const mails = await mailbox.letters();
  expect(mails).toHaveLength(count);
  // The district's own are told of every school, and of what waits beside.
  const wide = mails.filter(({ text }) => text.includes('Skerry Middle') && text.includes('Lantern Point'));
  expect(wide.length).toBeGreaterThan(0);
  expect(wide[0]!.text).toContain('Kelpline Algebra: 23 seats short from Sep 6, 2026');
  expect(wide[0]!.text).toContain('12 devices are overdue');
  const mail = mails.find(({ text }) => text.includes('Skerry Middle') && !wide.some((one) => one.text === text))!;
  expect(mail.text).toContain(`${own!.people - own!.link.card} need a current card, 5 more than a week ago`);
  expect(mail.text).not.toContain('Lantern Point');
  // The next week there is another one; ended, there is none.
  expect(await sendDigests({ ...services, config: { ...withMail, today: () => '2026-08-24' } })).toBe(count);
  await (await world.as('district')).post('/api/district', { digest: false });
  expect(await sendDigests({ ...services, config: { ...withMail, today: () => '2026-08-31' } })).toBe(0);
});
