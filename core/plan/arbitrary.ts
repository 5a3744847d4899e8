/** Random states, and random plans that apply to them, for property-based tests (also those of the server). */
import fc from 'fast-check';
import type { Random } from '#core/random/index';
import type { Change, Fields, Plan } from './change';
import type { State } from './apply';

export interface EntityShape {
  entity: string;
  /** Draws all fields of a new row; `pick` chooses an id of another entity's row, if there is one. */
  fresh: (r: Random, pick: (entity: string) => string | null) => Fields | null;
  /** Draws new values for some fields of a row that exists. */
  alter: (r: Random, row: Fields) => Fields;
  /** The field that ending sets. */
  endField?: string;
  /** Rows of other entities that refer to this one: entity and field. Such a row is not purged. */
  referredBy?: [entity: string, field: string][];
}

/** A plan of `size` changes at most that applies to `state`; each row is touched at most once. */
export function randomPlan(state: State, shapes: EntityShape[], size: number, r: Random, mint: () => string): Plan {
  const changes: Change[] = [];
  const touched = new Set<string>();
  const idsOf = (entity: string) => [...(state.get(entity)?.keys() ?? [])].filter((id) => !purged.has(id));
  const purged = new Set<string>();
  const add = (change: Omit<Change, 'reason' | 'label' | 'subject'>) => {
    touched.add(change.id);
    changes.push({ ...change, reason: 'random', label: change.id, subject: change.id });
  };
  for (let i = 0; i < size; i++) {
    const shape = shapes[r.below(shapes.length)]!;
    const table = state.get(shape.entity) ?? new Map<string, Fields>();
    const free = [...table.keys()].filter((id) => !touched.has(id));
    const choice = r.below(4);
    if (choice === 0 || free.length === 0) {
      const after = shape.fresh(r, (entity) => {
        const ids = idsOf(entity);
        const id = ids.length > 0 ? ids[r.below(ids.length)]! : null;
        if (id) touched.add(id);
        return id;
      });
      if (after) add({ entity: shape.entity, id: mint(), op: 'create', before: {}, after });
      continue;
    }
    const id = free[r.below(free.length)]!;
    const row = table.get(id)!;
    const end = shape.endField;
    if (choice === 1 && end) {
      const date = `2026-0${1 + r.below(9)}-1${r.below(10)}`;
      // Some ends say of another field, too, what it was.
      const others = Object.keys(row);
      const other = r.below(3) === 0 ? others[r.below(others.length)]! : end;
      if (row[end] === null)
        add({
          entity: shape.entity,
          id,
          op: 'end',
          before: { [other]: row[other] ?? null, [end]: null },
          after: { [end]: date },
        });
      else add({ entity: shape.entity, id, op: 'restore', before: { [end]: row[end]! }, after: { [end]: null } });
    } else if (choice === 2) {
      const inUse = shape.referredBy?.some(([entity, field]) =>
        [...(state.get(entity)?.values() ?? [])].some((other) => other[field] === id),
      );
      if (inUse) continue;
      purged.add(id);
      add({ entity: shape.entity, id, op: 'purge', before: { ...row }, after: {} });
    } else {
      const after = shape.alter(r, row);
      const before = Object.fromEntries(Object.keys(after).map((field) => [field, row[field] ?? null]));
      add({ entity: shape.entity, id, op: 'update', before, after });
    }
  }
  return { changes };
}

export const seeds = fc.integer({ min: 0, max: 2 ** 31 - 1 });
