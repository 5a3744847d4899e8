/** Lets a sample of the mutants through: those with the lowest hashes of a seed and of what they change. */
import { createHash } from 'node:crypto';
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';

const { seed, count } = JSON.parse(process.env.MUTANTS ?? '{"seed":1,"count":300}');
const hash = ({ fileName, location, replacement }) =>
  createHash('sha256')
    .update(JSON.stringify([seed, fileName.replace(/^.*sandbox[^/]*\//, ''), location, replacement]))
    .digest('hex');

class Sample {
  static inject = tokens(commonTokens.logger);
  chosen = new Set();
  async init() {}
  async group(mutants) {
    const byHash = mutants.map((mutant) => [hash(mutant), mutant.id]).sort();
    this.chosen = new Set(byHash.slice(0, count).map(([, id]) => id));
    return [mutants.map(({ id }) => id)];
  }
  async check(mutants) {
    return Object.fromEntries(
      mutants.map(({ id }) => [
        id,
        this.chosen.has(id) ? { status: 'passed' } : { status: 'compileError', reason: 'not in the sample' },
      ]),
    );
  }
}
export const strykerPlugins = [declareClassPlugin(PluginKind.Checker, 'sample', Sample)];
