/** Chance that repeats: the same seed gives the same numbers everywhere. Not fit for secrets. */
export interface Random {
  /** At least 0, below 1. */
  real: () => number;
  below: (n: number) => number;
  text: () => string;
}

/** A small deterministic generator (mulberry32), so that a failing case is one number. */
export function randomFrom(seed: number): Random {
  let a = seed >>> 0;
  const next = () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const below = (n: number) => Math.floor(next() * n);
  const letters = 'abcdeföłşžABCÉñ ’-';
  const text = () =>
    Array.from({ length: 1 + below(9) }, () => letters[below(letters.length)]!)
      .join('')
      .trim() || 'x';
  return { real: next, below, text };
}

/** A made-up word for a number, without digits: 0 is Ba, 1 Be; numbers apart give words apart. */
export function wordOf(n: number): string {
  let word = '';
  for (let rest = n; word === '' || rest > 0; rest = Math.floor(rest / 80)) {
    word += 'bcdfghjklmnprstv'[rest % 16]! + 'aeiou'[Math.floor(rest / 16) % 5]!;
  }
  return word[0]!.toUpperCase() + word.slice(1);
}

/** One of the items. */
export const pick = <T>(r: Random, items: readonly T[]): T => items[r.below(items.length)]!;

/** The items in random order (Fisher and Yates). */
export function shuffled<T>(r: Random, items: readonly T[]): T[] {
  const list = [...items];
  for (let i = list.length - 1; i > 0; i--) {
    const j = r.below(i + 1);
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
  return list;
}
