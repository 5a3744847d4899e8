/**
 * `./run test mutants [FOLDER] [SEED]`: makes small mistakes in core/ and tries whether the tests find them. A sample,
 * the same for a seed; prints what each folder's tests found, and every mistake that they did not.
 */
import { readFileSync, rmSync } from 'node:fs';
import { Stryker } from '@stryker-mutator/core';

const [folder = '', seed = '1', count = '300'] = process.argv.slice(2);
process.env.MUTANTS = JSON.stringify({ seed: Number(seed), count: Number(count) });
const room = `core/${folder.replace(/^core\/?/, '')}`.replace(/\/$/, '');
const report = '.test-data/mutants.json';
const results = await new Stryker({
  testRunner: 'vitest',
  vitest: { configFile: 'tools/mutants/vitest.config.ts', related: false },
  plugins: ['@stryker-mutator/vitest-runner', './tools/mutants/sample.js'],
  checkers: ['sample'],
  mutate: [`${room}/**/*.ts`, '!core/**/*.test.ts'],
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  concurrency: 2,
  // Counting what covers what, with all mutants switched in, is far slower than the tests alone.
  dryRunTimeoutMinutes: 40,
  timeoutMS: 20_000,
  reporters: ['json'],
  jsonReporter: { fileName: report },
  tempDirName: '.test-data/mutants',
  ignorePatterns: ['data', 'dist', '.bench-data', '.shots-data', '.test-data'],
  disableTypeChecks: false,
  logLevel: 'warn',
}).runMutationTest();
rmSync('.test-data/mutants', { recursive: true, force: true });

const { files } = JSON.parse(readFileSync(report, 'utf8'));
/** Uncovered ones count as far as they would be in the sample. */
const tried = results.filter(({ status }) => ['Killed', 'Timeout', 'Survived', 'RuntimeError'].includes(status));
const left = results.filter(({ status }) => status === 'CompileError').length;
const share = tried.length / Math.max(1, tried.length + left);
const rows = new Map();
for (const { fileName, status } of results) {
  const name = fileName
    .replace(/^.*\/core\//, 'core/')
    .split('/')
    .slice(0, 2)
    .join('/');
  const row = rows.get(name) ?? { found: 0, missed: 0, uncovered: 0 };
  rows.set(name, row);
  if (status === 'Killed' || status === 'Timeout') row.found++;
  else if (status === 'Survived') row.missed++;
  else if (status === 'NoCoverage') row.uncovered++;
}
const line = (name, { found, missed, uncovered }) => {
  const all = found + missed + uncovered * share;
  return `${name.padEnd(24)}${String(found + missed).padStart(6)}${String(found).padStart(7)}${String(uncovered).padStart(11)}${all ? `${((100 * found) / all).toFixed(0)}%`.padStart(7) : ''}`;
};
console.log(`\n${'room'.padEnd(24)} tried  found  uncovered  share`);
const sum = { found: 0, missed: 0, uncovered: 0 };
for (const [name, row] of [...rows].sort()) {
  for (const key of Object.keys(sum)) sum[key] += row[key];
  console.log(line(name, row));
}
console.log(line('all', sum));
console.log('\nnot found:');
for (const { fileName, location, replacement, status } of results) {
  if (status !== 'Survived') continue;
  const path = fileName.replace(/^.*\/core\//, 'core/');
  const source = files[path]?.source.split('\n')[location.start.line - 1]?.trim() ?? '';
  const at = files[path] ? '' : ' ';
  console.log(
    `${path}:${location.start.line + (at ? 1 : 0)}  ${source.slice(0, 90)}  →  ${String(replacement).slice(0, 60)}`,
  );
}
