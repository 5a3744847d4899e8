/**
 * A grade split into classes that are alike: as large as each other as far as their limits allow, each attribute's
 * values spread evenly over them, and pairs together or apart as is wished. Sizes are settled first and kept; from
 * there two children change places as long as it helps, and early on sometimes when it does not (simulated
 * annealing, Kirkpatrick, Gelatt and Vecchi, Science 220, 1983).
 */
import { say } from '#core/messages/say';
import type { Random } from '#core/random/index';

export interface Wish {
  /** Indices of children. */
  a: number;
  b: number;
  together: boolean;
}
export interface SplitQuestion {
  /** By attribute, the value of each child; null: not known, which is not balanced. */
  attributes: readonly (readonly (string | null)[])[];
  children: number;
  /** The most that each class takes; null: any number. */
  most: readonly (number | null)[];
  wishes: readonly Wish[];
  /** Class of each child that stays where it was put by hand; -1: anywhere. */
  fixed: readonly number[];
}
export interface SplitScore {
  /** Lower is better; 0: nothing could be more even. */
  total: number;
  /** By attribute: squares of how far each value's count in each class is from its share. */
  uneven: number[];
  /** Wishes that are not met, by their index. */
  broken: number[];
}

/** What a wish that is not met weighs, in squares of children. */
const wishWeight = 12;

/**
 * How many each class takes: as even as limits and children who stay allow. Throws RangeError when the classes do not
 * take all.
 */
export function splitSizes({ children, most, fixed }: Pick<SplitQuestion, 'children' | 'most' | 'fixed'>): number[] {
  const sizes = most.map((_, room) => fixed.filter((at) => at === room).length);
  let left = children - sizes.reduce((sum, n) => sum + n, 0);
  for (; left > 0; left--) {
    let least = -1;
    for (let room = 0; room < sizes.length; room++)
      if (sizes[room]! < (most[room] ?? Infinity) && (least < 0 || sizes[room]! < sizes[least]!)) least = room;
    if (least < 0)
      throw new RangeError(say('year.theClassesHaveRoomFor', { room: children - left, students: children }));
    sizes[least]!++;
  }
  return sizes;
}

/** Counts kept while children change places. */
class Split {
  /** By attribute: value of each child as a number; -1: not known. */
  private readonly values: Int16Array[] = [];
  private readonly counts: Int32Array[] = [];
  private readonly shares: Float64Array[] = [];
  private readonly wishesOf: { other: number; together: boolean }[][];
  private readonly rooms: number;

  constructor(
    readonly question: SplitQuestion,
    readonly at: Int16Array,
  ) {
    this.rooms = question.most.length;
    const sizes = new Int32Array(this.rooms);
    for (const room of at) sizes[room]!++;
    for (const attribute of question.attributes) {
      const names = [...new Set(attribute.filter((value) => value !== null))];
      const index = new Map(names.map((name, i) => [name, i]));
      const values = Int16Array.from(attribute, (value) => (value === null ? -1 : index.get(value)!));
      const counts = new Int32Array(names.length * this.rooms);
      const totals = new Int32Array(names.length);
      values.forEach((value, child) => {
        if (value < 0) return;
        counts[value * this.rooms + at[child]!]!++;
        totals[value]!++;
      });
      this.values.push(values);
      this.counts.push(counts);
      this.shares.push(
        Float64Array.from(
          counts,
          (_, i) => (totals[Math.floor(i / this.rooms)]! * sizes[i % this.rooms]!) / question.children,
        ),
      );
    }
    this.wishesOf = Array.from({ length: question.children }, () => []);
    for (const { a, b, together } of question.wishes) {
      this.wishesOf[a]!.push({ other: b, together });
      this.wishesOf[b]!.push({ other: a, together });
    }
  }

  /** What the total changes by when the two change places. */
  delta(i: number, j: number): number {
    const [s, t] = [this.at[i]!, this.at[j]!];
    let sum = 0;
    for (let k = 0; k < this.values.length; k++) {
      const [v, w] = [this.values[k]![i]!, this.values[k]![j]!];
      if (v === w) continue;
      // (c±1−share)² − (c−share)² = ±2(c−share) + 1
      const counts = this.counts[k]!;
      const shares = this.shares[k]!;
      if (v >= 0) {
        const [from, to] = [v * this.rooms + s, v * this.rooms + t];
        sum += 2 - 2 * (counts[from]! - shares[from]!) + 2 * (counts[to]! - shares[to]!);
      }
      if (w >= 0) {
        const [from, to] = [w * this.rooms + t, w * this.rooms + s];
        sum += 2 - 2 * (counts[from]! - shares[from]!) + 2 * (counts[to]! - shares[to]!);
      }
    }
    return sum + wishWeight * (this.wishDelta(i, s, t, j) + this.wishDelta(j, t, s, i));
  }

  private wishDelta(child: number, from: number, to: number, partner: number): number {
    let sum = 0;
    for (const { other, together } of this.wishesOf[child]!) {
      if (other === partner) continue;
      const at = this.at[other]!;
      sum += Number((at === to) !== together) - Number((at === from) !== together);
    }
    return sum;
  }

  swap(i: number, j: number): void {
    const [s, t] = [this.at[i]!, this.at[j]!];
    for (let k = 0; k < this.values.length; k++) {
      const counts = this.counts[k]!;
      const [v, w] = [this.values[k]![i]!, this.values[k]![j]!];
      if (v >= 0) {
        counts[v * this.rooms + s]!--;
        counts[v * this.rooms + t]!++;
      }
      if (w >= 0) {
        counts[w * this.rooms + t]!--;
        counts[w * this.rooms + s]!++;
      }
    }
    this.at[i] = t;
    this.at[j] = s;
  }

  score(): SplitScore {
    const uneven = this.counts.map((counts, k) => {
      const shares = this.shares[k]!;
      let sum = 0;
      counts.forEach((count, i) => (sum += (count - shares[i]!) ** 2));
      return sum;
    });
    const broken = this.question.wishes.flatMap(({ a, b, together }, i) =>
      (this.at[a] === this.at[b]) === together ? [] : i,
    );
    return { total: uneven.reduce((sum, n) => sum + n, 0) + wishWeight * broken.length, uneven, broken };
  }
}

/** How good a split is; `at`: class of each child, of all of them. */
export const scoreSplit = (question: SplitQuestion, at: readonly number[]): SplitScore =>
  new Split(question, Int16Array.from(at)).score();

/** Swaps that are tried between two words of how far it is. */
const stride = 100_000;

/**
 * A split that nothing simple makes better. Each step of the generator says the share of the work that is done and
 * the best total so far; its end is the best split. `effort`: swaps tried for each child.
 */
export function* balance(
  question: SplitQuestion,
  r: Random,
  effort = question.children < 60 ? 12_000 : 5000,
): Generator<{ share: number; best: number }, number[]> {
  const { children, fixed } = question;
  const sizes = splitSizes(question);
  const free = Array.from({ length: children }, (_, i) => i).filter((i) => (fixed[i] ?? -1) < 0);
  const starts = children < 60 ? 6 : 1;
  const tries = effort * Math.max(1, free.length);
  let best = Infinity;
  let kept: number[] = [];
  let done = 0;
  for (let start = 0; start < starts && best > 1e-9; start++) {
    const split = new Split(question, begin(question, sizes, r));
    let total = split.score().total;
    const keep = () => {
      best = total;
      kept = [...split.at];
    };
    if (total < best) keep();
    for (let n = 0; n < tries && free.length > 1 && best > 1e-9; n++) {
      if (++done % stride === 0) yield { share: done / (tries * starts), best };
      const i = free[r.below(free.length)]!;
      const j = free[r.below(free.length)]!;
      if (split.at[i] === split.at[j]) continue;
      const change = split.delta(i, j);
      // From a heat at which most of what is worse is taken to one at which nothing is.
      const heat = 8 * 0.002 ** (n / tries);
      if (change > 0 && r.real() >= Math.exp(-change / heat)) continue;
      split.swap(i, j);
      total += change;
      if (total < best - 1e-9) keep();
    }
  }
  return kept;
}

/** Those who stay are there, the others by chance where there is room. */
function begin({ children, fixed }: SplitQuestion, sizes: readonly number[], r: Random): Int16Array {
  const at = Int16Array.from({ length: children }, (_, i) => fixed[i] ?? -1);
  const room = [...sizes];
  for (const where of at) if (where >= 0) room[where]!--;
  const places = room.flatMap((n, i) => Array.from({ length: Math.max(0, n) }, () => i));
  for (let i = places.length - 1; i > 0; i--) {
    const j = r.below(i + 1);
    [places[i], places[j]] = [places[j]!, places[i]!];
  }
  for (let i = 0; i < children; i++) if (at[i]! < 0) at[i] = places.pop()!;
  return at;
}
