/** A plan in counts and in words: what the line at the foot of the plan sheet says before Apply. */
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

const nouns: Record<string, [one: string, many: string]> = {
  person: ['person', 'people'],
  affiliation: ['place at a school', 'places at schools'],
  class: ['class', 'classes'],
  enrollment: ['enrollment', 'enrollments'],
  account: ['account', 'accounts'],
  school: ['school', 'schools'],
};

const verbs: Record<Op, string> = {
  create: 'adds',
  update: 'changes',
  end: 'ends',
  restore: 'restores',
  purge: 'removes',
};

/** "12 people", "1 class": a count with its noun. */
function counted(count: number, entity: string): string {
  const [one, many] = nouns[entity] ?? [entity, `${entity}s`];
  return `${count.toLocaleString('en-US')} ${count === 1 ? one : many}`;
}

/** "Adds 12 people and 12 accounts, changes 40 people, ends 3 enrollments." Empty plans: "Changes nothing." */
export function sentence(summary: Summary): string {
  const byOp = new Map<Op, Map<string, number>>();
  for (const { op, entity, count } of summary.kinds) {
    const entities = byOp.get(op) ?? new Map<string, number>();
    byOp.set(op, entities.set(entity, (entities.get(entity) ?? 0) + count));
  }
  const parts = [...byOp].map(([op, entities]) => {
    const things = [...entities].map(([entity, count]) => counted(count, entity));
    const last = things.pop()!;
    return `${verbs[op]} ${things.length > 0 ? `${things.join(', ')} and ${last}` : last}`;
  });
  if (parts.length === 0) return 'Changes nothing.';
  const text = parts.join('; ');
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}
