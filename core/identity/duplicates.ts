/** The same person twice in one list: found as in `link`, but one may be there more than twice, and nothing is decided. */
import { Comparer } from './compare';
import { B, F, field, type FieldName, fieldNames, G } from './fields';
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
  /** By how the two are written, see `writtenAs`. */
  written: 'alike' | 'as one' | 'as two';
  evidence: () => Evidence[];
}

/**
 * `as one`: the names to the letter, the day the same or with day and month swapped, and no number that differs;
 * without a day the number or an address is the same. `as two`: each has a number of its own, and the names or the day
 * differ as well.
 */
function writtenAs(at: (name: FieldName) => number): Duplicate['written'] {
  const [given, family, birth, number] = [at('given'), at('family'), at('birth'), at('number')];
  const isNamed = given >= G.rare && given <= G.common && family >= F.rare && family <= F.common;
  if (number > 1) return isNamed && birth === B.same ? 'alike' : 'as two';
  if (!isNamed) return 'alike';
  if (birth === B.same || birth === B.swapped) return 'as one';
  const isFound = number === 1 || at('email') === 1 || (at('guardian') === 1 && at('class') === 1);
  return birth === B.missing && isFound ? 'as one' : 'alike';
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
      written: writtenAs((name) => patterns.levels[pattern * patterns.width + field[name]]!),
      evidence: () => evidenceOf(model, patterns, pattern, odds[pattern]!, probability),
    });
  }
  return found.sort((x, y) => y.probability - x.probability || x.one - y.one || x.two - y.two);
}
