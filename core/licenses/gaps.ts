/** What is not as it should be with a product: classes that lack what their grade has, idle seats, what must be bought. */
import type { License } from '#core/entities/index';
import type { Short } from './propose';

export interface ClassShare {
  classId: string;
  schoolId: string;
  grade: string;
  students: number;
  /** How many of them are entitled. */
  entitled: number;
}

/**
 * Classes in which fewer are entitled than in most of their grade: half of the classes of the grade at the school or
 * more have all, and these have only some or none. Returned with how many are missing.
 */
export function partial(classes: readonly ClassShare[]): (ClassShare & { missing: number })[] {
  const grades = new Map<string, ClassShare[]>();
  for (const one of classes) {
    if (one.students === 0) continue;
    const key = `${one.schoolId}|${one.grade}`;
    const list = grades.get(key);
    if (list) list.push(one);
    else grades.set(key, [one]);
  }
  return [...grades.values()].flatMap((list) => {
    const full = list.filter(({ entitled, students }) => entitled === students).length;
    if (full * 2 < list.length) return [];
    return list
      .filter(({ entitled, students }) => entitled < students)
      .map((one) => ({ ...one, missing: one.students - one.entitled }));
  });
}

/** The most that are short at once, and from when; null: nobody ever. */
export function worst(short: readonly Short[]): Short | null {
  return short.reduce<Short | null>((most, one) => (one.count > (most?.count ?? 0) ? one : most), null);
}

/** Cost of so many more seats in cents, at what a seat of the latest license that was paid for costs; null: unknown. */
export function priceOf(count: number, licenses: readonly License[]): number | null {
  const paid = licenses
    .filter(({ trial, costCents, seats }) => trial === 0 && (costCents ?? 0) > 0 && (seats ?? 0) > 0)
    .sort((a, b) => b.begins.localeCompare(a.begins))[0];
  return paid ? Math.ceil((count * paid.costCents!) / paid.seats!) : null;
}
