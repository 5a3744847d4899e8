/**
 * How two people compare, field by field, on few levels each. Level 0 always is "not given on one side", which says
 * nothing. A pair's levels together are its pattern: one integer, so that millions of pairs are counted by the few
 * thousand patterns that occur.
 */
import { areForms } from '#core/names/nicknames';
import { B, F, field, type FieldName, fieldNames, G, levels, otherLevels } from './fields';
import type { Measured } from './model';
import type { Name, Shared, Side } from './people';
import { alike, oneEditApart, spelled } from './similarity';

/** Shares of a list below which a value is rare, or usual; above it is common. */
const rareBelow = 0.0006;
const usualBelow = 0.004;

/** Remembers the answers for pairs of integers in a table whose size goes by how many people are compared, up to a million; older answers give way. */
class PairMemory {
  private readonly keys: Float64Array;
  private readonly values: Uint8Array;
  private readonly shift: number;
  constructor(people: number) {
    const bits = Math.min(20, Math.max(10, Math.ceil(Math.log2(people * 16))));
    this.shift = 32 - bits;
    this.keys = new Float64Array(1 << bits).fill(-1);
    this.values = new Uint8Array(1 << bits);
  }
  get(a: number, b: number, find: (a: number, b: number) => number): number {
    const slot = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) >>> this.shift;
    const key = a * 4194304 + b;
    if (this.keys[slot] === key) return this.values[slot]!;
    const value = find(a, b);
    this.keys[slot] = key;
    this.values[slot] = value;
    return value;
  }
}

export class Comparer {
  private readonly givenMemory: PairMemory;
  private readonly middleMemory: PairMemory;
  private readonly familyMemory: PairMemory;
  private readonly givenRank: Uint8Array;
  private readonly familyRank: Uint8Array;
  private readonly crowded: Uint8Array;
  private readonly otherRank: Uint8Array[];
  /** Given and family name as the other kind, for swapped ones: ids by whole word. */
  readonly levelCounts: number[];

  constructor(
    private readonly a: Side,
    private readonly b: Side,
    private readonly words: Shared,
  ) {
    this.givenMemory = new PairMemory(a.count + b.count);
    this.middleMemory = new PairMemory(a.count + b.count);
    this.familyMemory = new PairMemory(a.count + b.count);
    this.givenRank = ranks([a.given, b.given], words.given.list.length);
    this.familyRank = ranks([a.family, b.family], words.family.list.length);
    this.otherRank = words.others.map((list, k) => ranks([a.others[k]!, b.others[k]!], list.list.length));
    this.crowded = new Uint8Array(words.guardians.list.length);
    for (const column of a === b ? [a.guardian] : [a.guardian, b.guardian]) {
      const uses = new Int32Array(words.guardians.list.length);
      for (const id of column) if (id >= 0 && ++uses[id]! > 8) this.crowded[id] = 1;
    }
    this.levelCounts = [
      ...fieldNames.map((name) => levels[name].length),
      ...words.others.map(() => otherLevels.length),
    ];
  }

  /** Writes the levels of the pair into `out`; school and class, whose weight is learned later, are left at 0. */
  compare(i: number, j: number, out: Uint8Array): void {
    const { a, b } = this;
    out[field.number] = this.number(a.number[i]!, b.number[j]!);
    const family = this.family(a.family[i]!, b.family[j]!);
    const given = this.given(i, j);
    out[field.family] = family;
    out[field.given] = given;
    out[field.middle] = this.middle(i, j);
    if (
      (family === F.different || family === F.missing) &&
      (given === G.different || given === G.missing) &&
      this.swapped(i, j)
    ) {
      out[field.family] = F.swapped;
      out[field.given] = G.missing;
    }
    out[field.birth] = birth(a.birth[i]!, b.birth[j]!);
    const [g, h] = [a.grade[i]!, b.grade[j]!];
    out[field.grade] = g < 0 || h < 0 ? 0 : h === g ? 1 : h === g + 1 ? 2 : 3;
    out[field.school] = 0;
    out[field.class] = 0;
    out[field.guardian] = this.address(a.guardian[i]!, b.guardian[j]!, this.words.guardians.list);
    const mail = this.address(a.email[i]!, b.email[j]!, this.words.emails.list);
    out[field.email] = mail === 0 ? 0 : mail === 1 ? 1 : mail === 3 ? 2 : 3;
    for (let k = 0; k < a.others.length; k++) {
      const [x, y] = [a.others[k]![i]!, b.others[k]![j]!];
      out[fieldNames.length + k] =
        x < 0 || y < 0
          ? 0
          : x === y
            ? this.otherRank[k]![x]! <= 2
              ? 1
              : 2
            : alike(spelled(this.words.others[k]!.list[x]!), spelled(this.words.others[k]!.list[y]!))
              ? 3
              : 4;
    }
  }

  /** What two people picked at random show, see Measured. Agreement by chance is computed, the rest is counted on a sample. */
  measure(): Measured {
    const { a, b } = this;
    const width = this.levelCounts.length;
    const sums = this.levelCounts.map((size, f) =>
      Float64Array.from({ length: size }, (_, l) =>
        l === 0 ? 0 : l === size - 1 ? 200 : (usualChance[fieldNames[f]!] ?? 1),
      ),
    );
    const out = new Uint8Array(width);
    // Within each list, where two are not one person; two strides without a common factor go through it evenly.
    for (const side of a === b ? [a] : [a, b]) {
      const sample = Math.min(20_000, side.count * (side.count - 1));
      const within = new Comparer(side, side, this.words);
      for (let n = 0; n < sample; n++) {
        const i = (n * 7919) % side.count;
        const j = (n * 104_729 + 1 + ((n / side.count) | 0)) % side.count;
        if (i === j) continue;
        within.compare(i, j, out);
        for (let f = 0; f < width; f++) sums[f]![out[f]!]!++;
      }
    }
    const chance = sums.map((sum) => {
      const total = sum.subarray(1).reduce((t, x) => t + x, 0);
      return Array.from(sum.subarray(1), (x) => x / total);
    });
    const given = agreement(a.given, b.given, this.givenRank);
    const family = agreement(a.family, b.family, this.familyRank);
    for (const [f, by] of [
      [field.given, given.chance],
      [field.family, family.chance],
    ] as const)
      by.forEach((p, l) => (chance[f]![l] = p));
    return { chance, owners: { given: given.owners, family: family.owners } };
  }

  private number(x: number, y: number): number {
    if (x < 0 || y < 0) return 0;
    if (x === y) return 1;
    const [p, q] = [this.words.numbers.list[x]!, this.words.numbers.list[y]!];
    return p.length > 3 && q.length > 3 && oneEditApart(p, q) ? 2 : 3;
  }

  private family(x: number, y: number): number {
    if (x < 0 || y < 0) return F.missing;
    if (x === y) return this.familyRank[x]!;
    return this.familyMemory.get(x, y, (p, q) => {
      const [m, n] = [this.words.family.list[p]!, this.words.family.list[q]!];
      if (m.whole.text === n.whole.text || m.strong.text === n.strong.text) return this.familyRank[p]!;
      if (m.words.some((word) => word.length > 2 && n.words.includes(word))) return F.part;
      return alike(m.whole, n.whole) || alike(m.strong, n.strong) ? F.near : F.different;
    });
  }

  private given(i: number, j: number): number {
    const { a, b } = this;
    const [x, y] = [a.given[i]!, b.given[j]!];
    if (x < 0 || y < 0) return G.missing;
    if (x === y) return this.givenRank[x]!;
    const plain = this.givenMemory.get(x, y, (p, q) => this.givenAlone(p, q));
    if (plain !== G.different) return plain;
    // The middle name used as the given one, on either side.
    const [u, v] = [a.middle[i]!, b.middle[j]!];
    if (u >= 0 && (u === y || formOf(this.words.given.list[u]!, this.words.given.list[y]!))) return G.form;
    if (v >= 0 && (v === x || formOf(this.words.given.list[v]!, this.words.given.list[x]!))) return G.form;
    return G.different;
  }

  /** 1 the same, 2 an initial, a form or a slip of it, 3 another; the one that is used as given name says nothing. */
  private middle(i: number, j: number): number {
    const { a, b } = this;
    const [u, v] = [a.middle[i]!, b.middle[j]!];
    if (u < 0 || v < 0) return 0;
    if (u === v) return 1;
    if (u === b.given[j]! || v === a.given[i]!) return 0;
    return this.middleMemory.get(u, v, (p, q) => {
      const plain = this.givenAlone(p, q);
      return plain === G.different ? 3 : plain === G.form || plain === G.near ? 2 : 1;
    });
  }

  private givenAlone(x: number, y: number): number {
    const [m, n] = [this.words.given.list[x]!, this.words.given.list[y]!];
    if (m.whole.text === n.whole.text) return this.givenRank[x]!;
    if (formOf(m, n)) return G.form;
    return alike(m.whole, n.whole) ? G.near : G.different;
  }

  /** One side's given name is the other's family name and the other way round, as far as both are there. */
  private swapped(i: number, j: number): boolean {
    const { a, b, words } = this;
    const [ag, af, bg, bf] = [a.given[i]!, a.family[i]!, b.given[j]!, b.family[j]!];
    const crossed = (given: number, family: number): boolean | null => {
      if (given < 0 || family < 0) return null;
      const [m, n] = [words.given.list[given]!, words.family.list[family]!];
      return (
        m.whole.text === n.whole.text ||
        m.words.some((word) => word.length > 3 && n.words.includes(word)) ||
        alike(m.whole, n.whole)
      );
    };
    const one = crossed(ag, bf);
    const two = crossed(bg, af);
    return (one ?? two) !== null && one !== false && two !== false && (one === true || two === true);
  }

  private address(x: number, y: number, list: string[]): number {
    if (x < 0 || y < 0) return 0;
    if (x === y) return list === this.words.guardians.list && this.crowded[x] ? 2 : 1;
    const [p, q] = [list[x]!, list[y]!];
    return oneEditApart(p, q) ? 3 : 4;
  }
}

/** People beside those listed: what is once in a list of ten is not one in ten everywhere. */
const unseen = 500;
/** Levels between the first and the last, of 200 pairs at random, where a short list has too few to tell. */
const usualChance: Partial<Record<FieldName, number>> = {
  number: 0.05,
  birth: 0.2,
  guardian: 0.05,
  email: 0.05,
  family: 0.5,
  given: 0.8,
  middle: 2,
};

/** The probability that two people at random share a rare, usual or common value; and how many people have such a one. */
function agreement(x: Int32Array, y: Int32Array, rank: Uint8Array): { chance: number[]; owners: number[] } {
  const counts = (column: Int32Array) => {
    const uses = new Float64Array(rank.length);
    let total = 0;
    for (const id of column)
      if (id >= 0) {
        uses[id]!++;
        total++;
      }
    return uses.map((count) => count / (total + unseen));
  };
  const [p, q] = [counts(x), x === y ? null : counts(y)];
  const chance = [1e-6, 1e-6, 1e-6];
  const owners = [0, 0, 0];
  p.forEach((share, id) => {
    chance[rank[id]! - 1]! += share * (q ?? p)[id]!;
    owners[rank[id]! - 1]! += share;
  });
  return { chance, owners };
}

/** How frequent each value is: 1 rare, 2 usual, 3 common. */
function ranks(columns: Int32Array[], size: number): Uint8Array {
  const uses = new Int32Array(size);
  let total = 0;
  for (const column of columns)
    for (const id of column)
      if (id >= 0) {
        uses[id]!++;
        total++;
      }
  return Uint8Array.from(uses, (count) =>
    count <= Math.max(2, rareBelow * total) ? 1 : count <= usualBelow * total ? 2 : 3,
  );
}

/** A part of the name, an initial, a short form. */
function formOf(m: Name, n: Name): boolean {
  const [p, q] = [m.words[0]!, n.words[0]!];
  if (p.length === 1 || q.length === 1) return p[0] === q[0];
  if (m.words.some((word) => word.length > 1 && n.words.includes(word))) return true;
  if (p.length > 2 && q.length > 2 && (p.startsWith(q) || q.startsWith(p))) return true;
  return areForms(p, q);
}

function birth(x: number, y: number): number {
  if (x < 0 || y < 0) return B.missing;
  if (x === y) return B.same;
  const [dx, mx, yx] = [x % 100, ((x / 100) | 0) % 100, (x / 10_000) | 0];
  const [dy, my, yy] = [y % 100, ((y / 100) | 0) % 100, (y / 10_000) | 0];
  if (yx === yy && dx === my && mx === dy) return B.swapped;
  const [s, t] = [String(x), String(y)];
  if (s.length === t.length && oneDigitOff(s, t)) return B.digit;
  if (Number(dx === dy) + Number(mx === my) + Number(yx === yy) === 2) return B.parts;
  return yx === yy ? B.year : B.different;
}

/** One digit replaced, or two neighbors swapped. */
function oneDigitOff(s: string, t: string): boolean {
  let i = 0;
  while (s[i] === t[i]) i++;
  return (
    s.slice(i + 1) === t.slice(i + 1) || (s[i] === t[i + 1] && s[i + 1] === t[i] && s.slice(i + 2) === t.slice(i + 2))
  );
}
