/**
 * People who are in one list twice, found by the model for duplicates on record (core/identity) before any row is matched.
 * A sure repeat is imported once; a likely one is asked about.
 */
import { personFields } from '#core/entities/index';
import { duplicates } from '#core/identity/index';
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import { fieldLabels, gradeLabel, type TypedRow } from '#core/tabular/index';
import { knownRow } from './known';

export interface Repeat {
  line: number;
  /** The line above that is the same person, or could be. */
  of: number;
  message: string;
}

export interface Repeats {
  /** Each person once; what a row does not say is taken from its repeats. */
  rows: TypedRow[];
  /** Rows that say nothing else of the person than another row does. */
  once: Repeat[];
  /** Surely one person, but the rows differ in a field that only one of them can have. */
  differing: Repeat[];
  /** Could be one person; they are among `rows`. */
  alike: Repeat[];
}

/** From these chances on two rows are one person, and could be. */
const sureFrom = 0.999;
const askFrom = 0.5;

/** What an import writes about a person's place, besides the person's own fields. */
const placeFields = ['grade', 'schoolName', 'className'] as const;
/** Fields in which two rows of one person must not differ, as one of them would be lost. */
const binding = ['number', 'birthDate', 'email', ...placeFields] as const;
const shown = (row: TypedRow, field: (typeof binding)[number]): string =>
  field === 'grade' && row.grade !== null ? gradeLabel(row.grade) : (row[field] ?? '');

/** `stopped`: lines that wait for a repair; `apart`: those that a person told to be somebody else than the rows above. */
export function repeatsIn(
  all: readonly TypedRow[],
  schoolOf: (row: TypedRow) => string,
  stopped: ReadonlyMap<number, string>,
  apart: ReadonlySet<number> = new Set(),
): Repeats {
  const found: Repeats = { rows: [...all], once: [], differing: [], alike: [] };
  const rows = worthComparing(all.filter(({ line }) => !stopped.has(line)));
  if (rows.length === 0) return found;
  const pairs = duplicates(
    rows.map((row) => knownRow(row, schoolOf(row))),
    askFrom,
  );
  /** By index: the row that it is taken into. */
  const into = new Map<number, number>();
  const firstOf = (i: number): number => (into.has(i) ? firstOf(into.get(i)!) : i);
  const merged = new Map<number, TypedRow>();
  const rowAt = (i: number): TypedRow => merged.get(i) ?? rows[i]!;
  const out = new Set<number>();
  /** By index: a row that could be one above, unless a later pair is sure of it. */
  const alike = new Map<number, Repeat>();
  // In the order of the list, so that the first row of a person stays.
  for (const { one, two, probability, never, written } of pairs.sort((x, y) => x.two - y.two || x.one - y.one)) {
    const row = rows[two]!;
    if (written === 'as two' || apart.has(row.line) || out.has(two)) continue;
    const first = firstOf(one);
    if (out.has(first) || first === two) continue;
    const kept = rowAt(first);
    const about = { line: row.line, of: rows[first]!.line };
    if (written !== 'as one' || never !== null || probability < sureFrom) {
      if (!alike.has(two)) alike.set(two, { ...about, message: say('intake.couldBeLine', { line: about.of }) });
      continue;
    }
    out.add(two);
    const differs = binding.find((field) => {
      const [a, b] = [shown(kept, field), shown(row, field)];
      return a !== '' && b !== '' && fold(a) !== fold(b);
    });
    if (differs) {
      const [field, here, there] = [fieldLabels[differs], shown(row, differs), shown(kept, differs)];
      found.differing.push({ ...about, message: say('intake.sameAsLineBut', { line: about.of, field, here, there }) });
      continue;
    }
    into.set(two, first);
    merged.set(first, filled(kept, row));
    found.once.push({ ...about, message: say('intake.samePersonAsLine', { line: about.of }) });
  }
  found.alike = [...alike].flatMap(([i, one]) => (out.has(i) ? [] : one));
  const now = new Map(rows.map(({ line }, i) => [line, out.has(i) ? null : rowAt(i)]));
  found.rows = all.flatMap((row) => {
    const one = now.get(row.line);
    return one === undefined ? row : (one ?? []);
  });
  return found;
}

/** Besides those that could be repeats, so many rows tell how frequent names and days are. */
const learnFrom = 1000;

/**
 * Rows that could be repeats, with some others to learn from; none if there are none. Two rows with numbers of their own
 * are compared only if name and day are the same, or the numbers; where one has no number, if they share a name, or the day and a part
 * of the name, or an address.
 */
function worthComparing(rows: readonly TypedRow[]): readonly TypedRow[] {
  const groups = new Map<string, { members: number[]; isOpen: boolean }>();
  const put = (key: string, i: number, isOpen: boolean) => {
    const group = groups.get(key);
    if (!group) groups.set(key, { members: [i], isOpen });
    else {
      group.members.push(i);
      group.isOpen ||= isOpen;
    }
  };
  const hasAll = rows.every(({ number }) => number !== '');
  rows.forEach(({ number, givenName, familyName, birthDate, email }, i) => {
    const [given, family] = [fold(givenName), fold(familyName)];
    put(`${given}|${family}|${birthDate ?? ''}`, i, true);
    if (number) put(`# ${number}`, i, true);
    if (hasAll) return;
    const isOpen = number === '';
    put(`n ${[given, family].sort().join('|')}`, i, isOpen);
    if (email) put(`e ${fold(email)}`, i, isOpen);
    if (birthDate === null) return;
    put(`g ${birthDate}|${given.split(' ')[0]}`, i, isOpen);
    put(`f ${birthDate}|${family}`, i, isOpen);
  });
  const kept = new Set<number>();
  for (const { members, isOpen } of groups.values())
    if (isOpen && members.length > 1) members.forEach((i) => kept.add(i));
  if (kept.size === 0) return [];
  let others = 0;
  return rows.filter((_, i) => kept.has(i) || others++ < learnFrom);
}

/** A row with what only its repeat says. */
function filled(row: TypedRow, repeat: TypedRow): TypedRow {
  const blanks = [...personFields, ...placeFields].filter((field) => !row[field] && repeat[field]);
  return blanks.length === 0 ? row : { ...row, ...Object.fromEntries(blanks.map((field) => [field, repeat[field]])) };
}
