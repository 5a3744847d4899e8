/** A plan in counts, kind by kind. */
import { type Change, kindOf, type Op } from './change';

export interface KindCount {
  kind: string;
  entity: string;
  op: Op;
  /** Fields set, for updates. */
  fields: string[];
  count: number;
}

export interface Summary {
  total: number;
  /** In the order in which the kinds first occur. */
  kinds: KindCount[];
}

/** Counts changes one by one, for those who need not keep them. */
export class Tally {
  private readonly kinds = new Map<string, KindCount>();
  private total = 0;

  add(change: Change): void {
    this.total++;
    const kind = kindOf(change);
    const counted = this.kinds.get(kind);
    if (counted) counted.count++;
    else {
      const fields = change.op === 'update' ? Object.keys(change.after).sort() : [];
      this.kinds.set(kind, { kind, entity: change.entity, op: change.op, fields, count: 1 });
    }
  }
  get summary(): Summary {
    return { total: this.total, kinds: [...this.kinds.values()] };
  }
}

export function summarise(changes: Iterable<Change>): Summary {
  const tally = new Tally();
  for (const change of changes) tally.add(change);
  return tally.summary;
}
