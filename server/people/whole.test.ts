/** All that is kept about one person: no table that names them is missing, and nothing in it opens anything. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { WholeRecord } from '../contract';
import { World } from '../testing/world';

let world: World;
beforeAll(async () => {
  world = await World.open('whole', { demo: true });
});
afterAll(() => world.close());

it('has a row of every table in which the person’s id stands', async () => {
  const district = await world.as('district');
  const one = (await world.db.one<{ id: string; username: string; secretSealed: string }>(
    `SELECT p.id, ac.username, ac.secretSealed FROM people p JOIN accounts ac ON ac.personId = p.id JOIN loans l ON l.personId = p.id AND l.ends IS NULL JOIN seats s ON s.personId = p.id
     WHERE p.role = 'student' ORDER BY p.id LIMIT 1`,
  ))!;
  await district.post('/api/sheaf/gather', { ids: [one.id] });
  await district.job('/api/prints', { sheaf: true, paper: 'A4', voidOlder: false });
  await district.post(`/api/people/${one.id}/reveal`, { why: 'forgotten' });
  const { status, body } = await district.get<WholeRecord>(`/api/people/${one.id}/whole`);
  expect(status).toBe(200);
  const columns = await world.db.select<{ t: string; c: string }>(
    "SELECT TABLE_NAME AS t, COLUMN_NAME AS c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND DATA_TYPE IN ('char', 'varchar') AND CHARACTER_MAXIMUM_LENGTH = 26",
  );
  const named: string[] = [];
  for (const { t, c } of columns)
    if (await world.db.one(`SELECT 1 AS one FROM \`${t}\` WHERE \`${c}\` = :id LIMIT 1`, { id: one.id })) named.push(t);
  expect(named.length).toBeGreaterThan(8);
  for (const table of named) expect(Object.keys(body.tables)).toContain(table);
  for (const table of [
    'people',
    'accounts',
    'affiliations',
    'enrollments',
    'seats',
    'loans',
    'printed_cards',
    'audit',
    'given_usernames',
    'plans',
  ])
    expect([table, (body.tables[table]?.length ?? 0) > 0]).toEqual([table, true]);
  const text = JSON.stringify(body);
  expect(text).toContain(one.username);
  expect(text).not.toContain(one.secretSealed);
  expect(text).not.toContain('tokenHash');
  // Somebody else's child is not a teacher's to take.
  expect((await (await world.as('teacher')).get(`/api/people/${one.id}/whole`)).status).toBe(403);
  // Asked for, it is in the trail.
  const trail = await world.db.one('SELECT 1 AS one FROM audit WHERE action = :action AND aboutPersonId = :id', {
    action: 'export.person',
    id: one.id,
  });
  expect(trail).not.toBeNull();
});
