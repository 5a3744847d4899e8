/**
 * How likely two people are one, given how they compare. After Fellegi and Sunter, "A Theory for Record Linkage"
 * (1969): each field's level has a probability among pairs that are the same person (m) and among pairs that are
 * not (u). Those that are not are of several kinds - strangers who share a birthday, or a given name and an age,
 * namesakes, siblings, twins, a number given again - and one u for all would take twins for one child; so each kind
 * has probabilities of its own. All are estimated from the pairs at hand by expectation and maximization (Dempster,
 * Laird and Rubin 1977), held near sensible beginnings where pairs are few. A level that is missing says nothing.
 */
import { B, F, field, type FieldName, fieldNames, G, levels, otherLevels } from './fields';

export const kinds = ['same', 'sibling', 'twin', 'birthday', 'namesake', 'agemate', 'stranger', 'recycled'] as const;
export type Kind = (typeof kinds)[number];

/**
 * Levels 1 and up of each field, per kind: where the estimate begins, in hundredths. 'chance' stands for what two
 * people picked at random show, which is measured and not estimated. Common practice and judgment, no source.
 */
const beginnings: Record<Kind, Record<FieldName, number[] | 'chance'>> = {
  same: {
    number: [95, 3, 2],
    given: [28, 30, 30, 5, 4, 2],
    middle: [80, 12, 8],
    family: [30, 30, 30, 3, 4, 0.5, 3],
    birth: [94, 1.5, 1.5, 1.5, 0.5, 1],
    grade: [15, 82, 3],
    school: [80, 10, 2, 8],
    class: [40, 35, 25],
    guardian: [88, 2, 1, 9],
    email: [95, 2, 3],
  },
  sibling: {
    number: [0.05, 2, 98],
    given: 'chance',
    middle: 'chance',
    family: [33, 33, 30, 1, 1, 0.1, 1],
    birth: [0.2, 0.1, 0.3, 3, 4, 93],
    grade: [12, 12, 76],
    school: [30, 25, 5, 40],
    class: [5, 15, 80],
    guardian: [92, 2, 0.5, 5],
    email: [0.5, 0.5, 99],
  },
  twin: {
    number: [0.05, 10, 90],
    given: 'chance',
    middle: 'chance',
    family: [33, 33, 31, 1, 1, 0.1, 0.5],
    birth: [97, 0.5, 0.5, 1, 0.5, 0.5],
    grade: [12, 85, 3],
    school: [82, 10, 2, 6],
    class: [35, 30, 35],
    guardian: [93, 2, 0.5, 4],
    email: [0.5, 0.5, 99],
  },
  birthday: {
    number: 'chance',
    given: 'chance',
    middle: 'chance',
    family: 'chance',
    birth: [95, 1, 1, 2, 0.5, 0.5],
    grade: [12, 80, 8],
    school: [4, 8, 1, 87],
    class: [1, 3, 96],
    guardian: 'chance',
    email: 'chance',
  },
  namesake: {
    number: 'chance',
    given: [5, 30, 60, 2, 2, 1],
    middle: 'chance',
    family: [10, 35, 45, 2, 3, 0.5, 4],
    birth: 'chance',
    grade: [8, 8, 84],
    school: [4, 8, 1, 87],
    class: [1, 3, 96],
    guardian: 'chance',
    email: 'chance',
  },
  agemate: {
    number: 'chance',
    given: [5, 30, 55, 6, 4, 0.5],
    middle: 'chance',
    family: 'chance',
    birth: [0.5, 0.5, 12, 60, 22, 5],
    grade: [12, 80, 8],
    school: [4, 8, 1, 87],
    class: [1, 3, 96],
    guardian: 'chance',
    email: 'chance',
  },
  stranger: {
    number: 'chance',
    given: [1, 4, 8, 6, 6, 75],
    middle: 'chance',
    family: [5, 15, 25, 5, 15, 0.2, 35],
    birth: [0.2, 0.5, 2, 8, 50, 40],
    grade: [20, 50, 30],
    school: [4, 8, 1, 87],
    class: [1, 3, 96],
    guardian: [0.3, 2, 0.2, 97],
    email: [0.2, 0.2, 99],
  },
  recycled: {
    number: [99, 0.5, 0.5],
    given: 'chance',
    middle: 'chance',
    family: 'chance',
    birth: 'chance',
    grade: 'chance',
    school: [4, 8, 1, 87],
    class: [1, 3, 96],
    guardian: 'chance',
    email: 'chance',
  },
};

/** What makes a kind what it is does not move with the pairs at hand. */
const fixed: Partial<Record<Kind, FieldName[]>> = {
  twin: ['family', 'birth'],
  birthday: ['birth'],
  namesake: ['given', 'family'],
  agemate: ['given'],
  sibling: ['family'],
  recycled: ['number'],
};

/** A text field besides: rare, same, nearly, different. */
const otherBeginnings: Record<Kind, number[] | 'chance'> = {
  same: [35, 35, 10, 20],
  sibling: [35, 35, 10, 20],
  twin: [35, 35, 10, 20],
  birthday: 'chance',
  namesake: 'chance',
  agemate: 'chance',
  stranger: [5, 25, 5, 65],
  recycled: 'chance',
};

/** How many pairs the beginnings are worth against what is observed. */
const trust: Record<Kind, number> = {
  same: 40,
  sibling: 60,
  twin: 100,
  birthday: 40,
  namesake: 60,
  agemate: 60,
  stranger: 20,
  recycled: 100,
};
const fixedTrust = 1e7;

/** Patterns that occur: `levels` row after row, `width` fields each, and how many pairs have each. */
export interface Patterns {
  width: number;
  levels: Uint8Array;
  counts: Float64Array;
}

export interface Model {
  /** Natural logarithm of the probability of a level, by kind, by field, by level; 0 where missing. */
  logs: Float64Array[][];
  /** Expected number of pairs of each kind. */
  sizes: Float64Array;
}

/** What is measured before any estimate: per field, the probability of levels 1 and up. */
export interface Measured {
  /** Of two people picked at random. */
  chance: number[][];
  /** For given and family names: how the names of people part into rare, usual and common ones. */
  owners: { given: number[]; family: number[] };
}

interface Prior {
  probability: number[];
  trust: number;
}

/** Fields by which people are known: the beginnings of `same` hold there as much as a fifth of the people do. */
const known: readonly FieldName[] = ['given', 'family', 'birth'];
const trustIn = (kind: Kind, name: FieldName | undefined, people: number): number =>
  name && fixed[kind]?.includes(name)
    ? fixedTrust
    : kind === 'same' && name && known.includes(name)
      ? Math.max(trust.same, people / 5)
      : trust[kind];

/**
 * The beginnings, with what was measured put in. `people`: how many could be on both lists. Without it the estimate
 * could take whoever is merely alike for the same person wherever few are.
 */
export function priors(measured: Measured, width: number, people: number): Prior[][] {
  return kinds.map((kind) =>
    Array.from({ length: width }, (_, f) => {
      const name = fieldNames[f];
      const given = name ? beginnings[kind][name] : otherBeginnings[kind];
      if (given === 'chance') return { probability: measured.chance[f]!, trust: fixedTrust };
      const parts = [...given];
      if (name === 'given' || name === 'family') {
        // Those who share a name for a reason have it as people do; those who share it by chance, as chance has it.
        const related = kind === 'same' || kind === 'sibling' || kind === 'twin';
        const shares = related ? measured.owners[name] : measured.chance[f]!.slice(0, 3);
        const whole = parts[0]! + parts[1]! + parts[2]!;
        const sum = shares[0]! + shares[1]! + shares[2]!;
        for (let l = 0; l < 3; l++) parts[l] = (whole * (shares[l]! + 1e-4)) / (sum + 3e-4);
      }
      const total = parts.reduce((sum, x) => sum + x, 0);
      return {
        probability: parts.map((x) => x / total),
        trust: trustIn(kind, name, people),
      };
    }),
  );
}

const levelCount = (fieldIndex: number): number =>
  fieldIndex < fieldNames.length ? levels[fieldNames[fieldIndex]!].length : otherLevels.length;

/** The model before anything was seen: `same` pairs are expected to be one person, `most` people are on a list. */
export function beginning(prior: Prior[][], patterns: Patterns, { same, most }: { same: number; most: number }): Model {
  const total = patterns.counts.reduce((sum, n) => sum + n, 0);
  const shares: Record<Kind, number> = {
    same: Math.min(same, total * 0.5),
    sibling: most * 0.3,
    twin: most * 0.02,
    birthday: total * 0.25,
    namesake: most * 0.1,
    agemate: total * 0.1,
    stranger: total * 0.3,
    recycled: most * 0.005,
  };
  return {
    sizes: Float64Array.from(kinds, (kind) => shares[kind]),
    logs: prior.map((byField) =>
      byField.map(({ probability }) => Float64Array.from([0, ...probability.map((p) => Math.log(p))])),
    ),
  };
}

/** Log of size × probability of pattern `p` for each kind, into `out`. */
export function weigh(model: Model, patterns: Patterns, p: number, sizes: Float64Array, out: Float64Array): void {
  const { width } = patterns;
  const at = p * width;
  for (let k = 0; k < kinds.length; k++) {
    let sum = Math.log(Math.max(sizes[k]!, 1e-9));
    const logs = model.logs[k]!;
    for (let f = 0; f < width; f++) sum += logs[f]![patterns.levels[at + f]!]!;
    out[k] = sum;
  }
}

export const logSum = (values: Float64Array, from: number): number => {
  let most = -Infinity;
  for (let k = from; k < values.length; k++) if (values[k]! > most) most = values[k]!;
  let sum = 0;
  for (let k = from; k < values.length; k++) sum += Math.exp(values[k]! - most);
  return most + Math.log(sum);
};

/**
 * Rounds of expectation and maximization from `model` on. `most` as in `beginning`. `held`: by pattern, the share of its
 * pairs that are one person, where that is known better than from the pattern alone (see link).
 */
export function estimate(
  model: Model,
  prior: Prior[][],
  patterns: Patterns,
  most: number,
  rounds: number,
  held?: Float64Array,
): Model {
  const { width, counts } = patterns;
  let current = model;
  const weights = new Float64Array(kinds.length);
  for (let round = 0; round < rounds; round++) {
    const sums = prior.map((byField) =>
      byField.map(({ probability, trust: worth }, f) => {
        const sum = new Float64Array(levelCount(f));
        probability.forEach((p, l) => (sum[l + 1] = p * worth));
        return sum;
      }),
    );
    const sizes = new Float64Array(kinds.length);
    for (let p = 0; p < counts.length; p++) {
      weigh(current, patterns, p, current.sizes, weights);
      const total = logSum(weights, held ? 1 : 0);
      for (let k = 0; k < kinds.length; k++) {
        const likely = Math.exp(weights[k]! - total);
        const share = (held ? (k === 0 ? held[p]! : (1 - held[p]!) * likely) : likely) * counts[p]!;
        if (share < 1e-12) continue;
        sizes[k]! += share;
        const sum = sums[k]!;
        for (let f = 0; f < width; f++) sum[f]![patterns.levels[p * width + f]!]! += share;
      }
    }
    sizes[0] = Math.min(sizes[0]!, most);
    current = {
      sizes,
      logs: sums.map((byField) =>
        byField.map((sum) => {
          let total = 0;
          for (let l = 1; l < sum.length; l++) total += sum[l]!;
          return Float64Array.from(sum, (x, l) => (l === 0 ? 0 : Math.log(Math.max(x, 1e-12) / total)));
        }),
      ),
    };
  }
  return current;
}

/** Natural logarithm of the odds that a pair of each pattern is one person; `sizes` of kinds if not the model's own. */
export function oddsOf(model: Model, patterns: Patterns, sizes = model.sizes): Float64Array {
  const weights = new Float64Array(kinds.length);
  return patterns.counts.map((_, p) => {
    weigh(model, patterns, p, sizes, weights);
    return weights[0]! - logSum(weights, 1);
  });
}

export type Never = 'twin' | 'recycled' | 'namesake' | 'little';

/**
 * By pattern, why a pair is never merged with nobody looking: it may be a twin, a number that was given again, somebody
 * of the same name born on another day to other people; or too little agrees: no number, no name together with something
 * else, nor two things besides names, or given name and day are no more than alike and nothing else holds.
 */
export function neverAlone({ width, levels: all, counts }: Patterns): (Never | null)[] {
  return Array.from(counts, (_, p) => {
    const at = (name: FieldName): number => all[p * width + field[name]]!;
    const [given, family, birth] = [at('given'), at('family'), at('birth')];
    const sameFamily = family >= F.rare && family <= F.near;
    const otherName =
      (given === G.different || given === G.missing) && (family === F.different || family === F.missing);
    if (given === G.different && sameFamily && (birth === B.same || birth === B.swapped)) return 'twin';
    if (at('number') === 1 && otherName && birth > B.digit) return 'recycled';
    if (at('number') === 1) return null;
    const familyAlike = family >= F.rare && family <= F.swapped;
    const isNamed = familyAlike || (given >= G.rare && given <= G.near);
    let besides = Number(at('guardian') === 1) + Number(at('email') === 1);
    for (let f = fieldNames.length; f < width; f++) besides += Number([1, 2].includes(all[p * width + f]!));
    if (birth >= B.year && at('guardian') === 4 && besides === 0) return 'namesake';
    // The name and the day both no more than alike, and nothing else to hold on to.
    const inexact = given === 0 || given >= G.form;
    if (inexact && birth !== B.same && birth !== B.swapped && besides === 0) return 'little';
    const agreeing = besides + Number(familyAlike) + Number(birth >= B.same && birth <= B.parts);
    return agreeing >= (isNamed ? 1 : 2) ? null : 'little';
  });
}

/**
 * By pattern, whether number, addresses and the family name say nothing, or that it is somebody else: the given name and
 * the day of birth alone are worth less than the estimate has it where one list is short.
 */
export function isThin({ width, levels: all, counts }: Patterns): boolean[] {
  return Array.from(counts, (_, p) => {
    const at = (name: FieldName): number => all[p * width + field[name]]!;
    const family = at('family');
    if (family >= F.rare && family <= F.swapped) return false;
    if (at('number') === 1 || at('guardian') === 1 || at('email') === 1) return false;
    for (let f = fieldNames.length; f < width; f++) if ([1, 2].includes(all[p * width + f]!)) return false;
    return true;
  });
}
