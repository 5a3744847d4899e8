/**
 * Who is entitled to which product from when to when: what the rules say, met with where people are, which classes
 * they are in and the dates of all of it. A rule fits where one of its schools, of its grades, of its subjects and of
 * its classes holds at once, and none of its exceptions. A person entitled to a newer edition needs no older one.
 */
import type { Product, Rule } from '#core/entities/index';
import { grades } from '#core/tabular/values';
import { type Day, dayOf, never } from './days';
import { type RuleTerms, termsOf } from './terms';

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
  terms: RuleTerms;
  /** It asks in which classes somebody is. */
  byClass: boolean;
}
const anyOf = (list: readonly string[], one: string | null): boolean =>
  list.length === 0 || (one !== null && list.includes(one));
const noneOf = (list: readonly string[], one: string | null): boolean => one === null || !list.includes(one);

/** Needs by product, within the window; of one person and product they do not overlap, the more urgent one counts. */
export function needs(people: readonly Holder[], book: RuleBook, window: Span): Map<string, Need[]> {
  const found = new Map<string, Need[]>();
  const dated = book.rules.flatMap((rule): Dated[] => {
    const product = book.products.get(rule.productId);
    const span = { from: rule.begins === null ? 0 : dayOf(rule.begins), to: dayOf(rule.ends) };
    if (!product || span.from >= span.to) return [];
    const terms = termsOf(rule);
    const { classes, subjects, grades: only, except } = terms;
    const byGrade = rule.role === 'teacher' && only.length + except.grades.length > 0;
    return [{ rule, product, terms, byClass: classes.length + subjects.length > 0 || byGrade, ...span }];
  });
  const replaced = olderEditions(book.products);
  // Rules that fit a school and a grade are looked up once for all who are there.
  const fitting = new Map<string, Dated[]>();
  const rulesFor = (role: Holder['role'], schoolId: string, grade: string | null): Dated[] => {
    const key = `${role} ${schoolId} ${grade}`;
    let list = fitting.get(key);
    if (!list) {
      list = dated.filter(
        ({ rule, product, terms }) =>
          (rule.role === 'student') === (role === 'student') &&
          anyOf(terms.schools, schoolId) &&
          noneOf(terms.except.schools, schoolId) &&
          (role === 'staff' ||
            (anyOf(terms.grades, grade) && noneOf(terms.except.grades, grade) && isFor(product, grade))),
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
      for (const { rule, terms, byClass, from, to } of rulesFor(one.role, schoolId, place.grade)) {
        const there = { from: Math.max(from, place.from), to: Math.min(to, place.to) };
        const need = { who, schoolId, urgency: rule.urgency, ...there };
        const out = one.classes.filter(({ classId }) => terms.except.classes.includes(classId));
        const addFor = (all: Need) => {
          for (const part of without(all, out)) add(rule.productId, part);
        };
        if (!byClass) {
          addFor(need);
          continue;
        }
        for (const { classId, role, ...span } of one.classes) {
          const taken = book.classes.get(classId);
          if (!taken || taken.schoolId !== schoolId || (role === 'teacher') !== (rule.role === 'teacher')) continue;
          if (!anyOf(terms.classes, classId) || !anyOf(terms.subjects, taken.subject)) continue;
          if (one.role === 'staff' && !(anyOf(terms.grades, taken.grade) && noneOf(terms.except.grades, taken.grade)))
            continue;
          addFor({
            ...need,
            from: Math.max(need.from, span.from, taken.from),
            to: Math.min(need.to, span.to, taken.to),
          });
        }
      }
    }
    for (const newer of replaced.keys()) {
      const instead = mine.get(newer);
      if (!instead) continue;
      for (const older of replaced.get(newer)!) {
        const list = mine.get(older);
        if (list)
          mine.set(
            older,
            list.flatMap((need) => without(need, instead)),
          );
      }
    }
    for (const [productId, list] of mine) {
      if (list.length === 0) continue;
      const all = found.get(productId);
      const apart = list.length === 1 ? list : withoutOverlap(list);
      if (all) all.push(...apart);
      else found.set(productId, apart);
    }
  });
  return found;
}

/** For each product that something takes the place of, all that it replaces, the newest first. */
function olderEditions(products: RuleBook['products']): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const { id } of products.values()) {
    const all: string[] = [];
    for (let at = products.get(id)?.supersedes ?? null; at !== null && at !== id && !all.includes(at);) {
      all.push(at);
      at = products.get(at)?.supersedes ?? null;
    }
    if (all.length > 0) found.set(id, all);
  }
  // A need that is taken away by a newer edition still takes away those of the older ones, so these go first.
  return new Map([...found].sort(([, a], [, b]) => a.length - b.length));
}

/** What of it is left outside of the spans. */
const without = <S extends Span>(all: S, spans: readonly Span[]): S[] =>
  spans.reduce<S[]>(
    (parts, { from, to }) =>
      parts.flatMap((part) =>
        to <= part.from || from >= part.to
          ? [part]
          : [
              { ...part, to: from },
              { ...part, from: to },
            ].filter((rest) => rest.from < rest.to),
      ),
    [all],
  );

export interface Entitled {
  /** The rules that say so. */
  rules: Rule[];
  /** The newer edition to which they are entitled instead; null: to this one. */
  insteadId: string | null;
}
/** By product, why somebody is entitled on a day; products that no rule gives them are left out. */
export function entitledBy(one: Holder, book: RuleBook, day: Day): Map<string, Entitled> {
  const found = new Map<string, Entitled>();
  const on = (rules: readonly Rule[]) => needs([one], { ...book, rules }, { from: day, to: day + 1 });
  for (const rule of book.rules) {
    if (on([rule]).size === 0) continue;
    const known = found.get(rule.productId);
    if (known) known.rules.push(rule);
    else found.set(rule.productId, { rules: [rule], insteadId: null });
  }
  const needed = on(book.rules);
  for (const [newer, older] of olderEditions(book.products))
    for (const id of needed.has(newer) ? older : []) {
      const of = found.get(id);
      if (of && !needed.has(id)) of.insteadId = newer;
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
