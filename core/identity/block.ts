/**
 * Which pairs are compared at all. Several passes each group people by something that the two lists of one person
 * mostly share; a pair that meets in any pass is compared once. Groups too large to tell anything are left to the
 * other passes, so that the work is bounded by passes × `most` for each person arriving.
 */
import type { Shared, Side } from './people';
import { soundex } from './similarity';

export const defaultMost = 60;

/** Keys of one pass for a person: numbers, -1 for none. Two people meet if they share a key. */
type Pass = (side: Side, i: number, arriving: boolean) => number;

/** Mixes two integers to one of 53 bits; meetings by chance cost a comparison and nothing else. */
const mix = (x: number, y: number): number => (x < 0 || y < 0 ? -1 : x * 4_194_301 + y);

function passes(words: Shared): Pass[] {
  const sounds = new Map<string, number>();
  const soundIds: number[] = words.family.list.map(({ words: parts }) => {
    const code = soundex(parts.at(-1)!);
    if (code === '') return -1;
    const id = sounds.get(code) ?? sounds.size;
    sounds.set(code, id);
    return id;
  });
  const initials = words.given.list.map(({ whole }) => whole.text.charCodeAt(0) & 127);
  const firsts = new Map<string, number>();
  const first = (word: string): number => {
    let id = firsts.get(word);
    if (id === undefined) firsts.set(word, (id = firsts.size));
    return id;
  };
  const givenFirst = words.given.list.map(({ words: parts }) => first(parts[0]!));
  const familyFirst = words.family.list.map(({ words: parts }) => first(parts[0]!));
  const familyLast = words.family.list.map(({ words: parts }) => first(parts.at(-1)!));
  const initial = (side: Side, i: number) => (side.given[i]! < 0 ? -1 : initials[side.given[i]!]!);
  const given = (side: Side, i: number) => (side.given[i]! < 0 ? -1 : givenFirst[side.given[i]!]!);
  const family = (side: Side, i: number) => (side.family[i]! < 0 ? -1 : familyFirst[side.family[i]!]!);
  const last = (side: Side, i: number) => (side.family[i]! < 0 ? -1 : familyLast[side.family[i]!]!);
  const sound = (side: Side, i: number) => (side.family[i]! < 0 ? -1 : soundIds[side.family[i]!]!);
  const year = (side: Side, i: number) => (side.birth[i]! < 0 ? -1 : (side.birth[i]! / 10_000) | 0);
  const month = (side: Side, i: number) => (side.birth[i]! < 0 ? -1 : (side.birth[i]! / 100) | 0);
  const monthDay = (side: Side, i: number) => (side.birth[i]! < 0 ? -1 : side.birth[i]! % 10_000);
  const middle = (side: Side, i: number) => (side.middle[i]! < 0 ? -1 : givenFirst[side.middle[i]!]!);
  /** The same for a date with day and month swapped. */
  const unordered = (side: Side, i: number): number => {
    const date = side.birth[i]!;
    if (date < 0) return -1;
    const [d, m] = [date % 100, ((date / 100) | 0) % 100];
    return ((date / 10_000) | 0) * 10_000 + Math.min(d, m) * 100 + Math.max(d, m);
  };
  const both = (side: Side, i: number): number => {
    const [g, f] = [given(side, i), family(side, i)];
    return g < 0 || f < 0 ? -1 : mix(Math.min(g, f), Math.max(g, f));
  };
  /** A grade that moves on by one from the list on record to the one arriving, or stays. */
  const cohort = (side: Side, i: number, arriving: boolean, moved: boolean): number =>
    side.grade[i]! < 0 ? -1 : side.grade[i]! + (!arriving && moved ? 1 : 0);
  return [
    (side, i) => side.number[i]!,
    (side, i) => side.email[i]!,
    (side, i) => side.birth[i]!,
    both,
    (side, i) => side.guardian[i]!,
    (side, i) => mix(given(side, i), unordered(side, i)),
    (side, i) => mix(family(side, i), unordered(side, i)),
    (side, i) => mix(given(side, i), month(side, i)),
    (side, i) => mix(given(side, i), monthDay(side, i)),
    (side, i) => mix(last(side, i), monthDay(side, i)),
    (side, i) => mix(given(side, i), middle(side, i)),
    (side, i) => mix(family(side, i), year(side, i)),
    (side, i) => mix(last(side, i), year(side, i)),
    (side, i) => mix(mix(sound(side, i), initial(side, i)), year(side, i) % 1000),
    (side, i, arriving) => mix(mix(sound(side, i), initial(side, i)), cohort(side, i, arriving, true)),
    (side, i, arriving) => mix(mix(sound(side, i), initial(side, i)), cohort(side, i, arriving, false)),
    (side, i, arriving) => mix(family(side, i), cohort(side, i, arriving, true)),
    ...words.others.map(
      (_, k): Pass =>
        (side, i) =>
          mix(side.others[k]![i]!, given(side, i)),
    ),
    ...words.others.map(
      (_, k): Pass =>
        (side, i) =>
          mix(side.others[k]![i]!, family(side, i)),
    ),
    ...words.others.slice(1).map(
      (_, k): Pass =>
        (side, i) =>
          mix(side.others[k + 1]![i]!, side.others[0]![i]!),
    ),
  ];
}

/**
 * Calls `meet` once for each pair that meets, grouped by the second side's index. On one list alone (`a` is `b`) each
 * pair comes once, the lower index first.
 */
export function block(a: Side, b: Side, words: Shared, meet: (i: number, j: number) => void, most = defaultMost): void {
  const alone = a === b;
  const indexes = passes(words).map((pass) => {
    const groups = new Map<number, number>();
    const groupOf = new Int32Array(a.count).fill(-1);
    const sizes: number[] = [];
    for (let i = 0; i < a.count; i++) {
      const key = pass(a, i, false);
      if (key < 0) continue;
      let group = groups.get(key);
      if (group === undefined) {
        group = sizes.length;
        groups.set(key, group);
        sizes.push(0);
      }
      groupOf[i] = group;
      sizes[group]!++;
    }
    const starts = new Int32Array(sizes.length + 1);
    sizes.forEach((size, g) => (starts[g + 1] = starts[g]! + size));
    const members = new Int32Array(starts[sizes.length]!);
    const filled = starts.slice();
    for (let i = 0; i < a.count; i++) if (groupOf[i]! >= 0) members[filled[groupOf[i]!]!++] = i;
    return { pass, groups, starts, members };
  });
  const seen = new Int32Array(a.count).fill(-1);
  for (let j = 0; j < b.count; j++) {
    for (const { pass, groups, starts, members } of indexes) {
      const key = pass(b, j, !alone);
      if (key < 0) continue;
      const group = groups.get(key);
      if (group === undefined) continue;
      const [from, to] = [starts[group]!, starts[group + 1]!];
      if (to - from > most) continue;
      for (let at = from; at < to; at++) {
        const i = members[at]!;
        if (seen[i] === j || (alone && i >= j)) continue;
        seen[i] = j;
        meet(i, j);
      }
    }
  }
}
