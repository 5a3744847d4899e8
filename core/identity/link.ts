/**
 * Who of those arriving is who on record: blocks, compares, learns, assigns, decides. Sees nothing but the two lists
 * and what people decided before, which binds. The same lists give the same answer.
 */
import { grouped, marginals } from './assign';
import { Comparer } from './compare';
import { type Evidence, evidenceOf } from './evidence';
import {
  beginning,
  estimate,
  isThin,
  kinds,
  logSum,
  type Model,
  neverAlone,
  type Never,
  oddsOf,
  priors,
  weigh,
} from './model';
import { compareAll, Ints, type Pairs, withPlaces } from './pairs';
import { type Known, prepare, shared } from './people';
import { learnPlaces } from './places';

export interface LinkOptions {
  /** What a person decided: the row (index) is the one on record, or is not. */
  decided?: { existing: number; incoming: number; same: boolean }[];
  /** Wrong matches made with nobody looking, for each row: what the sure ones may use up. */
  wrongPerRow?: number;
  /** A row whose chance to be anybody on record is below this is new. */
  newBelow?: number;
}

export interface Candidate {
  /** Index on record. */
  existing: number;
  /** Probability, 0 to 1, with all rivals weighed. */
  probability: number;
  /** The same as log2 of the odds. */
  bits: number;
  /** Why nobody may merge the two without looking. */
  never: Never | null;
  /** What speaks for and against, field by field. */
  evidence: () => Evidence[];
}

export type Decision = 'match' | 'review' | 'new';

export interface Linked {
  /** By index of the arriving row. */
  decisions: Decision[];
  /** Candidates of each row that are worth a look, best first; at most eight. */
  candidates: Candidate[][];
  /** Pairs compared. */
  compared: number;
  /** What speaks for and against any two, also such as were never thought alike; by indexes. */
  explain: (existing: number, incoming: number) => Evidence[];
}

/** 1 in 20,000, half of what is promised: estimates are off as well. */
const wrongPerRowDefault = 0.00005;
const newBelowDefault = 0.12;
/** No pair is merged below the one, and none above the other is held back for the budget. */
const matchFrom = 0.98;
const matchAlways = 0.9999;
/** A list of one class is judged as one of so many rows of its school would be: its children are not less themselves. */
const judgedAs = 2000;
const rounds = 25;
/** Rounds of estimation with the shares of one person held. */
const heldRounds = 8;

export function link(existing: readonly Known[], incoming: readonly Known[], options: LinkOptions = {}): Linked {
  const words = shared(existing[0]?.others?.length ?? incoming[0]?.others?.length ?? 0);
  const a = prepare(existing, words);
  const b = prepare(incoming, words);
  if (a.count === 0 || b.count === 0)
    return { decisions: incoming.map(() => 'new'), candidates: incoming.map(() => []), compared: 0, explain: () => [] };
  const comparer = new Comparer(a, b, words);
  const most = Math.min(a.count, b.count);
  const prior = priors(comparer.measure(), comparer.levelCounts.length, most);
  const told = new Map((options.decided ?? []).map((d) => [d.incoming * a.count + d.existing, d.same]));
  const plain = compareAll(a, b, words, comparer);
  const beginningOf = ({ patterns }: Pairs): Model => beginning(prior, patterns, { same: most * 0.8, most });
  const first = estimate(beginningOf(plain), prior, plain.patterns, most, rounds);
  const firstOdds = oddsOf(first, plain.patterns);
  const places = learnPlaces(a, b, plain, firstOdds, words);
  const pairs = withPlaces(plain, comparer, places.school, places.klass);
  // From here on each person is at most one: who has a match to the letter has no other that is nearly alike. Left to
  // the patterns alone the estimate can take such neighbors for the same person with a slip.
  const begun = new Solver(plain, a.count, b.count, told, firstOdds);
  let shares = begun.shares(begun.settle(firstOdds), pairs);
  let model = estimate(beginningOf(pairs), prior, pairs.patterns, most, heldRounds, shares);
  let odds = oddsOf(model, pairs.patterns);
  const halfway = new Solver(pairs, a.count, b.count, told, odds);
  shares = halfway.shares(halfway.settle(odds), pairs);
  model = estimate(model, prior, pairs.patterns, most, heldRounds, shares);
  odds = oddsOf(model, pairs.patterns);
  const solver = new Solver(pairs, a.count, b.count, told, odds);
  // A twin on record mostly has a row of its own: what a single candidate is weighed against is how often each kind
  // occurs among pairs of which neither is somebody else.
  let probability = solver.settle(odds);
  for (let round = 0; round < 2; round++) {
    odds = oddsOf(model, pairs.patterns, solver.freeSizes(model, probability));
    probability = solver.settle(odds);
  }
  const explain = (existing: number, incoming: number): Evidence[] => {
    const levels = new Uint8Array(comparer.levelCounts.length);
    comparer.compare(existing, incoming, levels);
    const one = { width: levels.length, levels, counts: Float64Array.of(1) };
    const logOdds = oddsOf(model, one)[0]!;
    return evidenceOf(model, one, 0, logOdds, 1 / (1 + Math.exp(-logOdds)));
  };
  return { ...decide(solver, probability, odds, model, options), explain };
}

/** The pairs that can match or compete, under the rule that each person is at most one row's. */
class Solver {
  readonly kept: Int32Array;
  constructor(
    readonly pairs: Pairs,
    readonly leftCount: number,
    readonly rightCount: number,
    private readonly told: Map<number, boolean>,
    odds: Float64Array,
  ) {
    const kept = new Ints();
    for (let e = 0; e < pairs.left.length; e++)
      if (odds[pairs.pattern[e]!]! > -10 || this.toldOf(e) === true) kept.push(e);
    this.kept = kept.done();
  }

  toldOf(e: number): boolean | undefined {
    return this.told.size === 0
      ? undefined
      : this.told.get(this.pairs.right[e]! * this.leftCount + this.pairs.left[e]!);
  }

  settle(odds: Float64Array): Float64Array {
    const { left, right, pattern } = this.pairs;
    return marginals({
      leftCount: this.leftCount,
      rightCount: this.rightCount,
      left: this.kept.map((e) => left[e]!),
      right: this.kept.map((e) => right[e]!),
      logOdds: Float64Array.from(this.kept, (e) => {
        const told = this.toldOf(e);
        return told === undefined ? odds[pattern[e]!]! : told ? 100 : -100;
      }),
    });
  }

  /** By pattern of `onto`, the same pairs seen otherwise: the share of its pairs that are one person. */
  shares(probability: Float64Array, onto: Pairs): Float64Array {
    const shares = new Float64Array(onto.patterns.counts.length);
    this.kept.forEach((e, n) => (shares[onto.pattern[e]!]! += probability[n]!));
    return shares.map((sum, p) => Math.min(1, sum / onto.patterns.counts[p]!));
  }

  /** Expected number of pairs of each kind among those whose two ends are nobody else's. */
  freeSizes(model: Model, probability: Float64Array): Float64Array {
    const { left, right, pattern, patterns } = this.pairs;
    const freeLeft = new Float64Array(this.leftCount).fill(1);
    const freeRight = new Float64Array(this.rightCount).fill(1);
    const sizes = new Float64Array(kinds.length).fill(0.5);
    this.kept.forEach((e, n) => {
      freeLeft[left[e]!]! -= probability[n]!;
      freeRight[right[e]!]! -= probability[n]!;
      sizes[0]! += probability[n]!;
    });
    const weights = new Float64Array(kinds.length);
    for (let e = 0; e < left.length; e++) {
      const free = Math.max(0, freeLeft[left[e]!]!) * Math.max(0, freeRight[right[e]!]!);
      if (free < 1e-6) continue;
      weigh(model, patterns, pattern[e]!, model.sizes, weights);
      const total = logSum(weights, 1);
      for (let k = 1; k < kinds.length; k++) sizes[k]! += free * Math.exp(weights[k]! - total);
    }
    return sizes;
  }
}

function decide(
  solver: Solver,
  probability: Float64Array,
  odds: Float64Array,
  model: Model,
  options: LinkOptions,
): Omit<Linked, 'explain'> {
  const { pairs, kept, rightCount } = solver;
  const never = neverAlone(pairs.patterns);
  const barred = (n: number): Never | null => (solver.toldOf(kept[n]!) ? null : never[pairs.pattern[kept[n]!]!]!);
  // The surest pairs, as many as the budget for wrong ones pays for.
  const sure = Float64Array.from([...probability].filter((p, n) => p > 0.5 && !barred(n)))
    .sort()
    .reverse();
  const rows = Math.max(rightCount, Math.min(solver.leftCount, judgedAs));
  let budget = (options.wrongPerRow ?? wrongPerRowDefault) * rows;
  let bound = 1;
  for (const p of sure) {
    budget -= 1 - p;
    if (budget < 0) break;
    bound = p;
  }
  bound = Math.min(matchAlways, Math.max(bound, matchFrom));
  const thin = isThin(pairs.patterns);
  const boundOf = (n: number): number => (thin[pairs.pattern[kept[n]!]!] ? matchAlways : bound);
  const { starts, members } = grouped(
    kept.map((e) => pairs.right[e]!),
    rightCount,
  );
  const result: Omit<Linked, 'explain'> = { decisions: [], candidates: [], compared: pairs.left.length };
  for (let j = 0; j < rightCount; j++) {
    const list: (Candidate & { from: number })[] = [];
    let anybody = 0;
    for (let at = starts[j]!; at < starts[j + 1]!; at++) {
      const n = members[at]!;
      const p = probability[n]!;
      anybody += p;
      if (p < 0.002) continue;
      const pattern = pairs.pattern[kept[n]!]!;
      list.push({
        existing: pairs.left[kept[n]!]!,
        probability: p,
        bits: toBits(p),
        never: barred(n),
        from: boundOf(n),
        evidence: () => evidenceOf(model, pairs.patterns, pattern, odds[pattern]!, p),
      });
    }
    list.sort((x, y) => y.probability - x.probability || x.existing - y.existing);
    const [best] = list;
    const match = best !== undefined && best.probability >= best.from && best.never === null;
    result.decisions.push(match ? 'match' : anybody >= (options.newBelow ?? newBelowDefault) ? 'review' : 'new');
    result.candidates.push(list.slice(0, 8).map(({ from: _, ...candidate }) => candidate));
  }
  keepOneToOne(result);
  return result;
}

/** Rings can leave two rows equally sure of one person: both are then asked about. */
function keepOneToOne({ decisions, candidates }: Pick<Linked, 'decisions' | 'candidates'>): void {
  const rowOf = new Map<number, number>();
  decisions.forEach((decision, j) => {
    if (decision !== 'match') return;
    const { existing } = candidates[j]![0]!;
    const other = rowOf.get(existing);
    if (other === undefined) rowOf.set(existing, j);
    else decisions[j] = decisions[other] = 'review';
  });
}

/** log2 of the odds of a probability, within ±40. */
export const toBits = (p: number): number => Math.log2(Math.max(p, 1e-12) / Math.max(1 - p, 1e-12));
