/**
 * Which row is whom: core/identity decides what is sure, what is new, and what a person must look at. Here its
 * answer meets what a list of people knows besides: rows that wait for a repair, numbers that somebody else has,
 * rows that say too little, decisions made before.
 */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import { type Evidence, type Known, link, type Linked, type LinkOptions, type Never } from '#core/identity/index';
import type { Person } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import type { TypedRow } from '#core/tabular/index';
import { knownOf, knownRow, type OnRecord, rowKeyOf } from './known';
import type { Repeat } from './repeats';

export interface Waiting {
  line: number;
  code: 'problem' | 'recycled' | 'twin' | 'several' | 'maybe' | 'too-little' | 'twice' | 'elsewhere';
  message: string;
  /** People on record who could be meant. */
  candidates: string[];
  /** The row above that is, or could be, the same person. */
  repeats?: number;
}

export interface PairCandidate {
  personId: string;
  probability: number;
  bits: number;
  never: Never | null;
  evidence: Evidence[];
}

/** People known by the ids of the source itself. */
export interface Sure {
  byLine: ReadonlyMap<number, string>;
  /** Of whom it says what it said last time, and who are among no rows. */
  settled: ReadonlySet<string>;
}

/** What a person decided: the row with this key is that person, or is not. */
export interface Decided {
  rowKey: string;
  personId: string;
  same: boolean;
}

export interface Matches {
  /** Person's id by line. */
  known: Map<number, string>;
  fresh: TypedRow[];
  waiting: Waiting[];
  /** For rows that wait to be told apart: who could be meant, the likeliest first. */
  pairs: Map<number, PairCandidate[]>;
}

/** Lists longer than this are matched by what is the same to the letter first, and learn from as many of those. */
const learnFrom = 4000;

/**
 * `schoolOf` names the school that a row is about; `sure` are people whom the source itself identifies. Rows with a
 * problem that stops them are looked up as well, so that nobody they mean is taken to have left. Rows of the lines in
 * `apart` are people of their own, though a row above has their name and birth date. Rows that could be the same person
 * as a row above (`alike`) are, unless the two are two people on record, not looked up but asked about.
 */
export function matchRows(
  record: OnRecord[],
  rows: TypedRow[],
  stopped: Map<number, string>,
  decided: Decided[] = [],
  schoolOf: (row: TypedRow) => string = (row) => row.schoolName,
  sure: Sure | null = null,
  apart: ReadonlySet<number> = new Set(),
  alike: readonly Repeat[] = [],
): Matches {
  const result: Matches = { known: new Map(), fresh: [], waiting: [], pairs: new Map() };
  const { left, open: all } = sameToTheLetter(record, rows, stopped, decided, sure, result.known);
  const { open, linked, asked } = linkOnce(left.map(knownOf), all, alike, schoolOf, {
    decided: (some) => indexed(decided, left, some),
    known: result.known,
  });
  for (const { line, of, message, candidates } of asked)
    result.waiting.push({
      ...{ line, code: 'twice', message, repeats: of },
      candidates: candidates.map((existing) => left[existing]!.person.id),
    });
  const byNumber = new Map<string, Person>();
  for (const { person } of record) if (person.number && person.status === 'active') byNumber.set(person.number, person);
  const differs = new Set(decided.filter((d) => !d.same).map((d) => `${d.rowKey}>${d.personId}`));
  const fresh = new Map<string, number>();
  open.forEach((row, j) => {
    const { line } = row;
    const candidates = linked.candidates[j]!.map((c) => ({ ...c, person: left[c.existing]!.person }));
    const ids = candidates.map(({ person }) => person.id);
    const wait = (code: Waiting['code'], message: string, who = ids) =>
      result.waiting.push({ line, code, message, candidates: who });
    const problem = stopped.get(line);
    if (problem !== undefined) {
      wait('problem', problem);
      return;
    }
    const decision = linked.decisions[j]!;
    const [best] = candidates;
    if (decision === 'match') {
      result.known.set(line, best!.person.id);
      return;
    }
    const holder = row.number ? byNumber.get(row.number) : undefined;
    // Whoever has the row's number is asked about, also where nothing else agrees.
    const recycled = holder && !differs.has(`${rowKeyOf(row)}>${holder.id}`) ? holder : null;
    const listed = recycled !== null && ids.includes(recycled.id);
    // What says too little to be new is offered wherever somebody could be meant at all.
    const offered = sure === null && !row.number && row.birthDate === null && best !== undefined;
    if (decision === 'review' || recycled || offered) {
      const pairs = candidates.map(({ person, probability, bits, never, evidence }) => ({
        personId: person.id,
        probability,
        bits,
        never,
        evidence: evidence(),
      }));
      if (recycled && !listed) {
        const evidence = linked.explain(
          left.findIndex(({ person }) => person.id === recycled.id),
          j,
        );
        const bits = evidence.reduce((sum, e) => sum + e.bits, 0);
        pairs.push({ personId: recycled.id, probability: 0.001, bits, never: 'recycled', evidence });
      }
      result.pairs.set(line, pairs);
      const people = candidates.map(({ person }) => person);
      if (!best || (recycled && best.probability < 0.05) || best.never === 'recycled') {
        const other = recycled ?? best!.person;
        wait(
          'recycled',
          say('intake.numberBelongsToBornThe', {
            number: row.number,
            name: personLabel(other),
            birthDate: other.birthDate ?? say('intake.onAnUnknownDate'),
          }),
          recycled && !listed ? [...ids, recycled.id] : ids,
        );
      } else if (best.never === 'twin') wait('twin', say('intake.thisCouldBeOrA', { name: personLabel(best.person) }));
      else if (people.length > 1 && candidates[1]!.probability > 0.02)
        wait('several', say('intake.thisCouldBe', { list: people.slice(0, 2).map(personLabel).join(' or ') }));
      else
        wait(
          'maybe',
          say('intake.thisCouldBe2', { name: personLabel(best.person), evidence: inShort(best.evidence()) }),
        );
      return;
    }
    // A source with ids of its own knows them again by those.
    if (sure === null && !row.number && row.birthDate === null && !row.className) {
      wait('too-little', say('intake.addANumberOr'));
      return;
    }
    const key = `${fold(row.familyName)}|${fold(row.givenName)}|${row.birthDate ?? (row.number || fold(row.className))}`;
    const earlier = row.birthDate === null && row.number === '' && row.className === '' ? undefined : fresh.get(key);
    if (earlier !== undefined && !apart.has(line)) {
      const message = say('intake.sameNameAndBirthDate', { line: earlier });
      result.waiting.push({ line, code: 'twice', message, candidates: ids, repeats: earlier });
    } else {
      fresh.set(key, line);
      result.fresh.push(row);
    }
  });
  const taken = new Map([...result.known].map(([line, id]) => [id, line]));
  for (const w of result.waiting) {
    // Somebody whose row is sure already stands twice in the file.
    const other = w.code === 'maybe' && w.candidates.length === 1 ? taken.get(w.candidates[0]!) : undefined;
    if (other !== undefined)
      Object.assign(w, {
        code: 'twice',
        message: say('intake.lineIsAlreadyThatPerson', { message: w.message, line: other }),
      });
  }
  result.waiting.sort((a, b) => a.line - b.line);
  return result;
}

/** Those asked about because a row above could be the same person, with who on record they could be, by index. */
type Asked = Repeat & { candidates: number[] };

/**
 * Links rows to people on record; those of `alike` only where they and the row above are two people on record. `known`:
 * who is settled before, by line.
 */
export function linkOnce(
  existing: readonly Known[],
  rows: readonly TypedRow[],
  alike: readonly Repeat[],
  schoolOf: (row: TypedRow) => string,
  before: { decided?: (rows: readonly TypedRow[]) => LinkOptions['decided']; known?: ReadonlyMap<number, string> } = {},
): { open: readonly TypedRow[]; linked: Linked; asked: Asked[] } {
  const linkOf = (some: readonly TypedRow[]) => {
    const decided = before.decided?.(some);
    return link(
      existing,
      some.map((row) => knownRow(row, schoolOf(row))),
      decided ? { decided } : {},
    );
  };
  const linked = linkOf(rows);
  if (alike.length === 0) return { open: rows, linked, asked: [] };
  const indexOf = new Map(rows.map(({ line }, j) => [line, j]));
  const isKnown = (line: number) => before.known?.has(line) || linked.decisions[indexOf.get(line) ?? -1] === 'match';
  const asked = alike
    .filter(({ line, of }) => !(isKnown(line) && isKnown(of)))
    .map((one) => ({
      ...one,
      candidates: (linked.candidates[indexOf.get(one.line) ?? -1] ?? []).map((candidate) => candidate.existing),
    }));
  if (asked.length === 0) return { open: rows, linked, asked };
  const lines = new Set(asked.map(({ line }) => line));
  const open = rows.filter(({ line }) => !lines.has(line));
  return { open, linked: linkOf(open), asked };
}

const levelWords: Partial<Record<Evidence['what'], string>> = {
  number: 'number',
  given: say('intake.givenName2'),
  middle: say('intake.middleName'),
  family: say('intake.familyName2'),
  birth: say('intake.birthDate2'),
  grade: 'grade',
  school: 'school',
  class: 'class',
  guardian: say('intake.guardiansEmail2'),
  email: 'e-mail',
};

/** "family name same, birth date one digit off, given name different": what decides most, first. */
function inShort(evidence: Evidence[]): string {
  return (
    evidence
      // That somebody goes where most go says little to a person.
      .filter(({ what, level }) => levelWords[what] && level !== 'as most' && level !== 'as some')
      .sort((a, b) => Math.abs(b.bits) - Math.abs(a.bits))
      .slice(0, 4)
      .map(({ what, level }) => `${levelWords[what]} ${level.split(',')[0]}`)
      .join(', ')
  );
}

/**
 * Takes out the rows that are somebody to the letter (number, name, birth date), all but as many as are needed to
 * learn from: the same file again is no work.
 */
function sameToTheLetter(
  record: OnRecord[],
  rows: TypedRow[],
  stopped: Map<number, string>,
  decided: Decided[],
  sure: Sure | null,
  known: Map<number, string>,
): { left: OnRecord[]; open: TypedRow[] } {
  if (sure !== null && sure.byLine.size + sure.settled.size > 0) {
    const rest = rows.filter((row) => {
      const id = stopped.has(row.line) ? undefined : sure.byLine.get(row.line);
      if (id !== undefined) known.set(row.line, id);
      return id === undefined;
    });
    const ids = new Set([...sure.byLine.values(), ...sure.settled]);
    return { left: record.filter(({ person }) => !ids.has(person.id)), open: rest };
  }
  if (rows.length <= learnFrom) return { left: record, open: rows };
  const key = (number: string | null, family: string, given: string, birth: string | null): string | null =>
    number && birth ? `${number}|${family}|${given}|${birth}` : null;
  const byKey = new Map<string, OnRecord | null>();
  for (const one of record) {
    const { number, familyName, givenName, birthDate } = one.person;
    const k = key(number, familyName, givenName, birthDate);
    if (k !== null) byKey.set(k, byKey.has(k) ? null : one);
  }
  const about = new Set(decided.map((d) => d.personId));
  const gone = new Set<OnRecord>();
  let learned = 0;
  const open: TypedRow[] = [];
  for (const row of rows) {
    const k = stopped.has(row.line) ? null : key(row.number, row.familyName, row.givenName, row.birthDate);
    const one = k === null ? null : (byKey.get(k) ?? null);
    if (one === null || gone.has(one) || about.has(one.person.id) || learned++ < learnFrom) open.push(row);
    else {
      gone.add(one);
      known.set(row.line, one.person.id);
    }
  }
  return { left: record.filter((one) => !gone.has(one)), open };
}

function indexed(decided: Decided[], left: OnRecord[], open: readonly TypedRow[]) {
  if (decided.length === 0) return [];
  const people = new Map(left.map(({ person }, i) => [person.id, i]));
  const byKey = new Map<string, number[]>();
  open.forEach((row, j) => {
    const k = rowKeyOf(row);
    byKey.set(k, [...(byKey.get(k) ?? []), j]);
  });
  return decided.flatMap(({ rowKey, personId, same }) => {
    const existing = people.get(personId);
    return existing === undefined ? [] : (byKey.get(rowKey) ?? []).map((incoming) => ({ existing, incoming, same }));
  });
}
