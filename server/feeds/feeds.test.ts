/** Feeds end to end: readings remembered, corrections kept, folders watched, a register's service taken over night by night. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type {
  Feed,
  FeedEdit,
  IntakePair,
  IntakePreview,
  PeoplePage,
  PersonSheet,
  RecordPair,
  Today,
} from '../contract';
import { wallTimeIn } from '#core/time/index';
import { clock } from '../clock';
import { enqueue } from '../jobs/queue';
import { dueFeeds } from './store';
import { StandIn } from '../testing/process';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('feeds');
  district = await world.as('district');
});
afterAll(() => world.close());

const feed = async (name: string, edit: Partial<FeedEdit> = {}): Promise<string> => {
  const settings = { schoolId: null, complete: false, kept: [], everyMinutes: null, ...edit.settings };
  const made = await district.post<{ id: string }>('/api/feeds', { name, way: 'upload', ...edit, settings });
  expect([made.status, made.body.error]).toEqual([200, undefined]);
  return made.body.id;
};
const school = async (name: string): Promise<string> =>
  (await world.db.one<{ id: string }>('SELECT id FROM schools WHERE name = :name', { name }))!.id;
const takeIn = async (text: string, feedId: string, name = 'list.csv'): Promise<string> => {
  const answer = await world.send('POST', `/api/intakes?name=${name}&feed=${feedId}`, Buffer.from(text), {
    Cookie: district.cookie,
  });
  return ((await answer.json()) as { id: string }).id;
};
const preview = async (id: string): Promise<IntakePreview> =>
  (await district.get<IntakePreview>(`/api/intakes/${id}`)).body;
async function apply(intakeId: string): Promise<number> {
  const planned = await district.job(`/api/intakes/${intakeId}/plan`);
  expect(planned.error).toBeNull();
  const { planId, changes } = planned.result!;
  if (changes! > 0 || planId) {
    const done = await district.job(`/api/plans/${planId}/apply`);
    expect(done.error).toBeNull();
  }
  return changes!;
}
const person = async (number: string): Promise<{ id: string; row: PersonSheet['person'] }> => {
  const page = (await district.get<PeoplePage>(`/api/people?q=${number}`)).body;
  const { id } = page.rows[0]!;
  return { id, row: (await district.get<PersonSheet>(`/api/people/${id}`)).body.person };
};

const header = 'Surname,Forename,Pupil no,DOB,Yr,Form';
const night = (family: string) =>
  [header, `${family},Zebedee,008801,14/03/2017,3,3A`, 'Quayle,Ottoline,008802,25/09/2017,3,3A'].join('\n');

describe('a feed', () => {
  it('keeps a correction by hand through ten nights, asks when the feed says something new, and goes on asking', async () => {
    const id = await feed('Lantern Point office', { settings: { schoolId: await school('Lantern Point') } as never });
    await apply(await takeIn(night('Thistlewood'), id));
    const { id: who } = await person('008801');
    const edited = await district.post(`/api/people/${who}/edit`, {
      field: 'familyName',
      before: 'Thistlewood',
      after: 'Thistlewoode',
    });
    expect(edited.status).toBe(200);
    for (let n = 0; n < 10; n++) {
      const next = await takeIn(`${night('Thistlewood')}\n${','.repeat(n)}`, id);
      expect((await preview(next)).outcome).toMatchObject({ changes: 0, asks: [], fresh: 0 });
      await apply(next);
    }
    expect((await person('008801')).row.familyName).toBe('Thistlewoode');

    const asked = await takeIn(night('Thistle'), id);
    const ask = { field: 'familyName', before: 'Thistlewood', now: 'Thistle', record: 'Thistlewoode', choice: null };
    expect((await preview(asked)).outcome!.asks).toMatchObject([ask]);
    expect(await apply(asked)).toBe(0);
    // Not answered: asked again the next night, though the feed repeats itself by then.
    const again = await takeIn(`${night('Thistle')}\n`, id);
    const shown = await preview(again);
    expect(shown.outcome!.asks).toMatchObject([ask]);
    const { line } = shown.outcome!.asks[0]!;
    await district.post(`/api/intakes/${again}/draft`, { ...shown.draft, choices: { [line]: { familyName: 'feed' } } });
    expect(await apply(again)).toBe(1);
    expect((await person('008801')).row.familyName).toBe('Thistle');
  });

  it('has what was put right in its file put right again while the row comes as it was, and asks once it says something else', async () => {
    const id = await feed('Office with slips', {
      settings: { schoolId: await school('Lantern Point'), complete: false } as never,
    });
    const slips = (given: string, more = '') =>
      [header, `Wrackham,${given},008811,31/02/2017,3,3A`, `Quillfeather,Ida,008812,15/04/2016,3,3A${more}`].join('\n');
    const first = await takeIn(slips('Vallentine', '\nTarn,Nobody,008813,16/05/2015,3,3A'), id);
    const shown = await preview(first);
    expect(shown.problems.byCode.map(({ code }) => code)).toEqual(['date']);
    const repairs = { 2: { 1: 'Valentine', 3: '28/02/2017' } };
    await district.post(`/api/intakes/${first}/draft`, { ...shown.draft, repairs, leftOut: [4] });
    expect((await preview(first)).outcome).toMatchObject({ fresh: 2, waitingCount: 0 });
    await apply(first);
    const { id: who, row } = await person('008811');
    expect(row).toMatchObject({ givenName: 'Valentine', birthDate: '2017-02-28' });

    const second = await takeIn(slips('Vallentine', '\nTarn,Nobody,008813,16/05/2015,3,3A\n'), id);
    const next = await preview(second);
    expect([next.draft.repairs, next.draft.leftOut]).toEqual([repairs, [4]]);
    expect(next.outcome).toMatchObject({ changes: 0, fresh: 0, asks: [], waitingCount: 0 });
    await apply(second);
    // The row is another now: its slip is there again and stays a slip, and the grade is news.
    const third = await preview(await takeIn(slips('Vallentine').replace('31/02/2017,3', '28/02/2017,4'), id));
    expect(third.draft.repairs).toEqual({});
    expect(third.outcome).toMatchObject({ asks: [], byReason: [{ reason: 'grade', count: 1 }] });
    await apply(third.head.id);
    expect((await person('008811')).row.givenName).toBe('Valentine');
    const fourth = await preview(await takeIn(slips('Valentino').replace('31/02/2017,3', '28/02/2017,4'), id));
    expect(fourth.outcome!.asks).toMatchObject([
      { personId: who, field: 'givenName', before: 'Vallentine', now: 'Valentino', record: 'Valentine' },
    ]);
  });

  it('leaves fields that the district keeps alone, and remembers how it is read', async () => {
    const settings = { schoolId: await school('Thornhope'), kept: ['familyName'] } as never;
    const id = await feed('Thornhope office', { settings });
    const rows = 'A,B,C,D,E\nGale,Peregrine,008901,04/03/2017,3\nHythe,Marigold,008902,05/04/2017,3';
    const first = await takeIn(rows, id);
    const { draft } = await preview(first);
    const columns = { 0: 'familyName', 1: 'givenName', 2: 'number', 3: 'birthDate', 4: 'grade' };
    await district.post(`/api/intakes/${first}/draft`, {
      ...draft,
      hints: { headerLine: 1, columns, dateOrder: 'dmy' },
    });
    await apply(first);
    // The next file has a column more and one moved: it is read by itself, and the new one is pointed out.
    const moved = 'B,A,C,D,E,Bus\nPeregrine,Galeforth,008901,04/03/2017,3,7\nMarigold,Hythe,008902,05/04/2017,4,7';
    const next = await preview(await takeIn(moved, id));
    expect(next.reading!.columns.slice(0, 5).map((c) => c.field)).toEqual([
      'givenName',
      'familyName',
      'number',
      'birthDate',
      'grade',
    ]);
    expect(next.reading!.dateOrder).toBe('dmy');
    expect(next.changedReading).toEqual([expect.stringContaining('“Bus” is new')]);
    expect(next.outcome).toMatchObject({ fresh: 0, changed: 1, byReason: [{ reason: 'grade', count: 1 }] });
  });

  it('takes the newest file of its folder once, and says what is wrong with a folder', async () => {
    const open = mkdtempSync(join(tmpdir(), 'sheaf-feed-'));
    const folder = join(open, 'night');
    mkdirSync(folder);
    const settings = { schoolId: null, complete: false, kept: [], everyMinutes: null, folder };
    const watch = { name: 'Not yet', way: 'folder', settings };
    // Only below what the operator opened, links followed.
    expect((await district.post('/api/feeds', watch)).body.error).toContain('SHEAF_FEED_FOLDERS');
    world.config.feedFolders.push(open);
    const link = join(open, 'link');
    symlinkSync('/etc', link);
    for (const outside of ['/etc', link, join(open, '..'), `${open}-beside`])
      expect((await district.post('/api/feeds', { ...watch, settings: { ...settings, folder: outside } })).status).toBe(
        422,
      );
    const id = await feed('Watched', {
      way: 'folder',
      settings: { folder, schoolId: await school('Gull Sound') } as never,
    });
    expect((await district.job(`/api/feeds/${id}/take`)).result).toEqual({});
    writeFileSync(join(folder, 'old.csv'), night('Old'));
    utimesSync(join(folder, 'old.csv'), 1, 1);
    writeFileSync(join(folder, 'new.csv'), night('New'));
    writeFileSync(join(folder, 'notes.doc'), 'no list');
    const { intakeId } = (await district.job(`/api/feeds/${id}/take`)).result!;
    expect((await preview(intakeId!)).head).toMatchObject({
      fileName: 'new.csv',
      feed: 'Watched',
      school: 'Gull Sound',
    });
    expect((await district.job(`/api/feeds/${id}/take`)).result).toEqual({});
    // Whoever answered for it coordinates no more; it waits for somebody to take over, and goes on in their name.
    writeFileSync(join(folder, 'newest.csv'), night('Newest'));
    await world.db.run(
      "UPDATE feeds SET createdBy = (SELECT personId FROM accounts WHERE role = 'teacher' AND status = 'active' ORDER BY id LIMIT 1) WHERE id = :id",
      { id },
    );
    expect((await district.job(`/api/feeds/${id}/take`)).error!.message).toContain(
      'may no longer run this feed. To run it in your name, open it and save it.',
    );
    const again = {
      id,
      name: 'Watched',
      way: 'folder',
      settings: { ...settings, schoolId: await school('Gull Sound') },
    };
    expect((await district.post('/api/feeds', again)).status).toBe(200);
    const taken = (await district.job(`/api/feeds/${id}/take`)).result!;
    expect((await preview(taken.intakeId!)).head.fileName).toBe('newest.csv');
    rmSync(folder, { recursive: true });
    expect((await district.job(`/api/feeds/${id}/take`)).error!.message).toContain('night. Check its name');
    const listed = (await district.get<Feed[]>('/api/feeds')).body.find((f) => f.id === id)!;
    expect(listed).toMatchObject({ files: 2, lastError: expect.stringContaining('night. Check its name') as string });
  });
});

describe('a register’s service', () => {
  let standIn: StandIn;
  beforeAll(async () => {
    standIn = await StandIn.start('register', ['--students', '240']);
  });
  afterAll(() => standIn.stop());
  const service = (secret: string): Partial<FeedEdit> => ({
    way: 'service',
    secret,
    settings: {
      schoolId: null,
      complete: true,
      kept: [],
      everyMinutes: null,
      url: `${standIn.base}/ims/oneroster/rostering/v1p2`,
      tokenUrl: `${standIn.base}/token`,
      clientId: 'sheaf',
    },
  });

  it('says what is wrong with its address or secret', async () => {
    const id = await feed('Wrong secret', service('guess'));
    expect((await district.job(`/api/feeds/${id}/take`)).error!.message).toContain('rejected this client');
    const off = service('x');
    off.settings!.tokenUrl = 'http://127.0.0.1:9/token';
    const nobody = await feed('Nobody there', off);
    expect((await district.job(`/api/feeds/${nobody}/take`)).error!.message).toContain(
      'The service at http://127.0.0.1:9',
    );
  });

  it('is taken over whole, and the night after changes exactly what changed there', async () => {
    const at = async (sql: string) => Number((await world.db.one<{ n: number }>(sql))!.n);
    const schools = await standIn.get<{ orgs: { name: string; type: string; identifier: string }[] }>('orgs');
    for (const { name, type, identifier } of schools.orgs)
      if (type === 'school')
        await world.db.run(
          "INSERT INTO schools (id, name, code, kind, lowGrade, highGrade) VALUES (:id, :name, :code, 'k8', '01', '12')",
          { id: `01TESTSCHOOL${identifier}`.padEnd(26, '0'), name, code: identifier },
        );
    // Somebody who runs a school there and stands in no roster.
    const principal = await world.db.one<{ id: string }>(
      "SELECT personId AS id FROM accounts WHERE role = 'school' LIMIT 1",
    );
    const [place] = await world.db.select<{ id: string }>("SELECT id FROM schools WHERE code = 'S0'");
    await world.db.run('UPDATE affiliations SET schoolId = :school WHERE personId = :id', {
      school: place!.id,
      id: principal!.id,
    });
    const id = await feed('Register', service('ferry-timetable'));
    const people = await at("SELECT COUNT(*) AS n FROM people WHERE status = 'active'");
    const first = (await district.job(`/api/feeds/${id}/take`)).result!.intakeId!;
    const shown = await preview(first);
    expect(shown.problems.byCode).toEqual([]);
    expect(shown.outcome).toMatchObject({ waitingCount: 0, held: [], leaving: [] });
    await apply(first);
    const teachers = (await standIn.users()).filter((u) => u.roles[0]!.role === 'teacher').length;
    expect(await at("SELECT COUNT(*) AS n FROM people WHERE status = 'active'")).toBe(people + 240 + teachers);
    const enrollments = (await standIn.get<{ enrollments: unknown[] }>('enrollments')).enrollments.length;
    const inRegister =
      "FROM enrollments e JOIN classes c ON c.id = e.classId JOIN schools s ON s.id = c.schoolId WHERE e.ends IS NULL AND s.code LIKE 'S_'";
    expect(await at(`SELECT COUNT(*) AS n ${inRegister}`)).toBe(enrollments);
    expect((await district.job(`/api/feeds/${id}/take`)).result).toEqual({});

    const truth = await standIn.post<{
      users: Record<'created' | 'changed' | 'removed', number>;
      enrollments: Record<'changed' | 'removed', number>;
    }>('/next-night');
    const second = (await district.job(`/api/feeds/${id}/take`)).result!.intakeId!;
    const night = await preview(second);
    expect(night.outcome).toMatchObject({
      fresh: truth.users.created,
      changed: truth.users.changed,
      waitingCount: 0,
      held: [],
    });
    expect(night.outcome!.leaving).toHaveLength(truth.users.removed);
    await apply(second);
    const after = (await standIn.get<{ enrollments: unknown[] }>('enrollments')).enrollments.length;
    expect(await at(`SELECT COUNT(*) AS n ${inRegister}`)).toBe(after);
    expect((await district.job(`/api/feeds/${id}/take`)).result).toEqual({});
    expect(await world.db.one('SELECT status FROM accounts WHERE personId = :id', { id: principal!.id })).toEqual({
      status: 'active',
    });

    // By its schedule it is looked at alone, its plan is made, and what waited from the night before is set aside.
    await standIn.post('/next-night');
    const third = (await district.job(`/api/feeds/${id}/take`)).result!.intakeId!;
    await standIn.post('/next-night');
    await world.db.run("UPDATE feeds SET nextRunAt = '2026-01-01T00:00:00.000Z' WHERE id = :id", { id });
    const due = await dueFeeds(world.db);
    expect([due.map((f) => f.id), await dueFeeds(world.db)]).toEqual([[id], []]);
    await enqueue(world.db, 'feed.take', { feedId: id, planned: true }, due[0]!.createdBy);
    await world.work();
    const [latest] = (await district.get<IntakePreview['head'][]>('/api/intakes')).body.filter((i) => i.feedId === id);
    expect(latest).toMatchObject({ status: 'planned', planId: expect.any(String) as string });
    expect((await preview(third)).head.status).toBe('set-aside');
    await district.post(`/api/intakes/${latest!.id}/set-aside`);
  });

  it('has its users put right in the worksheet, and left out, as the rows of any list', async () => {
    const id = await feed('Register, put right', service('ferry-timetable'));
    const intakeId = (await district.job(`/api/feeds/${id}/take`)).result!.intakeId!;
    const shown = await preview(intakeId);
    const given = shown.reading!.columns.find(({ field }) => field === 'givenName')!.index;
    const number = shown.reading!.columns.find(({ field }) => field === 'number')!.index;
    type Rows = { rows: { line: number; cells: string[]; state: string }[] };
    const { rows } = (await district.get<Rows>(`/api/intakes/${intakeId}/rows?from=0&count=500`)).body;
    const [one, other] = rows.filter(({ cells, state }) => cells[number] && state === 'same');
    const right = `${one!.cells[given]}a`;
    await district.post(`/api/intakes/${intakeId}/draft`, {
      ...shown.draft,
      repairs: { [one!.line]: { [given]: right }, [other!.line]: { [given]: 'Left out' } },
      leftOut: [other!.line],
    });
    const put = await preview(intakeId);
    expect(put.outcome).toMatchObject({ leaving: shown.outcome!.leaving, waitingCount: 0 });
    expect(put.outcome!.changes).toBe(shown.outcome!.changes + 1);
    await apply(intakeId);
    const name = async (cells: string[]) => (await person(cells[number]!)).row.givenName;
    expect([await name(one!.cells), await name(other!.cells)]).toEqual([right, other!.cells[given]]);
    // The night after it comes as it came, and both stay as they are.
    await standIn.post('/next-night');
    const next = await preview((await district.job(`/api/feeds/${id}/take`)).result!.intakeId!);
    expect(next.draft.leftOut).toHaveLength(1);
    expect(Object.values(next.draft.repairs)).toContainEqual({ [given]: right });
    expect(next.outcome!.asks).toEqual([]);
    await apply(next.head.id);
    expect([await name(one!.cells), await name(other!.cells)]).toEqual([right, other!.cells[given]]);
  });

  it('can be taken over class by class, and again for those who joined since', async () => {
    const id = await feed('Class by class', service('ferry-timetable'));
    const intakeId = (await district.job(`/api/feeds/${id}/take`)).result!.intakeId!;
    const shown = await preview(intakeId);
    const [one] = shown.bundle!.classes;
    await district.post(`/api/intakes/${intakeId}/draft`, { ...shown.draft, complete: false, classes: [one!.id] });
    const some = await preview(intakeId);
    expect(some.outcome).toMatchObject({ fresh: 0, leaving: [], waitingCount: 0 });
    expect(some.outcome!.same + some.outcome!.changed).toBeLessThanOrEqual(one!.students + 1);
    expect(some.outcome!.same).toBeGreaterThan(1);
  });
});

describe('a transfer', () => {
  it('is a move with dates, seen by both schools and by no other', async () => {
    const id = await feed('Lantern Point, whole', { settings: { schoolId: await school('Lantern Point') } as never });
    await apply(await takeIn(readFileSync('demo/files/lantern-point-students.csv', 'utf8'), id));
    const lines = async (caller: Caller) =>
      (await caller.get<Today>('/api/today')).body.waits
        .map(({ text }) => text)
        .filter((text) => text.includes(' moved from '));
    expect(await lines(district)).toEqual([expect.stringMatching(/^3 moved from Gull Sound to Lantern Point: /)]);
    expect(await lines(await world.as('school'))).toEqual([]);
    const moved = await world.db.one<{ n: number }>(
      'SELECT COUNT(*) AS n FROM affiliations a JOIN affiliations b ON b.personId = a.personId AND b.ends = a.begins WHERE a.ends IS NULL',
    );
    expect(Number(moved!.n)).toBe(3);
  });
});

describe('pairs', () => {
  it('are settled by decisions that bind the next file too, and can be taken back', async () => {
    const id = await feed('Evening list');
    const file = 'Surname,Forename,DOB,Yr,School\n';
    const twin = await world.db.one<{ birthDate: string }>(
      "SELECT birthDate FROM people WHERE familyName = 'Saltmarsh' AND givenName = 'Orla'",
    );
    const row = `Saltmarsh,O.,${twin!.birthDate},3,Lantern Point`;
    const intakeId = await takeIn(file + row, id);
    const [pair] = (await district.get<IntakePair[]>(`/api/intakes/${intakeId}/pairs`)).body;
    expect(pair!.candidates.map((c) => c.person.givenName).sort()).toEqual(['Odhran', 'Orla']);
    expect(pair!.candidates[0]!.evidence.find((e) => e.what === 'birth')).toMatchObject({ level: 'same' });
    const odhran = pair!.candidates.find((c) => c.person.givenName === 'Odhran')!.person.id;
    const decide = (same: boolean | null) =>
      district.post(`/api/intakes/${intakeId}/decide`, { line: pair!.line, personId: odhran, same });
    const stranger = await district.post(`/api/intakes/${intakeId}/decide`, {
      line: pair!.line,
      personId: (await person('004')).id,
      same: true,
    });
    expect(stranger.status).toBe(404);
    await decide(true);
    expect((await preview(intakeId)).outcome).toMatchObject({ pairs: 0, waitingCount: 0 });
    const next = await takeIn(`${file}${row}\n`, id);
    expect((await preview(next)).outcome).toMatchObject({ pairs: 0, waitingCount: 0 });
    await decide(null);
    expect((await preview(next)).outcome).toMatchObject({ pairs: 1 });
  });

  it('on record are merged, parted again though edited since, and not asked about once they are two', async () => {
    const list = async () => (await district.get<RecordPair[]>('/api/pairs')).body;
    const found = await list();
    expect(found.length).toBeGreaterThanOrEqual(3);
    expect(found.some(({ one, two }) => [one, two].every((p) => p.familyName === 'Saltmarsh'))).toBe(false);
    const pair = found.find(({ one, two }) => one.birthDate === two.birthDate)!;
    const before = await world.checksum();
    const [keep, gone] = pair.one.number ? [pair.one.id, pair.two.id] : [pair.two.id, pair.one.id];
    const merged = (await district.post<{ planId: string; held: boolean }>('/api/pairs/merge', { keep, gone })).body;
    expect(merged.held).toBe(false);
    expect((await list()).length).toBe(found.length - 1);
    expect((await district.get<PeoplePage>('/api/people?limit=1000')).body.rows.map((p) => p.id)).not.toContain(gone);
    const sheet = (await district.get<PersonSheet>(`/api/people/${keep}`)).body;
    expect(sheet.classes.length).toBeGreaterThan(1);
    const parted = await district.post<{ kept: string[] }>(`/api/plans/${merged.planId}/unmerge`);
    expect([parted.status, parted.body.kept]).toEqual([200, []]);
    expect(await world.checksum()).toBe(before);

    const [a, b] = [found[0]!.one.id, found[1]!.one.id];
    const plan = (
      await district.post<{ held: boolean; planId: string }>('/api/pairs/merge', {
        keep: a,
        gone: b,
      })
    ).body;
    expect(plan.held).toBe(true);
    expect((await district.post(`/api/plans/${plan.planId}/apply`)).body.error).toContain('birth dates differ');
    expect(await world.checksum()).toBe(before);

    await district.post('/api/pairs/decide', { one: pair.one.id, two: pair.two.id, same: false });
    expect((await list()).length).toBe(found.length - 1);
    await district.post('/api/pairs/decide', { one: pair.one.id, two: pair.two.id, same: null });
    expect((await list()).length).toBe(found.length);
    const teacher = await world.as('teacher');
    expect((await teacher.get('/api/pairs')).status).toBe(403);
  });
});

it('a feed is due once in its time, also where the clock was moved', async () => {
  const id = await feed('Hourly');
  await world.db.run(
    "UPDATE feeds SET settings = JSON_SET(settings, '$.everyMinutes', 60), nextRunAt = '2026-01-01T00:00:00.000Z' WHERE id = :id",
    { id },
  );
  const due = async () => (await dueFeeds(world.db)).map((one) => one.id);
  try {
    clock.moveTo('2031-03-01');
    expect([await due(), await due()]).toEqual([[id], []]);
    clock.moveTo('2031-03-02');
    expect([await due(), await due()]).toEqual([[id], []]);
  } finally {
    clock.moveTo(undefined);
  }
});

it('a feed of the night is due at its hour by the clocks of the district, also after a pause', async () => {
  const id = await feed('Nightly');
  const long = '2026-01-01T00:00:00.000Z';
  await world.db.run(
    "UPDATE feeds SET settings = JSON_SET(settings, '$.at', '02:30'), nextRunAt = :long WHERE id = :id",
    { id, long },
  );
  const next = async () =>
    (await world.db.one<{ nextRunAt: string }>('SELECT nextRunAt FROM feeds WHERE id = :id', { id }))!.nextRunAt;
  const isNextNight = (moment: string) => {
    expect(wallTimeIn(clock.zone, moment).slice(11)).toBe('02:30');
    const hours = (Date.parse(moment) - clock.now()) / 3_600_000;
    // A day of the zone has up to 25 hours.
    expect([hours > 0, hours <= 25]).toEqual([true, true]);
  };
  expect((await dueFeeds(world.db)).map((one) => one.id)).toContain(id);
  isNextNight(await next());
  const pause = (active: boolean) => district.post(`/api/feeds/${id}/active`, { active });
  await pause(false);
  await world.db.run('UPDATE feeds SET nextRunAt = :long WHERE id = :id', { id, long });
  await pause(true);
  isNextNight(await next());
  const settings = { schoolId: null, complete: false, kept: [], everyMinutes: null, at: '25:00' };
  expect((await district.post('/api/feeds', { name: 'Never', way: 'upload', settings })).status).toBe(422);
});
