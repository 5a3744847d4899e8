/** Readiness against a count by SQL alone, and Make ready: a child who has nothing gets all of it in one plan. */
import type { Columns } from '#core/entities/index';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PersonRow, Today } from '../contract';
import { mint } from '../plans/mint';
import { applyNow } from '../plans/now';
import { type Caller, World } from '../testing/world';
import { creates } from '#core/register/steps';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('ready', { demo: true });
  district = await world.as('district');
});
afterAll(() => world.close());

/** School opens on this day; seats must hold then. */
const opens = async () => (await district.get<{ year: { begins: string } }>('/api/me')).body.year.begins;

describe('readiness', () => {
  it('is what SQL alone counts, for every school and grade', async () => {
    const day = await opens();
    const oneToOne = (
      JSON.parse((await world.db.one<{ s: string }>('SELECT settings AS s FROM district'))!.s) as { oneToOne: string[] }
    ).oneToOne;
    // Entitled by school, grade, subject or class on the day, and by no rule left without a seat that holds on it.
    const entitled = `SELECT 1 FROM entitlements r JOIN products pr ON pr.id = r.productId
      WHERE r.role = 'student' AND (r.begins IS NULL OR r.begins <= :day) AND (r.ends IS NULL OR r.ends > :day)
        AND (r.schoolId IS NULL OR r.schoolId = a.schoolId)
        AND (COALESCE(JSON_LENGTH(r.terms, '$.schools'), 0) = 0 OR JSON_CONTAINS(r.terms, JSON_QUOTE(a.schoolId), '$.schools')) AND (r.grade IS NULL OR r.grade = a.grade)
        AND ((pr.lowGrade IS NULL OR a.grade IS NOT NULL AND FIELD(a.grade, :grades) >= FIELD(pr.lowGrade, :grades))
          AND (pr.highGrade IS NULL OR a.grade IS NOT NULL AND FIELD(a.grade, :grades) <= FIELD(pr.highGrade, :grades)))
        AND (r.subject IS NULL AND r.classId IS NULL OR EXISTS (SELECT 1 FROM enrollments e JOIN classes c ON c.id = e.classId
          WHERE e.personId = p.id AND e.role = 'student' AND e.ends IS NULL AND c.ends IS NULL AND c.schoolId = a.schoolId
            AND (r.subject IS NULL OR r.subject = c.subject) AND (r.classId IS NULL OR r.classId = c.id)))
        AND ac.status <> 'frozen'
        AND NOT EXISTS (SELECT 1 FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE l.productId = r.productId AND s.personId = p.id
          AND s.begins <= :day AND l.begins <= :day AND l.ends > :day AND (s.ends IS NULL OR s.ends > :day))`;
    const counted = await world.db.select<Record<string, string | number>>(
      `SELECT a.schoolId, a.grade, COUNT(*) AS people, SUM(ac.status = 'active') AS account,
         SUM(EXISTS (SELECT 1 FROM enrollments e JOIN classes c ON c.id = e.classId AND c.ends IS NULL WHERE e.personId = p.id AND e.ends IS NULL AND e.role = 'student')) AS class,
         SUM(NOT EXISTS (${entitled})) AS seats,
         SUM(a.grade NOT IN (:oneToOne) OR EXISTS (SELECT 1 FROM loans lo WHERE lo.personId = p.id AND lo.ends IS NULL)) AS device,
         SUM(EXISTS (SELECT 1 FROM printed_cards pc WHERE pc.personId = p.id AND pc.voidedAt IS NULL AND pc.secretVersion = ac.secretVersion)) AS card,
         SUM(EXISTS (SELECT 1 FROM sign_ins si WHERE si.personId = p.id)) AS signedIn
       FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN accounts ac ON ac.personId = p.id
       WHERE p.role = 'student' AND p.status = 'active' GROUP BY a.schoolId, a.grade`,
      {
        day,
        oneToOne: ['-', ...oneToOne],
        grades: [
          'PK',
          'TK',
          'KG',
          '01',
          '02',
          '03',
          '04',
          '05',
          '06',
          '07',
          '08',
          '09',
          '10',
          '11',
          '12',
          '13',
          'PS',
          'UG',
        ],
      },
    );
    const { readiness } = (await district.get<Today>('/api/today')).body;
    expect(counted.length).toBeGreaterThan(20);
    const told = new Map(readiness.filter(({ parent }) => parent !== null).map((line) => [line.id, line]));
    expect(told.size).toBe(counted.length);
    for (const { schoolId, grade, people, signedIn, ...link } of counted) {
      const line = told.get(`${schoolId}:${grade}`)!;
      expect({ id: line.id, people: line.people, ...line.link }).toEqual({
        id: `${schoolId}:${grade}`,
        people,
        'signed-in': Number(signedIn),
        ...Object.fromEntries(Object.entries(link).map(([name, n]) => [name, Number(n)])),
      });
    }
  });

  it('is made up for by one plan: account, homeroom and courses, seats, a device; then the card', async () => {
    const school = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'OIH'"))!;
    const [personId, date] = [mint(), '2026-08-17'];
    const label = 'Latecomer, Nia';
    const person: Columns<'person'> = {
      ...{
        role: 'student',
        number: '777001',
        givenName: 'Nia',
        middleName: null,
        familyName: 'Latecomer',
        birthDate: '2012-02-03',
      },
      ...{ email: null, guardianEmail: null, language: null, status: 'active', mergedInto: null },
    };
    await applyNow(world.db, {
      kind: 'edit',
      title: label,
      createdBy: (await district.get<{ personId: string }>('/api/me')).body.personId,
      plan: {
        changes: [
          { ...creates('person', personId, person, 'came'), label, subject: personId },
          {
            ...creates(
              'affiliation',
              mint(),
              { personId, schoolId: school.id, grade: '09', begins: date, ends: null },
              'came',
            ),
            label,
            subject: personId,
          },
        ],
      },
    });
    const row = async () => (await district.get<{ rows: PersonRow[] }>('/api/people?q=Latecomer')).body.rows[0]!;
    expect((await row()).lacks).toEqual(['account', 'class', 'seats', 'device']);
    await district.post('/api/sheaf/gather', { ids: [personId] });
    const before = await world.checksum();
    const planned = await district.job('/api/sheaf/plan', { verb: 'ready' });
    expect(planned.error).toBeNull();
    const { planId } = planned.result!;
    expect((await district.job(`/api/plans/${planId}/apply`)).status).toBe('done');
    const mate = (await world.db.one<{ id: string }>(
      `SELECT e.personId AS id FROM enrollments m JOIN classes c ON c.id = m.classId AND c.kind = 'homeroom' JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.personId <> m.personId AND e.role = 'student'
       WHERE m.personId = :personId AND m.ends IS NULL ORDER BY e.personId LIMIT 1`,
      { personId },
    ))!;
    const classesOf = async (id: string) =>
      (
        await world.db.select<{ classId: string }>(
          "SELECT classId FROM enrollments WHERE personId = :id AND ends IS NULL AND role = 'student' ORDER BY classId",
          { id },
        )
      ).map(({ classId }) => classId);
    // The same classes as a classmate has.
    expect(await classesOf(personId)).toEqual(await classesOf(mate.id));
    expect((await row()).lacks).toEqual(['card', 'signed-in']);
    expect((await district.job('/api/prints', { sheaf: true, paper: 'A4', voidOlder: false })).status).toBe('done');
    expect((await row()).lacks).toEqual(['signed-in']);
    // Again there is nothing to do but what no seat is free for.
    expect((await district.job('/api/sheaf/plan', { verb: 'ready' })).error?.message).toContain('Nothing would change');
    expect((await district.job(`/api/plans/${planId}/undo`)).status).toBe('done');
    expect(await world.checksum()).toBe(before);
  });
});
