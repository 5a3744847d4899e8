/** Use added up: by week, by product, by school, class or group, and who stands out. */

/** Finished so quickly that it was not worked on: less than this share of the time that it takes as a rule. */
export const hurriedShare = 1 / 3;
/** From how many finished materials on somebody is said to hurry. */
export const hurriedLeast = 3;

/**
 * Whether somebody hurries through: `quick` of the `timed` materials that they finished, and for which the time is
 * known, took less than the share above; half of them and no fewer than three make it.
 */
export const hurries = (timed: number, quick: number): boolean => timed >= hurriedLeast && quick * 2 >= timed;

/** What one person did with one product in the days asked for. */
export interface Used {
  personId: string;
  productId: string;
  /** Week by week; null: not used in that week, which is something else than no time told. */
  seconds: (number | null)[];
}
/** Of what somebody holds a seat of today: how many products, how many of them never used, how many not since the first day. */
export interface Held {
  held: number;
  never: number;
  idle: number;
}
/** Materials that somebody finished and whose time is known, and how many of them too quickly. */
export interface Paced {
  timed: number;
  quick: number;
}

export interface UseFacts {
  /** Those asked for, with what they are counted under: schools, classes or groups. */
  who: ReadonlyMap<string, readonly string[]>;
  used: readonly Used[];
  held: ReadonlyMap<string, Held>;
  paced: ReadonlyMap<string, Paced>;
  weeks: number;
}

/** How people stand: hold and never used, hold and not lately, hurry through, used in these days; `all` of them. */
export const standNames = ['never', 'idle', 'hurries', 'used', 'all'] as const;
export type Stand = (typeof standNames)[number];

/** People of each stand, in no order. */
export function standing({ who, used, held, paced }: UseFacts): Record<Stand, Set<string>> {
  const found: Record<Stand, Set<string>> = {
    ...{ never: new Set(), idle: new Set(), hurries: new Set(), used: new Set() },
    all: new Set(who.keys()),
  };
  for (const { personId } of used) if (who.has(personId)) found.used.add(personId);
  for (const [personId, { never, idle }] of held) {
    if (!who.has(personId)) continue;
    if (never > 0) found.never.add(personId);
    if (idle > 0) found.idle.add(personId);
  }
  for (const [personId, { timed, quick }] of paced)
    if (who.has(personId) && hurries(timed, quick)) found.hurries.add(personId);
  return found;
}

export interface UnitUse {
  students: number;
  /** Who holds a seat of any of the products. */
  seats: number;
  used: number;
  hurries: number;
  /** Seconds, week by week. */
  weeks: number[];
}
export interface UseSums {
  byWeek: { seconds: number; people: number }[];
  byProduct: Map<string, number[]>;
  units: Map<string, UnitUse>;
  counts: Record<Stand, number>;
}

/** Seconds and heads; somebody in two classes is counted in both, and once in all the rest. */
export function addUp(facts: UseFacts): UseSums {
  const { who, used, held, weeks } = facts;
  const nothing = () => Array.from({ length: weeks }, () => 0);
  const stands = standing(facts);
  const units = new Map<string, UnitUse>();
  for (const [personId, within] of who)
    for (const id of within) {
      let unit = units.get(id);
      if (!unit) units.set(id, (unit = { students: 0, seats: 0, used: 0, hurries: 0, weeks: nothing() }));
      unit.students++;
      if ((held.get(personId)?.held ?? 0) > 0) unit.seats++;
      if (stands.used.has(personId)) unit.used++;
      if (stands.hurries.has(personId)) unit.hurries++;
    }
  const byWeek = Array.from({ length: weeks }, () => ({ seconds: 0, people: 0 }));
  const byProduct = new Map<string, number[]>();
  // With several products somebody has several rows, and is one head in a week.
  const seen = Array.from({ length: weeks }, () => new Set<string>());
  for (const { personId, productId, seconds } of used) {
    const within = who.get(personId);
    if (!within) continue;
    let product = byProduct.get(productId);
    if (!product) byProduct.set(productId, (product = nothing()));
    for (let week = 0; week < weeks; week++) {
      const there = seconds[week]!;
      if (there === null) continue;
      product[week]! += there;
      byWeek[week]!.seconds += there;
      seen[week]!.add(personId);
      for (const id of within) units.get(id)!.weeks[week]! += there;
    }
  }
  byWeek.forEach((week, i) => (week.people = seen[i]!.size));
  const counts = {
    never: stands.never.size,
    idle: stands.idle.size,
    hurries: stands.hurries.size,
    used: stands.used.size,
    all: stands.all.size,
  };
  return { byWeek, byProduct, units, counts };
}
