/**
 * `./run test mutants [FOLDER] [SEED] [COUNT]`: makes small mistakes in core/, or in a folder of core/ or server/, and
 * tries whether the tests find them. A sample, the same for a seed; prints what each room's tests found, and every
 * mistake that they did not. What is only read while a module loads is left out.
 */
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Stryker } from '@stryker-mutator/core';
import { sample } from './sample.js';

const [folder = 'core', seed = '1', count = '300'] = process.argv.slice(2);
const room = /^(core|server)(\/|$)/.test(folder) ? folder.replace(/\/$/, '') : `core/${folder}`;
const inside = existsSync(room) ? readdirSync(room, { recursive: true }).map((name) => join(room, name)) : [];
/** Made-up cases for tests and the bench are not tried themselves. */
const isCode = (name) => name.endsWith('.ts') && !/(\.test|practice|arbitrary|worked|lines|samples)\.ts$/.test(name);
const files = inside.filter(isCode);
if (files.length === 0) {
  console.error(`There is no folder ${room} with code.`);
  process.exit(2);
}
const chosen = await sample(files.sort(), Number(seed), Number(count));
process.env.MUTANTS = JSON.stringify({ seed: Number(seed), hashes: chosen.map(({ hash }) => hash) });
process.env.MUTANTS_TESTS = room.startsWith('core') ? 'core' : room;
const report = '.test-data/mutants.json';
const results = await new Stryker({
  testRunner: 'vitest',
  vitest: { configFile: 'tools/mutants/vitest.config.ts', related: false },
  plugins: ['@stryker-mutator/vitest-runner', './tools/mutants/sample.js'],
  checkers: ['sample'],
  // Only the chosen places are made to be switched, as each slows the code that it stands in.
  mutate: chosen.map(
    ({ name, start, end }) => `${name}:${start.line + 1}:${start.column}-${end.line + 1}:${end.column}`,
  ),
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  concurrency: 2,
  dryRunTimeoutMinutes: 30,
  timeoutMS: 60_000,
  reporters: ['json'],
  jsonReporter: { fileName: report },
  tempDirName: '.test-data/mutants',
  ignorePatterns: ['data', '.bench-data', '.shots-data', '.test-data', 'docs/screenshots'],
  disableTypeChecks: false,
  logLevel: 'warn',
}).runMutationTest();
rmSync('.test-data/mutants', { recursive: true, force: true });

const sources = JSON.parse(readFileSync(report, 'utf8')).files;
const pathOf = ({ fileName }) => fileName.replace(/^.*\/(?=(core|server)\/)/, '');
const tried = results.filter(({ status }) => !['CompileError', 'Ignored'].includes(status));
const rows = new Map();
for (const result of tried) {
  const name = pathOf(result).split('/').slice(0, 2).join('/');
  const row = rows.get(name) ?? { tried: 0, found: 0, late: 0, uncovered: 0 };
  rows.set(name, row);
  row.tried++;
  if (['Killed', 'Timeout', 'RuntimeError'].includes(result.status)) row.found++;
  if (result.status === 'Timeout') row.late++;
  if (result.status === 'NoCoverage') row.uncovered++;
}
const line = (name, row) =>
  `${name.padEnd(24)}${[row.tried, row.found, row.late, row.uncovered].map((n) => String(n).padStart(9)).join('')}${`${((100 * row.found) / Math.max(1, row.tried)).toFixed(0)}%`.padStart(7)}`;
console.log(`\n${'room'.padEnd(24)}    tried    found  by time  not run  share`);
const all = { tried: 0, found: 0, late: 0, uncovered: 0 };
for (const [name, row] of [...rows].sort()) {
  for (const key of Object.keys(all)) all[key] += row[key];
  console.log(line(name, row));
}
console.log(line('all', all));
console.log(`${chosen.length - tried.length} left out, read only while a module loads`);
console.log('\nnot found:');
for (const result of tried.filter(({ status }) => status === 'Survived' || status === 'NoCoverage')) {
  const path = pathOf(result);
  const at = result.location.start.line;
  const source = (sources[path]?.source ?? readFileSync(path, 'utf8')).split('\n')[at - 1]?.trim() ?? '';
  const run = result.status === 'NoCoverage' ? '  (not run)' : '';
  console.log(`${path}:${at}  ${source.slice(0, 90)}  →  ${String(result.replacement).slice(0, 60)}${run}`);
}
