/**
 * Which row is whom. Sure is: the same student number with the name or the birth date agreeing; or the same name
 * and birth date with no number against it. New is: a number or a birth date of its own and nobody on record who
 * could be meant. Everything else waits for a person, with the reason. Nothing is guessed.
 */
import { fold } from '#core/names/index';
import { type Person, personLabel } from '#core/register/index';
import type { TypedRow } from '#core/tabular/index';

export interface Waiting {
  line: number;
  code:
    'problem' | 'recycled' | 'number-differs' | 'several' | 'maybe' | 'too-little' | 'twice' | 'school' | 'elsewhere';
  message: string;
  /** People on record who could be meant. */
  candidates: string[];
}

export interface Matches {
  /** Person's id by line. */
  known: Map<number, string>;
  fresh: TypedRow[];
  waiting: Waiting[];
}

const nameKey = (p: { familyName: string; givenName: string }): string => `${fold(p.familyName)}|${fold(p.givenName)}`;

/** Rows with a problem that stops them are given apart and are only looked up, so that nobody they mean is taken to have left. */
export function matchRows(people: Person[], rows: TypedRow[], stopped: Map<number, string>): Matches {
  const byNumber = groupBy(people, (p) => p.number);
  const byName = groupBy(people, nameKey);
  const byBirth = groupBy(people, (p) => p.birthDate);
  const takenBy = new Map<string, number>();
  const known = new Map<number, string>();
  const waiting: Waiting[] = [];
  const rest: TypedRow[] = [];
  const wait = (row: TypedRow, code: Waiting['code'], message: string, candidates: Person[] = []) =>
    waiting.push({ line: row.line, code, message, candidates: candidates.map((p) => p.id) });
  const take = (row: TypedRow, person: Person) => {
    const other = takenBy.get(person.id);
    if (other !== undefined) {
      wait(row, 'twice', `Line ${other} is ${personLabel(person)} already. Correct this row, or leave it out.`, [
        person,
      ]);
      return;
    }
    takenBy.set(person.id, row.line);
    known.set(row.line, person.id);
  };

  for (const row of rows) {
    const sameNumber = row.number ? (byNumber.get(row.number) ?? []) : [];
    const problem = stopped.get(row.line);
    if (problem !== undefined) {
      wait(row, 'problem', problem, [...sameNumber, ...(byName.get(nameKey(row)) ?? [])]);
      continue;
    }
    const agreeing = sameNumber.filter((p) => agrees(p, row));
    if (agreeing.length === 1) take(row, agreeing[0]!);
    else if (agreeing.length > 1)
      wait(row, 'several', `${agreeing.length} people on record have the number ${row.number}.`, agreeing);
    else if (sameNumber.length > 0) {
      const [other] = sameNumber as [Person];
      wait(
        row,
        'recycled',
        `The number ${row.number} is ${personLabel(other)}, born ${other.birthDate ?? 'on an unknown day'}: another name and another birth date.`,
        sameNumber,
      );
    } else rest.push(row);
  }

  const fresh: TypedRow[] = [];
  const freshLine = new Map<string, number>();
  for (const row of rest) {
    const free = (p: Person) => !takenBy.has(p.id);
    const namesakes = (byName.get(nameKey(row)) ?? []).filter(free);
    const same = namesakes.filter((p) => p.birthDate !== null && p.birthDate === row.birthDate);
    if (same.length > 1) {
      wait(row, 'several', `${same.length} people on record have this name and birth date.`, same);
      continue;
    }
    if (same.length === 1) {
      const [person] = same as [Person];
      if (row.number && person.number && row.number !== person.number) {
        wait(
          row,
          'number-differs',
          `Same name and birth date as ${personLabel(person)}, but the file says ${row.number}.`,
          same,
        );
      } else take(row, person);
      continue;
    }
    const maybe = namesakes.filter((p) => p.birthDate === null || row.birthDate === null);
    // Same birth date and half of the name: a sibling born the same day, or a name that was changed or mistyped.
    const alike =
      row.birthDate === null ? [] : (byBirth.get(row.birthDate) ?? []).filter((p) => free(p) && sharesAName(p, row));
    const candidates = [...new Set([...maybe, ...alike])];
    if (candidates.length > 0) {
      wait(
        row,
        'maybe',
        `Could be ${candidates.slice(0, 2).map(personLabel).join(' or ')}: ${maybe.length > 0 ? 'the same name, but a birth date is missing' : 'the same birth date and part of the name'}.`,
        candidates,
      );
    } else if (!row.number && row.birthDate === null) {
      wait(row, 'too-little', 'Neither a number nor a birth date: nobody can tell later who this is. Add one of them.');
    } else {
      const key = `${nameKey(row)}|${row.birthDate ?? row.number}`;
      const earlier = freshLine.get(key);
      if (earlier !== undefined)
        wait(row, 'twice', `Same name and birth date as line ${earlier}. Correct one of them, or leave one out.`);
      else {
        freshLine.set(key, row.line);
        fresh.push(row);
      }
    }
  }
  return { known, fresh, waiting: waiting.sort((a, b) => a.line - b.line) };
}

/** The number being the same, the name or the birth date must agree as well. */
function agrees(person: Person, row: TypedRow): boolean {
  if (nameKey(person) === nameKey(row)) return true;
  if (person.birthDate !== null && row.birthDate !== null) return person.birthDate === row.birthDate;
  return sharesAName(person, row);
}

function sharesAName(person: Person, row: TypedRow): boolean {
  return fold(person.familyName) === fold(row.familyName) || fold(person.givenName) === fold(row.givenName);
}

export function groupBy<T>(items: Iterable<T>, key: (item: T) => string | null): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const k = key(item);
    if (k === null) continue;
    const group = groups.get(k);
    if (group) group.push(item);
    else groups.set(k, [item]);
  }
  return groups;
}
