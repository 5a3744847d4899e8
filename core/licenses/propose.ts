/**
 * The seats of one product through the year. At each day on which something changes (a license begins or ends, a
 * need begins or ends) the best allocation of that day is made from what is held then; in between nothing moves.
 */
import { type Alike, allocateAlike, type Pool, reachOf } from './allocate';
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
  who: number;
  needs: Need[];
  /** The need of today. */
  need: Need | null;
  /** Pool of the seat they have now; -1: none. */
  pool: number;
  seat: Held | null;
  given: Given | null;
  /** Had a seat until today, of a license that ended. */
  had: boolean;
  /** Keeps the seat, since it is used. */
  keeps: boolean;
  group: Group | null;
}
interface Group extends Alike {
  members: Set<Person>;
  /** How many of them by the school of their need, so that who lacks a seat need not be counted anew each day. */
  schools: Map<string, number>;
}
const count = (counts: Map<string, number>, key: string, by: number): void =>
  void counts.set(key, (counts.get(key) ?? 0) + by);

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
  return new Proposer(question).run();
}

/**
 * Goes from day to day of change. Only whom something happens to that day is looked at: everyone else stays in the
 * group of those who are alike, and what a group gets is asked once for all of it.
 */
class Proposer {
  private readonly people = new Map<number, Person>();
  private readonly groups = new Map<string, Group>();
  private readonly reaches = new Map<string | null, { key: string; reach: number[] }>();
  /** By pool: who has a seat of it, and how many of them keep it. */
  private readonly holders: Set<Person>[];
  private readonly kept: number[];
  /** Whom something happens to, by day; and seats that begin. */
  private readonly events = new Map<Day, { people: Set<Person>; seats: Held[] }>();
  private readonly result: Proposal = { given: [], taken: [], short: [] };
  private touched = new Set<Person>();

  constructor(private readonly question: Question) {
    const { pools, window } = question;
    this.holders = pools.map(() => new Set<Person>());
    this.kept = pools.map(() => 0);
    const at = (day: Day) => {
      const from = Math.max(day, window.from);
      let event = this.events.get(from);
      if (!event) this.events.set(from, (event = { people: new Set(), seats: [] }));
      return event;
    };
    for (const need of question.needs) {
      const one = this.person(need.who);
      one.needs.push(need);
      at(need.from).people.add(one);
      at(need.to).people.add(one);
    }
    for (const seat of question.held) {
      const span = { ...seat, ...whileValid(seat, pools) };
      if (span.from >= span.to || span.to <= window.from) continue;
      at(span.from).seats.push(span);
      at(span.to).people.add(this.person(seat.who));
    }
    for (const { seats } of this.events.values()) seats.sort((a, b) => a.from - b.from);
  }

  private person(who: number): Person {
    let one = this.people.get(who);
    if (!one) {
      one = { who, needs: [], need: null, pool: -1, seat: null, given: null, had: false, keeps: false, group: null };
      this.people.set(who, one);
    }
    return one;
  }

  run(): Proposal {
    const { pools, window } = this.question;
    for (const day of daysOfChange(this.question)) {
      const event = this.events.get(day);
      const before = this.touched;
      this.touched = new Set(event?.people);
      // Who had a seat yesterday is as others are from today on.
      for (const one of before) if (one.had) this.touched.add(one);
      for (const one of this.touched) one.had = false;
      pools.forEach((pool, i) => pool.to <= day && this.holders[i]!.forEach((one) => this.touched.add(one)));
      for (const one of this.touched) if (one.pool >= 0 && (one.seat ?? one.given!).to <= day) this.drop(one);
      for (const seat of event?.seats ?? []) this.begin(seat, day);
      for (const one of this.touched) this.place(one, day);
      this.settle(day, window.to);
    }
    return this.result;
  }

  private hold(one: Person, pool: number, seat: Held | null, given: Given | null): void {
    Object.assign(one, { pool, seat, given });
    this.holders[pool]!.add(one);
    one.keeps = seat !== null && !this.question.stopped(one.who) && this.question.uses(one.who);
    if (one.keeps) this.kept[pool]!++;
  }
  private letGo(one: Person): void {
    this.holders[one.pool]!.delete(one);
    if (one.keeps) this.kept[one.pool]!--;
    Object.assign(one, { pool: -1, seat: null, given: null, keeps: false });
  }
  /** The seat ended. */
  private drop(one: Person): void {
    this.letGo(one);
    one.had = true;
  }
  private begin(seat: Held, day: Day): void {
    const one = this.person(seat.who);
    this.touched.add(one);
    // Two seats of one product: the one that came first stays.
    if (one.pool >= 0) this.result.taken.push({ held: seat, at: Math.max(day, seat.from), why: 'moves' });
    else this.hold(one, seat.pool, seat, null);
  }
  private take(one: Person, at: Day, why: TakenWhy): void {
    if (one.seat) this.result.taken.push({ held: one.seat, at, why });
    else if (one.given) one.given.to = at;
    this.letGo(one);
  }
  private withoutNeed = (one: Person): TakenWhy => (this.question.stopped(one.who) ? 'stopped' : 'not entitled');

  /** Puts somebody into the group of those who are alike today; into none where nothing is to be decided. */
  private place(one: Person, day: Day): void {
    if (one.group) {
      one.group.members.delete(one);
      if (one.need) count(one.group.schools, one.need.schoolId, -1);
      one.group = null;
    }
    one.need = one.needs.find(({ from, to }) => from <= day && day < to) ?? null;
    if (this.question.sweep && one.pool >= 0 && !one.need && !one.keeps) this.take(one, day, this.withoutNeed(one));
    if (one.keeps || (!one.need && one.pool < 0)) return;
    const school = one.need?.schoolId ?? this.question.schoolOf(one.who);
    let at = this.reaches.get(school);
    if (!at) {
      const reach = reachOf(this.question.pools, school);
      this.reaches.set(school, (at = { key: reach.join(), reach }));
    }
    const urgency = one.need?.urgency ?? 0;
    const key = `${at.key}|${urgency}|${one.pool}|${one.had}`;
    let group = this.groups.get(key);
    if (!group) {
      group = {
        reach: at.reach,
        urgency,
        held: one.pool,
        had: one.had,
        count: 0,
        members: new Set(),
        schools: new Map(),
      };
      this.groups.set(key, group);
    }
    group.members.add(one);
    if (one.need) count(group.schools, one.need.schoolId, 1);
    one.group = group;
  }

  /** Gives and takes as is best today. */
  private settle(day: Day, end: Day): void {
    const { pools } = this.question;
    const groups = [...this.groups.values()].filter(({ members }) => members.size > 0);
    for (const group of groups) group.count = group.members.size;
    const open = pools.map(({ from, to, seats, schoolId }, i) => ({
      schoolId,
      seats: from <= day && day < to ? seats - this.kept[i]! : 0,
    }));
    // Everyone who is concerned has a seat that they may keep, and there are seats for all of them.
    const rests = groups.every(({ held, reach }) => held >= 0 && reach.includes(held));
    if (rests && open.every(({ seats }, i) => this.holders[i]!.size - this.kept[i]! <= seats))
      return shortFrom(this.result.short, day, end, 0, new Map());
    const shares = allocateAlike(open, groups);
    const lacking = new Map<string, number>();
    let unmet = 0;
    const moved: { one: Person; to: number }[] = [];
    groups.forEach(({ members, held, urgency, schools }, g) => {
      // Whoever has none lacks one, but for those who get one now. Who stays as they are is not looked at.
      if (held < 0) for (const [school, n] of schools) if (n > 0) count(lacking, school, n);
      const each = members.values();
      for (const share of shares[g]!) {
        if (share.pool < 0 && urgency > 0) unmet += share.count;
        if (share.pool === held) continue;
        for (let i = 0; i < share.count; i++) {
          const one = each.next().value!;
          if (one.need && held < 0) count(lacking, one.need.schoolId, -1);
          if (one.need && share.pool < 0) count(lacking, one.need.schoolId, 1);
          moved.push({ one, to: share.pool });
        }
      }
    });
    for (const [school, n] of lacking) if (n === 0) lacking.delete(school);
    for (const { one, to } of moved) {
      const instead = one.pool >= 0 || one.had;
      if (one.pool >= 0) this.take(one, day, to >= 0 ? 'moves' : one.need ? 'more urgent' : this.withoutNeed(one));
      if (to >= 0) {
        const given: Given = { who: one.who, pool: to, from: day, to: pools[to]!.to, instead };
        this.result.given.push(given);
        this.hold(one, to, null, given);
      }
      this.place(one, day);
    }
    shortFrom(this.result.short, day, end, unmet, lacking);
  }
}

/** From this day on so many are short; the same as before goes on. */
function shortFrom(short: Short[], day: Day, end: Day, count: number, bySchool: Map<string, number>): void {
  const last = short.at(-1);
  const goesOn = last?.to === end;
  if (goesOn && last.count === count && [...bySchool].every(([id, n]) => last.bySchool.get(id) === n)) return;
  if (goesOn) last.to = day;
  if (count > 0) short.push({ from: day, to: end, count, bySchool });
}
