/**
 * Where people go from one list to the next: which school and grade leads to which school, which class to which, and
 * which family moved from where to where. Learned from the pairs that are sure without it; no pair vouches for itself.
 */
import type { Pairs } from './pairs';
import type { Shared, Side } from './people';

/** Natural logarithm of the odds above which a pair teaches: about 1,000 to 1. */
const sureFrom = 7;

export interface Places {
  /** Level of a pair's schools: 1 where most go, 2 where some go, 3 as another of the family, 4 few; 0 not given. */
  school: (e: number) => number;
  /** Level of its classes: 1 most, 2 some, 3 few; 0 not given. */
  klass: (e: number) => number;
}

/** How often each key leads where. */
class Ways {
  private readonly parts = new Map<number, number>();
  private readonly wholes = new Map<number, number>();
  constructor(private readonly targets: number) {}
  add(from: number, to: number): void {
    const key = from * this.targets + to;
    this.parts.set(key, (this.parts.get(key) ?? 0) + 1);
    this.wholes.set(from, (this.wholes.get(from) ?? 0) + 1);
  }
  /** Share of `from` that goes to `to`, the pair's own vote left out; `before` is what is expected where none was seen. */
  share(from: number, to: number, own: number, before = 1 / this.targets): number {
    const part = (this.parts.get(from * this.targets + to) ?? 0) - own;
    return (part + before) / ((this.wholes.get(from) ?? 0) - own + 1);
  }
  others(from: number, to: number, own: number): boolean {
    return (this.parts.get(from * this.targets + to) ?? 0) - own > 0;
  }
}

/** `odds`: natural logarithm of the odds by pattern. */
export function learnPlaces(a: Side, b: Side, pairs: Pairs, odds: Float64Array, words: Shared): Places {
  const { left, right, pattern } = pairs;
  const schools = words.schools.list.length + 1;
  const bySchool = new Ways(schools);
  const byCohort = new Ways(schools);
  const byClass = new Ways(words.classes.list.length + 1);
  const familyBefore = new Ways(schools * schools);
  const familyNow = new Ways(schools * schools);
  const sure = (e: number): number => Number(odds[pattern[e]!]! > sureFrom);
  const cohort = (i: number): number => a.school[i]! * 32 + a.grade[i]! + 1;
  const move = (i: number, j: number): number => a.school[i]! * schools + b.school[j]!;
  for (let e = 0; e < left.length; e++) {
    if (sure(e) === 0) continue;
    const [i, j] = [left[e]!, right[e]!];
    if (a.school[i]! >= 0 && b.school[j]! >= 0) {
      bySchool.add(a.school[i]!, b.school[j]!);
      byCohort.add(cohort(i), b.school[j]!);
      if (a.guardian[i]! >= 0) familyBefore.add(a.guardian[i]!, move(i, j));
      if (b.guardian[j]! >= 0) familyNow.add(b.guardian[j]!, move(i, j));
    }
    if (a.className[i]! >= 0 && b.className[j]! >= 0) byClass.add(a.className[i]!, b.className[j]!);
  }
  return {
    school: (e) => {
      const [i, j] = [left[e]!, right[e]!];
      if (a.school[i]! < 0 || b.school[j]! < 0) return 0;
      // A grade of which nobody is sure yet goes where its school goes.
      const usual = bySchool.share(a.school[i]!, b.school[j]!, sure(e));
      const share = byCohort.share(cohort(i), b.school[j]!, sure(e), usual);
      if (share >= 0.5) return 1;
      if (share >= 0.06) return 2;
      const likewise =
        (a.guardian[i]! >= 0 && familyBefore.others(a.guardian[i]!, move(i, j), sure(e))) ||
        (b.guardian[j]! >= 0 && familyNow.others(b.guardian[j]!, move(i, j), sure(e)));
      return likewise ? 3 : 4;
    },
    klass: (e) => {
      const [i, j] = [left[e]!, right[e]!];
      if (a.className[i]! < 0 || b.className[j]! < 0) return 0;
      const share = byClass.share(a.className[i]!, b.className[j]!, sure(e));
      return share >= 0.4 ? 1 : share >= 0.06 ? 2 : 3;
    },
  };
}
