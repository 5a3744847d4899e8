/**
 * Who is entitled to which product from when to when: what the rules say, met with where people are, which classes
 * they are in and the dates of all of it. A rule that names several things (a school, a grade, a subject, a class)
 * fits where all of them hold at once.
 */
import type { Product, Rule } from '#core/entities/index';
import { grades } from '#core/tabular/values';
import { type Day, dayOf, never } from './days';

export interface Span {
  from: Day;
  /** The first day on which it no longer holds. */
  to: Day;
}
/** A person as rules see them. */
export interface Holder {
  id: string;
  role: 'student' | 'staff';
  /** On hold, or no longer here: entitled to nothing meanwhile. */
  stopped: boolean;
  places: (Span & { schoolId: string; grade: string | null })[];
  classes: (Span & { classId: string; role: 'student' | 'teacher' })[];
}
export interface ClassFacts extends Span {
  schoolId: string;
  grade: string | null;
  subject: string | null;
}
export interface Need extends Span {
  /** Index of the person in what was given. */
  who: number;
  schoolId: string;
  /** 1 to 3, see Rule. */
  urgency: number;
}
export interface RuleBook {
  products: ReadonlyMap<string, Product>;
  rules: readonly Rule[];
  classes: ReadonlyMap<string, ClassFacts>;
}

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);

/** Whether a product is made for a grade; one that names no grades is for all. */
export const isFor = ({ lowGrade, highGrade }: Product, grade: string | null): boolean =>
  grade === null
    ? lowGrade === null && highGrade === null
    : (lowGrade === null || rank(grade) >= rank(lowGrade)) && (highGrade === null || rank(grade) <= rank(highGrade));

interface Dated extends Span {
  rule: Rule;
  product: Product;
}

/** Needs by product, within the window; of one person and product they do not overlap, the more urgent one counts. */
export function needs(people: readonly Holder[], book: RuleBook, window: Span): Map<string, Need[]> {
  const found = new Map<string, Need[]>();
  const dated = book.rules.flatMap((rule): Dated[] => {
    const product = book.products.get(rule.productId);
    const span = { from: rule.begins === null ? 0 : dayOf(rule.begins), to: dayOf(rule.ends) };
    return product && span.from < span.to ? [{ rule, product, ...span }] : [];
  });
  // Rules that fit a school and a grade are looked up once for all who are there.
  const fitting = new Map<string, Dated[]>();
  const rulesFor = (role: Holder['role'], schoolId: string, grade: string | null): Dated[] => {
    const key = `${role} ${schoolId} ${grade}`;
    let list = fitting.get(key);
    if (!list) {
      list = dated.filter(
        ({ rule, product }) =>
          (rule.role === 'student') === (role === 'student') &&
          (rule.schoolId === null || rule.schoolId === schoolId) &&
          (role === 'staff' || ((rule.grade === null || rule.grade === grade) && isFor(product, grade))),
      );
      fitting.set(key, list);
    }
    return list;
  };
  people.forEach((one, who) => {
    if (one.stopped) return;
    const mine = new Map<string, Need[]>();
    const add = (productId: string, need: Need): void => {
      const from = Math.max(need.from, window.from);
      const to = Math.min(need.to, window.to);
      if (from >= to) return;
      const list = mine.get(productId);
      if (list) list.push({ ...need, from, to });
      else mine.set(productId, [{ ...need, from, to }]);
    };
    for (const place of one.places) {
      const { schoolId } = place;
      for (const { rule, from, to } of rulesFor(one.role, schoolId, place.grade)) {
        const there = { from: Math.max(from, place.from), to: Math.min(to, place.to) };
        const need = { who, schoolId, urgency: rule.urgency, ...there };
        const byClass = rule.classId !== null || rule.subject !== null || (one.role === 'staff' && rule.grade !== null);
        if (!byClass) {
          add(rule.productId, need);
          continue;
        }
        for (const { classId, role, ...span } of one.classes) {
          const taken = book.classes.get(classId);
          if (!taken || taken.schoolId !== schoolId || (role === 'teacher') !== (rule.role === 'teacher')) continue;
          if (rule.classId !== null && rule.classId !== classId) continue;
          if (rule.subject !== null && rule.subject !== taken.subject) continue;
          if (one.role === 'staff' && rule.grade !== null && rule.grade !== taken.grade) continue;
          add(rule.productId, {
            ...need,
            from: Math.max(need.from, span.from, taken.from),
            to: Math.min(need.to, span.to, taken.to),
          });
        }
      }
    }
    for (const [productId, list] of mine) {
      const all = found.get(productId);
      const apart = list.length === 1 ? list : withoutOverlap(list);
      if (all) all.push(...apart);
      else found.set(productId, apart);
    }
  });
  return found;
}

/** By product, the rules by which somebody is entitled on a day; products to which they are not are left out. */
export function entitledBy(one: Holder, book: RuleBook, day: Day): Map<string, Rule[]> {
  const found = new Map<string, Rule[]>();
  for (const rule of book.rules) {
    if (needs([one], { ...book, rules: [rule] }, { from: day, to: day + 1 }).size === 0) continue;
    const list = found.get(rule.productId);
    if (list) list.push(rule);
    else found.set(rule.productId, [rule]);
  }
  return found;
}

/** Spans of one person cut where they meet; where several hold, the most urgent one, and of those the first. */
function withoutOverlap(list: Need[]): Need[] {
  const cuts = [...new Set(list.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b);
  const apart: Need[] = [];
  for (let i = 0; i + 1 < cuts.length; i++) {
    const [from, to] = [cuts[i]!, cuts[i + 1]!];
    let top: Need | null = null;
    for (const need of list) if (need.from <= from && need.to >= to && (!top || need.urgency > top.urgency)) top = need;
    if (!top) continue;
    const last = apart.at(-1);
    if (last?.to === from && last.urgency === top.urgency && last.schoolId === top.schoolId) last.to = to;
    else apart.push({ ...top, from, to });
  }
  return apart;
}

/** Today's dates as spans; for those that read rows. */
export const spanOf = ({ begins, ends }: { begins: string; ends: string | null }): Span => ({
  from: dayOf(begins),
  to: ends === null ? never : dayOf(ends),
});
