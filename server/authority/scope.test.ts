/** One scope, two renderings: over random districts the condition in memory and the one in SQL choose the same rows. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  conditionOf,
  holds,
  personFacts,
  roleNames,
  type RowKind,
  type ScopedRow,
  scopeOf,
  sqlOf,
} from '#core/authority/index';
import { pick, randomFrom } from '#core/random/index';
import { mint } from '../plans/mint';
import { World } from '../testing/world';

let world: World;
beforeAll(async () => {
  world = await World.open('scope', { demo: false });
});
afterAll(() => world.close());

const days = ['2024-08-01', '2025-01-15', '2025-06-20', '2026-01-10', '2026-08-17'];

/** A district of a few schools, classes and people with places and enrollments that begin, end and overlap. */
async function districtOf(seed: number) {
  const r = randomFrom(seed);
  const { db } = world;
  const schools = Array.from({ length: 1 + r.below(4) }, mint);
  const classes = Array.from({ length: 1 + r.below(6) }, () => ({ id: mint(), schoolId: pick(r, schools) }));
  const people = Array.from({ length: 25 }, mint);
  const span = () => {
    const from = r.below(days.length - 1);
    return { begins: days[from]!, ends: r.below(2) ? null : days[from + 1 + r.below(days.length - from - 1)]! };
  };
  const places = people.flatMap((personId) =>
    Array.from({ length: r.below(4) }, () => ({ id: mint(), personId, schoolId: pick(r, schools), ...span() })),
  );
  const enrollments = people.flatMap((personId) =>
    Array.from({ length: r.below(4) }, () => ({
      ...{ id: mint(), personId, classId: pick(r, classes).id, ...span() },
      role: r.below(4) ? 'student' : 'teacher',
    })).filter((one, i, all) => {
      // In a class once at a time, as the database holds.
      const first = all.findIndex(({ classId, ends }) => classId === one.classId && ends === null);
      return one.ends !== null || first === i;
    }),
  );
  await db.transaction(async (tx) => {
    for (const table of ['enrollments', 'affiliations', 'classes', 'people', 'schools'])
      await db.run(`DELETE FROM ${table}`, {}, tx);
    await db.batch(
      "INSERT INTO schools (id, name, code, kind, lowGrade, highGrade) VALUES (?, ?, ?, 'k8', 'KG', '08')",
      schools.map((id) => [id, id, id.slice(-20)]),
      tx,
    );
    await db.batch(
      "INSERT INTO people (id, role, givenName, familyName, status) VALUES (?, 'student', 'A', 'B', 'active')",
      people.map((id) => [id]),
      tx,
    );
    await db.batch(
      "INSERT INTO classes (id, schoolId, name, kind, begins) VALUES (?, ?, 'c', 'homeroom', '2024-08-01')",
      classes.map((c) => [c.id, c.schoolId]),
      tx,
    );
    await db.batch(
      'INSERT INTO affiliations (id, personId, schoolId, begins, ends) VALUES (?, ?, ?, ?, ?)',
      places.map((p) => [p.id, p.personId, p.schoolId, p.begins, p.ends]),
      tx,
    );
    await db.batch(
      'INSERT INTO enrollments (id, personId, classId, role, begins, ends) VALUES (?, ?, ?, ?, ?, ?)',
      enrollments.map((e) => [e.id, e.personId, e.classId, e.role, e.begins, e.ends]),
      tx,
    );
  });
  const some = <T>(all: readonly T[]) => all.filter(() => r.below(2) === 1);
  return { r, schools, classes, people, places, enrollments, some };
}

describe('a scope in memory and in SQL', () => {
  it('chooses the same people, schools and classes for every role, now and on any day, in 60 random districts', async () => {
    let chosen = 0;
    let passed = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const { r, schools, classes, people, places, enrollments, some } = await districtOf(seed);
      for (const role of [...roleNames, 'nobody']) {
        const me = {
          role,
          personId: pick(r, people),
          schoolIds: some(schools),
          classIds: some(classes.map((c) => c.id)),
        };
        for (const day of [null, pick(r, days), '2025-03-03']) {
          const scope = scopeOf(me, day);
          const rows: [RowKind, string, ScopedRow[]][] = [
            [
              'people',
              'people',
              people.map((id) => {
                const mine = <T extends { personId: string }>(list: T[]) =>
                  list.filter(({ personId }) => personId === id);
                return personFacts(id, mine(places), mine(enrollments), day);
              }),
            ],
            ['schools', 'schools', schools.map((id) => ({ id }))],
            ['classes', 'classes', classes],
            ['atSchool', 'classes', classes],
          ];
          for (const [kind, table, list] of rows) {
            const condition = conditionOf(scope, kind);
            const inMemory = list.filter((row) => holds(condition, row)).map(({ id }) => id);
            const inSql = await world.db.select<{ id: string }>(
              `SELECT t.id FROM ${table} t WHERE ${sqlOf(condition, 't')}`,
            );
            expect([seed, role, day, kind, inSql.map(({ id }) => id).sort()]).toEqual([
              seed,
              role,
              day,
              kind,
              inMemory.sort(),
            ]);
            chosen += inMemory.length;
            passed += list.length - inMemory.length;
          }
        }
      }
    }
    // Neither all nor none.
    expect(Math.min(chosen, passed)).toBeGreaterThan(2000);
  });
});
