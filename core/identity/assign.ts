/**
 * Each person on record is at most one of those arriving, and the other way round. Given the odds of each pair by
 * itself, this gives the probability of each pair under that rule, by passing messages along the pairs: exact
 * where pairs form no rings, and close elsewhere. Source: the sum-product rule for matchings (monomer–dimer model),
 * Bayati, Shah and Sharma 2008 for the assignment; what two candidates nearly alike share is divided between them.
 */

/** Pairs (`left[e]`, `right[e]`) with the logarithm of their odds `logOdds[e]`. */
export interface Edges {
  leftCount: number;
  rightCount: number;
  left: Int32Array;
  right: Int32Array;
  logOdds: Float64Array;
}

/** The probability of each pair. Sums of one person's pairs are at most 1, up to the error of the rings. */
export function marginals(edges: Edges, rounds = 16): Float64Array {
  const { left, right, leftCount, rightCount } = edges;
  const count = left.length;
  const odds = Float64Array.from(edges.logOdds, (x) => Math.exp(Math.min(x, 300)));
  const ofLeft = grouped(left, leftCount);
  const ofRight = grouped(right, rightCount);
  // Probability that the left (right) end is free, this pair left aside.
  const freeLeft = new Float64Array(count).fill(1);
  const freeRight = new Float64Array(count).fill(1);
  for (let round = 0; round < rounds; round++) {
    const moved = Math.max(pass(ofLeft, odds, freeRight, freeLeft), pass(ofRight, odds, freeLeft, freeRight));
    if (moved < 1e-9) break;
  }
  return Float64Array.from(odds, (o, e) => {
    const pull = o * freeLeft[e]! * freeRight[e]!;
    return pull / (1 + pull);
  });
}

interface Grouped {
  starts: Int32Array;
  members: Int32Array;
}

/** Indexes of `keys` by key. */
export function grouped(keys: Int32Array, size: number): Grouped {
  const starts = new Int32Array(size + 1);
  for (const key of keys) starts[key + 1]!++;
  for (let k = 0; k < size; k++) starts[k + 1]! += starts[k]!;
  const filled = starts.slice();
  const members = new Int32Array(keys.length);
  keys.forEach((key, e) => (members[filled[key]!++] = e));
  return { starts, members };
}

/** New messages from one side's ends; the sums leave each pair's own pull out without subtracting it. Returns the largest step. */
function pass({ starts, members }: Grouped, odds: Float64Array, other: Float64Array, free: Float64Array): number {
  let moved = 0;
  const after: number[] = [];
  for (let n = 0; n + 1 < starts.length; n++) {
    const [from, to] = [starts[n]!, starts[n + 1]!];
    let sum = 0;
    for (let at = to - 1; at >= from; at--) {
      after[at - from] = sum;
      const e = members[at]!;
      sum += odds[e]! * other[e]!;
    }
    let before = 0;
    for (let at = from; at < to; at++) {
      const e = members[at]!;
      const fresh = 1 / (1 + before + after[at - from]!);
      before += odds[e]! * other[e]!;
      // The geometric mean of old and new keeps rings from swinging.
      const next = Math.sqrt(fresh * free[e]!);
      moved = Math.max(moved, Math.abs(next - free[e]!) / Math.max(next, free[e]!));
      free[e] = next;
    }
  }
  return moved;
}
