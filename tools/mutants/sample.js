/** Small mistakes that could be made in files, and which of them are tried: the same for a seed. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';
import { Instrumenter } from '@stryker-mutator/instrumenter';

const nameOf = ({ fileName }) => fileName.replace(/^.*\/(?=(core|server)\/)/, '');
const hash = (seed, mutant) =>
  createHash('sha256')
    .update(JSON.stringify([seed, nameOf(mutant), mutant.location, mutant.replacement]))
    .digest('hex');
const silent = new Proxy({}, { get: () => () => false });

/** `count` mutants of the files with the lowest hashes of a seed: where they are, and their hashes. */
export async function sample(files, seed, count) {
  const sources = files.map((name) => ({ name, content: readFileSync(name, 'utf8'), mutate: true }));
  const options = { plugins: null, excludedMutations: [], ignorers: [], mutator: {} };
  const { mutants } = await new Instrumenter(silent).instrument(sources, options);
  return mutants
    .map((mutant) => ({ hash: hash(seed, mutant), name: nameOf(mutant), ...mutant.location }))
    .sort((a, b) => (a.hash < b.hash ? -1 : 1))
    .slice(0, count);
}

/** Of the mutants at the same places, those that are not in the sample are left out. */
class Sample {
  static inject = tokens(commonTokens.logger);
  async init() {
    const { seed, hashes } = JSON.parse(process.env.MUTANTS);
    Object.assign(this, { seed, hashes: new Set(hashes) });
  }
  async group(mutants) {
    return [mutants.map(({ id }) => id)];
  }
  async check(mutants) {
    const isIn = (mutant) => this.hashes.has(hash(this.seed, mutant));
    const left = { status: 'compileError', reason: 'not in the sample' };
    return Object.fromEntries(mutants.map((mutant) => [mutant.id, isIn(mutant) ? { status: 'passed' } : left]));
  }
}
export const strykerPlugins = [declareClassPlugin(PluginKind.Checker, 'sample', Sample)];
