/** The command line reads a file as the intake does, with neither server nor database. */
import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
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

it('matches two lists row by row, and says which rows of the second are one person', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-cli-'));
  const put = (name: string, ...rows: string[]) => {
    const path = join(folder, name);
    writeFileSync(path, ['number,given name,family name,birth date,grade', ...rows].join('\n'));
    return path;
  };
  const names = ['Ana,Ashby', 'Bela,Birch', 'Caro,Cove', 'Dina,Dune', 'Ewa,Elm', 'Finn,Ford', 'Gil,Glen', 'Hana,Holt'];
  const rows = names.map((name, i) => `${4201 + i},${name},2017-0${i + 1}-1${i},03`);
  const first = put('a.csv', ...rows);
  const second = put('b.csv', ...rows.slice(0, 6), ',Caro,Cove,2017-03-12,03', '4390,Ida,Isle,2017-11-11,03');
  const out = join(folder, 'pairs.csv');
  expect(await cli('match', first, second, '--out', out)).toMatchObject({
    stdout: expect.stringContaining('8 rows: 7 match, 0 to review, 1 new') as string,
  });
  const lines = readFileSync(out, 'utf8').trim().split('\n');
  expect(lines[0]).toBe('existing_row,incoming_row,score,decision,same_as_row');
  expect(lines.find((line) => line.split(',')[1] === '6')).toMatch(/^2,6,[\d.]+,match,2$/);
  expect(lines.find((line) => line.split(',')[1] === '7')).toMatch(/^,7,-[\d.]+,new,$/);
});
