/**
 * What applying means, on a state held in memory: the reference that the database's applier is checked against.
 * A plan applies as a whole or not at all; what stands in its way is named, change by change.
 */
import { say } from '#core/messages/say';
import { type Change, type Fields, keyOf, type Plan, type Value } from './change';

export type Table = Map<string, Fields>;
export type State = Map<string, Table>;

export interface Conflict {
  /** Key of the change, see keyOf. */
  key: string;
  label: string;
  /** What is in the way, in words. */
  message: string;
  /** Whom or what the change is about. */
  subject?: string;
  /** The row that is in the way, "loan:01…". */
  row?: string;
  /** The plan that made it so since this one was made. */
  by?: { planId: string; title: string };
}

/** How a field and what stands in it are told to people. */
export interface Telling {
  /** One of an entity. */
  noun: (entity: string) => string;
  field: (entity: string, field: string) => string;
  value: (field: string, value: Value) => string;
}
export const plainly: Telling = {
  noun: (entity) => entity,
  field: (_, field) => field,
  value: (_, value) => (value === null ? 'empty' : `“${value}”`),
};

/**
 * Whether the row is already as the change would leave it, though not as the change expected it: somebody did the same
 * meanwhile. Mapped over that, nothing is left of the change to be done, nor to be undone. A row to be made is another one.
 */
export const isSoAlready = ({ op, before, after }: Change, row: Fields | undefined): boolean =>
  op === 'purge'
    ? row === undefined
    : op !== 'create' &&
      row !== undefined &&
      Object.entries(after).every(([field, value]) => (row[field] ?? null) === value) &&
      Object.entries(before).every(([field, value]) => field in after || (row[field] ?? null) === value);

/** What stands in the way of one change on the row as it is now; null when nothing does. */
export function conflictOf(change: Change, row: Fields | undefined, telling: Telling = plainly): Conflict | null {
  const { entity, id, label, subject } = change;
  const conflict = (message: string): Conflict => ({
    ...{ key: keyOf(change), label, message },
    ...{ subject, row: `${entity}:${id}` },
  });
  if (change.op === 'create')
    return row ? conflict(say('plan.thisAlreadyExists', { what: telling.noun(entity) })) : null;
  if (!row) return conflict(say('plan.thisNoLongerExists', { what: telling.noun(entity) }));
  for (const [field, expected] of Object.entries(change.before)) {
    const found = row[field] ?? null;
    if (found !== expected) {
      const [now, before] = [found, expected].map((value) => telling.value(field, value));
      return conflict(say('plan.isNowButThePlan', { field: telling.field(entity, field), now, before }));
    }
  }
  return null;
}

/** Applies to a copy. Returns the new state, or the conflicts and leaves the state alone. */
export function applyTo(state: State, plan: Plan): { state: State } | { conflicts: Conflict[] } {
  const next: State = new Map([...state].map(([entity, table]) => [entity, new Map(table)]));
  const conflicts: Conflict[] = [];
  for (const change of plan.changes) {
    const table = next.get(change.entity) ?? new Map<string, Fields>();
    next.set(change.entity, table);
    const row = table.get(change.id);
    const conflict = conflictOf(change, row);
    if (conflict) conflicts.push(conflict);
    else if (change.op === 'purge') table.delete(change.id);
    else table.set(change.id, { ...row, ...change.after });
  }
  return conflicts.length > 0 ? { conflicts } : { state: next };
}
