import { everywhere } from '../authority/actor';
/** Use as products tell of it: statements and lists taken in once, figures as the database alone counts them, groups by level. */
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { dayOf } from '#core/licenses/index';
import { objective, verbIri } from '#core/use/index';
import { clock } from '../clock';
import type { ClassSkills, LevelGroups, Levels, PersonUse, UsePerson, UseSheet } from '../contract';
import type { Viewer } from '../services';
import { readLicenses } from '../licenses/state';
import { type Caller, testDay, World } from '../testing/world';
import { countAhead, UseDesk, useSheet } from './figures';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('use');
  district = await world.as('district');
});
afterAll(() => world.close());
const count = async (sql: string, params: Record<string, string> = {}): Promise<number> =>
  Number((await world.db.one<{ n: number }>(sql, params))!.n);

it('receives statements with a product’s key: once each, all of a batch or none, whom it does not know aside', async () => {
  const product = (await world.db.one<{ id: string }>("SELECT id FROM products WHERE name = 'Ebbstone Science'"))!.id;
  const [one, two] = (await world.db.select<{ id: string; username: string }>(
    "SELECT p.id, a.username FROM people p JOIN accounts a ON a.personId = p.id WHERE p.role = 'student' ORDER BY p.id LIMIT 2",
  )) as [{ id: string; username: string }, { id: string; username: string }];
  const { address } = (await world.db.one<{ address: string }>(
    'SELECT address FROM materials WHERE productId = :product LIMIT 1',
    { product },
  ))!;
  const { body: key } = await district.post<{ name: string; secret: string }>(`/api/products/${product}/key`);
  const send = async (body: unknown, more: Record<string, string> = {}, method = 'POST', path = '/xapi/statements') => {
    const answer = await world.send(method, path, body, {
      Authorization: `Basic ${Buffer.from(`${key.name}:${key.secret}`).toString('base64')}`,
      'X-Experience-API-Version': '1.0.3',
      ...more,
    });
    return { status: answer.status, text: await answer.text() };
  };
  const about = (name: string, more: object = {}) => ({
    id: randomUUID(),
    actor: { account: { homePage: 'https://products.example', name } },
    verb: { id: verbIri('completed') },
    object: { id: address },
    result: { completion: true, duration: 'PT10M30S', score: { scaled: 0.5 } },
    timestamp: '2026-08-12T09:00:00Z',
    ...more,
  });
  const batch = [
    about(one.username),
    about(one.username, { timestamp: '2026-08-12T11:00:00+02:00', result: { duration: 'PT90S' } }),
    about(two.username.toUpperCase(), {
      object: { id: 'urn:x:skill', definition: { type: objective, name: { en: 'Matter' } } },
      result: { score: { raw: 3, min: 1, max: 3 } },
    }),
    about('nobody-here'),
  ];
  expect((await send(batch, { Authorization: 'Basic bm86bm8=' })).status).toBe(401);
  expect((await send(batch, { 'X-Experience-API-Version': '2.0.0' })).status).toBe(400);
  const bad = await send([...batch, about(one.username, { result: { duration: 'ten minutes' } })]);
  expect([bad.status, bad.text]).toEqual([400, expect.stringContaining('statement 5: result.duration')]);
  expect((await send([{ ...batch[0], verb: 'completed' }])).text).toContain('statement 1: verb');
  const kept = () => count('SELECT COUNT(*) AS n FROM use_days WHERE productId = :product', { product });
  expect(await kept()).toBe(0);

  const first = await send(batch);
  expect([first.status, JSON.parse(first.text)]).toEqual([200, batch.map(({ id }) => id)]);
  // As after a lost answer: by all at once, and by one alone.
  const again = await Promise.all([
    send(batch),
    send(batch),
    send(batch[0], {}, 'PUT', `/xapi/statements?statementId=${batch[0]!.id}`),
  ]);
  expect(again.map(({ status }) => status)).toEqual([200, 200, 204]);
  expect(
    await world.db.select(
      'SELECT personId, times, seconds FROM use_days WHERE productId = :product ORDER BY personId',
      {
        product,
      },
    ),
  ).toEqual(
    [
      { personId: one.id, times: 2, seconds: 720 },
      { personId: two.id, times: 1, seconds: 0 },
    ].sort((a, b) => (a.personId < b.personId ? -1 : 1)),
  );
  expect((await send({ ...batch[0], verb: { id: verbIri('failed') } })).status).toBe(409);
  expect(
    await world.db.one('SELECT band, skill FROM levels WHERE personId = :id AND productId = :product', {
      id: two.id,
      product,
    }),
  ).toEqual({ band: 3, skill: 'Matter' });
  expect(
    await world.db.one('SELECT finished, permille, seconds FROM results WHERE personId = :id AND at > :day', {
      id: one.id,
      day: '2026-08-12',
    }),
  ).toEqual({ finished: 1, permille: 500, seconds: 630 });
  const sheet = (await district.get<UseSheet>(`/api/use?product=${product}`)).body;
  expect(sheet.strays).toEqual([{ product: 'Ebbstone Science', who: 'nobody-here', times: 1, lastOn: '2026-08-12' }]);
  expect([sheet.to, sheet.byWeek.at(-1)]).toEqual(['2026-08-12', { minutes: 12, people: 2 }]);
  // A word is missed until it is known, by the moments of a batch, whatever their order in it.
  const asked = (name: string, word: string, success: boolean, timestamp: string) =>
    about(name, {
      object: { id: 'urn:x:word', definition: { extensions: { 'https://products.example/xapi/word': word } } },
      result: { success, extensions: { 'https://products.example/xapi/competency': 'Spelling' } },
      timestamp,
    });
  const words = [
    asked(one.username, 'island', false, '2026-08-12T09:10:00Z'),
    asked(one.username, 'island', true, '2026-08-12T09:20:00Z'),
    asked(one.username, 'Knee', false, '2026-08-12T09:30:00Z'),
    asked(one.username, 'knee', true, '2026-08-12T09:05:00Z'),
    asked(one.username, 'knee', false, '2026-08-12T09:40:00Z'),
    asked(two.username, 'laugh', true, '2026-08-12T09:40:00Z'),
  ];
  expect((await send(words)).status).toBe(200);
  expect((await send(words)).status).toBe(200);
  const own = (await district.get<PersonUse>(`/api/people/${one.id}/use`)).body;
  const missed = (of: PersonUse) => of.words.filter((told) => told.product === 'Ebbstone Science');
  expect(missed(own)).toEqual([
    { product: 'Ebbstone Science', word: 'Knee', times: 2, lastAt: '2026-08-12T09:40:00.000Z' },
  ]);
  expect(own.skills.filter(({ skill }) => skill === 'Spelling')).toMatchObject([{ band: 1 }]);
  expect((await send(asked(one.username, 'knee', true, '2026-08-12T10:00:00Z'))).status).toBe(200);
  expect(missed((await district.get<PersonUse>(`/api/people/${one.id}/use`)).body)).toEqual([]);
  // A new key, and the old one no longer holds.
  await district.post(`/api/products/${product}/key`);
  expect((await send(batch)).status).toBe(401);
});

it('counts by week, school and class as the database alone does, and shows each viewer their own', async () => {
  const product = (await world.db.one<{ id: string }>("SELECT id FROM products WHERE name = 'Wrackline Readers'"))!.id;
  const sheet = (await district.get<UseSheet>(`/api/use?product=${product}`)).body;
  expect(sheet.weeks.length).toBeGreaterThan(7);
  const days = { product, from: sheet.from, to: sheet.to };
  const minutes = Math.round(
    (await count(
      "SELECT SUM(d.seconds) AS n FROM use_days d JOIN people p ON p.id = d.personId AND p.status = 'active' WHERE d.productId = :product AND d.day BETWEEN :from AND :to",
      days,
    )) / 60,
  );
  const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
  expect(Math.abs(sum(sheet.byWeek.map((week) => week.minutes)) - minutes)).toBeLessThan(sheet.weeks.length);
  expect(Math.abs(sum(sheet.rows.map((row) => row.minutes)) - minutes)).toBeLessThan(sheet.rows.length * 9);
  expect(sheet.counts.hurries).toBeGreaterThan(3);
  // Whoever holds a seat today and never used it.
  const never = await count(
    `SELECT COUNT(DISTINCT s.personId) AS n FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN people p ON p.id = s.personId AND p.status = 'active' AND p.role = 'student'
     WHERE l.productId = :product AND s.begins <= :today AND (s.ends IS NULL OR s.ends > :today) AND l.ends > :today AND NOT EXISTS (SELECT 1 FROM last_uses u WHERE u.personId = s.personId AND u.productId = :product)`,
    { product, today: testDay },
  );
  expect(sheet.counts.never).toBe(never);
  const people = (await district.get<UsePerson[]>(`/api/use/people?product=${product}&stand=hurries`)).body;
  expect(people).toHaveLength(sheet.counts.hurries);
  expect(people.every((one) => one.hurries)).toBe(true);
  expect((await district.post('/api/use/gather', { product, stand: 'hurries' })).body).toEqual({
    gathered: people.length,
  });
  expect(await count('SELECT COUNT(*) AS n FROM sheaves')).toBe(people.length);

  const lantern = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'LAN'"))!.id;
  const classes = (await district.get<UseSheet>(`/api/use?product=${product}&school=${lantern}`)).body;
  const room = classes.rows.find(({ name }) => name === '3A')!;
  const of3A = await count(
    `SELECT SUM(d.seconds) AS n FROM use_days d JOIN enrollments e ON e.personId = d.personId AND e.ends IS NULL AND e.classId = :classId WHERE d.productId = :product AND d.day BETWEEN :from AND :to`,
    { ...days, classId: room.id },
  );
  expect(Math.abs(room.minutes - of3A / 60)).toBeLessThan(9);
  // Of one class each student, whether they used it or not.
  const each = (await district.get<UsePerson[]>(`/api/use/people?product=${product}&classId=${room.id}&stand=all`))
    .body;
  expect(each).toHaveLength(room.students);
  expect(Math.abs(sum(each.map((one) => one.minutes)) - of3A / 60)).toBeLessThan(each.length);
  // A teacher sees the own class, a coordinator of another school nothing of it.
  const teacher = (await (await world.as('teacher')).get<UseSheet>(`/api/use?product=${product}`)).body;
  expect(teacher.rows.map(({ name }) => name)).toEqual(['KA']);
  const school = (await (await world.as('school')).get<UseSheet>(`/api/use?product=${product}&school=${lantern}`)).body;
  expect([school.rows, sum(school.byWeek.map((week) => week.minutes))]).toEqual([[], 0]);
});

it('that takes long to count is shown as it was counted, for whom it was, and counted anew behind that', async () => {
  const product = (await world.db.one<{ id: string }>("SELECT id FROM products WHERE name = 'Kelpline Algebra'"))!.id;
  const slow = { ...world.services, use: new UseDesk(world.db, world.config, { slow: 0, fresh: 0, most: 1 }) };
  const viewer = (role: 'district' | 'school', schoolIds: string[] = []): Viewer => ({
    ...{ ...everywhere, role, schoolIds },
  });
  const days = { product, from: '2026-06-01', to: '2026-06-14' };
  const minutes = async (who = viewer('district')) => {
    const { byWeek, anew } = await useSheet(slow, who, days);
    return { minutes: byWeek.reduce((sum, week) => sum + week.minutes, 0), anew };
  };
  const [first, same] = await Promise.all([minutes(), minutes()]);
  expect([first.anew, same]).toEqual([false, first]);
  await world.db.run(
    `INSERT INTO use_days (productId, day, personId, times, seconds) SELECT :product, '2026-06-13', p.id, 1, 600 FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     WHERE p.role = 'student' AND p.status = 'active' ORDER BY p.id LIMIT 10`,
    { product },
  );
  const more = first.minutes + 100;
  expect(await minutes()).toEqual({ minutes: first.minutes, anew: true });
  await vi.waitFor(async () => expect((await minutes()).minutes).toBe(more), { timeout: 30_000, interval: 20 });
  // A coordinator of no school sees none of what is kept for others.
  expect((await minutes(viewer('school'))).minutes).toBe(0);
  await world.db.run("DELETE FROM use_days WHERE productId = :product AND day = '2026-06-13' AND seconds = 600", {
    product,
  });
});

it('of a large district is counted before anybody looks, and found by whoever looks at it first', async () => {
  const { use } = world.services;
  world.services.use = new UseDesk(world.db, world.config, { slow: 0, fresh: 60_000, most: 2 });
  try {
    // A small one is counted when it is asked for.
    await countAhead(world.services);
    const { countedAt: then } = (await district.get<UseSheet>('/api/use?from=2026-06-01&to=2026-06-14')).body;
    await countAhead(world.services, 0);
    await new Promise((next) => setTimeout(next, 5));
    const asked = new Date().toISOString();
    const first = (await district.get<UseSheet>('/api/use')).body;
    expect([then < first.countedAt, first.countedAt < asked, first.anew]).toEqual([true, true, false]);
    expect(first.byWeek.length).toBeGreaterThan(4);
    // What a school is shown is counted for the school.
    const own = (await (await world.as('school')).get<UseSheet>('/api/use')).body;
    expect(own.countedAt >= asked).toBe(true);
  } finally {
    world.services.use = use;
  }
});

it('of somebody who was merged is the use of whom they are now, in figures and for seats, until they are parted', async () => {
  const product = (await world.db.one<{ id: string }>("SELECT id FROM products WHERE name = 'Wrackline Readers'"))!.id;
  const seated = `FROM people p JOIN seats s ON s.personId = p.id AND s.ends IS NULL JOIN licenses l ON l.id = s.licenseId AND l.productId = :product
     JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL
     LEFT JOIN last_uses u ON u.personId = p.id AND u.productId = :product WHERE p.role = 'student' AND p.status = 'active'`;
  const one = async (sql: string, more: object = {}) =>
    (await world.db.one<{ id: string; schoolId: string }>(sql, { product, ...more }))!;
  const keep = await one(`SELECT p.id, a.schoolId ${seated} ORDER BY p.id LIMIT 1`);
  // Whose seat nobody used under this record.
  for (const table of ['use_days', 'last_uses'])
    await world.db.run(`DELETE FROM ${table} WHERE productId = :product AND personId = :id`, { product, id: keep.id });
  const gone = await one(
    `SELECT p.id, a.schoolId ${seated} AND a.schoolId = :school AND u.usedOn IS NOT NULL ORDER BY u.usedOn DESC LIMIT 1`,
    { school: keep.schoolId },
  );
  const look = async () => {
    const sheet = (await district.get<UseSheet>(`/api/use?product=${product}&school=${keep.schoolId}`)).body;
    const at = `product=${product}&school=${keep.schoolId}`;
    const people = async (stand: string) =>
      (await district.get<UsePerson[]>(`/api/use/people?${at}&stand=${stand}`)).body;
    return { weeks: sheet.byWeek, never: await people('never'), used: await people('used') };
  };
  const find = (list: UsePerson[], id: string) => list.find((person) => person.id === id);
  const before = await look();
  expect(find(before.never, keep.id)).toBeDefined();
  const { planId, held } = (
    await district.post<{ planId: string; held: boolean }>('/api/pairs/merge', { keep: keep.id, gone: gone.id })
  ).body;
  if (held) {
    for (const { code } of (await district.get<{ held: { code: string }[] }>(`/api/plans/${planId}`)).body.held)
      await district.post(`/api/plans/${planId}/release`, { code, reason: 'the same child' });
    await district.job(`/api/plans/${planId}/apply`);
  }
  const after = await look();
  // What was told counts on as before, and nobody holds a seat in vain.
  expect(after.weeks).toEqual(before.weeks);
  expect(find(after.never, keep.id)).toBeUndefined();
  const was = find([...before.used, ...before.never], gone.id)!;
  const is = find(after.used, keep.id)!;
  expect([is.lastOn, is.days, is.minutes]).toEqual([was.lastOn, was.days, was.minutes]);
  const { uses } = await readLicenses(world.db, world.config);
  expect(uses.get(product)!.get(keep.id)).toBe(dayOf(was.lastOn!));
  await district.post(`/api/plans/${planId}/unmerge`);
  expect(await look()).toEqual(before);
});

it('takes a list with minutes, scores and skills, once; and proposes groups by level, undone as one', async () => {
  const teacher = await world.as('teacher');
  const room = (await world.db.one<{ id: string }>(
    "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'LAN' WHERE c.name = 'KA'",
  ))!.id;
  const names = (
    await world.db.select<{ username: string }>(
      "SELECT a.username FROM enrollments e JOIN accounts a ON a.personId = e.personId WHERE e.classId = :room AND e.ends IS NULL AND e.role = 'student' ORDER BY 1",
      { room },
    )
  ).map(({ username }) => username);
  const lines = names.map(
    (name, i) => `${name},Wrackline Readers,2026-08-10,${10 + i},Nine nets,${i % 2 ? 90 : 20}%,Harbor words`,
  );
  const text = [
    'username,product,day,minutes,activity,score,skill,words missed',
    ...lines.map((line, i) => `${line},${i < 2 ? 'harbor; gull' : i === 2 ? 'gull' : ''}`),
    `${names[0]},Wrackline Readers,${testDay},5,Ten nets,,,`,
  ].join('\n');
  const before = await count("SELECT COALESCE(SUM(seconds), 0) AS n FROM use_days WHERE day = '2026-08-10'");
  const taken = (
    await district.post<{ taken: number; problems: { line: number; message: string }[] }>('/api/uses', { text })
  ).body;
  expect([taken.taken, taken.problems.map(({ message }) => message)]).toEqual([
    names.length,
    ['“Ten nets” is not a material of Wrackline Readers.'],
  ]);
  const after = await count("SELECT SUM(seconds) AS n FROM use_days WHERE day = '2026-08-10'");
  expect(after - before).toBe(names.reduce((sum, _, i) => sum + 60 * (10 + i), 0));
  const again = (await district.post<{ problems: object[] }>('/api/uses', { text })).body;
  expect(again.problems).toHaveLength(names.length + 1);
  expect(await count("SELECT SUM(seconds) AS n FROM use_days WHERE day = '2026-08-10'")).toBe(after);

  // Days as the list writes them; which order they are in is told by those that leave no doubt.
  const american = [
    'username,product,day,minutes',
    `${names[0]},Wrackline Readers,8/14/2026,7`,
    `${names[0]},Wrackline Readers,8/9/2026,9`,
  ];
  const read = (
    await district.post<{ taken: number; problems: { message: string }[] }>('/api/uses', {
      text: [...american, `${names[0]},Wrackline Readers,soon,3`].join('\n'),
    })
  ).body;
  expect([read.taken, read.problems.map(({ message }) => message)]).toEqual([
    2,
    ['“soon” is not a date like 2026-06-04.'],
  ]);
  const on = (day: string) =>
    count(
      `SELECT COUNT(*) AS n FROM use_days d JOIN accounts a ON a.personId = d.personId AND a.username = '${names[0]}' WHERE d.day = '${day}'`,
    );
  expect([(await on('2026-08-14')) > 0, (await on('2026-08-09')) > 0, await on('2026-09-08')]).toEqual([true, true, 0]);

  // What is not reached yet, by skill and word, of the teacher's own class alone.
  const told = (await teacher.get<ClassSkills>(`/api/use/skills?classId=${room}`)).body;
  const harbor = told.skills.find((one) => one.skill === 'Harbor words')!;
  expect([harbor.notYet.length + harbor.reached, harbor.nearly, harbor.reached]).toEqual([
    names.length,
    [],
    Math.floor(names.length / 2),
  ]);
  expect(
    told.words
      .filter(({ word }) => word === 'gull' || word === 'harbor')
      .map(({ word, people }) => [word, people.length]),
  ).toEqual([
    ['gull', 3],
    ['harbor', 2],
  ]);
  expect((await (await world.as('school')).get(`/api/use/skills?classId=${room}`)).status).toBe(404);

  const { skills } = (await teacher.get<Levels>(`/api/levels?classId=${room}`)).body;
  const skill = skills.find((one) => one.skill === 'Harbor words')!;
  expect(skill.people).toBe(names.length);
  const order = { classId: room, productId: skill.productId, skill: skill.skill, how: 'mixed', groups: 3 };
  const mixed = (await teacher.post<LevelGroups>('/api/levels/preview', order)).body.groups;
  const low = mixed.map(({ members }) => members.filter(({ band }) => band === 1).length);
  expect(Math.max(...low) - Math.min(...low)).toBeLessThanOrEqual(1);
  const checksum = await world.checksum();
  const made = (await teacher.post<{ planId: string }>('/api/levels', { ...order, how: 'alike', groups: 2 })).body;
  const groups = await world.db.select<{ name: string; n: number; bands: number }>(
    `SELECT g.name, COUNT(*) AS n, COUNT(DISTINCT l.band) AS bands FROM class_groups g JOIN memberships m ON m.groupId = g.id JOIN levels l ON l.personId = m.personId AND l.skill = 'Harbor words'
     WHERE g.classId = :room AND g.kind = 'level' GROUP BY g.name ORDER BY g.name`,
    { room },
  );
  expect(groups.map(({ name }) => name)).toEqual(['Harbor words A', 'Harbor words B']);
  expect(groups.reduce((all, { n }) => all + Number(n), 0)).toBe(names.length);
  expect(Math.min(...groups.map(({ bands }) => Number(bands)))).toBe(1);
  // Of one group alone.
  const [one] = await world.db.select<{ id: string; n: number }>(
    "SELECT g.id, COUNT(*) AS n FROM class_groups g JOIN memberships m ON m.groupId = g.id WHERE g.classId = :room AND g.name = 'Harbor words A' GROUP BY g.id",
    { room },
  );
  const part = (await teacher.get<ClassSkills>(`/api/use/skills?classId=${room}&group=${one!.id}`)).body;
  const { notYet, nearly, reached } = part.skills.find(({ skill }) => skill === 'Harbor words')!;
  expect(notYet.length + nearly.length + reached).toBe(Number(one!.n));
  await teacher.job(`/api/plans/${made.planId}/undo`);
  expect(await world.checksum()).toBe(checksum);
  // Another school's coordinator has no say in it.
  expect((await (await world.as('school')).post('/api/levels', order)).status).toBe(404);
});

it('tells of one student what they used, finished and reached, to those whose student they are', async () => {
  const one = (await world.db.one<{ id: string; n: number }>(
    `SELECT r.personId AS id, COUNT(*) AS n FROM results r JOIN levels l ON l.personId = r.personId JOIN affiliations a ON a.personId = r.personId AND a.ends IS NULL
     JOIN schools s ON s.id = a.schoolId AND s.code = 'LAN' WHERE r.finished = 1 GROUP BY r.personId ORDER BY r.personId LIMIT 1`,
  ))!;
  const told = (await district.get<PersonUse>(`/api/people/${one.id}/use`)).body;
  const [last] = await world.db.select<{ at: string; permille: number | null }>(
    'SELECT at, permille FROM results WHERE personId = :id AND finished = 1 ORDER BY at DESC LIMIT 1',
    { id: one.id },
  );
  expect(told.results[0]).toMatchObject({ at: last!.at, share: Number(last!.permille) / 1000 });
  expect(told.skills.length).toBe(await count('SELECT COUNT(*) AS n FROM levels WHERE personId = :id', { id: one.id }));
  for (const { productId, minutes, lastOn } of told.products) {
    const query = { id: one.id, productId, since: told.since };
    const seconds = await count(
      'SELECT COALESCE(SUM(seconds), 0) AS n FROM use_days WHERE personId = :id AND productId = :productId AND day >= :since',
      query,
    );
    expect([minutes, lastOn === null]).toEqual([Math.round(seconds / 60), false]);
  }
  expect((await (await world.as('school')).get(`/api/people/${one.id}/use`)).status).toBe(404);
  expect((await (await world.as('student')).get(`/api/people/${one.id}/use`)).status).toBe(403);
});

it('counts who signed in by week, each student once, of the place that is asked for', async () => {
  const weeksOf = async (query = '') =>
    (await district.get<{ weeks: string[]; people: number[] }>(`/api/use/sign-ins${query}`)).body;
  const [last] = await world.db.select<{ day: string }>(
    `SELECT MAX(day) AS day FROM sign_in_days WHERE day < '${testDay}'`,
  );
  const { weeks, people } = await weeksOf(`?to=${last!.day}`);
  expect(weeks.length).toBe(people.length);
  // The same, counted apart.
  const plain = await count(
    `SELECT COUNT(DISTINCT d.personId) AS n FROM sign_in_days d JOIN people p ON p.id = d.personId AND p.role = 'student' AND p.status = 'active'
     JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE d.day BETWEEN '${weeks.at(-1)}' AND '${last!.day}'`,
  );
  expect(people.at(-1)).toBe(plain);
  expect(plain).toBeGreaterThan(10);
  // Twice on one day is once.
  const { username, secret } = world.signIns.find(({ who }) => who.startsWith('student'))!;
  const who = (await world.db.one<{ personId: string; schoolId: string }>(
    'SELECT ac.personId, a.schoolId FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL WHERE ac.username = :username',
    { username },
  ))!;
  await world.db.run('DELETE FROM sign_in_days WHERE personId = :personId', { personId: who.personId });
  const now = clock.today();
  const all = (await weeksOf(`?to=${now}`)).people.at(-1)!;
  const own = `?to=${now}&school=${who.schoolId}`;
  const there = (await weeksOf(own)).people.at(-1)!;
  await world.signIn(username, secret);
  await world.signIn(username, secret);
  expect((await weeksOf(`?to=${now}`)).people.at(-1)).toBe(all + 1);
  expect((await weeksOf(own)).people.at(-1)).toBe(there + 1);
});
