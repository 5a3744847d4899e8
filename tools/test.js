/**
 * Runs the tests with Vitest and ends with a plain line: how many passed, failed and were skipped. Everything goes in
 * two lanes side by side, each a process of its own: the browser waits for pages more than it computes.
 */
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { startVitest } from 'vitest/node';

/** @typedef {{ passed: number, failed: number, skipped: number, told: string[] }} Counts told: what failed, by its place */

const lanes = [['unit', 'web', 'server'], ['browser']];

/** @returns {Promise<Counts>} */
async function run(projects, filters) {
  const vitest = await startVitest('test', filters, { run: true, watch: false, project: projects });
  const modules = vitest.state.getTestModules();
  const tests = modules.flatMap((module) => [...module.children.allTests()]);
  const count = (state) => tests.filter((test) => test.result().state === state).length;
  const failed = tests.filter((test) => test.result().state === 'failed');
  const broken = modules.filter((module) => module.errors().length > 0);
  const loose = vitest.state.getUnhandledErrors();
  const because = (errors) => String(errors?.[0]?.message ?? errors?.[0] ?? '').split('\n', 1)[0];
  const told = [
    ...failed.map((test) => `${test.module.moduleId}: ${test.fullName}: ${because(test.result().errors)}`),
    ...broken.map((module) => `${module.moduleId}: ${because(module.errors())}`),
    ...loose.map((error) => `beside the tests: ${because([error])}`),
  ];
  const counts = { passed: count('passed'), failed: told.length, skipped: count('skipped'), told };
  // What went wrong before any test, in setting up, Vitest says by its exit code alone; and no test at all is no success.
  if (counts.failed === 0 && (process.exitCode || counts.passed === 0)) {
    counts.failed = 1;
    told.push(
      `${projects.join(', ')}: ${counts.passed === 0 ? 'no test ran' : 'ended with an error outside of any test'}`,
    );
  }
  await vitest.close();
  return counts;
}

/** @returns {Promise<Counts>} */
const lane = (projects) =>
  new Promise((done) => {
    const child = fork(fileURLToPath(import.meta.url), ['--lane', ...projects.flatMap((name) => ['--project', name])]);
    let counts = null;
    child.on('message', (told) => (counts = told));
    // One that dies without a word has failed.
    child.on('exit', () =>
      done(counts ?? { passed: 0, failed: 1, skipped: 0, told: [`${projects.join(', ')}: the process died`] }),
    );
  });

const args = process.argv.slice(2);
const isProject = (at) => args[at - 1] === '--project';
const projects = args.filter((_, at) => isProject(at));
const isLane = args.includes('--lane');
const filters = args.filter((arg, at) => arg !== '--lane' && arg !== '--project' && !isProject(at));
const all = projects.length > 0 ? [await run(projects, filters)] : await Promise.all(lanes.map(lane));
const sum = (what) => all.reduce((total, counts) => total + counts[what], 0);
const end = () => process.exit(sum('failed') === 0 && sum('passed') > 0 ? 0 : 1);
if (isLane) process.send(all[0], end);
else {
  for (const what of all.flatMap(({ told }) => told)) console.log(`failed: ${what.replace(`${process.cwd()}/`, '')}`);
  console.log(`\n${sum('passed')} passed, ${sum('failed')} failed, ${sum('skipped')} skipped`);
  end();
}
