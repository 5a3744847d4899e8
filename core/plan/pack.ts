/**
 * Changes of one kind written as columns: a district's first import is a million changes, of which most words would
 * be the same. What does not fit is written change by change.
 */
import type { Change, Fields, Op, Value } from './change';

/** One value for all; the same as another column; few values by number; or each by itself. */
type Column = { all: Value } | { as: number } | { words: Value[]; of: number[] } | Value[];

interface Packed {
  v: 3;
  entity: string;
  op: Op;
  before: string[];
  after: string[];
  source: string | null;
  count: number;
  /** How many rows each change needs; null: none says so. */
  needs: number | null;
  /** id, label, subject, reason, line, the values before and after, then the ids needed. */
  columns: Column[];
}

const fixed = 5;

/** The changes as text; `unpack` gives them back as they were. */
export function pack(changes: readonly Change[]): string {
  const [first] = changes;
  if (!first || !changes.every((change) => fits(first, change))) return JSON.stringify(changes);
  const [before, after] = [Object.keys(first.before), Object.keys(first.after)];
  const needs = first.needs?.length ?? null;
  const lists: Value[][] = [
    changes.map((c) => c.id),
    changes.map((c) => c.label),
    changes.map((c) => c.subject),
    changes.map((c) => c.reason),
    changes.map((c) => c.origin?.line ?? 0),
    ...before.map((field) => changes.map((c) => c.before[field]!)),
    ...after.map((field) => changes.map((c) => c.after[field]!)),
    ...Array.from({ length: needs ?? 0 }, (_, i) => changes.map((c) => c.needs![i]!)),
  ];
  const packed: Packed = {
    v: 3,
    entity: first.entity,
    op: first.op,
    before,
    after,
    source: first.origin?.source ?? null,
    count: changes.length,
    needs,
    columns: lists.map((list, i) => columnOf(list, lists.slice(0, i))),
  };
  return JSON.stringify(packed);
}

function columnOf(list: Value[], earlier: Value[][]): Column {
  const [head] = list;
  if (list.every((value) => value === head)) return { all: head! };
  const as = earlier.findIndex((other) => list.every((value, i) => value === other[i]));
  if (as >= 0) return { as };
  const words = new Map<Value, number>();
  const of: number[] = [];
  for (const value of list) {
    let at = words.get(value);
    if (at === undefined) words.set(value, (at = words.size));
    if (words.size * 3 > list.length) return list;
    of.push(at);
  }
  return { words: [...words.keys()], of };
}

function fits(first: Change, { entity, op, before, after, origin, evidence, needs }: Change): boolean {
  return (
    entity === first.entity &&
    op === first.op &&
    evidence === undefined &&
    origin?.source === first.origin?.source &&
    needs?.length === first.needs?.length &&
    sameKeys(before, first.before) &&
    sameKeys(after, first.after)
  );
}

function sameKeys(a: Fields, b: Fields): boolean {
  const [x, y] = [Object.keys(a), Object.keys(b)];
  return x.length === y.length && x.every((key, i) => key === y[i] && a[key] !== undefined);
}

export function unpack(text: string): Change[] {
  const read = JSON.parse(text) as Packed | Change[];
  if (Array.isArray(read)) return read;
  const { entity, op, before, after, source, needs, count } = read;
  const columns: ((i: number) => Value)[] = [];
  for (const column of read.columns) columns.push(readerOf(column, columns));
  const [id, label, subject, reason, line] = columns as ((i: number) => string)[];
  const named = (names: string[], from: number) => names.map((name, k) => [name, columns[from + k]!] as const);
  const [old, now] = [named(before, fixed), named(after, fixed + before.length)];
  const needed = columns.slice(fixed + before.length + after.length) as ((i: number) => string)[];
  const fields = (of: typeof old, i: number): Fields => {
    const made: Fields = {};
    for (const [name, value] of of) made[name] = value(i);
    return made;
  };
  return Array.from({ length: count }, (_, i) => {
    const change: Change = {
      entity,
      id: id!(i),
      op,
      before: fields(old, i),
      after: fields(now, i),
      reason: reason!(i),
      label: label!(i),
      subject: subject!(i),
    };
    if (needs !== null) change.needs = needed.map((value) => value(i));
    if (source !== null) change.origin = { source };
    const at = Number(line!(i));
    if (at !== 0) change.origin!.line = at;
    return change;
  });
}

function readerOf(column: Column, earlier: ((i: number) => Value)[]): (i: number) => Value {
  if (Array.isArray(column)) return (i) => column[i]!;
  if ('all' in column) return () => column.all;
  if ('as' in column) return earlier[column.as]!;
  return (i) => column.words[column.of[i]!]!;
}
