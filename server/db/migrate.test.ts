/** Tables are brought up to date once, also by two at a time and by one that was killed; and from what earlier ones left. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { makeDatabase } from '../local/mariadb';
import { district } from '../district';
import { Db } from './connection';
import { migrate } from './migrate';
import { migrations } from './migrations';

const at = () => inject('database');
const opened: Db[] = [];
async function fresh(name: string): Promise<Db> {
  await makeDatabase(at(), name, true);
  return open(name);
}
function open(name: string): Db {
  const { host, port, user, password } = at();
  const db = new Db({ host, port, user, password, name });
  opened.push(db);
  return db;
}
/** Every table with its columns and keys, as the database writes it. */
async function schemaOf(db: Db): Promise<string[]> {
  const tables = await db.select<Record<string, string>>('SHOW TABLES');
  const made: string[] = [];
  for (const name of tables.map((row) => Object.values(row)[0]!).sort()) {
    const row = await db.one<Record<string, string>>(`SHOW CREATE TABLE \`${name}\``);
    made.push(row!['Create Table']!.replace(/ AUTO_INCREMENT=\d+/, ''));
  }
  return made;
}

let straight: string[];
beforeAll(async () => {
  const db = await fresh('sheaf_migrate');
  await migrate(db);
  straight = await schemaOf(db);
});
afterAll(async () => {
  await Promise.all(opened.map((db) => db.close()));
});

it('by two starts at once is done by one of them', async () => {
  const one = await fresh('sheaf_migrate_two');
  const ran = await Promise.all([migrate(one), migrate(open('sheaf_migrate_two'))]);
  expect(ran.flat()).toEqual(migrations.map(({ name }) => name));
  expect(await schemaOf(one)).toEqual(straight);
});

it('is gone on with where a start was killed, before a statement or after it', async () => {
  const db = await fresh('sheaf_migrate_killed');
  const run = db.run.bind(db);
  let left = 0;
  let kills = 0;
  db.run = async (sql, ...rest) => {
    if (left-- > 0) return run(sql, ...rest);
    // Killed as often after the statement as before it, then after what is written down of it.
    if (kills++ % 2 === 0) await run(sql, ...rest);
    throw new Error('killed');
  };
  for (let starts = 1; ; starts++) {
    left = 4 + (starts % 5) * 9;
    const ended = await migrate(db).then(
      () => true,
      (error: Error) => {
        expect(error.message).toMatch(/killed/);
        return false;
      },
    );
    if (ended) break;
  }
  expect(kills).toBeGreaterThan(6);
  expect(await schemaOf(db)).toEqual(straight);
});

it('of a newer program is left alone, in words', async () => {
  const db = await fresh('sheaf_migrate_newer');
  await migrate(db);
  await db.run("INSERT INTO migrations (name) VALUES ('999-of-later')");
  await expect(migrate(db)).rejects.toThrow('newer Sheaf (999-of-later)');
});

it('keeps what stood in the tables before, and settles what stood twice', async () => {
  const db = await fresh('sheaf_migrate_filled');
  await migrate(db, '010-sessions-factors-drafts-keys');
  const id = (n: number | string) => `0${String(n).padStart(25, 'X')}`;
  const put = (table: string, rows: Record<string, string | number | null>[]) =>
    db.transaction((tx) =>
      db.batch(
        `INSERT INTO ${table} (${Object.keys(rows[0]!).join(', ')}) VALUES (${Object.keys(rows[0]!)
          .map(() => '?')
          .join(', ')})`,
        rows.map((row) => Object.values(row)),
        tx,
      ),
    );
  const from = '2026-08-17';
  // The first run called its school S1, which nobody had said.
  await put('schools', [
    { id: id('A'), name: 'Far Harbor', code: 'S1', kind: 'k8', lowGrade: 'KG', highGrade: '08' },
    { id: id('S'), name: 'Marrow Bay', code: 'MAR', kind: 'k8', lowGrade: 'KG', highGrade: '08' },
  ]);
  await put(
    'people',
    [1, 2, 3].map((n) => ({
      id: id(n),
      role: 'student',
      number: n === 3 ? '0042' : '0041',
      givenName: `G${n}`,
      familyName: 'F',
      status: 'active',
    })),
  );
  await put(
    'classes',
    ['A', 'B'].map((name) => ({ id: id(name), schoolId: id('S'), name, kind: 'homeroom', begins: from })),
  );
  await put('enrollments', [
    { id: id('E1'), personId: id(1), classId: id('A'), role: 'student', begins: from, ends: null },
    { id: id('E2'), personId: id(1), classId: id('A'), role: 'student', begins: '2026-09-01', ends: null },
    { id: id('E3'), personId: id(2), classId: id('B'), role: 'student', begins: from, ends: '2026-10-01' },
    { id: id('E4'), personId: id(2), classId: id('B'), role: 'student', begins: '2026-10-02', ends: null },
  ]);
  await put(
    'devices',
    [{ id: id('D'), tag: 'T-1', model: 'Slate', schoolId: id('S'), condition: 'good' }].map(
      ({ condition, ...row }) => ({ ...row, '`condition`': condition }),
    ),
  );
  await put(
    'loans',
    [1, 2].map((n) => ({
      id: id(`L${n}`),
      deviceId: id('D'),
      personId: id(n),
      kind: 'own',
      begins: `2026-09-0${n}`,
      ends: null,
    })),
  );
  await put('accounts', [
    { id: id('AC'), personId: id(3), username: 'g3', role: 'student', status: 'active', secretVersion: 1 },
  ]);
  await put('given_usernames', [{ username: 'g3', personKey: '0042' }]);
  const [made, none] = ['2026-08-17T00:00:00.000Z', '[]'];
  await put('plans', [
    {
      ...{
        id: id('P'),
        kind: 'test',
        title: 'First run',
        status: 'applied',
        createdBy: id(1),
        createdAt: made,
        changes: 1,
      },
      ...{ summary: '{}', held: none, releases: none, takenOut: '{}', waiting: none },
    },
  ]);
  await put(
    'ledger',
    [1, 2].map((n) => ({ id: id(n), planId: id('P'), action: 'apply', at: made, changes: n, sentence: `Entry ${n}` })),
  );
  await put('district', [
    { id: id('DI'), name: 'Skerry', settings: '{"year":{"name":"2026–27","begins":"2026-08-26","ends":"2027-06-22"}}' },
  ]);
  expect(await migrate(db)).toEqual([
    ...['011-once-only-register-version', '012-preferred-names', '013-time-zone-terms-days-off', '014-fewer-keys'],
    '015-numbers-held-by-a-key',
    '016-preferences',
    '017-texts-by-key',
    '018-imports-continued',
    '019-readings-by-shape',
    '020-assignments-due',
    '021-rules-of-several',
    '022-libraries-goals',
    '023-schools-without-identifier',
    '024-notes-for-next-year',
    '025-days-of-signing-in',
    '026-words-missed',
  ]);
  expect(await schemaOf(db)).toEqual(straight);
  expect(await db.select('SELECT name, code FROM schools ORDER BY name')).toEqual([
    { name: 'Far Harbor', code: null },
    { name: 'Marrow Bay', code: 'MAR' },
  ]);
  expect(await db.select('SELECT id, ends FROM enrollments ORDER BY id')).toEqual([
    { id: id('E1'), ends: null },
    { id: id('E2'), ends: '2026-09-01' },
    { id: id('E3'), ends: '2026-10-01' },
    { id: id('E4'), ends: null },
  ]);
  // A device is with whom it was given to last.
  expect(await db.select('SELECT personId, ends FROM loans ORDER BY id')).toEqual([
    { personId: id(1), ends: '2026-09-02' },
    { personId: id(2), ends: null },
  ]);
  expect(await db.select('SELECT personId, enrollmentId FROM homerooms ORDER BY personId')).toEqual([
    { personId: id(1), enrollmentId: id('E1') },
    { personId: id(2), enrollmentId: id('E4') },
  ]);
  expect(await db.select('SELECT id, number FROM people WHERE isHeld = 1 ORDER BY id')).toEqual([
    { id: id(1), number: '0041' },
    { id: id(3), number: '0042' },
  ]);
  expect(await db.select('SELECT changes, version FROM ledger ORDER BY version')).toEqual([
    { changes: 1, version: 1 },
    { changes: 2, version: 2 },
  ]);
  expect(await db.one('SELECT version FROM register')).toEqual({ version: 2 });
  expect(await db.one('SELECT personId FROM given_usernames')).toEqual({ personId: id(3) });
  // The days are those that the server had, and the year is on record like those that follow it.
  expect(await district(db)).toMatchObject({
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    year: { name: '2026–27', begins: '2026-08-26', ends: '2027-06-22' },
  });
});
