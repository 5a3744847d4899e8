/** Two nights of a district in the roster standard: compared by Sheaf, and by a database engine on the same files. */
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execFileSync } from 'node:child_process';
import { DuckDBInstance } from '@duckdb/node-api';
import { toFiles, type Records } from '#core/oneroster/index';
import { nextNight, practiceDistrict } from '#core/oneroster/practice';
import { table } from './table';

const keys: [string, string[]][] = [
  ['users.csv', ['enabledUser', 'givenName', 'familyName', 'identifier', 'email', 'grades', 'primaryOrgSourcedId']],
  ['classes.csv', ['title', 'grades', 'courseSourcedId', 'classType', 'schoolSourcedId', 'termSourcedIds']],
  ['enrollments.csv', ['classSourcedId', 'schoolSourcedId', 'userSourcedId', 'role']],
];

export interface District {
  folder: string;
  before: string;
  after: string;
}

/** About 106,000 users, 9,000 classes, 700,000 enrollments, and the night after, in two folders. */
export function writeNights(students = 100_000): District {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-nights-'));
  const records = practiceDistrict(1, { students, schools: 50, classesEach: 7, classSize: 80 });
  const { records: next } = nextNight(records, 1);
  const put = (name: string, one: Records) => {
    const at = join(folder, name);
    mkdirSync(at);
    for (const [file, bytes] of toFiles(one, '1.2')) writeFileSync(join(at, file), bytes);
    return at;
  };
  return { folder, before: put('before', records), after: put('after', next) };
}

export async function benchNights({ before, after }: District): Promise<void> {
  const rows: string[][] = [];
  const out = JSON.parse(
    execFileSync(process.execPath, ['dist/server/cli.js', 'diff', before, after, '--json'], {
      maxBuffer: 1e8,
    }).toString(),
  ) as { files: Record<string, Record<string, number>>; seconds: number; peakMegabytes: number };
  const started = performance.now();
  const duck = await duckDiff(before, after);
  const duckSeconds = (performance.now() - started) / 1000;
  for (const [file] of keys) {
    const ours = out.files[file]!;
    const agree = JSON.stringify(ours) === JSON.stringify(duck[file]);
    rows.push([
      file,
      `${ours.created} / ${ours.changed} / ${ours.removed}`,
      agree ? 'the same' : JSON.stringify(duck[file]),
    ]);
  }
  table('two nights of a district: created / changed / removed', ['file', 'Sheaf', 'DuckDB'], rows);
  table(
    '',
    ['', 'seconds', 'peak MB', 'ratio'],
    [
      [
        'Sheaf, all files',
        out.seconds.toFixed(2),
        String(out.peakMegabytes),
        `${(out.seconds / duckSeconds).toFixed(2)} × DuckDB`,
      ],
      ['DuckDB, these three', duckSeconds.toFixed(2), '', ''],
    ],
  );
}

async function duckDiff(before: string, after: string): Promise<Record<string, Record<string, number>>> {
  const instance = await DuckDBInstance.create(':memory:');
  const db = await instance.connect();
  const found: Record<string, Record<string, number>> = {};
  for (const [file, fields] of keys) {
    const read = (at: string) => `read_csv('${join(at, file)}', header = true, all_varchar = true)`;
    const differs = fields.map((f) => `a."${f}" IS DISTINCT FROM b."${f}"`).join(' OR ');
    const result = await db.runAndReadAll(
      `SELECT COUNT(*) FILTER (WHERE a.sourcedId IS NULL) AS created, COUNT(*) FILTER (WHERE a.sourcedId IS NOT NULL AND b.sourcedId IS NOT NULL AND (${differs})) AS changed,
         COUNT(*) FILTER (WHERE b.sourcedId IS NULL) AS removed
       FROM ${read(before)} a FULL OUTER JOIN ${read(after)} b ON a.sourcedId = b.sourcedId`,
    );
    const [row] = result.getRowObjects();
    found[file] = { created: Number(row!.created), changed: Number(row!.changed), removed: Number(row!.removed) };
  }
  db.closeSync();
  return found;
}

/** A night's files by name. */
export const filesOf = (at: string): Map<string, Uint8Array> =>
  new Map(readdirSync(at).map((name) => [name, readFileSync(join(at, name))]));

export const removeNights = ({ folder }: District): void => rmSync(folder, { recursive: true });
