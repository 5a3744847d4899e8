/** The same person twice in one list: found as in `link`, but one may be there more than twice, and nothing is decided. */
import { Comparer } from './compare';
import { field, fieldNames } from './fields';
import { type Evidence, evidenceOf } from './evidence';
import { beginning, estimate, neverAlone, type Never, oddsOf, priors } from './model';
import { compareAll, withPlaces } from './pairs';
import { type Known, prepare, shared } from './people';
import { toBits } from './link';

export interface Duplicate {
  /** Indexes in the list, the lower first. */
  one: number;
  two: number;
  probability: number;
  bits: number;
  never: Never | null;
  evidence: () => Evidence[];
}

/** Pairs that are the same person with at least the probability `from`, the surest first. */
export function duplicates(people: readonly Known[], from = 0.5): Duplicate[] {
  const words = shared(people[0]?.others?.length ?? 0);
  const side = prepare(people, words);
  if (side.count < 2) return [];
  const comparer = new Comparer(side, side, words);
  const plain = compareAll(side, side, words, comparer);
  if (plain.left.length === 0) return [];
  const same = (column: Int32Array, e: number, other: number): number => {
    const [x, y] = [column[plain.left[e]!]!, column[plain.right[e]!]!];
    return x < 0 || y < 0 ? 0 : x === y ? 1 : other;
  };
  const pairs = withPlaces(
    plain,
    comparer,
    (e) => same(side.school, e, 4),
    (e) => same(side.className, e, 3),
  );
  const { patterns } = pairs;
  // In one list a child has one grade: what is "moved on" between two lists is a difference here.
  const prior = priors(comparer.measure(), patterns.width, 0);
  const own = prior[0]![field.grade]!;
  own.probability = [0.9, 0.05, 0.05];
  for (let f = 0; f < fieldNames.length; f++) prior[0]![f]!.trust *= 5;
  const most = plain.left.length / 2;
  const model = estimate(
    beginning(prior, patterns, { same: side.count * 0.02, most: side.count }),
    prior,
    patterns,
    most,
    40,
  );
  const odds = oddsOf(model, patterns);
  const never = neverAlone(patterns);
  const found: Duplicate[] = [];
  for (let e = 0; e < pairs.left.length; e++) {
    const pattern = pairs.pattern[e]!;
    const probability = 1 / (1 + Math.exp(-odds[pattern]!));
    if (probability < from) continue;
    found.push({
      one: pairs.left[e]!,
      two: pairs.right[e]!,
      probability,
      bits: toBits(probability),
      never: never[pattern]!,
      evidence: () => evidenceOf(model, patterns, pattern, odds[pattern]!, probability),
    });
  }
  return found.sort((x, y) => y.probability - x.probability || x.one - y.one || x.two - y.two);
}
