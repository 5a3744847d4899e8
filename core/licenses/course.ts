/** How a product stands over time: owned, needed and held, as steps that hold until the next one. */
import type { Pool } from './allocate';
import type { Day } from './days';
import { daysOfChange, type Question, whileValid } from './propose';
import type { Span } from './needs';

export interface Step {
  from: Day;
  /** Infinity: site-wide. */
  owned: number;
  needed: number;
  held: number;
}

/** Changes of a count by day; the sum up to a day is what stands then. */
class Sweep {
  private readonly by = new Map<Day, number>();
  add({ from, to }: Span, count: number): void {
    this.by.set(from, (this.by.get(from) ?? 0) + count);
    this.by.set(to, (this.by.get(to) ?? 0) - count);
  }
  /** What stands at each of the days, which are in order. */
  at(days: readonly Day[]): number[] {
    const events = [...this.by].sort(([a], [b]) => a - b);
    let [next, sum] = [0, 0];
    return days.map((day) => {
      for (; next < events.length && events[next]![0] <= day; next++) sum += events[next]![1];
      return sum;
    });
  }
}

/** The largest number held at once: by a sweep over begins and ends. */
export function busiest(spans: readonly Span[]): { day: Day; count: number } {
  const sweep = new Sweep();
  for (const span of spans) sweep.add(span, 1);
  const days = [...new Set(spans.map(({ from }) => from))].sort((a, b) => a - b);
  return sweep
    .at(days)
    .reduce((most, count, i) => (count > most.count ? { day: days[i]!, count } : most), { day: 0, count: 0 });
}

/** Equal steps are one. */
export function course(question: Pick<Question, 'pools' | 'needs' | 'held' | 'window'>): Step[] {
  const { pools, needs, held } = question;
  const days = daysOfChange(question);
  const [needed, holding, owning, wide] = [new Sweep(), new Sweep(), new Sweep(), new Sweep()];
  for (const need of needs) needed.add(need, 1);
  for (const seat of held) {
    const span = whileValid(seat, pools);
    if (span.from < span.to) holding.add(span, 1);
  }
  for (const pool of pools as readonly (Pool & Span)[])
    if (pool.seats === Infinity) wide.add(pool, 1);
    else owning.add(pool, pool.seats);
  const [n, h, o, w] = [needed.at(days), holding.at(days), owning.at(days), wide.at(days)];
  const steps: Step[] = [];
  days.forEach((from, i) => {
    const step = { from, owned: w[i]! > 0 ? Infinity : o[i]!, needed: n[i]!, held: h[i]! };
    const last = steps.at(-1);
    if (last?.owned !== step.owned || last.needed !== step.needed || last.held !== step.held) steps.push(step);
  });
  return steps;
}

/** How many more seats are held on a day than there are, license by license: a license was cut below what is in use. */
export function heldBeyond({ pools, held }: Pick<Question, 'pools' | 'held'>, day: Day): number {
  const on = ({ from, to }: Span) => from <= day && day < to;
  const counts = pools.map(() => 0);
  for (const seat of held) if (on(seat)) counts[seat.pool]!++;
  return pools.reduce((sum, pool, i) => sum + (on(pool) ? Math.max(0, counts[i]! - pool.seats) : 0), 0);
}
