/**
 * Two nights of the same file: which records are new, gone, or say something else. Lines that are the same to the
 * byte are set aside by their hash before anything is parsed, so the work grows with what changed.
 */
import type { RosterTable } from './table';

export interface TableDiff {
  /** sourcedIds. */
  created: string[];
  changed: { id: string; fields: string[] }[];
  removed: string[];
  /** Records that are the same. */
  same: number;
}

export function diffTables(before: RosterTable | null, after: RosterTable | null): TableDiff {
  const diff: TableDiff = { created: [], changed: [], removed: [], same: 0 };
  const sameHeader = before && after && before.header.join() === after.header.join();
  const rest = sameHeader ? setAside(before, after) : { before: all(before), after: all(after), same: 0 };
  diff.same = rest.same;
  const idOf = (table: RosterTable, i: number) => table.cells(i)[Math.max(0, table.column('sourcedId'))] ?? '';
  const old = new Map<string, number>();
  if (before) for (const i of rest.before) old.set(idOf(before, i), i);
  const seen = new Set<string>();
  if (after) {
    for (const j of rest.after) {
      const id = idOf(after, j);
      seen.add(id);
      const i = old.get(id);
      if (i === undefined) {
        diff.created.push(id);
        continue;
      }
      const fields = before ? changedFields(before, i, after, j) : [];
      if (fields.length > 0) diff.changed.push({ id, fields });
      else diff.same++;
    }
  }
  for (const id of old.keys()) if (!seen.has(id)) diff.removed.push(id);
  return diff;
}

const all = (table: RosterTable | null): number[] => (table ? Array.from({ length: table.count }, (_, i) => i) : []);

function changedFields(before: RosterTable, i: number, after: RosterTable, j: number): string[] {
  const [x, y] = [before.cells(i), after.cells(j)];
  const names = before.header === after.header ? before.header : [...new Set([...before.header, ...after.header])];
  return names.filter((name) => {
    const [p, q] = [before.column(name), after.column(name)];
    return (p < 0 ? '' : (x[p] ?? '')) !== (q < 0 ? '' : (y[q] ?? ''));
  });
}

/** Indexes of the records of each that the other does not have to the byte; with other columns, all of them. */
export function restOf(before: RosterTable | null, after: RosterTable | null): { before: number[]; after: number[] } {
  if (before && after && before.header.join() === after.header.join()) return setAside(before, after);
  return { before: all(before), after: all(after) };
}

/** Takes out the records that both have, whatever their order; what remains is by index. */
function setAside(before: RosterTable, after: RosterTable): { before: number[]; after: number[]; same: number } {
  const size = 1 << Math.max(4, Math.ceil(Math.log2(before.count * 2 + 1)));
  // Open addressing: the index of a record, or -1.
  const slots = new Int32Array(size).fill(-1);
  const hashes = new Int32Array(before.count);
  for (let i = 0; i < before.count; i++) {
    const hash = hashOf(before.bytes, ...before.span(i));
    hashes[i] = hash;
    let slot = hash & (size - 1);
    while (slots[slot] !== -1) slot = (slot + 1) & (size - 1);
    slots[slot] = i;
  }
  const taken = new Uint8Array(before.count);
  const rest: number[] = [];
  let same = 0;
  for (let j = 0; j < after.count; j++) {
    const [from, to] = after.span(j);
    const hash = hashOf(after.bytes, from, to);
    let found = -1;
    for (let slot = hash & (size - 1); slots[slot] !== -1; slot = (slot + 1) & (size - 1)) {
      const i = slots[slot]!;
      if (hashes[i] === hash && taken[i] === 0 && equalBytes(before, i, after.bytes, from, to)) {
        found = i;
        break;
      }
    }
    if (found < 0) rest.push(j);
    else {
      taken[found] = 1;
      same++;
    }
  }
  const gone: number[] = [];
  for (let i = 0; i < before.count; i++) if (taken[i] === 0) gone.push(i);
  return { before: gone, after: rest, same };
}

/** FNV-1a, 32 bits, with a last mix. */
function hashOf(bytes: Uint8Array, from: number, to: number): number {
  let hash = 0x811c9dc5;
  for (let i = from; i < to; i++) hash = Math.imul(hash ^ bytes[i]!, 0x01000193);
  hash ^= hash >>> 15;
  hash = Math.imul(hash, 0x2c1b3c6d);
  return hash ^ (hash >>> 12);
}

function equalBytes(table: RosterTable, i: number, bytes: Uint8Array, from: number, to: number): boolean {
  const [start, end] = table.span(i);
  if (end - start !== to - from) return false;
  for (let k = 0; k < to - from; k++) if (table.bytes[start + k] !== bytes[from + k]) return false;
  return true;
}
