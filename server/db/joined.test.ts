/** Joined rows against the same question in SQL. */
import { Op } from 'sequelize';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { World } from '../testing/world';
import { joined, joinedOne } from './joined';

let world: World;
beforeAll(async () => void (world = await World.open('joined')));
afterAll(() => world.close());

it('goes from a row to those that it names, and on', async () => {
  const ours = await joined(world.db, 'seat', {
    fields: ['id', 'begins'],
    of: { product: 'license.product.name', name: 'person.familyName', school: 'license.school.name' },
    whose: { 'person.status': 'active', 'license.seats': { [Op.gt]: 0 } },
    order: ['-person.familyName', 'id'],
    limit: 50,
  });
  const told = await world.db.select<(typeof ours)[number]>(
    `SELECT s.id, s.begins, pr.name AS product, p.familyName AS name, sc.name AS school
     FROM seats s JOIN licenses l ON l.id = s.licenseId JOIN products pr ON pr.id = l.productId JOIN people p ON p.id = s.personId
     LEFT JOIN schools sc ON sc.id = l.schoolId WHERE p.status = 'active' AND l.seats > 0 ORDER BY p.familyName DESC, s.id LIMIT 50`,
  );
  expect(told.length).toBeGreaterThan(5);
  expect(ours).toEqual(told);
});

it('goes to the open rows that name one, which there may be none of', async () => {
  const some = await world.db.select<{ id: string }>("SELECT id FROM people WHERE role = 'staff' OR status = 'left'");
  const ids = some.map(({ id }) => id);
  await world.db.models.affiliation.update({ ends: '2026-08-01' }, { where: { personId: ids.slice(0, 3) } });
  const ours = await joined(world.db, 'person', {
    fields: ['id', 'familyName'],
    of: { grade: 'openAffiliation.grade', school: 'openAffiliation.school.name', username: 'allAccount.username' },
    where: { id: ids },
    within: ["`person`.status <> 'merged'"],
    order: ['id', 'openAffiliation.id'],
  });
  const told = await world.db.select<(typeof ours)[number]>(
    `SELECT p.id, p.familyName, a.grade, s.name AS school, ac.username FROM people p
     LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId
     LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.id IN (:ids) AND p.status <> 'merged' ORDER BY p.id, a.id`,
    { ids },
  );
  expect(ours.some(({ school }) => school === null)).toBe(true);
  expect(ours).toEqual(told);
  const placed = await joined(world.db, 'person', {
    fields: ['id'],
    must: ['openAffiliation'],
    where: { id: ids },
    distinct: true,
  });
  expect(placed).toHaveLength(new Set(told.filter(({ school }) => school !== null).map(({ id }) => id)).size);
  expect(await joinedOne(world.db, 'person', { where: { id: 'none' } })).toBeNull();
});
