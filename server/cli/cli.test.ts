/** The command line reads a file as the intake does, with neither server nor database. */
import { execFile } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, it } from 'vitest';

const run = promisify(execFile);
const cli = async (...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> =>
  run(process.execPath, ['--import', 'tsx', 'server/cli/main.ts', ...args], { maxBuffer: 1e8 }).then(
    ({ stdout, stderr }) => ({ code: 0, stdout, stderr }),
    (error: { code: number; stdout: string; stderr: string }) => error,
  );

it('prints a reading with its people and problems as one JSON object', async () => {
  const { code, stdout } = await cli('read', 'demo/files/gull-sound-students.csv', '--json');
  const out = JSON.parse(stdout) as {
    outcome: string;
    reading: { encoding: string; columns: { field: string }[] };
    people: { line: number; grade: string; familyName: string }[];
  };
  expect(code).toBe(0);
  expect(out.outcome).toBe('accepted');
  expect(out.reading.columns.map((c) => c.field)).toEqual(['number', 'fullName', 'birthDate', 'grade', 'className']);
  expect(out.people[0]).toMatchObject({ line: 2, grade: 'KG' });
  expect(out.people.length).toBeGreaterThan(150);
});

it('refuses what is no list with status 2, in words', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'sheaf-cli-')), 'x.csv');
  writeFileSync(file, '');
  expect(await cli('read', file)).toMatchObject({
    code: 2,
    stderr: expect.stringContaining('The file is empty') as string,
  });
  expect(JSON.parse((await cli('read', file, '--json')).stdout)).toMatchObject({ outcome: 'refused' });
  expect(await cli('read', '/nowhere/x.csv')).toMatchObject({
    code: 2,
    stderr: expect.stringContaining('cannot be opened') as string,
  });
  expect(await cli()).toMatchObject({
    code: 2,
    stderr: expect.stringContaining('usage: ./run cli read FILE') as string,
  });
});
