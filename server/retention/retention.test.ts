/** A purge: what was due is nowhere in the database any more, searched for in a dump of it; everything else is as it was. */
import { execFileSync } from 'node:child_process';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { LedgerRow, PeoplePage, RetentionSheet, RibbonTick } from '../contract';
import { nowIso } from '../clock';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('retention');
  district = await world.as('district');
});
afterAll(() => world.close());

interface Dump {
  plain: string;
  hex: string;
}
/** The whole database as text, rows one by one: as it is, and with bytes as hexadecimal digits. */
function dump(): Dump {
  const { host, port, name, user, password } = world.config.database;
  const run = (...more: string[]) =>
    execFileSync(
      'mariadb-dump',
      ['--no-defaults', '-h', host, '-P', String(port), '-u', user, '--skip-extended-insert', ...more, name],
      { env: { ...process.env, MYSQL_PWD: password }, maxBuffer: 1 << 30 },
    ).toString();
  return { plain: run(), hex: run('--hex-blob', '--no-create-info').toUpperCase() };
}
const tablesWith = ({ plain, hex }: Dump, what: string): string[] => {
  // Digits are no find among those of a hash or of sealed bytes: a number stands by itself.
  const alone = new RegExp(`(?<![0-9a-z])${what}(?![0-9a-z])`, 'i');
  const having = (text: string, word: string) =>
    text
      .split('\n')
      .filter((line) => line.includes(word) && (!/^\d+$/.test(word) || word !== what || alone.test(line)));
  const lines = [...having(plain, what), ...having(hex, Buffer.from(what).toString('hex').toUpperCase())];
  return [
    ...new Set(lines.map((line) => /^INSERT INTO `(\w+)`/i.exec(line)?.[1]?.toLowerCase() ?? 'elsewhere')),
  ].sort();
};
const planned = async (path: string, body?: unknown): Promise<string> => {
  const { planId } = (await district.job(path, body)).result!;
  expect((await district.job(`/api/plans/${planId}/apply`)).status).toBe('done');
  return planId!;
};
const takeIn = async (rows: string[]): Promise<string> => {
  const { body } = await district.post<{ id: string }>(
    '/api/intakes?name=newcomers.csv',
    Buffer.from(['Surname,Forename,Number,Birth date,Grade,Class,Guardian email', ...rows].join('\n')),
  );
  const school = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  await district.post(`/api/intakes/${body.id}/draft`, {
    hints: {},
    repairs: {},
    leftOut: [],
    schoolId: school,
    complete: false,
  });
  return planned(`/api/intakes/${body.id}/plan`);
};
const idOf = async (number: string): Promise<string> =>
  (await world.db.one<{ id: string }>("SELECT id FROM people WHERE number = :number AND status <> 'merged'", {
    number,
  }))!.id;

it('leaves nothing of who left long ago, and everything of the others', async () => {
  const imported = await takeIn([
    'Quillfeather,Zephyrine,009771,2013-05-06,7,7A,quill@guardians.example',
    'Stayforth,Marlow,009772,2013-05-07,7,7A,stay@guardians.example',
    'Lingerby,Orsolya,009773,2013-05-08,7,7A,linger@guardians.example',
  ]);
  const id = await idOf('009771');
  const kept = await idOf('009772');
  const { username } = (await world.db.one<{ username: string }>('SELECT username FROM accounts WHERE personId = :id', {
    id,
  }))!;
  // All that happens to a child in a year: a correction, a group, a seat, work, a device, a card, a reveal, use, a request, a duplicate.
  await district.post(`/api/people/${id}/edit`, { field: 'email', before: null, after: 'zephyrine@mail.example' });
  expect(
    (
      await district.post(`/api/people/${id}/contacts`, {
        ...{ id: null, remove: false, name: 'Aunt Quillfeather', email: null, phone: '555 0199 771', relation: 'aunt' },
      })
    ).status,
  ).toBe(200);
  await district.post('/api/sheaf/gather', { ids: [id, kept] });
  await planned('/api/sheaf/plan', { verb: 'ready' });
  await district.post('/api/sheaves', { name: 'Zephyrine Quillfeather and others' });
  await district.job('/api/prints', { sheaf: true, paper: 'A4', voidOlder: false });
  await district.post(`/api/people/${id}/reveal`, { why: 'Zephyrine Quillfeather forgot it' });
  const room = (await world.db.one<{ id: string }>(
    "SELECT e.classId AS id FROM enrollments e JOIN classes c ON c.id = e.classId AND c.name = '7A' WHERE e.personId = :id AND e.ends IS NULL",
    { id },
  ))!.id;
  const { body: material } = await district.get<{ id: string }[]>(`/api/materials?classId=${room}`);
  const fields = {
    title: 'For two',
    opensAt: nowIso(),
    closesAt: null,
    minutes: null,
    entryWord: null,
    paused: 0,
    answers: 'done',
  };
  expect(
    (
      await district.post('/api/work', {
        materialId: material[0]!.id,
        fields,
        targets: [{ classId: room, groupId: null }],
        gathered: true,
      })
    ).status,
  ).toBe(200);
  expect(
    (
      await district.post('/api/groups', {
        classId: room,
        schoolId: null,
        name: 'Two of 7A',
        kind: 'project',
        rule: null,
        gathered: true,
      })
    ).status,
  ).toBe(200);
  expect(
    (await district.post('/api/uses', { text: `who,product,day,minutes\n${username},Isobar Atlas,2026-08-10,12` }))
      .status,
  ).toBe(200);
  await world.db.run(
    "INSERT INTO join_requests (id, kind, schoolId, familyName, givenName, number, at, status, settledAt) SELECT '01ZZZZZZZZZZZZZZZZZZZZZZZZ', 'student', schoolId, 'Quillfeather', 'Zephyrine', '009771', :at, 'refused', :at FROM classes WHERE id = :room",
    { at: nowIso(), room },
  );
  const planId = await takeIn(['Featherquill,Oda,009779,2013-05-06,7,7A,']);
  const merged = await district.post<{ held: boolean; ledgerId: string | null }>('/api/pairs/merge', {
    keep: id,
    gone: await idOf('009779'),
  });
  expect([merged.body.error, merged.body.held, merged.body.ledgerId !== null]).toEqual([undefined, false, true]);
  // They leave, one of them with a device that is not back.
  await district.post('/api/sheaf/let-go', { all: true });
  await district.post('/api/sheaf/gather', { ids: [id, await idOf('009773')] });
  await planned('/api/sheaf/plan', { verb: 'leave', heirId: null });
  await district.post('/api/sheaf/let-go', { all: true });
  const device = (await world.db.one<{ id: string }>(
    "SELECT d.id FROM devices d WHERE d.`condition` = 'good' AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) LIMIT 1",
  ))!.id;
  const linger = await idOf('009773');
  await world.db.run(
    "INSERT INTO loans (id, deviceId, personId, kind, begins) VALUES ('01ZZZZZZZZZZZZZZZZZZZZZZZY', :device, :linger, 'loan', '2026-08-17')",
    { device, linger },
  );

  const words = [
    id,
    'Featherquill',
    'Quillfeather',
    'Zephyrine',
    '009771',
    '009779',
    username,
    'quill@guardians',
    'zephyrine@mail',
    '555 0199 771',
  ];
  const before = dump();
  for (const word of words) expect([word, tablesWith(before, word).length > 0]).toEqual([word, true]);
  for (const table of ['intakes', 'plan_chunks', 'people', 'audit', 'kept_sheaves', 'join_requests', 'jobs'])
    expect([table, words.some((word) => tablesWith(before, word).includes(table))]).toEqual([table, true]);

  // Nothing is due yet, and the ribbon says when something will be.
  expect((await district.job('/api/retention/purge', { typed: 'Skerry Isles Unified' })).error?.message).toContain(
    'Nothing is due',
  );
  const today = world.config.today;
  world.config.today = () => '2029-08-20';
  const sheet = (await district.get<RetentionSheet>('/api/retention')).body;
  expect(sheet.leavers.map(({ name }) => name)).toContain('Quillfeather, Zephyrine');
  expect(sheet.withDevice).toBeGreaterThan(0);
  const ribbon = (await district.get<RibbonTick[]>('/api/ribbon')).body;
  expect(ribbon.find(({ kind, text }) => kind === 'purge' && text.includes('left'))?.date).toBe('2029-08-20');
  expect((await district.post('/api/retention', { files: 48 })).status).toBe(422);
  expect((await district.post('/api/retention/purge', { typed: 'skerry' })).status).toBe(422);
  expect(
    (await (await world.as('school')).post('/api/retention/purge', { typed: 'Skerry Isles Unified' })).status,
  ).toBe(403);

  const others = await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM people');
  const job = await district.job('/api/retention/purge', { typed: 'Skerry Isles Unified' });
  expect([job.status, job.result?.sentence]).toEqual([
    'done',
    expect.stringMatching(/^Purged \d+ (person|people) who left by 2026-08-20/),
  ]);
  const after = dump();
  for (const word of words) expect([word, tablesWith(after, word)]).toEqual([word, []]);
  // The others are there, and who still has a device is.
  for (const word of ['Stayforth', 'Lingerby', '009772']) expect(tablesWith(after, word)).toContain('people');
  const left = await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM people');
  const purged = Number(/Purged (\d+)/.exec(job.result!.sentence!)![1]);
  expect(Number(others!.n) - Number(left!.n)).toBe(purged);
  expect(
    (await district.get<PeoplePage>('/api/people?status=left&limit=500')).body.rows.map((p) => p.number),
  ).not.toContain('009771');
  // It is in the ledger, is not undone, and what a plan did with others still is.
  const [entry] = (await district.get<LedgerRow[]>('/api/ledger')).body;
  expect([entry!.action, entry!.canUndo]).toEqual(['purge', false]);
  expect((await district.post(`/api/plans/${entry!.planId}/undo`)).body.error).toContain('can be undone');
  world.config.today = today;
  expect(
    (await world.db.select('SELECT seq FROM plan_chunks WHERE planId = :imported', { imported })).length,
  ).toBeGreaterThan(0);
  expect(planId).not.toBe(imported);
  // The username is never given again: whoever is called the same gets another one.
  await takeIn(['Quillfeather,Zephyrine,009774,2013-09-09,7,7A,']);
  const again = await world.db.one<{ username: string }>(
    'SELECT a.username FROM accounts a JOIN people p ON p.id = a.personId WHERE p.number = :n',
    { n: '009774' },
  );
  expect(again!.username).not.toBe(username);
  expect(again!.username.startsWith(username.replace(/\d+$/, ''))).toBe(true);
});
