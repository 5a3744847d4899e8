/** A plan told line by line, for tests: what is made, changed and ended, with the names of what it is about instead of ids. */
import type { Change, Fields } from './change';

/** `nameOf`: the name of a row that is there already, by its id. Rows that the plan makes are called by their labels. */
export function planLines(changes: readonly Change[], nameOf: (id: string) => string | undefined): string[] {
  const made = new Map(
    changes.flatMap((c) => (c.op === 'create' ? [[c.id, `new ${c.entity} ${c.label}`] as const] : [])),
  );
  const call = (value: Fields[string]) =>
    typeof value === 'string' ? (made.get(value) ?? nameOf(value) ?? value) : String(value);
  const list = (fields: Fields) =>
    Object.entries(fields)
      .map(([key, value]) => `${key}=${call(value)}`)
      .join(' ');
  return changes.map(
    ({ entity, op, id, before, after, reason, label, subject, origin, needs }) =>
      `${op} ${entity} ${op === 'create' ? '' : call(id)} [${label}] ${op === 'create' ? list(after) : `${list(before)} → ${list(after)}`} (${reason}) about ${call(subject)}${origin ? ` from ${origin.source}:${origin.line ?? '-'}` : ''}${needs && needs.length > 0 ? ` needs ${needs.map(call).join(', ')}` : ''}`,
  );
}
