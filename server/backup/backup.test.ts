/** Backups: made while plans are applied, whole or not at all, refused in words where they are damaged. */
import { execFile } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Change } from '#core/plan/index';
import { writtenKeys } from '../auth/keys';
import { unsealText } from '../auth/seal';
import { Db } from '../db/connection';
import { migrations } from '../db/migrations';
import { carryOut } from '../plans/apply';
import { mint } from '../plans/mint';
import { savePlan } from '../plans/store';
import { checksumOf } from '../testing/checksum';
import { freePorts } from '../testing/ports';
import { World } from '../testing/world';
import { openedKey } from './key';
import { BackupError, manifestFile, readManifest, sealedKeyFile, sumOf, tableFile, writtenManifest } from './manifest';
import { keyIn, restoreBackup, verifyBackup } from './read';
import { writeBackup } from './write';

const folder = mkdtempSync(join(tmpdir(), 'sheaf-backup-'));
const passphrase = 'seven grey seals';
const at = (name: string) => join(folder, name);
let world: World;
let before: string;
beforeAll(async () => {
  world = await World.open('backup');
  before = await checksumOf(world.db);
});
afterAll(async () => {
  await world.close();
  rmSync(folder, { recursive: true, force: true });
});
/** The world's database under another name. */
const named = (name: string) => ({ ...world.config.database, name });
const dropped = async (name: string) => {
  await world.db.run(`DROP DATABASE IF EXISTS ${name}`);
};

it('tells of one moment, however much is applied meanwhile', async () => {
  const id = mint();
  const school: Change = {
    ...{ entity: 'school', id, op: 'create', before: {}, reason: 'test', label: 'Late', subject: id },
    after: { name: 'Late', code: 'LATE', kind: 'k8', lowGrade: 'KG', highGrade: '08' },
  };
  const { db } = world;
  const plan = { kind: 'test', title: 'test', createdBy: mint(), grant: { is: 'opening' as const } };
  const planId = await db.transaction((tx) => savePlan(db, tx, { ...plan, plan: { changes: [school] } }));
  const key = { keys: world.config.key, passphrase };
  // The plan is half through when the backup begins, and through before it has read the first table.
  let made: ReturnType<typeof writeBackup> | null = null;
  let isThrough: () => void = () => {};
  const through = new Promise<void>((done) => (isThrough = done));
  await carryOut(db, planId, 'apply', null, {
    alsoWithin: () =>
      new Promise<void>((begun) => {
        const options = { key, begun: () => (begun(), through) };
        made = writeBackup(world.config.database, at('one'), options);
      }),
  });
  isThrough();
  const { tables } = await made!;
  expect(tables.find(({ name }) => name === 'people')!.rows).toBeGreaterThan(2000);
  expect(await checksumOf(db)).not.toBe(before);
  // For whoever made it alone.
  expect(statSync(at('one')).mode & 0o077).toBe(0);
  expect(readdirSync(at('one')).filter((name) => statSync(join(at('one'), name)).mode & 0o077)).toEqual([]);
  await carryOut(db, planId, 'undo', null);
});

it('is restored equal, and every sealed password opens with the key that lies in it', async () => {
  await dropped('sheaf_backup_back');
  await restoreBackup(named('sheaf_backup_back'), at('one'));
  const db = new Db(named('sheaf_backup_back'), 2);
  expect(await checksumOf(db)).toBe(before);
  const rows = await db.select<{ personId: string; secretSealed: string }>(
    'SELECT personId, secretSealed FROM accounts WHERE secretSealed IS NOT NULL',
  );
  expect(rows.length).toBeGreaterThan(1500);
  const keys = keyIn(at('one'), passphrase)!;
  for (const { personId, secretSealed } of rows) expect(unsealText(keys, personId, secretSealed)).not.toBe('');
  // It is a database like any other: the next plan applies.
  expect((await db.one<{ n: number }>('SELECT COUNT(*) AS n FROM migrations'))!.n).toBe(migrations.length);
  await db.close();
  await expect(restoreBackup(named('sheaf_backup_back'), at('one'))).rejects.toThrow(
    /is not empty: .*Nothing was changed/,
  );
  await dropped('sheaf_backup_back');
  const { opened } = await verifyBackup(world.config.database, at('one'), keys);
  expect(opened).toBe(true);
  expect(await world.db.select("SHOW DATABASES LIKE '%_verify'")).toEqual([]);
});

it('is refused in words where it is damaged, and leaves nothing behind', async () => {
  const broken = async (name: string, spoil: (folder: string) => void): Promise<string> => {
    rmSync(at(name), { recursive: true, force: true });
    cpSync(at('one'), at(name), { recursive: true });
    spoil(at(name));
    const said = await restoreBackup(named('sheaf_backup_broken'), at(name)).then(
      () => 'restored',
      (error: unknown) => (error instanceof BackupError ? error.message : `no words: ${String(error)}`),
    );
    const left = await world.db.select(
      "SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = 'sheaf_backup_broken'",
    );
    expect([name, left]).toEqual([name, []]);
    return said;
  };
  const people = (spoilt: string) => tableFile(spoilt, 'people');
  const rewritten = (change: (made: ReturnType<typeof readManifest>) => void) => (spoilt: string) => {
    const made = readManifest(spoilt);
    change(made);
    writeFileSync(manifestFile(spoilt), writtenManifest(made));
  };
  expect(await broken('cut', (spoilt) => truncateSync(people(spoilt), 1000))).toMatch(/damaged: people.jsonl.gz/);
  expect(
    await broken('flipped', (spoilt) => {
      const bytes = readFileSync(people(spoilt));
      bytes[5000]! ^= 1;
      writeFileSync(people(spoilt), bytes);
    }),
  ).toMatch(/damaged: people.jsonl.gz/);
  expect(await broken('missing', (spoilt) => rmSync(people(spoilt)))).toMatch(/incomplete: people.jsonl.gz is missing/);
  expect(
    await broken('edited', (spoilt) => {
      const text = readFileSync(manifestFile(spoilt), 'utf8');
      writeFileSync(manifestFile(spoilt), text.replace('"rows": ', '"rows": 1'));
    }),
  ).toMatch(/damaged: manifest.json/);
  expect(
    await broken(
      'newer',
      rewritten((made) => made.migrations.push('999-later')),
    ),
  ).toMatch(/newer Sheaf \(999-later\)/);
  // Whoever writes the sums anew is still found out by what the rows come to, and by a table that is left out.
  expect(
    await broken(
      'shorter',
      rewritten((made) => made.tables.forEach((table) => (table.rows += 1))),
    ),
  ).toMatch(/does not match the backup/);
  expect(
    await broken(
      'fewer',
      rewritten((made) => void made.tables.pop()),
    ),
  ).toMatch(/damaged: manifest.json/);
  expect(await broken('none', (spoilt) => rmSync(manifestFile(spoilt)))).toMatch(/is not a backup/);
  await dropped('sheaf_backup_broken');
  const sealed = readFileSync(sealedKeyFile(at('one')));
  expect(() => openedKey(sealed, 'another passphrase')).toThrow(/passphrase is wrong/);
  sealed[40]! ^= 1;
  expect(() => openedKey(sealed, passphrase)).toThrow(/passphrase is wrong, or key.sealed is damaged/);
  const key = { keys: world.config.key, passphrase: 'short' };
  await expect(writeBackup(world.config.database, at('short'), { key })).rejects.toThrow(/at least 12/);
  await expect(writeBackup(world.config.database, at('one'))).rejects.toThrow(/already exists/);
  expect(readdirSync(folder).filter((name) => /short|partial/.test(name))).toEqual(['shorter']);
  // The sum of FIPS 180-4's first example.
  expect(sumOf('abc')).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
});

it('is made, tried and restored into an empty folder by the commands', async () => {
  const { host, port, user, password, name } = world.config.database;
  const run = async (args: string[], env: Record<string, string>) => {
    const { stdout } = await promisify(execFile)(process.execPath, [resolve('dist/server/backup.js'), ...args], {
      env: { ...process.env, SHEAF_BACKUP_PASSPHRASE: passphrase, ...env },
    });
    return stdout;
  };
  const here = {
    ...{ SHEAF_DB_HOSTS: `${host}:${port}`, SHEAF_DB_USER: user, SHEAF_DB_PASSWORD: password, SHEAF_DB_NAME: name },
    ...{ SHEAF_KEY: writtenKeys(world.config.key).trim(), SHEAF_DATA: at('data') },
  };
  expect(await run(['backup', at('two')], here)).toMatch(
    /^[\d,]+ rows of \d+ tables as they were at .* are in .*\nThe key is sealed in the backup/,
  );
  const empty = { SHEAF_DATA: at('empty'), SHEAF_PORT: String(await freePorts(7)) };
  expect(await run(['verify', at('two')], empty)).toMatch(
    /can be restored and match the backup. A sealed password opened/,
  );
  expect(existsSync(join(at('empty'), 'seal.key'))).toBe(false);
  expect(await run(['restore', at('two')], empty)).toMatch(/are restored as they were at .*The key is in .*seal.key/);
  expect(readFileSync(join(at('empty'), 'seal.key'), 'utf8')).toBe(writtenKeys(world.config.key));
  await expect(run(['restore', at('two')], empty)).rejects.toThrow(/is not empty/);
});
