/**
 * The seats of one product through the year. At each day on which something changes (a license begins or ends, a
 * need begins or ends) the best allocation of that day is made from what is held then; in between nothing moves.
 */
import { allocate, type Claim, type Pool } from './allocate';
import type { Day } from './days';
import type { Need, Span } from './needs';

export interface PoolSpan extends Pool, Span {
  licenseId: string;
}
/** A seat as it stands. It ends with its license at the latest. */
export interface Held extends Span {
  seatId: string;
  who: number;
  /** Index of the pool. */
  pool: number;
}
export interface Question {
  pools: readonly PoolSpan[];
  needs: readonly Need[];
  held: readonly Held[];
  /** Today, and the end of what is looked at. */
  window: Span;
  /** Who uses what they hold, by index of the person. */
  uses: (who: number) => boolean;
  /** Who can use nothing (on hold, no longer here). */
  stopped: (who: number) => boolean;
  /** Takes back all that nobody needs or uses, not just what others need. */
  sweep: boolean;
  /** Where somebody is at school, for who holds a seat and needs none. */
  schoolOf: (who: number) => string | null;
}
export interface Given extends Span {
  who: number;
  pool: number;
  /** Another seat of theirs is taken, or its license ends. */
  instead: boolean;
}
/** `more urgent`: entitled, but others are more so. */
export type TakenWhy = 'stopped' | 'not entitled' | 'moves' | 'more urgent';
export interface Taken {
  held: Held;
  at: Day;
  why: TakenWhy;
}
export interface Short extends Span {
  count: number;
  bySchool: Map<string, number>;
}
export interface Proposal {
  given: Given[];
  taken: Taken[];
  /** Days on which not everyone can be served, whatever is done. */
  short: Short[];
}

/** Who has what while the year goes by. */
interface Person {
  needs: Need[];
  /** Pool of the seat they have now; -1: none. */
  pool: number;
  seat: Held | null;
  given: Given | null;
  had: boolean;
}

/** A seat counts while its license runs. */
export const whileValid = (
  { pool, from, to }: Pick<Held, 'pool' | 'from' | 'to'>,
  pools: readonly PoolSpan[],
): Span => ({
  from: Math.max(from, pools[pool]!.from),
  to: Math.min(to, pools[pool]!.to),
});

/** Days on which something changes, the first day of the window among them. */
export function daysOfChange({
  pools,
  needs,
  held,
  window,
}: Pick<Question, 'pools' | 'needs' | 'held' | 'window'>): Day[] {
  const days = new Set<Day>([window.from]);
  const add = (day: Day) => day > window.from && day < window.to && days.add(day);
  for (const list of [pools, needs, held] as readonly (readonly Span[])[])
    for (const { from, to } of list) {
      add(from);
      add(to);
    }
  return [...days].sort((a, b) => a - b);
}

export function propose(question: Question): Proposal {
  const { pools, window } = question;
  const people = new Map<number, Person>();
  const person = (who: number): Person => {
    let one = people.get(who);
    if (!one) people.set(who, (one = { needs: [], pool: -1, seat: null, given: null, had: false }));
    return one;
  };
  for (const need of question.needs) person(need.who).needs.push(need);
  // Seats that begin later are held from then on, each when its day comes.
  const later = question.held
    .map((seat) => ({ ...seat, ...whileValid(seat, pools) }))
    .filter(({ from, to }) => from < to)
    .sort((a, b) => a.from - b.from);
  for (const { who } of later) person(who);
  const result: Proposal = { given: [], taken: [], short: [] };
  let nextSeat = 0;

  const take = (one: Person, at: Day, why: TakenWhy): void => {
    if (one.seat) result.taken.push({ held: one.seat, at, why });
    else if (one.given) one.given.to = at;
    Object.assign(one, { pool: -1, seat: null, given: null });
  };

  const withoutNeed = (who: number): TakenWhy => (question.stopped(who) ? 'stopped' : 'not entitled');

  for (const day of daysOfChange(question)) {
    const open = pools.map(({ from, to, seats }) => (from <= day && day < to ? seats : 0));
    for (const one of people.values()) {
      one.had = one.pool >= 0 && (one.seat ?? one.given!).to <= day;
      if (one.had) Object.assign(one, { pool: -1, seat: null, given: null });
    }
    for (; nextSeat < later.length && later[nextSeat]!.from <= day; nextSeat++) {
      const seat = later[nextSeat]!;
      const one = person(seat.who);
      if (seat.to <= day) continue;
      // Two seats of one product: the one that came first stays.
      if (one.pool >= 0) result.taken.push({ held: seat, at: Math.max(day, seat.from), why: 'moves' });
      else Object.assign(one, { pool: seat.pool, seat, given: null });
    }
    const claims: Claim[] = [];
    const claimants: { who: number; one: Person }[] = [];
    for (const [who, one] of people) {
      const need = one.needs.find(({ from, to }) => from <= day && day < to);
      if (!need && one.pool < 0) continue;
      const uses = one.seat !== null && !question.stopped(who) && question.uses(who);
      if (question.sweep && !need && !uses) {
        take(one, day, withoutNeed(who));
        continue;
      }
      const schoolId = need?.schoolId ?? question.schoolOf(who);
      claims.push({ schoolId, urgency: need?.urgency ?? 0, held: one.pool, uses, had: one.had });
      claimants.push({ who, one });
    }
    const { pools: next, unmet } = allocate(
      pools.map(({ schoolId }, i) => ({ schoolId, seats: open[i]! })),
      claims,
    );
    const lacking = new Map<string, number>();
    claimants.forEach(({ who, one }, i) => {
      const to = next[i]!;
      const { schoolId, urgency } = claims[i]!;
      if (to < 0 && urgency > 0) lacking.set(schoolId!, (lacking.get(schoolId!) ?? 0) + 1);
      if (to === one.pool) return;
      const instead = one.pool >= 0 || one.had;
      if (one.pool >= 0) take(one, day, to >= 0 ? 'moves' : urgency > 0 ? 'more urgent' : withoutNeed(who));
      if (to < 0) return;
      const given: Given = { who, pool: to, from: day, to: pools[to]!.to, instead };
      result.given.push(given);
      Object.assign(one, { pool: to, seat: null, given });
    });
    shortFrom(result.short, day, window.to, unmet, lacking);
  }
  return result;
}

/** From this day on so many are short; the same as before goes on. */
function shortFrom(short: Short[], day: Day, end: Day, count: number, bySchool: Map<string, number>): void {
  const last = short.at(-1);
  const goesOn = last?.to === end;
  if (goesOn && last.count === count && [...bySchool].every(([id, n]) => last.bySchool.get(id) === n)) return;
  if (goesOn) last.to = day;
  if (count > 0) short.push({ from: day, to: end, count, bySchool });
}
