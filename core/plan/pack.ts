/**
 * Changes of one kind written once as columns and then as rows: a district's first import is a million changes, of
 * which most words would be the same. What does not fit is written change by change.
 */
import type { Change, Fields, Op, Value } from './change';

interface Packed {
  v: 2;
  entity: string;
  op: Op;
  before: string[];
  after: string[];
  source: string | null;
  /** id, label, subject, reason, line or 0, needs or 0, then the values before and after. */
  rows: (Value | string[] | 0)[][];
}

/** The changes as text; `unpack` gives them back as they were. */
export function pack(changes: readonly Change[]): string {
  const [first] = changes;
  if (!first || !changes.every((change) => fits(first, change))) return JSON.stringify(changes);
  const [before, after] = [Object.keys(first.before), Object.keys(first.after)];
  const packed: Packed = {
    v: 2,
    entity: first.entity,
    op: first.op,
    before,
    after,
    source: first.origin?.source ?? null,
    rows: changes.map((c) => [
      c.id,
      c.label,
      c.subject,
      c.reason,
      c.origin?.line ?? 0,
      c.needs ?? 0,
      ...before.map((field) => c.before[field]!),
      ...after.map((field) => c.after[field]!),
    ]),
  };
  return JSON.stringify(packed);
}

function fits(first: Change, { entity, op, before, after, origin, evidence }: Change): boolean {
  return (
    entity === first.entity &&
    op === first.op &&
    evidence === undefined &&
    origin?.source === first.origin?.source &&
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
  const { entity, op, before, after, source, rows } = read;
  const fields = (names: string[], row: Packed['rows'][number], from: number): Fields => {
    const made: Fields = {};
    names.forEach((name, i) => (made[name] = row[from + i] as Value));
    return made;
  };
  return rows.map((row) => {
    const [id, label, subject, reason, line, needs] = row as [string, string, string, string, number, string[] | 0];
    const change: Change = {
      entity,
      id,
      op,
      before: fields(before, row, 6),
      after: fields(after, row, 6 + before.length),
      reason,
      label,
      subject,
    };
    if (needs !== 0) change.needs = needs;
    if (source !== null) change.origin = line === 0 ? { source } : { source, line };
    return change;
  });
}
