/** From the office's file to cards in hand and back again, through the routes that the interface calls. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { toFiles } from '#core/oneroster/index';
import type {
  Draft,
  Handouts,
  IntakeHead,
  IntakePreview,
  IntakeRow,
  LedgerRow,
  Mine,
  PeoplePage,
  PlanSheet,
  Today,
} from '../contract';
import { readCodes } from '../testing/codes';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('intake');
  district = await world.as('district');
});
afterAll(() => world.close());

const takeIn = async (file: string): Promise<string> =>
  (await district.post<{ id: string }>(`/api/intakes?name=${file}`, readFileSync(`demo/files/${file}`))).body.id;
const preview = async (id: string): Promise<IntakePreview> =>
  (await district.get<IntakePreview>(`/api/intakes/${id}`)).body;
const edit = async (id: string, change: (draft: Draft) => void): Promise<void> => {
  const { draft } = await preview(id);
  change(draft);
  const answer = await district.post(`/api/intakes/${id}/draft`, draft);
  expect(answer.status).toBe(200);
};

describe('a list that says roles', () => {
  it('finds staff on record, gives them classes as teachers, and makes no student of a guardian', async () => {
    const [one] = await world.db.select<{ id: string; familyName: string; givenName: string; email: string | null }>(
      `SELECT p.id, p.familyName, p.givenName FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId AND s.code = 'LAN'
         JOIN accounts ac ON ac.personId = p.id AND ac.role = 'teacher'
       WHERE NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND o.familyName = p.familyName AND o.givenName = p.givenName) ORDER BY p.id LIMIT 1`,
    );
    await world.db.run("UPDATE people SET email = 'staff-one@isles.example' WHERE id = :id", { id: one!.id });
    const { schoolId } = (await world.db.one<{ schoolId: string }>(
      "SELECT id AS schoolId FROM schools WHERE code = 'LAN'",
    ))!;
    const file = [
      'Role,Last name,First name,Student ID,Birth date,Grade,Class,Email',
      `Teacher,${one!.familyName},${one!.givenName},,,,Wren 1,staff-one@isles.example`,
      'Teacher,Newly,Nora,,1980-02-03,,Wren 1,nora@isles.example',
      'Student,Newly,Nils,990017,2017-02-03,3,Wren 1,',
      'Parent,Newly,Nadia,,1979-02-03,,,',
      'Coach,Newly,Ned,,,,,',
    ].join('\n');
    const { id } = (await district.post<{ id: string }>('/api/intakes?name=roles.csv', Buffer.from(file))).body;
    await edit(id, (draft) => (draft.schoolId = schoolId));
    const { outcome, problems } = await preview(id);
    expect([outcome!.fresh, problems.rows]).toEqual([2, 2]);
    const { rows } = (await district.get<{ rows: IntakeRow[] }>(`/api/intakes/${id}/rows?from=0&count=9`)).body;
    expect(rows.map((row) => row.problems.filter(({ stops }) => stops).map(({ message }) => message))).toEqual([
      [],
      [],
      [],
      ['“Parent” is a guardian. Lists add students and staff. Skip this row.'],
      ['“Coach” is not a known role. Use student, teacher, or staff, or skip this row.'],
    ]);
    const { planId } = (await district.job(`/api/intakes/${id}/plan`)).result!;
    expect((await district.apply(planId!)).status).toBe('done');
    expect(
      await world.db.select(
        `SELECT p.familyName, p.role, e.role AS inClass, ac.role AS account FROM enrollments e JOIN classes c ON c.id = e.classId AND c.name = 'Wren 1' JOIN people p ON p.id = e.personId JOIN accounts ac ON ac.personId = p.id
         ORDER BY p.familyName = 'Newly', p.givenName`,
      ),
    ).toEqual([
      { familyName: one!.familyName, role: 'staff', inClass: 'teacher', account: 'teacher' },
      { familyName: 'Newly', role: 'student', inClass: 'student', account: 'student' },
      { familyName: 'Newly', role: 'staff', inClass: 'teacher', account: 'teacher' },
    ]);
    expect((await district.job(`/api/plans/${planId}/undo`)).status).toBe('done');
  });
});

describe('the middle school’s file', () => {
  let planId = '';
  let before = '';
  let passwordless: string[] = [];

  it('is read with its school guessed, mended, planned and applied', async () => {
    before = await world.checksum();
    const id = await takeIn('skerry-middle-students.csv');
    const first = await preview(id);
    expect(first.head.school).toBe('Skerry Middle');
    expect(first.reading!.columns.map((c) => c.field).slice(5, 7)).toEqual(['skip', 'className']);
    // Believing the houses to be classes would empty every class: that is held.
    await edit(id, (draft) => (draft.hints.columns = { 5: 'className', 6: 'skip' }));
    expect((await preview(id)).outcome!.held.some((h) => h.code.startsWith('emptied'))).toBe(true);
    await edit(id, (draft) => (draft.hints.columns = { 5: 'skip', 6: 'className' }));
    const second = await preview(id);
    expect(second.outcome!.held).toEqual([]);
    expect(second.problems).toMatchObject({ rows: 31 });

    const { rows } = (
      await district.get<{ rows: IntakeRow[] }>(`/api/intakes/${id}/rows?from=0&count=200&only=problems`)
    ).body;
    // From problem to problem, on and back, round the end and with the index among those shown.
    type Near = { row: IntakeRow; index: number };
    const near = async (query: string) => (await district.get<Near>(`/api/intakes/${id}/problem?${query}`)).body;
    for (const back of [false, true]) {
      const walked: number[] = [];
      for (let line = back ? 1_000_000 : 0; walked.length <= rows.length; line = walked.at(-1)!)
        walked.push((await near(`line=${line}&back=${back}`)).row.line);
      const lines = rows.map((row) => row.line);
      if (back) lines.reverse();
      expect(walked).toEqual([...lines, lines[0]]);
    }
    expect(await near(`line=${rows[1]!.line}&only=problems`)).toEqual({ row: rows[2], index: 2 });
    const at = (await near(`line=${rows[1]!.line}`)).index;
    const around = await district.get<{ rows: IntakeRow[] }>(`/api/intakes/${id}/rows?from=${at}&count=1`);
    expect(around.body.rows).toEqual([rows[2]]);

    const impossible = rows.flatMap((row) => row.problems).find((p) => p.code === 'date' && p.repair === undefined)!;
    await edit(id, (draft) => {
      for (const { line, problems } of rows)
        for (const p of problems) if (p.repair && p.column !== null) draft.repairs[line] = { [p.column]: p.repair };
      draft.repairs[impossible.line] = { [impossible.column!]: '28/02/2014' };
    });
    const third = await preview(id);
    expect(third.problems.rows).toBe(11);
    expect(third.outcome!.waitingCount).toBeLessThan(second.outcome!.waitingCount);

    const job = await district.job(`/api/intakes/${id}/plan`);
    planId = job.result!.planId!;
    const plan = (await district.get<PlanSheet>(`/api/plans/${planId}`)).body;
    expect(plan.sentence).toContain(`Adds ${third.outcome!.fresh} people`);
    const done = await district.job(`/api/plans/${planId}/apply`);
    expect(done).toMatchObject({ status: 'done', error: null });
    expect(await world.checksum()).not.toBe(before);
    passwordless = (
      await world.db.select<{ u: string }>(
        "SELECT username AS u FROM accounts WHERE role = 'student' AND secretSealed IS NULL",
      )
    ).map(({ u }) => u);
    expect(passwordless).toEqual([]);
  });

  it('is continued with the rows that it left out, and nothing else of it is planned again', async () => {
    const heads = async () => (await district.get<IntakeHead[]>('/api/intakes')).body;
    const { id, waits } = (await heads()).find((head) => head.planId === planId)!;
    expect(waits).toBeGreaterThan(5);
    const today = async () =>
      (await district.get<Today>('/api/today')).body.waits.find((one) => one.id === `left:${id}`);
    expect(await today()).toMatchObject({ to: `/imports/${id}` });
    // What was corrected since is not made undone by the older file.
    const [first] = (await district.get<PeoplePage>(`/api/people?plan=${planId}&limit=1`)).body.rows;
    const edit1 = { field: 'givenName', before: first!.givenName, after: `${first!.givenName} Corrected` };
    const { planId: corrected } = (await district.post<{ planId: string }>(`/api/people/${first!.id}/edit`, edit1))
      .body;
    expect((await preview(id)).outcome).toMatchObject({ changes: 0, fresh: 0, waitingCount: waits });

    const { rows } = (await district.get<{ rows: IntakeRow[] }>(`/api/intakes/${id}/rows?from=0&count=99&only=waits`))
      .body;
    const [row] = rows.filter(({ problems }) => problems.some(({ code }) => code === 'no-family-name'));
    const { column } = row!.problems[0]!;
    await edit(id, (draft) => (draft.repairs[row!.line] = { ...draft.repairs[row!.line], [column!]: 'Quillfeather' }));
    const { planId: next } = (await district.job(`/api/intakes/${id}/plan`)).result!;
    const { changes } = (
      await district.get<{ changes: { subject: string; origin?: { line: number } }[] }>(
        `/api/plans/${next!}/changes?offset=0`,
      )
    ).body;
    expect(new Set(changes.map(({ subject }) => subject)).size).toBe(1);
    expect((await district.apply(next!)).status).toBe('done');
    expect((await heads()).find((head) => head.id === id)).toMatchObject({ status: 'applied', waits: waits - 1 });
    // Undone, it is to be resolved again, and the rest stays applied.
    for (const undone of [next, corrected])
      expect((await district.job(`/api/plans/${undone}/undo`)).status).toBe('done');
    expect((await heads()).find((head) => head.id === id)).toMatchObject({ status: 'applied', waits });
  });

  it('proposes nothing when it is opened again, also with its rows in another order', async () => {
    const lines = readFileSync('demo/files/skerry-middle-students.csv').toString('latin1').split('\r\n');
    const shuffledFile = Buffer.from(
      [...lines.slice(0, 4), ...lines.slice(4, -1).reverse(), ''].join('\r\n'),
      'latin1',
    );
    for (const bytes of [readFileSync('demo/files/skerry-middle-students.csv'), shuffledFile]) {
      const { id } = (await district.post<{ id: string }>('/api/intakes?name=skerry-middle-again.csv', bytes)).body;
      await edit(id, (draft) => {
        draft.hints.columns = { 5: 'skip', 6: 'className' };
      });
      const again = await preview(id);
      expect(again.outcome).toMatchObject({ changes: 0, fresh: 0, changed: 0, sentence: 'Changes nothing.' });
    }
  });

  it('gives cards that an independent reader reads and that sign the child in', async () => {
    const newcomer = await world.db.one<{ id: string; classId: string; name: string }>(
      `SELECT p.id, e.classId, c.name FROM people p JOIN enrollments e ON e.personId = p.id JOIN classes c ON c.id = e.classId WHERE p.number = '008000'`,
    );
    const printed = (await district.job('/api/prints', { classId: newcomer!.classId, paper: 'A4', voidOlder: false }))
      .result!;
    const pdf = Buffer.from(await (await district.raw(`/api/prints/${printed.printId}/pdf`)).arrayBuffer());
    const folder = mkdtempSync(join(tmpdir(), 'sheaf-cards-'));
    writeFileSync(join(folder, 'cards.pdf'), pdf);
    // Independent decoders from Debian: poppler draws the page, zbar reads the codes.
    const codes = readCodes(folder, 'cards.pdf', printed.changes!);
    expect(codes).toHaveLength(printed.changes!);
    expect(new Set(codes).size).toBe(codes.length);
    const usernames = new Set<string>();
    for (const code of codes) {
      const answer = await world.send('POST', '/api/sign-in/card', { code });
      expect(answer.status).toBe(200);
      const cookie = answer.headers.get('set-cookie')!.split(';')[0]!;
      const mine = (await (await world.send('GET', '/api/mine', undefined, { Cookie: cookie })).json()) as Mine;
      expect(mine.classes.map((c) => c.name)).toContain(newcomer!.name);
      usernames.add(mine.username);
    }
    expect(usernames.size).toBe(codes.length);
    const text = execFileSync('pdftotext', ['-layout', 'cards.pdf', '-'], { cwd: folder }).toString();
    for (const username of usernames) expect(text).toContain(username);
    const paper = execFileSync('pdfinfo', ['cards.pdf'], { cwd: folder })
      .toString()
      .match(/Page size:\s+([\d.]+) x ([\d.]+)/)!;
    // Published: ISO 216, A4 is 210 by 297 mm; a point is 1/72 inch.
    expect([Number(paper[1]) / (72 / 25.4), Number(paper[2]) / (72 / 25.4)].map(Math.round)).toEqual([210, 297]);
    expect(
      execFileSync('pdffonts', ['cards.pdf'], { cwd: folder })
        .toString()
        .split('\n')
        .slice(2, -1)
        .every((line) => / yes yes /.test(line)),
    ).toBe(true);
    const trail = await world.db.select("SELECT id FROM audit WHERE action = 'card.print'");
    expect(trail).toHaveLength(printed.changes!);
  });

  it('is undone, to the last byte, and the same children get the same usernames when it comes back', async () => {
    const names = () =>
      world.db.select<{ number: string; username: string }>(
        "SELECT p.number, a.username FROM people p JOIN accounts a ON a.personId = p.id WHERE p.number LIKE '0080%' ORDER BY p.number",
      );
    const given = await names();
    const undone = await district.job(`/api/plans/${planId}/undo`);
    expect(undone.error).toBeNull();
    expect(await world.checksum()).toBe(before);
    const id = await takeIn('skerry-middle-students.csv');
    await edit(id, (draft) => (draft.hints.columns = { 5: 'skip', 6: 'className' }));
    const again = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    await district.job(`/api/plans/${again}/apply`);
    const regiven = await names();
    expect(regiven.length).toBeGreaterThan(4);
    expect(given).toEqual(expect.arrayContaining(regiven));
  });
});

describe('the opening register', () => {
  it('cannot be undone, since it made whoever would undo it', async () => {
    const plan = await world.db.one<{ id: string }>("SELECT id FROM plans WHERE title = 'Opening register'");
    const refused = await district.post(`/api/plans/${plan!.id}/undo`);
    expect([refused.status, refused.body.error]).toEqual([409, expect.stringContaining('set up the district')]);
    const ledger = (await district.get<LedgerRow[]>('/api/ledger')).body;
    expect(ledger.filter((row) => row.canUndo).map((row) => row.title)).not.toContain('Opening register');
    expect(ledger.some((row) => row.canUndo)).toBe(true);
  });
});

describe('a file that a filter cut short', () => {
  it('is held, names those who would leave, and applies only when released with a reason', async () => {
    const id = await takeIn('gull-sound-students.csv');
    await edit(id, (draft) => {
      draft.complete = true;
    });
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    const plan = (await district.get<PlanSheet>(`/api/plans/${planId}`)).body;
    const held = plan.held.find((h) => h.code.startsWith('leaving'))!;
    expect(held.message).toMatch(
      /Gull Sound: \d+ of 26\d students would leave \(3\d%\)\. The most allowed without a review is 5%/,
    );
    expect(held.names).toHaveLength(held.count);
    const before = await world.checksum();
    const refused = await district.post(`/api/plans/${planId}/apply`);
    expect([refused.status, refused.body.error]).toEqual([
      409,
      expect.stringContaining('A guard is holding this plan'),
    ]);
    expect(await world.checksum()).toBe(before);
    expect((await district.post(`/api/plans/${planId}/release`, { code: held.code, reason: 'ok' })).status).toBe(422);
    for (const { code } of plan.held)
      expect(
        (await district.post(`/api/plans/${planId}/release`, { code, reason: 'two classes move to the mainland' }))
          .status,
      ).toBe(200);
    expect((await district.job(`/api/plans/${planId}/apply`)).error).toBeNull();
    const gone = (await district.get<PeoplePage>('/api/people?status=left&limit=500')).body.rows;
    expect(gone).toHaveLength(held.count);
    await district.job(`/api/plans/${planId}/undo`);
    expect(await world.checksum()).toBe(before);
  });
});

describe('a bundle that is wrong in places', () => {
  it('has each record that cannot be taken over left alone, however many, and the others taken over', async () => {
    const user = (n: number, more: Record<string, string> = {}) => ({
      sourcedId: `u${n}`,
      enabledUser: 'true',
      orgSourcedIds: 's',
      role: 'student',
      username: `u${n}`,
      identifier: `008${600 + n}`,
      givenName: 'Quill',
      familyName: `Fenwick${'abcdefghij'[Math.floor(n / 100)]}${'abcdefghij'[Math.floor(n / 10) % 10]}${'abcdefghij'[n % 10]}`,
      grades: '07',
      ...more,
    });
    const aClass = {
      classType: 'scheduled',
      subjects: 'Reading '.repeat(20),
      grades: '07',
      courseSourcedId: 'c',
      schoolSourcedId: 's',
      termSourcedIds: 'y',
    };
    const enrolled = (classSourcedId: string, n: number, role = 'student') => ({
      sourcedId: `e${classSourcedId}${n}`,
      classSourcedId,
      schoolSourcedId: 's',
      userSourcedId: `u${n}`,
      role,
    });
    const files = toFiles(
      {
        'orgs.csv': [{ sourcedId: 's', name: 'Skerry Middle', type: 'school' }],
        'academicSessions.csv': [
          {
            sourcedId: 'y',
            title: 'Year',
            type: 'schoolYear',
            startDate: '2026-08-20',
            endDate: '2027-06-15',
            schoolYear: '2027',
          },
        ],
        'courses.csv': [{ sourcedId: 'c', title: 'Grade 7', orgSourcedId: 's' }],
        'classes.csv': [
          { ...aClass, sourcedId: 'k1', title: '7X', courseSourcedId: 'nowhere' },
          { ...aClass, sourcedId: 'k2', title: '7Y' },
          { ...aClass, sourcedId: 'k2', title: '7Y again' },
          { ...aClass, sourcedId: 'k3', title: '' },
          { ...aClass, sourcedId: 'k4', title: 'Seven '.repeat(30) },
        ],
        'users.csv': [
          user(0),
          user(1, { orgSourcedIds: 's,elsewhere' }),
          user(2, { role: 'wizard' }),
          user(3, { orgSourcedIds: 'elsewhere' }),
          ...Array.from({ length: 230 }, (_, n) => user(10 + n, { givenName: '' })),
        ],
        'enrollments.csv': [enrolled('k1', 0), enrolled('k2', 1), enrolled('k2', 0, 'wizard'), enrolled('k3', 1)],
      },
      '1.1',
    );
    const bytes = zipSync(Object.fromEntries(files));
    const { id } = (await district.post<{ id: string }>('/api/intakes?name=wrong.zip', Buffer.from(bytes))).body;
    const { outcome } = await preview(id);
    expect(outcome).toMatchObject({ fresh: 2, waitingCount: 232, newClasses: ['7X', '7Y'] });
    const { planId } = (await district.job(`/api/intakes/${id}/plan`)).result!;
    const plan = (await district.get<PlanSheet>(`/api/plans/${planId}`)).body;
    const counts = new Map(plan.remaining.kinds.map(({ kind, count }) => [kind, count]));
    expect([counts.get('person.create'), counts.get('class.create'), counts.get('enrollment.create')]).toEqual([
      2, 2, 2,
    ]);
    expect((await district.job(`/api/plans/${planId}/apply`)).error).toBeNull();
    await district.job(`/api/plans/${planId}/undo`);
  });
});

describe('cards whose secret changed', () => {
  it('are counted, printed alone, and void', async () => {
    const rows = (await district.get<Handouts>('/api/handouts')).body.classes.filter((c) => c.school === 'Marrow Bay');
    expect(rows.reduce((sum, c) => sum + c.outdated, 0)).toBe(17);
    const one = rows.find((c) => c.outdated > 0)!;
    const job = await district.job('/api/prints', {
      classId: one.classId,
      onlyOutdated: true,
      paper: 'Letter',
      voidOlder: true,
    });
    expect(job.result!.changes).toBe(one.outdated);
    const after = (await district.get<Handouts>('/api/handouts')).body.classes.find((c) => c.classId === one.classId)!;
    expect(after.outdated).toBe(0);
  });

  it('are one for a student who is at two schools', async () => {
    const classId = (await district.get<Handouts>('/api/handouts')).body.classes.find(
      (c) => c.school === 'Marrow Bay',
    )!.classId;
    const [one] = await world.db.select<{ personId: string }>(
      "SELECT personId FROM enrollments WHERE classId = :classId AND ends IS NULL AND role = 'student' ORDER BY personId LIMIT 1",
      { classId },
    );
    await world.db.run(
      "INSERT INTO affiliations (id, personId, schoolId, begins) SELECT '01SECONDPLACE0000000000000', :personId, id, '2026-08-01' FROM schools WHERE code = 'LAN'",
      one,
    );
    const order = { classId, paper: 'A4', layout: 'cards', voidOlder: false };
    const job = await district.job('/api/prints', order);
    const { n } = (await world.db.one<{ n: number }>(
      "SELECT COUNT(*) AS n FROM enrollments e JOIN accounts ac ON ac.personId = e.personId AND ac.status = 'active' WHERE e.classId = :classId AND e.ends IS NULL AND e.role = 'student'",
      { classId },
    ))!;
    expect([job.status, job.result?.changes]).toEqual(['done', n]);
    await world.db.run("DELETE FROM affiliations WHERE id = '01SECONDPLACE0000000000000'");
  });
});

describe('signing in', () => {
  it('takes a secret in any case and spacing, and stops a guesser without stopping the class', async () => {
    const child = world.signIns.find(({ who }) => who.startsWith('student'))!;
    const first = await world.send('POST', '/api/sign-in', {
      username: child.username.toUpperCase(),
      secret: child.secret.toUpperCase().replaceAll('-', ' '),
    });
    expect(first.status).toBe(200);
    const known = first.headers.getSetCookie().find((text) => text.startsWith('sheaf-known='))!;
    const attempt = async (username: string, secret: string, cookie = '') =>
      (await world.send('POST', '/api/sign-in', { username, secret }, cookie ? { Cookie: cookie } : {})).status;
    const statuses = await Promise.all(Array.from({ length: 12 }, (_, i) => attempt(child.username, `wrong-${i}`)));
    expect(statuses.sort()).toEqual([...Array<number>(5).fill(401), ...Array<number>(7).fill(429)]);
    expect(await attempt(child.username, child.secret)).toBe(429);
    // In their own browser they are not locked out by that.
    expect(await attempt(child.username, child.secret, known.split(';')[0])).toBe(200);
    await world.as('teacher');
    expect(await attempt('nobody-of-that-name', 'x')).toBe(401);
  });

  it('ends with the account: a new secret voids the card, and one who left is out at once', async () => {
    const person = (await world.db.one<{ personId: string }>(
      "SELECT pc.personId FROM printed_cards pc JOIN prints r ON r.id = pc.printId WHERE r.paper = 'Letter' LIMIT 1",
    ))!;
    await district.post('/api/sheaf/let-go', { all: true });
    await district.post('/api/sheaf/gather', { ids: [person.personId] });
    const holds = async () =>
      (await district.get<PeoplePage>('/api/people?gathered=true')).body.rows[0]!.lacks.includes('card');
    expect(await holds()).toBe(false);
    const planId = (await district.job('/api/sheaf/secrets')).result!.planId!;
    await district.job(`/api/plans/${planId}/apply`);
    expect(await holds()).toBe(true);
    const version = async () =>
      (await world.db.one<{ v: number }>('SELECT secretVersion AS v FROM accounts WHERE personId = :id', {
        id: person.personId,
      }))!.v;
    const before = await version();
    const undone = await district.job(`/api/plans/${planId}/undo`, {});
    expect(undone.result!.sentence).toContain('The old password would work again, so a new one was made.');
    // A card that is void stays void: versions only grow.
    expect([await holds(), await version()]).toEqual([true, before + 1]);
  });
});

describe('a list with headings of its own', () => {
  it('has cells found, a column filled, two namesakes told apart, and begins the next time as it was read', async () => {
    const { schoolId } = (await world.db.one<{ schoolId: string }>(
      "SELECT id AS schoolId FROM schools WHERE code = 'LAN'",
    ))!;
    const list = (day: string, who: string) => Buffer.from(`Lantern Point\nList of ${day}\nWho,Home,Born\n${who}\n`);
    const send = async (name: string, bytes: Buffer) =>
      (await district.post<{ id: string }>(`/api/intakes?name=${name}`, bytes)).body.id;
    const id = await send(
      'odd.csv',
      list('2026-08-17', 'Ana Quillneves,Wren 1,2017-02-03\nAna Quillneves,Wren 1,2017-02-03\nZo?,x,2017-02-04'),
    );
    await edit(id, (draft) => {
      draft.hints = { headerLine: 3, columns: { 0: 'fullName', 1: 'className', 2: 'birthDate' } };
      draft.schoolId = schoolId;
    });
    const rowsOf = async (of: string) =>
      (await district.get<{ rows: IntakeRow[] }>(`/api/intakes/${of}/rows?from=0&count=9`)).body.rows;
    const rows = await rowsOf(id);
    expect(
      rows.map(({ state, isRepeated, problems }) => [state, isRepeated, problems.map(({ code }) => code)]),
    ).toEqual([
      ['new', false, []],
      ['left-out', true, ['repeated']],
      ['waits', false, expect.arrayContaining(['mis-decoded'])],
    ]);
    const found = (query: string) =>
      district.get<{ total: number; cells: object[] }>(`/api/intakes/${id}/cells?${query}`).then(({ body }) => body);
    expect(await found('find=WREN')).toEqual({
      total: 2,
      cells: [
        { index: 0, line: 4, column: 1, text: 'Wren 1' },
        { index: 1, line: 5, column: 1, text: 'Wren 1' },
      ],
    });
    expect((await found('find=wren&column=0')).total).toBe(0);
    await edit(id, (draft) => {
      draft.apart = [5];
      draft.leftOut = [6];
      draft.fills = { 1: 'Wren 2' };
    });
    expect((await found('find=Wren 2')).total).toBe(3);
    const { outcome } = await preview(id);
    expect([outcome!.fresh, outcome!.waitingCount]).toEqual([2, 0]);
    const { planId } = (await district.job(`/api/intakes/${id}/plan`)).result!;
    expect((await district.apply(planId!)).status).toBe('done');
    expect(
      await world.db.select(
        `SELECT p.givenName, c.name FROM people p JOIN enrollments e ON e.personId = p.id JOIN classes c ON c.id = e.classId WHERE p.familyName = 'Quillneves' ORDER BY p.id`,
      ),
    ).toEqual([
      { givenName: 'Ana', name: 'Wren 2' },
      { givenName: 'Ana', name: 'Wren 2' },
    ]);

    const next = await preview(await send('other-name.csv', list('2026-09-01', 'Bo Quillson,Wren 1,2017-03-04')));
    expect(next.draft.readAsOn).toBeDefined();
    expect(next.reading).toMatchObject({ headerLine: 3 });
    expect(next.reading!.columns.map(({ field }) => field)).toEqual(['fullName', 'className', 'birthDate']);
    const unlike = await preview(await send('unlike.csv', Buffer.from('Who,Home,Born,Bus\nBo,x,2017-03-04,7\n')));
    expect(unlike.draft.readAsOn).toBeUndefined();
    expect((await district.job(`/api/plans/${planId}/undo`)).status).toBe('done');
  });
});
