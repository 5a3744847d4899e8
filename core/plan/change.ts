/**
 * A change is the smallest thing that happens to the register: one row of one entity, with what must be true
 * before (`before`) and what it sets (`after`). A plan is a list of changes in the order in which they apply.
 * Everything else in this folder is a function over plans.
 */
export type Value = string | number | null;
export type Fields = Record<string, Value>;

/** `create` and `purge` are each other's inverse, as are `end` and `restore`; `update` is inverted by swapping. */
export type Op = 'create' | 'update' | 'end' | 'restore' | 'purge';

export interface Origin {
  /** Where it came from, in words: a file's name, a verb on the sheaf. */
  source: string;
  /** The line of the file where the record starts, counted from 1. */
  line?: number;
}

export interface Change {
  entity: string;
  id: string;
  op: Op;
  /** The fields that must hold for the change to apply. All fields for `purge`, none for `create`. */
  before: Fields;
  /** The fields that the change sets. All fields for `create`, none for `purge`. */
  after: Fields;
  /** Why, in words for the person who looks at the plan. */
  reason: string;
  /** Whom or what it is about as people see it, for instance "Anstruther, Wren · 004120". */
  label: string;
  /** Id of the person or class that it is about: changes of one subject are looked at and taken out together. */
  subject: string;
  /** Ids of rows that the plan creates and without which this change makes no sense. */
  needs?: string[];
  evidence?: string;
  origin?: Origin;
}

export interface Plan {
  changes: Change[];
}

/** Names a change within its plan: one plan changes a row with one operation at most once. */
export const keyOf = (change: Change): string => `${change.entity}:${change.id}:${change.op}`;

/** Kinds by entity and operation: the same text each time, so that it is compared and looked up at once. */
const kinds = new Map<string, Partial<Record<Op, string>>>();

/** The kind under which changes are counted and paged: entity, operation and, for updates, the fields set. */
export function kindOf({ entity, op, after }: Change): string {
  let known = kinds.get(entity);
  if (!known) kinds.set(entity, (known = {}));
  const base = (known[op] ??= `${entity}.${op}`);
  return op === 'update' ? `${base}:${Object.keys(after).sort().join('+')}` : base;
}

/** What somebody took out of a plan before applying it. */
export interface TakenOut {
  keys?: string[];
  kinds?: string[];
  subjects?: string[];
}

/**
 * Tells, change by change in the plan's order, whether it is still in: not taken out itself, and not in need of a
 * row that is no longer made. Changes that need a row come after the one that makes it, so one pass is enough.
 */
export function keeper(out: TakenOut): (change: Change) => boolean {
  const keys = new Set(out.keys ?? []);
  const kinds = new Set(out.kinds ?? []);
  const subjects = new Set(out.subjects ?? []);
  const gone = new Set<string>();
  return (change) => {
    const taken =
      keys.has(keyOf(change)) ||
      kinds.has(kindOf(change)) ||
      subjects.has(change.subject) ||
      (change.needs?.some((id) => gone.has(id)) ?? false);
    if (taken && change.op === 'create') gone.add(change.id);
    return !taken;
  };
}

export const without = (plan: Plan, out: TakenOut): Plan => ({ changes: plan.changes.filter(keeper(out)) });
