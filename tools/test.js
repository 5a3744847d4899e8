/** Runs the tests with Vitest and ends with a plain line: how many passed, failed and were skipped. */
import { startVitest } from 'vitest/node';

const args = process.argv.slice(2);
const at = args.indexOf('--project');
const project = at >= 0 ? [args[at + 1]] : undefined;
const filters = args.filter((_, i) => at < 0 || (i !== at && i !== at + 1));
const vitest = await startVitest('test', filters, { run: true, watch: false, ...(project ? { project } : {}) });
const tests = vitest.state.getTestModules().flatMap((module) => [...module.children.allTests()]);
const count = (state) => tests.filter((test) => test.result().state === state).length;
const broken =
  vitest.state.getTestModules().filter((module) => module.errors().length > 0).length +
  vitest.state.getUnhandledErrors().length;
const [passed, failed] = [count('passed'), count('failed') + broken];
await vitest.close();
console.log(`\n${passed} passed, ${failed} failed, ${count('skipped')} skipped`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
