/** What takes long to count is kept: it is shown as of then at once, and counted anew behind what is shown. */
import { nowIso } from '../clock';

export interface Counted<T> {
  value: T;
  /** When it was counted. */
  at: string;
  /** It is older than it should be and is being counted anew. */
  anew: boolean;
}

export interface Keeping {
  /** Counting that takes longer than this is kept, ms. */
  slow: number;
  /** How long what is kept is as good as new, ms. */
  fresh: number;
  /** So many are kept, the ones that were asked for last. */
  most: number;
}

export class KeptCounts<T> {
  private readonly kept = new Map<string, { value: T; at: string; since: number }>();
  private readonly running = new Map<string, Promise<Counted<T>>>();

  constructor(private readonly keeping: Keeping = { slow: 1500, fresh: 120_000, most: 2 }) {}

  /** `key` says what is counted, for whom. Those who ask for the same at once wait for one counting. */
  async get(key: string, count: () => Promise<T>): Promise<Counted<T>> {
    const kept = this.kept.get(key);
    if (!kept) return this.count(key, count);
    const anew = performance.now() - kept.since > this.keeping.fresh;
    // Whoever comes next asks again if this fails.
    if (anew) this.count(key, count).catch(() => {});
    this.kept.delete(key);
    this.kept.set(key, kept);
    return { value: kept.value, at: kept.at, anew };
  }

  private count(key: string, count: () => Promise<T>): Promise<Counted<T>> {
    const running = this.running.get(key);
    if (running) return running;
    const counting = this.keep(key, count).finally(() => this.running.delete(key));
    this.running.set(key, counting);
    return counting;
  }

  private async keep(key: string, count: () => Promise<T>): Promise<Counted<T>> {
    const [at, since] = [nowIso(), performance.now()];
    const value = await count();
    this.kept.delete(key);
    if (performance.now() - since >= this.keeping.slow) this.kept.set(key, { value, at, since });
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= this.keeping.most) break;
      this.kept.delete(oldest);
    }
    return { value, at, anew: false };
  }
}
