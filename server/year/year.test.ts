/** The roll-over of the demo district through the application: its rehearsal, its plan applied and undone, and a class that comes back. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { yearGroups } from '#core/year/index';
import type {
  ArchivedClass,
  ArchivedClassSheet,
  AsOfPage,
  AsOfTable,
  JoinCode,
  LedgerRow,
  Rehearsal,
  RehearsedPeople,
  YearSheet,
} from '../contract';
import type { Caller } from '../testing/world';
import { World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('year', { demo: true });
  district = await world.as('district');
});
afterAll(() => world.close());

const planned = async (path: string) => {
  const job = await district.job(path);
  if (job.status !== 'done') throw new Error(`${path}: ${job.error?.message}`);
  return job.result!.planId!;
};
const counted = async (sql: string) => Number((await world.db.one<{ n: number }>(`SELECT COUNT(*) AS n ${sql}`))!.n);

describe('the roll-over of the demo', () => {
  it('is rehearsed, applied as one plan and undone to the byte', async () => {
    const sheet = (await district.get<YearSheet>('/api/year')).body;
    expect(sheet.next.name).toBe('2027–28');
    // Grade 5 of the primary schools goes to the middle school, which begins with 6; grade 8 to the high school.
    const schools = new Map(
      (await world.db.select<{ id: string; code: string }>('SELECT id, code FROM schools')).map(({ id, code }) => [
        code,
        id,
      ]),
    );
    const next = (code: string, grade: string) =>
      sheet.grades.find(({ key }) => key === `${schools.get(code)}:${grade}`)?.next;
    expect(next('LAN', '05')).toEqual({ schoolId: schools.get('SKM'), grade: '06' });
    expect(next('SKM', '08')).toEqual({ schoolId: schools.get('OIH'), grade: '09' });
    expect(next('OIH', '12')).toBe('leaves');
    expect(next('EVE', 'UG')).toBe('stays');

    const evening = schools.get('EVE')!;
    // One does the grade again, one leaves.
    const [again, leaver] = await world.db.select<{ id: string }>(
      "SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.grade = '03' WHERE p.role = 'student' ORDER BY p.id LIMIT 2",
    );
    for (const [list, one] of [
      ['again', again],
      ['leave', leaver],
    ] as const) {
      await district.post('/api/sheaf/let-go', { all: true });
      await district.post('/api/sheaf/gather', { ids: [one!.id] });
      expect((await district.post('/api/year/whom', { list, drop: null })).status).toBe(200);
    }

    const rehearsal = (await district.get<Rehearsal>('/api/year/rehearsal')).body;
    expect(rehearsal.error).toBeNull();
    const sum = (of: (line: Rehearsal['lines'][number]) => number) =>
      rehearsal.lines.reduce((n, line) => n + of(line), 0);
    const students =
      "FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE p.role = 'student' AND p.status = 'active'";
    expect(sum((line) => line.before.students)).toBe(await counted(students));
    const graduates = await counted(`${students} AND a.grade = '12' AND a.schoolId <> '${evening}'`);
    expect(sum((line) => line.leave)).toBe(graduates + 1);
    // Behind each count are as many people, of a school and of all.
    const behind = async (query: string) =>
      (await district.get<RehearsedPeople>(`/api/year/rehearsal/people?${query}`)).body;
    for (const group of yearGroups) {
      const all = await behind(`group=${group}`);
      if (group !== 'collect') expect(all.ids.length).toBe(sum((line) => line[group]));
      expect(all.people.length).toBe(Math.min(200, all.ids.length));
      const line = rehearsal.lines.find((one) => one[group] > 0);
      if (!line || group === 'collect') continue;
      expect((await behind(`group=${group}&school=${line.schoolId}`)).ids).toHaveLength(line[group]);
    }
    expect((await behind('group=again')).people.map(({ id }) => id)).toEqual([again!.id]);
    expect((await behind('group=leave')).ids).toContain(leaver!.id);
    expect(sum((line) => line.again)).toBe(1);

    const club = await world.db.one<{ id: string }>(
      "SELECT id FROM classes WHERE schoolId = :school AND ends IS NULL AND kind = 'homeroom' ORDER BY id LIMIT 1",
      { school: schools.get('LAN')! },
    );
    const code = (
      await district.post<JoinCode>('/api/codes', { classId: club!.id, schoolId: null, days: 14, usesMost: 30 })
    ).body;
    const asking = { code: code.code, familyName: 'Nobody', givenName: 'Known', number: '999999' };
    expect((await world.send('POST', '/api/join', asking)).status).toBe(200);
    const before = await world.checksum();
    const planId = await planned('/api/year/plan');
    // Whoever is taken out of it would stay in a class that ends: nothing is done, and they are named.
    const stays = (await world.db.one<{ id: string; familyName: string; name: string }>(
      `SELECT p.id, p.familyName, c.name FROM enrollments e JOIN people p ON p.id = e.personId JOIN classes c ON c.id = e.classId
       WHERE c.id = :id AND e.ends IS NULL AND e.role = 'student' ORDER BY p.id LIMIT 1`,
      { id: club!.id },
    ))!;
    await district.post(`/api/plans/${planId}/take-out`, { subject: stays.id, back: false });
    const early = await district.post(`/api/plans/${planId}/apply`);
    expect([early.status, early.body.error]).toEqual([409, expect.stringContaining('The school year runs until Jun ')]);
    const refused = await district.apply(planId);
    expect(refused.status).not.toBe('done');
    expect(refused.error!.conflicts).toContainEqual(
      expect.objectContaining({
        label: expect.stringContaining(stays.familyName) as string,
        message: `would stay in ${stays.name}, which ends; apply both, or take the class out as well`,
      }),
    );
    expect(await world.checksum()).toBe(before);
    await district.post(`/api/plans/${planId}/take-out`, { subject: stays.id, back: true });
    await planned(`/api/plans/${planId}/apply`);
    // The rehearsal, counted again in the tables.
    for (const line of rehearsal.lines) {
      expect(await counted(`${students} AND a.schoolId = '${line.schoolId}'`)).toBe(line.after.students);
      expect(await counted(`FROM classes WHERE ends IS NULL AND schoolId = '${line.schoolId}'`)).toBe(
        line.after.classes,
      );
    }
    expect(
      await counted(`FROM classes WHERE ends IS NULL AND begins < '2026-08-17' AND schoolId <> '${evening}'`),
    ).toBe(0);
    expect(
      await counted(
        'FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.ends IS NULL AND c.ends IS NOT NULL',
      ),
    ).toBe(0);
    // No code lets anyone into a class that is over.
    expect((await world.send('POST', '/api/join', asking)).status).toBe(404);
    // No license has more seats than it owns.
    expect(
      await counted(
        `FROM licenses l WHERE l.seats IS NOT NULL AND l.seats < (SELECT COUNT(*) FROM seats s WHERE s.licenseId = l.id AND s.begins <= '2026-08-17' AND (s.ends IS NULL OR s.ends > '2026-08-17'))`,
      ),
    ).toBe(0);
    const place = await world.db.one<{ grade: string }>(
      'SELECT grade FROM affiliations WHERE personId = :id AND ends IS NULL',
      { id: again!.id },
    );
    expect(place?.grade).toBe('03');
    expect(await world.db.one('SELECT status FROM people WHERE id = :id', { id: leaver!.id })).toEqual({
      status: 'left',
    });
    expect((await district.get<{ year: { name: string } }>('/api/me')).body.year.name).toBe('2027–28');

    // How it stood the day before, and how it stands now, of the one who does the grade again.
    const number = (await world.db.one<{ number: string }>('SELECT number FROM people WHERE id = :id', {
      id: again!.id,
    }))!.number;
    const stood = async (day: string, q: string) =>
      (await district.get<AsOfPage>(`/api/ledger/as-of?day=${day}&q=${encodeURIComponent(q)}`)).body;
    const [then] = (await stood('2026-08-16', number)).rows;
    expect(then).toMatchObject({ id: again!.id, grade: '03' });
    const [now] = (await stood('2026-08-17', number)).rows;
    expect(now!.classes).toBe(then!.classes);
    const inThird = await counted(
      "FROM affiliations WHERE grade = '03' AND begins <= '2026-08-16' AND (ends IS NULL OR ends > '2026-08-16')",
    );
    expect((await district.get<AsOfPage>('/api/ledger/as-of?day=2026-08-16&grade=03')).body.total).toBe(inThird);
    expect((await district.get<AsOfPage>('/api/ledger/as-of?day=2020-01-01')).body).toMatchObject({
      total: 0,
      rows: [],
    });
    // Other lists, the day before and now, as SQL alone counts them.
    const listed = async (list: string, day: string) =>
      (await district.get<AsOfTable>(`/api/ledger/as-of/list?list=${list}&day=${day}`)).body;
    const classes = await listed('classes', '2026-08-16');
    expect(classes.rows.length).toBe(
      await counted("FROM classes WHERE begins <= '2026-08-16' AND (ends IS NULL OR ends > '2026-08-16')"),
    );
    expect(classes.rows.reduce((sum, { cells }) => sum + Number(cells[5]), 0)).toBe(
      await counted(
        "FROM enrollments e JOIN classes c ON c.id = e.classId AND c.begins <= '2026-08-16' AND (c.ends IS NULL OR c.ends > '2026-08-16') WHERE e.role = 'student' AND e.begins <= '2026-08-16' AND (e.ends IS NULL OR e.ends > '2026-08-16')",
      ),
    );
    const lent = (await listed('devices', '2026-08-16')).rows.filter(({ cells }) => cells[3] !== null);
    expect(lent.length).toBe(
      await counted("FROM loans WHERE begins <= '2026-08-16' AND (ends IS NULL OR ends > '2026-08-16')"),
    );
    const held = (await listed('seats', '2026-08-17')).rows.reduce((sum, { cells }) => sum + Number(cells[6]), 0);
    expect(held).toBe(
      await counted(
        "FROM seats x JOIN licenses l ON l.id = x.licenseId AND l.begins <= '2026-08-17' AND l.ends > '2026-08-17' WHERE x.begins <= '2026-08-17' AND (x.ends IS NULL OR x.ends > '2026-08-17')",
      ),
    );
    // The ledger is found by its plan, by a class, by whom it touched, and by its day.
    const ledger = async (query: string) =>
      (await district.get<LedgerRow[]>(`/api/ledger?${query}`)).body.map((row) => row.planId);
    expect(await ledger('q=roll-over')).toEqual([planId]);
    expect(await ledger(`q=${number}`)).toContain(planId);
    expect(await ledger('q=3B')).toContain(planId);
    expect(await ledger('q=nobodyofthatname')).toEqual([]);
    expect(await ledger('day=2020-01-01')).toEqual([]);

    await planned(`/api/plans/${planId}/undo`);
    expect(await world.checksum()).toEqual(before);
    expect((await district.get<{ year: { name: string } }>('/api/me')).body.year.name).toBe('2026–27');
  });

  it('waits until it is said where each grade goes', async () => {
    const sheet = (await district.get<YearSheet>('/api/year')).body;
    const high = sheet.grades.find(({ grade }) => grade === '11')!;
    // A grade of a school that has none is nobody's place.
    expect((await district.post('/api/year/draft', { map: { [high.key]: 'nowhere' } })).status).toBe(422);
    await world.db.run("UPDATE schools SET lowGrade = '10' WHERE id = :id", { id: high.schoolId });
    const { error } = (await district.get<Rehearsal>('/api/year/rehearsal')).body;
    expect(error).toMatch(/grade 8 at/);
    await world.db.run("UPDATE schools SET lowGrade = '09' WHERE id = :id", { id: high.schoolId });
    await district.post('/api/year/draft', { teachers: false });
    // What was chosen before stays.
    expect((await district.get<YearSheet>('/api/year')).body.draft).toMatchObject({
      teachers: false,
      again: [expect.any(String)],
    });
  });

  it('brings a class back from the archive with those who were in it', async () => {
    const one = (await world.db.one<{ id: string; name: string; n: number }>(
      "SELECT c.id, c.name, COUNT(*) AS n FROM classes c JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL WHERE c.kind = 'homeroom' AND c.grade = '04' GROUP BY c.id, c.name ORDER BY c.id LIMIT 1",
    ))!;
    const before = await world.checksum();
    const ending = await district.post<{ planId: string }>(`/api/classes/${one.id}/end`);
    expect((await district.apply(ending.body.planId)).status).toBe('done');
    const { classes } = (
      await district.get<{ classes: ArchivedClass[] }>(`/api/archive?q=${encodeURIComponent(one.name)}`)
    ).body;
    expect(classes.map(({ id }) => id)).toEqual([one.id]);
    const day = classes[0]!.ends;
    const sheet = (await district.get<ArchivedClassSheet>(`/api/archive/${one.id}`)).body;
    expect(sheet).toMatchObject({ name: one.name, grade: '04', ends: day });
    expect([sheet.people.length, sheet.people.every(({ ends, now }) => ends === day && now === sheet.school)]).toEqual([
      Number(one.n),
      true,
    ]);
    for (const { results } of sheet.people) expect(results).toHaveLength(sheet.works.length);
    expect((await (await world.as('teacher')).get(`/api/archive/${one.id}`)).status).toBe(403);
    expect((await district.post(`/api/archive/${one.id}/return`)).status).toBe(200);
    expect(await world.checksum()).toEqual(before);
    expect((await district.post(`/api/archive/${one.id}/return`)).status).toBe(409);

    // Who was given another homeroom meanwhile stays there.
    const again = await district.post<{ planId: string }>(`/api/classes/${one.id}/end`);
    await district.apply(again.body.planId);
    const [child, room] = (await world.db.select<{ id: string }>(
      `(SELECT e.personId AS id FROM enrollments e WHERE e.classId = :id AND e.role = 'student' ORDER BY e.personId LIMIT 1)
       UNION ALL (SELECT c.id FROM classes c JOIN classes o ON o.id = :id AND o.schoolId = c.schoolId WHERE c.kind = 'homeroom' AND c.ends IS NULL ORDER BY c.id LIMIT 1)`,
      { id: one.id },
    )) as [{ id: string }, { id: string }];
    await district.post('/api/sheaf/gather', { ids: [child.id] });
    const moved = await district.job('/api/sheaf/plan', { verb: 'enroll', classId: room.id, instead: false });
    await district.apply(moved.result!.planId!);
    const back = await district.post<{ sentence: string }>(`/api/archive/${one.id}/return`);
    expect(back.body.sentence).toContain('1 student stays in the current homeroom.');
    const inside = await world.db.select<{ classId: string }>(
      'SELECT classId FROM enrollments WHERE personId = :id AND ends IS NULL AND classId IN (:rooms)',
      { id: child.id, rooms: [one.id, room.id] },
    );
    expect(inside).toEqual([{ classId: room.id }]);
  });
});
