/**
 * A file being taken in: its bytes and draft are in the database, its reading and what would happen are computed
 * from them whenever asked. The last reading is kept at hand, as is the register while its ledger stands still;
 * both are only quicker that way, never needed.
 */
import {
  type Decided,
  type ImportResult,
  type Intent,
  type Keys,
  planImport,
  planRoster,
  type RosterResult,
  rosterRows,
  type Said,
  type Snapshot,
  type Tools,
} from '#core/intake/index';
import type { Bundle, SomeUsers } from '#core/oneroster/index';
import {
  grades,
  type Hints,
  type OpenFile,
  type Problem,
  questionsOf,
  type ReadRows,
  readRows,
  recall,
  Refusal,
  type Remembered,
  type RowRules,
  type TypedRow,
} from '#core/tabular/index';
import type { Draft, IntakeHead, IntakePair, IntakePreview, IntakeRow, RecordPair, RowState } from '../api/contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district, type District } from '../district';
import { bundleFacts, bundleProblems, openTable, type Opened } from './opened';
import { mergedInto } from '../people/merged';
import { peopleShown, rowShown } from '../people/shown';
import { duplicatePairs } from '../people/duplicates';
import { type NightRead, readNight } from './night';
import { countingTools, readSnapshot } from './snapshot';

export interface IntakeRecord {
  head: IntakeHead;
  draft: Draft;
  createdBy: string;
}

export const emptyDraft = (schoolId: string | null): Draft => ({
  hints: {},
  repairs: {},
  leftOut: [],
  schoolId,
  complete: false,
});

type HeadRow = IntakeHead & { draft: string; createdBy: string };
const headColumns = `i.id, i.fileName, i.size, i.createdAt, i.savedAt, i.status, i.planId, i.draft, i.createdBy, i.feedId, f.name AS feed, s.name AS school
  FROM intakes i LEFT JOIN schools s ON s.id = i.schoolId LEFT JOIN feeds f ON f.id = i.feedId`;

const asRecord = ({ draft, createdBy, ...head }: HeadRow): IntakeRecord => ({
  head,
  draft: JSON.parse(draft) as Draft,
  createdBy,
});

export async function intakeRecord(db: Db, id: string): Promise<IntakeRecord | null> {
  const row = await db.one<HeadRow>(`SELECT ${headColumns} WHERE i.id = :id`, { id });
  return row && asRecord(row);
}
export async function intakeList(db: Db): Promise<IntakeRecord[]> {
  return (await db.select<HeadRow>(`SELECT ${headColumns} ORDER BY i.createdAt DESC LIMIT 200`)).map(asRecord);
}

/** What the last applied file of the same feed said, and whom it meant. */
interface LastTime {
  bundle: Bundle | null;
  /** Its classes, if it was taken over in part. */
  taken: string[] | undefined;
  /** By id on record; of a bundle's people all, or those sourcedIds that are wanted. */
  said: (only?: SomeUsers) => Map<string, Said>;
  /** What nobody has answered yet, by id on record. */
  unanswered: Record<string, Said>;
  keys: Keys;
}

/** As stored with an intake: ids on record by line, or by sourcedId; and the sourcedIds that were nobody's. */
export interface Matched {
  people: Record<string, string>;
  classes: Record<string, string>;
  unknown?: string[];
}

interface Understood {
  file: OpenFile;
  /** Index into file.records by line. */
  states: Map<number, { state: RowState; note: string }>;
  problems: Map<number, Problem[]>;
  result: ImportResult;
  problemList: Problem[];
  rows: Map<number, TypedRow>;
  opened: Opened;
  read: ReadRows;
  snapshot: Snapshot;
}

export class Reader {
  private opened: { key: string; opened: Opened } | null = null;
  private doubles: { key: string; value: RecordPair[] } | null = null;
  private lastTime: { key: string; value: LastTime } | null = null;
  private understood: { key: string; value: Understood } | null = null;
  private register: { ledger: string; snapshot: Snapshot } | null = null;

  constructor(
    private readonly db: Db,
    private readonly config: Config,
  ) {}

  async preview(id: string): Promise<IntakePreview> {
    const record = await this.record(id);
    const base = { head: record.head, draft: record.draft };
    try {
      const u = await this.understand(record);
      const byCode = new Map<string, { code: string; count: number; repairs: number }>();
      for (const { code, repair } of u.problemList) {
        const counted = byCode.get(code) ?? { code, count: 0, repairs: 0 };
        counted.count++;
        if (repair) counted.repairs++;
        byCode.set(code, counted);
      }
      const { result } = u;
      const reasons = new Map<string, number>();
      for (const list of result.changed.values())
        for (const reason of list) reasons.set(reason, (reasons.get(reason) ?? 0) + 1);
      return {
        ...base,
        refusal: null,
        reading: u.file.reading,
        titles: u.file.titles.map(({ cells }) => cells),
        rows: u.file.records.length,
        questions: u.opened.bundle ? [] : questionsOf(u.file, u.read),
        changedReading: u.opened.changed,
        bundle: u.opened.bundle && bundleFacts(u.opened.bundle),
        problems: {
          total: u.problemList.length,
          stops: u.problemList.filter((p) => p.stops).length,
          rows: u.problems.size,
          byCode: [...byCode.values()].sort((a, b) => b.count - a.count),
        },
        outcome: {
          fresh: result.fresh.length,
          changed: result.changed.size,
          byReason: [...reasons].map(([reason, count]) => ({ reason, count })).sort((a, b) => b.count - a.count),
          same: result.same.length,
          leaving: result.leaving.slice(0, 500),
          newClasses: result.newClasses,
          waiting: result.waiting.slice(0, 300).map(({ line, code, message }) => ({ line, code, message })),
          waitingCount: result.waiting.length,
          pairs: result.pairs.size,
          asks: result.asks.slice(0, 300),
          held: result.held.map((held) => ({ ...held, names: held.names.slice(0, 500) })),
          sentence: result.sentence,
          changes: result.summary.total,
        },
      };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const none = { total: 0, stops: 0, rows: 0, byCode: [] };
      return {
        ...base,
        refusal: { code: error.code, message: error.message },
        reading: null,
        titles: [],
        rows: 0,
        questions: [],
        changedReading: [],
        bundle: null,
        problems: none,
        outcome: null,
      };
    }
  }

  async rows(id: string, from: number, count: number, only?: string): Promise<{ rows: IntakeRow[]; total: number }> {
    const record = await this.record(id);
    const u = await this.understand(record);
    const wanted: Record<string, RowState> = { waits: 'waits', new: 'new', changed: 'changed', same: 'same' };
    const { records } = u.file;
    const shown = !only
      ? records
      : records.filter(({ line }) =>
          only === 'problems' ? u.problems.has(line) : u.states.get(line)?.state === wanted[only],
        );
    return {
      total: shown.length,
      rows: shown.slice(from, from + count).map(({ line, cells }) => ({
        line,
        cells,
        repaired: record.draft.repairs[line] ?? {},
        problems: u.problems.get(line) ?? [],
        ...(u.states.get(line) ?? { state: 'left-out' as const, note: 'left out' }),
      })),
    };
  }

  /** Rows that wait to be told apart from people on record, those first whose answer settles most. */
  async pairs(id: string): Promise<IntakePair[]> {
    const record = await this.record(id);
    const u = await this.understand(record);
    const people = peopleShown(u.snapshot);
    const wanted = new Map<string, number>();
    for (const list of u.result.pairs.values())
      for (const { personId } of list) wanted.set(personId, (wanted.get(personId) ?? 0) + 1);
    const why = new Map(u.result.waiting.map((w) => [w.line, w.message]));
    const rivals = (line: number) =>
      (u.result.pairs.get(line) ?? []).reduce((n, c) => n + wanted.get(c.personId)! - 1, 0);
    return [...u.result.pairs]
      .sort(([a, x], [b, y]) => rivals(b) - rivals(a) || (y[0]?.bits ?? 0) - (x[0]?.bits ?? 0) || a - b)
      .slice(0, 200)
      .map(([line, candidates]) => ({
        line,
        why: why.get(line) ?? '',
        row: rowShown(u.rows.get(line)!, record.head.school ?? ''),
        candidates: candidates.slice(0, 5).map(({ personId, ...rest }) => ({ person: people(personId), ...rest })),
      }));
  }

  /** Pairs of people on record who may be one; computed anew only when the register or a decision changed. */
  async duplicates(): Promise<RecordPair[]> {
    const key = `${await this.ledgerMark()}|${await this.decisionMark()}`;
    if (this.doubles?.key !== key)
      this.doubles = { key, value: await duplicatePairs(this.db, await this.snapshot(false)) };
    return this.doubles.value;
  }

  /** What a decision about a line is stored under. */
  async rowOf(id: string, line: number): Promise<TypedRow | null> {
    return (await this.understand(await this.record(id))).rows.get(line) ?? null;
  }

  /** The plan in earnest, with ids, usernames and secrets of its own; what it stores of whom it meant. Throws Refusal. */
  async plan(
    record: IntakeRecord,
    tools: Tools,
  ): Promise<{
    result: ImportResult;
    matched: Matched;
    unanswered: Record<string, Said>;
    reading: OpenFile['reading'];
  }> {
    const prepared = await this.prepared(record);
    const result = this.compute(prepared, tools);
    const unanswered: Record<string, Said> = {};
    for (const ask of result.asks)
      if (ask.choice === null) unanswered[ask.personId] = { ...unanswered[ask.personId], [ask.field]: ask.before };
    const matched: Matched =
      'keys' in result
        ? {
            people: Object.fromEntries(result.keys.people),
            classes: Object.fromEntries(result.keys.classes),
            unknown: [...result.keys.unknown],
          }
        : { people: Object.fromEntries(result.matched), classes: {} };
    return { result, matched, unanswered, reading: prepared.opened.file.reading };
  }

  private compute(
    { read, intent, snapshot, opened, roster, last, draft, night }: Awaited<ReturnType<Reader['prepared']>>,
    tools: Tools,
  ): ImportResult | RosterResult {
    if (!opened.bundle || !roster) return planImport(snapshot, read.rows, read.problems, intent, tools);
    const keys: Keys = last?.keys ?? { people: new Map(), classes: new Map() };
    return planRoster(
      snapshot,
      opened.bundle,
      roster,
      read.problems,
      { ...intent, keys, ...(draft.classes ? { classes: draft.classes } : {}), ...(night ? { night } : {}) },
      tools,
    );
  }

  private async record(id: string): Promise<IntakeRecord> {
    const record = await intakeRecord(this.db, id);
    if (!record) throw new Error('This file is not there.');
    return record;
  }

  private async understand(record: IntakeRecord): Promise<Understood> {
    const key = `${record.head.id}|${JSON.stringify(record.draft)}|${await this.ledgerMark()}|${await this.decisionMark()}`;
    if (this.understood?.key === key) return this.understood.value;
    this.understood = null;
    const prepared = await this.prepared(record);
    const { opened, read } = prepared;
    const { file } = opened;
    const result = this.compute(prepared, countingTools());
    const states = new Map<number, { state: RowState; note: string }>();
    const [fresh, same] = [
      { state: 'new' as const, note: '' },
      { state: 'same' as const, note: '' },
    ];
    for (const line of result.fresh) states.set(line, fresh);
    for (const line of result.same) states.set(line, same);
    for (const [line, reasons] of result.changed) states.set(line, { state: 'changed', note: reasons.join(', ') });
    for (const { line, message } of result.waiting) states.set(line, { state: 'waits', note: message });
    const problems = new Map<number, Problem[]>();
    for (const problem of read.problems) {
      const list = problems.get(problem.line);
      if (list) list.push(problem);
      else problems.set(problem.line, [problem]);
    }
    const rows = new Map(read.rows.map((row) => [row.line, row]));
    const value: Understood = {
      file,
      states,
      problems,
      result,
      problemList: read.problems,
      rows,
      opened,
      read,
      snapshot: prepared.snapshot,
    };
    this.understood = { key, value };
    return value;
  }

  private async prepared(record: IntakeRecord) {
    const { draft, head } = record;
    const here = await district(this.db);
    if (!here) throw new Error('There is no district yet.');
    const feed = head.feedId
      ? await this.db.one<{ settings: string; reading: string | null }>(
          'SELECT settings, reading FROM feeds WHERE id = :id',
          { id: head.feedId },
        )
      : null;
    const opened = await this.open(
      head.id,
      draft.hints,
      feed?.reading ? (JSON.parse(feed.reading) as Remembered) : null,
    );
    const last = head.feedId ? await this.last(head.feedId, head.id) : null;
    const since = opened.bundle && last ? await this.nightSince(last, opened.bundle, draft) : null;
    const snapshot = since?.snapshot ?? (await this.snapshot(opened.bundle !== null));
    const school = snapshot.schools.find(({ id }) => id === draft.schoolId) ?? null;
    const night = since?.night;
    const roster = opened.bundle ? (since?.roster ?? rosterRows(opened.bundle, draft.classes)) : null;
    const read = roster
      ? { rows: roster.rows, problems: bundleProblems(opened.bundle!, opened.file), leftOut: [] }
      : readRows(opened.file, draft.repairs, rulesFor(here, school, this.config.today()));
    if (draft.leftOut.length > 0) {
      const out = new Set(draft.leftOut);
      read.rows = read.rows.filter(({ line }) => !out.has(line));
      read.problems = read.problems.filter(({ line }) => !out.has(line));
    }
    const intent: Intent = {
      schoolId: opened.bundle ? null : draft.schoolId,
      complete: draft.complete && (opened.bundle !== null || draft.schoolId !== null),
      date: this.config.today(),
      source: head.fileName,
      mostLeaving: here.settings.mostLeaving,
      decided: await this.decided(),
      kept: feed ? ((JSON.parse(feed.settings) as { kept?: string[] }).kept ?? []) : [],
      ...(last ? { said: last.said(night && { ids: night.news.ids }) } : {}),
      ...(draft.choices ? { choices: draft.choices } : {}),
    };
    return { opened, read, intent, snapshot, roster, last, draft, night };
  }

  private async open(id: string, hints: Hints, remembered: Remembered | null): Promise<Opened> {
    const key = `${id}|${JSON.stringify(hints)}|${JSON.stringify(remembered)}`;
    if (this.opened?.key === key) return this.opened.opened;
    this.opened = null;
    const row = await this.db.one<{ bytes: Buffer }>('SELECT bytes FROM intakes WHERE id = :id', { id });
    const { bytes } = row!;
    const first = await openTable(bytes, hints);
    let opened: Opened = { ...first, changed: [] };
    if (remembered && !first.bundle) {
      const { hints: recalled, changed } = recall(remembered, first.file.reading);
      const columns = { ...recalled.columns, ...hints.columns };
      opened = { ...(await openTable(bytes, { ...recalled, ...hints, columns })), changed };
    }
    this.opened = { key, opened };
    return opened;
  }

  /** The last applied file of the feed before this one: read again as it was then. */
  private async last(feedId: string, id: string): Promise<LastTime | null> {
    const row = await this.db.one<{ id: string; draft: string; matched: string | null; unanswered: string | null }>(
      `SELECT id, draft, matched, unanswered FROM intakes
       WHERE feedId = :feedId AND status = 'applied' AND id <> :id AND matched IS NOT NULL ORDER BY id DESC LIMIT 1`,
      { feedId, id },
    );
    if (!row) return null;
    const key = `${row.id}|${await this.ledgerMark()}`;
    if (this.lastTime?.key === key) return this.lastTime.value;
    const draft = JSON.parse(row.draft) as Draft;
    const matched = await this.withoutMerged(JSON.parse(row.matched!) as Matched);
    const bytes = (await this.db.one<{ bytes: Buffer }>('SELECT bytes FROM intakes WHERE id = :id', { id: row.id }))!
      .bytes;
    const { file, bundle } = await openTable(bytes, draft.hints);
    const unanswered = JSON.parse(row.unanswered ?? '{}') as Record<string, Said>;
    const put = (said: Map<string, Said>, personId: string | undefined, row: TypedRow, school: string) => {
      if (personId === undefined) return;
      const { number, familyName, givenName, middleName, birthDate, grade, className, email, guardianEmail } = row;
      said.set(personId, {
        number,
        familyName,
        givenName,
        middleName,
        birthDate,
        grade,
        className,
        email,
        guardianEmail,
        school,
      });
    };
    const here = await district(this.db);
    const school = draft.schoolId
      ? await this.db.one<{ name: string; lowGrade: string; highGrade: string; kind: string }>(
          'SELECT name, lowGrade, highGrade, kind FROM schools WHERE id = :id',
          { id: draft.schoolId },
        )
      : null;
    let whole: Map<string, Said> | null = null;
    const saidThen: LastTime['said'] = (only) => {
      if (!only && whole) return whole;
      const said = new Map<string, Said>();
      if (bundle) {
        const { rows, people } = rosterRows(bundle, draft.classes, only);
        rows.forEach((row, i) => put(said, matched.people[people[i]!.sourcedId], row, row.schoolName));
      } else
        for (const row of readRows(file, draft.repairs, rulesFor(here!, school, this.config.today())).rows)
          put(said, matched.people[row.line], row, row.schoolName || (school?.name ?? ''));
      // What a person has not answered yet is asked again, so the older value still counts as said.
      for (const [personId, older] of Object.entries(unanswered))
        said.set(personId, { ...said.get(personId), ...older });
      if (!only) whole = said;
      return said;
    };
    const value: LastTime = {
      bundle,
      taken: draft.classes,
      said: saidThen,
      unanswered,
      keys: {
        people: new Map(Object.entries(matched.people)),
        classes: new Map(Object.entries(matched.classes)),
        ...(matched.unknown ? { unknown: new Set(matched.unknown) } : {}),
      },
    };
    this.lastTime = { key, value };
    return value;
  }

  /** Who was merged into somebody since is that somebody. */
  private async withoutMerged({ people, ...rest }: Matched): Promise<Matched> {
    const into = await mergedInto(this.db);
    const now = ([key, id]: [string, string]) => [key, into.get(id) ?? id] as const;
    return { ...rest, people: Object.fromEntries(Object.entries(people).map(now)) };
  }

  private async decided(): Promise<Decided[]> {
    const rows = await this.db.select<{ rowKey: string; personId: string; same: number }>(
      "SELECT rowKey, personId, same FROM decisions WHERE rowKey NOT LIKE 'person:%'",
    );
    return rows.map(({ same, ...row }) => ({ ...row, same: same === 1 }));
  }

  private async decisionMark(): Promise<string> {
    const mark = await this.db.one<{ n: number; at: string | null }>(
      'SELECT COUNT(*) AS n, MAX(at) AS at FROM decisions',
    );
    return `${mark?.n}|${mark?.at}`;
  }

  /** What changed since the feed's last bundle; null if that was a delta, or about other classes. */
  private async nightSince(last: LastTime, bundle: Bundle, draft: Draft): Promise<NightRead | null> {
    const same = JSON.stringify(last.taken) === JSON.stringify(draft.classes);
    if (!last.bundle || !same || last.bundle.delta.size > 0 || bundle.delta.size > 0) return null;
    // Questions that nobody answered are put again.
    const again = [...last.keys.people].flatMap(([sourcedId, id]) => (last.unanswered[id] ? sourcedId : []));
    return readNight(this.db, last.bundle, bundle, last.keys, {
      again,
      ...(draft.classes ? { classes: draft.classes } : {}),
    });
  }

  private async ledgerMark(): Promise<string> {
    return (await this.db.one<{ mark: string | null }>('SELECT MAX(id) AS mark FROM ledger'))?.mark ?? '';
  }

  private async snapshot(whole: boolean): Promise<Snapshot> {
    const ledger = `${await this.ledgerMark()}|${whole}`;
    if (this.register?.ledger !== ledger) this.register = { ledger, snapshot: await readSnapshot(this.db, whole) };
    return this.register.snapshot;
  }
}

export function rulesFor(
  { settings }: District,
  school: { lowGrade: string; highGrade: string; kind: string } | null,
  today: string,
): RowRules {
  const year = Number(today.slice(0, 4));
  const rest = today.slice(4);
  const low = school ? grades.indexOf(school.lowGrade as never) : -1;
  const high = school ? grades.indexOf(school.highGrade as never) : -1;
  return {
    numberDigits: settings.numberDigits,
    // Pupils are 3 to 21; an evening school's students may be of any age.
    bornFrom: `${year - (school?.kind === 'evening' ? 90 : 22)}${rest}`,
    bornTo: `${year - 3}${rest}`,
    grades: low >= 0 && high >= low ? grades.slice(low, high + 1) : [],
  };
}
