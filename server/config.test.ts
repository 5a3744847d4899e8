/** What the environment says, how it is checked, and what the README tells of it. */
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { readConfig, variablesTable } from './config';

const folder = mkdtempSync(join(tmpdir(), 'sheaf-config-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const read = (env: Record<string, string> = {}) => readConfig({ SHEAF_DATA: folder, ...env });

it('is checked, and what is wrong is named', () => {
  expect(() => read({ SHEAF_PORT: '99999' })).toThrow(/^SHEAF_PORT: .*Correct it/);
  expect(() => read({ SHEAF_TODAY: '17.8.2026' })).toThrow(/^SHEAF_TODAY/);
  expect(() => read({ SHEAF_DB_HOSTS: 'db1,user@db2' })).toThrow(/^SHEAF_DB_HOSTS: “user@db2” is not a host/);
  expect(() => read({ SHEAF_DB_HOSTS: ' , ' })).toThrow(/^SHEAF_DB_HOSTS: has no host/);
  expect(() => read({ SHEAF_DB_TLS: join(folder, 'none.pem') })).toThrow(/^SHEAF_DB_TLS: .*none.pem cannot be read/);
  expect(read({ SHEAF_TODAY: '2026-08-17' }).today()).toBe('2026-08-17');
  // Nothing of it is left for the next one.
  expect(read().today()).not.toBe('2026-08-17');
});

it('makes a key once, for its owner alone', () => {
  const { key } = read();
  expect(key.current.raw).toHaveLength(32);
  expect(read().key.current.raw.equals(key.current.raw)).toBe(true);
  expect(statSync(join(folder, 'seal.key')).mode & 0o077).toBe(0);
});

it('names one database or several, and how the way there is kept', () => {
  expect(read().database).toMatchObject({ host: '127.0.0.1', port: 8206, others: [] });
  expect(read().database.tls).toBeUndefined();
  writeFileSync(join(folder, 'ca.pem'), 'CERTIFICATE');
  const { database } = read({ SHEAF_DB_HOSTS: 'db1, db2:3307,[::1]:3308', SHEAF_DB_TLS: join(folder, 'ca.pem') });
  expect(database).toMatchObject({ host: 'db1', port: 3306, tls: { ca: 'CERTIFICATE' } });
  expect(database.others).toEqual([
    { host: 'db2', port: 3307 },
    { host: '::1', port: 3308 },
  ]);
  expect(read({ SHEAF_DB_TLS: 'system' }).database.tls).toEqual({});
});

it('is told in the README as it is', () => {
  expect(readFileSync('README.md', 'utf8')).toContain(`\n\n${variablesTable()}\n\n`);
});
