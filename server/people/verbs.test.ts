/** Verbs on the sheaf, from the gathering to the register and back. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { KeptSheaf, PeoplePage, PlanSheet, RecordPair, SheafState, VerbPreview } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
let school: Caller;
beforeAll(async () => {
  world = await World.open('verbs');
  district = await world.as('district');
  school = await world.as('school');
});
afterAll(() => world.close());

const schoolId = async (code: string) =>
  (await world.db.one<{ id: string }>('SELECT id FROM schools WHERE code = :code', { code }))!.id;
const people = async (caller: Caller, query: string) =>
  (await caller.get<PeoplePage>(`/api/people?limit=1000&${query}`)).body.rows;
async function gather(caller: Caller, ids: string[]): Promise<void> {
  await caller.post('/api/sheaf/let-go', { all: true });
  const { body } = await caller.post<SheafState>('/api/sheaf/gather', { ids });
  expect(body.count).toBe(ids.length);
}

describe('a verb on the sheaf', () => {
  it('says beforehand what its plan then does, and undoing leaves nothing behind', async () => {
    const [lantern, thornhope] = [await schoolId('LAN'), await schoolId('THO')];
    const third = (await people(district, `school=${lantern}&grade=03`)).slice(0, 5);
    await gather(
      district,
      third.map(({ id }) => id),
    );
    const before = await world.checksum();
    const order = { verb: 'move', schoolId: thornhope, grade: null, classId: null };
    const preview = (await district.post<VerbPreview>('/api/sheaf/preview', order)).body;
    expect(preview).toMatchObject({
      people: 5,
      same: 0,
      problems: [],
      sentence: 'Transfers 5 people to another school.',
    });
    const planId = (await district.job('/api/sheaf/plan', order)).result!.planId!;
    const sheet = (await district.get<PlanSheet>(`/api/plans/${planId}`)).body;
    expect([sheet.title, sheet.total.total]).toEqual(['Transfer 5 people to Thornhope', preview.changes]);
    await district.job(`/api/plans/${planId}/apply`);
    const there = await people(district, `school=${thornhope}&grade=03`);
    for (const { id } of third) expect(there.map((row) => row.id)).toContain(id);
    expect((await district.post<VerbPreview>('/api/sheaf/preview', order)).body).toMatchObject({ changes: 0, same: 5 });
    await district.job(`/api/plans/${planId}/undo`);
    expect(await world.checksum()).toBe(before);
  });

  it('does not reach a child who is at another school by now, and tells the old one no more than that the child left, and when', async () => {
    const [one] = await people(district, `school=${await schoolId('SKM')}&grade=07`);
    await gather(district, [one!.id]);
    await gather(school, [one!.id]);
    const order = { verb: 'move', schoolId: await schoolId('MAR'), grade: null, classId: null };
    const planId = (await district.job('/api/sheaf/plan', order)).result!.planId!;
    await district.job(`/api/plans/${planId}/apply`);
    for (const verb of ['hold', 'leave']) {
      const refused = await school.post('/api/sheaf/preview', { verb });
      expect([refused.status, refused.body.error]).toEqual([422, 'No one is gathered.']);
    }
    expect((await school.post('/api/sheaf/secrets')).status).toBe(422);
    const record = await school.get(`/api/people/${one!.id}`);
    expect([record.status, record.body]).toEqual([
      403,
      {
        error: `${one!.givenName} ${one!.familyName} left Skerry Middle on Aug 17, 2026. The new school has the record.`,
      },
    ]);
    const shown = JSON.stringify((await school.get(`/api/people?status=left&q=${one!.familyName}`)).body);
    expect(shown).not.toContain(one!.id);
    await district.job(`/api/plans/${planId}/undo`);
    expect((await school.post<VerbPreview>('/api/sheaf/preview', { verb: 'hold' })).body.changes).toBe(1);
  });

  it('shows whom it put on hold under their own filter, keeps them out, and lets them in again', async () => {
    const [one] = await people(district, `school=${await schoolId('LAN')}&grade=04`);
    await gather(district, [one!.id]);
    const planId = (await district.job('/api/sheaf/plan', { verb: 'hold' })).result!.planId!;
    await district.job(`/api/plans/${planId}/apply`);
    expect((await people(district, 'status=held')).map(({ id }) => id)).toEqual([one!.id]);
    expect((await people(district, `q=${one!.username}`)).map(({ id }) => id)).toContain(one!.id);
    const refused = await world.send('POST', '/api/sign-in', { username: one!.username, secret: 'whatever-it-is' });
    expect(refused.status).toBe(401);
    const again = (await district.job('/api/sheaf/plan', { verb: 'release' })).result!.planId!;
    await district.job(`/api/plans/${again}/apply`);
    expect(await people(district, 'status=held')).toEqual([]);
  });

  it('brings back who had left, row by row as they were: place, grade, classes, seats by the rules, the device', async () => {
    // Of each school some who have a device, and some without a seat of what they may have.
    const gone = await world.db.select<{ id: string }>(
      `SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.grade IN ('03', '06', '10') JOIN schools s ON s.id = a.schoolId AND s.code IN ('LAN', 'SKM', 'OIH')
       WHERE p.role = 'student' AND p.status = 'active' AND p.id IN (SELECT personId FROM loans WHERE ends IS NULL AND due IS NULL) ORDER BY p.id LIMIT 12`,
    );
    const ids = gone.map(({ id }) => id);
    const stand = async () => ({
      people: await world.db.rows('SELECT id, status, number, familyName FROM people WHERE id IN (?) ORDER BY id', [
        ids,
      ]),
      places: await world.db.rows(
        'SELECT personId, schoolId, grade FROM affiliations WHERE personId IN (?) AND ends IS NULL ORDER BY personId',
        [ids],
      ),
      classes: await world.db.rows(
        'SELECT personId, classId, role FROM enrollments WHERE personId IN (?) AND ends IS NULL ORDER BY personId, classId',
        [ids],
      ),
      seats: await world.db.rows(
        `SELECT s.personId, l.productId FROM seats s JOIN licenses l ON l.id = s.licenseId AND l.ends > '2026-08-26'
         WHERE s.personId IN (?) AND (s.ends IS NULL OR s.ends > '2026-08-26') ORDER BY s.personId, l.productId`,
        [ids],
      ),
      loans: await world.db.rows(
        'SELECT id, personId, deviceId, due FROM loans WHERE personId IN (?) AND ends IS NULL ORDER BY id',
        [ids],
      ),
      accounts: await world.db.rows('SELECT id, username, status FROM accounts WHERE personId IN (?) ORDER BY id', [
        ids,
      ]),
    });
    const [checksum, before] = [await world.checksum(), await stand()];
    expect([ids.length > 0, before.seats.length > 0, before.loans.length]).toEqual([true, true, ids.length]);
    const made: string[] = [];
    const carried = async (order: object) => {
      const { planId } = (await district.job('/api/sheaf/plan', order)).result!;
      expect((await district.job(`/api/plans/${planId}/apply`)).status).toBe('done');
      made.push(planId!);
    };
    await gather(district, ids);
    await carried({ verb: 'leave' });
    const away = await stand();
    expect([away.places, away.classes, away.seats]).toEqual([[], [], []]);
    const back = { verb: 'return' };
    expect((await district.post<VerbPreview>('/api/sheaf/preview', back)).body).toMatchObject({
      problems: [],
      same: 0,
    });
    await carried(back);
    expect(await stand()).toEqual(before);

    // A list that names them, with neither grade nor class, brings back the same; seats come with Provision.
    expect((await district.job(`/api/plans/${made.pop()}/undo`)).status).toBe('done');
    const rows = await world.db.rows<Record<'number' | 'familyName' | 'givenName' | 'birthDate' | 'school', string>>(
      `SELECT p.number, p.familyName, p.givenName, p.birthDate, s.name AS school FROM people p JOIN affiliations a ON a.personId = p.id JOIN schools s ON s.id = a.schoolId
       WHERE p.id IN (?) AND a.ends = (SELECT MAX(ends) FROM affiliations WHERE personId = p.id)`,
      [ids],
    );
    const file = [
      'Student ID,Last name,First name,Birth date,School',
      ...rows.map((row) => [row.number, row.familyName, row.givenName, row.birthDate, row.school].join(',')),
    ].join('\n');
    const { id: intake } = (await district.post<{ id: string }>('/api/intakes?name=back.csv', Buffer.from(file))).body;
    const { planId: listed } = (await district.job(`/api/intakes/${intake}/plan`)).result!;
    expect((await district.apply(listed!)).status).toBe('done');
    made.push(listed!);
    expect(await stand()).toEqual({ ...before, seats: [] });
    for (const id of made.reverse()) expect((await district.job(`/api/plans/${id}/undo`)).status).toBe('done');
    expect(await world.checksum()).toBe(checksum);
  });

  it('is held when a school would lose more than its share', async () => {
    const grade = await people(district, `school=${await schoolId('THO')}&role=student`);
    await gather(
      district,
      grade.slice(0, 40).map(({ id }) => id),
    );
    const { body } = await district.post<VerbPreview>('/api/sheaf/preview', { verb: 'leave' });
    expect(body.held).toMatchObject([{ count: 40 }]);
    const planId = (await district.job('/api/sheaf/plan', { verb: 'leave' })).result!.planId!;
    expect((await district.post(`/api/plans/${planId}/apply`)).status).toBe(409);
  });

  it('stays within the schools of whoever asks', async () => {
    const own = (await people(school, 'role=student')).slice(0, 3);
    await gather(
      school,
      own.map(({ id }) => id),
    );
    const away = { verb: 'move', schoolId: await schoolId('LAN'), grade: null, classId: null };
    expect((await school.post('/api/sheaf/preview', away)).status).toBe(403);
    expect((await school.post('/api/sheaf/plan', away)).status).toBe(403);
    // Somebody who comes into the sheaf by the back door is passed over.
    const [stranger] = await people(district, `school=${await schoolId('LAN')}&role=student`);
    await world.db.run(
      'INSERT INTO sheaves (ownerId, personId) SELECT p.id, :stranger FROM people p JOIN accounts a ON a.personId = p.id WHERE a.username = :u',
      { stranger: stranger!.id, u: world.signIns.find(({ who }) => who.startsWith('school'))!.username },
    );
    expect((await school.post<VerbPreview>('/api/sheaf/preview', { verb: 'hold' })).body.people).toBe(3);
  });

  it('works on a sheaf that was kept under a name, which nobody else sees', async () => {
    const own = (await people(school, 'role=student')).slice(0, 4).map(({ id }) => id);
    await gather(school, own);
    const { body } = await school.post<KeptSheaf>('/api/sheaves', { name: 'Ferry children' });
    await school.post('/api/sheaf/let-go', { all: true });
    expect((await school.post('/api/sheaves', { name: 'Nobody' })).status).toBe(422);
    const again = await school.post<SheafState>(`/api/sheaves/${body.id}/gather`);
    expect([body.count, again.body.count]).toEqual([4, 4]);
    // The same name replaces it.
    await gather(school, own.slice(0, 2));
    await school.post('/api/sheaves', { name: 'ferry children' });
    const kept = (await school.get<KeptSheaf[]>('/api/sheaves')).body;
    expect(kept.map(({ count }) => count)).toEqual([2]);
    expect((await district.get<KeptSheaf[]>('/api/sheaves')).body).toEqual([]);
    for (const verb of ['gather', 'drop'])
      expect((await district.post(`/api/sheaves/${kept[0]!.id}/${verb}`)).status).toBe(404);
    expect((await school.post(`/api/sheaves/${kept[0]!.id}/drop`)).status).toBe(200);
    expect((await school.get<KeptSheaf[]>('/api/sheaves')).body).toEqual([]);
  });

  it('merges the two who are gathered, and no other number', async () => {
    const [one, two, three] = await people(district, `school=${await schoolId('LAN')}&grade=02`);
    await gather(district, [one!.id, two!.id, three!.id]);
    expect((await district.get('/api/sheaf/pair')).status).toBe(422);
    await gather(district, [one!.id, two!.id]);
    const { body } = await district.get<RecordPair>('/api/sheaf/pair');
    expect([body.one.id, body.two.id].sort()).toEqual([one!.id, two!.id].sort());
    const merged = await district.post<{ planId: string; held: boolean }>('/api/pairs/merge', {
      keep: body.one.id,
      gone: body.two.id,
    });
    if (merged.body.held) {
      const sheet = (await district.get<PlanSheet>(`/api/plans/${merged.body.planId}`)).body;
      for (const { code } of sheet.held)
        await district.post(`/api/plans/${merged.body.planId}/release`, { code, reason: 'asked at the office' });
      await district.job(`/api/plans/${merged.body.planId}/apply`);
    }
    expect((await district.get<SheafState>('/api/sheaf')).body.count).toBe(1);
  });
});
