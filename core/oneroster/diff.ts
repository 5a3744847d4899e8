/**
 * Two nights of the same file: which records are new, gone, or say something else. Lines that are the same to the
 * byte are set aside by their hash before anything is parsed, so the work grows with what changed.
 */
import { hashOf, type RosterTable } from './table';

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

interface Rest {
  before: number[];
  after: number[];
  same: number;
}

/** Takes out the records that both have, whatever their order; what remains is by index. */
function setAside(before: RosterTable, after: RosterTable): Rest {
  const walked = walk(before, after);
  const looked = lookUp(before, walked.before, after, walked.after);
  return { ...looked, same: walked.same + looked.same };
}

/** How far it is looked ahead for where the two files go on alike, and how often in a row in vain before giving up. */
const [reach, patience] = [16, 64];

/** Both files along each other: most nights keep the order of the last one. What does not fit in remains. */
function walk(before: RosterTable, after: RosterTable): Rest {
  const rest: Rest = { before: [], after: [], same: 0 };
  let [i, j, lost] = [0, 0, 0];
  const same = (p: number, q: number) => p < before.count && q < after.count && before.isSame(p, after, q);
  while (i < before.count && j < after.count && lost < patience) {
    if (same(i, j)) {
      rest.same++;
      [i, j, lost] = [i + 1, j + 1, 0];
      continue;
    }
    let [skipped, added] = [1, 1];
    for (let k = 1; k <= reach; k++) {
      if (same(i + k, j + k)) [skipped, added] = [k, k];
      else if (same(i + k, j)) [skipped, added] = [k, 0];
      else if (same(i, j + k)) [skipped, added] = [0, k];
      else continue;
      lost = -1;
      break;
    }
    lost++;
    for (; skipped > 0; skipped--) rest.before.push(i++);
    for (; added > 0; added--) rest.after.push(j++);
  }
  while (i < before.count) rest.before.push(i++);
  while (j < after.count) rest.after.push(j++);
  return rest;
}

/** Of these records, the ones that the other file does not have, told by their hash. */
function lookUp(before: RosterTable, old: number[], after: RosterTable, now: number[]): Rest {
  const size = 1 << Math.max(4, Math.ceil(Math.log2(old.length * 2 + 1)));
  // Open addressing: a place in `old`, or -1.
  const slots = new Int32Array(size).fill(-1);
  const hashes = new Int32Array(old.length);
  old.forEach((i, place) => {
    const hash = hashOf(before.bytes, ...before.span(i));
    hashes[place] = hash;
    let slot = hash & (size - 1);
    while (slots[slot] !== -1) slot = (slot + 1) & (size - 1);
    slots[slot] = place;
  });
  const taken = new Uint8Array(old.length);
  const rest: Rest = { before: [], after: [], same: 0 };
  for (const j of now) {
    const [from, to] = after.span(j);
    const hash = hashOf(after.bytes, from, to);
    let found = -1;
    for (let slot = hash & (size - 1); slots[slot] !== -1; slot = (slot + 1) & (size - 1)) {
      const place = slots[slot]!;
      if (hashes[place] === hash && taken[place] === 0 && equalBytes(before, old[place]!, after.bytes, from, to)) {
        found = place;
        break;
      }
    }
    if (found < 0) rest.after.push(j);
    else {
      taken[found] = 1;
      rest.same++;
    }
  }
  rest.before = old.filter((_, place) => taken[place] === 0);
  return rest;
}

function equalBytes(table: RosterTable, i: number, bytes: Uint8Array, from: number, to: number): boolean {
  const [start, end] = table.span(i);
  if (end - start !== to - from) return false;
  for (let k = 0; k < to - from; k++) if (table.bytes[start + k] !== bytes[from + k]) return false;
  return true;
}
