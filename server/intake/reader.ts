/**
 * A file being taken in: its bytes and draft are in the database, its reading and what would happen are computed
 * from them whenever asked. The last reading is kept at hand, as is the register while its ledger stands still;
 * both are only quicker that way, never needed.
 */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import {
  type Decided,
  type ImportResult,
  type Intent,
  type Keys,
  type Reach,
  planImport,
  planRoster,
  type RosterResult,
  rosterRows,
  type Said,
  type Snapshot,
  type Tools,
} from '#core/intake/index';
import { isEverywhere, scopeKey, theirRows } from '#core/authority/index';
import { type Bundle, checkBundle, withRepairs } from '#core/oneroster/index';
import {
  type Hints,
  type OpenFile,
  type Problem,
  readRows,
  recall,
  recognize,
  Refusal,
  type Remembered,
  type TypedRow,
} from '#core/tabular/index';
import type { Draft, IntakeCell, IntakeHead, IntakePair, IntakePreview, IntakeRow, RecordPair } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { bundleProblems, openTable, type Opened, tooLongUsers } from './opened';
import { actorOf } from '../authority/actor';
import { elsewhere, peopleShown, rowShown } from '../people/shown';
import { duplicatePairs } from '../people/duplicates';
import { versionNow } from '../plans/ledger';
import { lastId, type LastTime, lastTime, type Matched, putRightBefore } from './last';
import { type NightRead, readNight } from './night';
import { previewOf, refusedOf, type Standing, type Understood } from './preview';
import { readingLike } from './remembered';
import { rulesFor } from './rules';
import { countingTools, type Extent, readSnapshot } from './snapshot.queries';
import { orNone } from '../db/batches';
import { joined, joinedOne, type JoinedRow } from '../db/joined';

export interface IntakeRecord {
  head: IntakeHead;
  draft: Draft;
  createdBy: string;
  /** Of one that is applied: the lines that its plan left out; only these are read on. null: not applied. */
  waits: readonly number[] | null;
}

export const emptyDraft = (schoolId: string | null): Draft => ({
  hints: {},
  repairs: {},
  leftOut: [],
  schoolId,
  complete: false,
});

const headFields = {
  fields: [
    ...([
      'id',
      'fileName',
      'size',
      'createdAt',
      'savedAt',
      'status',
      'planId',
      'draft',
      'createdBy',
      'feedId',
    ] as const),
  ],
  of: { feed: 'feed.name', school: 'school.name' },
} as const;
type HeadRow = JoinedRow<'intakes', (typeof headFields)['fields'][number], (typeof headFields)['of'], never>;

/** By import: the lines that its last applied plan left out. */
export async function linesLeft(db: Db, intakeIds: readonly string[]): Promise<Map<string, readonly number[]>> {
  const plans = await db.models.plans.findAll({
    attributes: ['intakeId', 'waits'],
    where: { intakeId: [...orNone(intakeIds)], status: 'applied' },
    order: ['id'],
    raw: true,
  });
  return new Map(plans.map(({ intakeId, waits }) => [intakeId!, JSON.parse(waits ?? '[]') as number[]]));
}

const asRecords = async (db: Db, rows: readonly HeadRow[]): Promise<IntakeRecord[]> => {
  const left = await linesLeft(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map(({ draft, createdBy, status, ...head }) => {
    const waits = left.get(head.id) ?? null;
    return {
      head: { ...head, status: status as IntakeHead['status'], waits: waits?.length ?? 0 },
      draft: JSON.parse(draft) as Draft,
      createdBy,
      waits,
    };
  });
};

export async function intakeRecord(db: Db, id: string): Promise<IntakeRecord | null> {
  const row = await joinedOne(db, 'intakes', { ...headFields, where: { id } });
  return row && (await asRecords(db, [row]))[0]!;
}
export async function intakeList(db: Db): Promise<IntakeRecord[]> {
  const where = { status: { [Op.ne]: 'coming' } };
  return asRecords(db, await joined(db, 'intakes', { ...headFields, where, order: ['-createdAt'], limit: 200 }));
}

/** So many cells are told at once. */
const mostCells = 20_000;

const isWithin = (reach: Reach | null, personId: string): boolean => reach === null || reach.people.has(personId);

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
      return previewOf(base, await this.understand(record));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return refusedOf(base, error);
    }
  }

  async rows(id: string, from: number, count: number, only?: string): Promise<{ rows: IntakeRow[]; total: number }> {
    const { shown, row } = await this.shown(id, only);
    return { total: shown.length, rows: shown.slice(from, from + count).map(row) };
  }

  /** The nearest row with a problem after this line, or before it, with its index among those shown; then from the other end. */
  async problemBeside(
    id: string,
    line: number,
    back: boolean,
    only?: string,
  ): Promise<{ row: IntakeRow; index: number } | null> {
    const { shown, row, problems } = await this.shown(id, only);
    const bad = shown.flatMap((record, index) => (problems.has(record.line) ? { record, index } : []));
    if (back) bad.reverse();
    const next = bad.find(({ record }) => (back ? record.line < line : record.line > line)) ?? bad[0];
    return next ? { row: row(next.record), index: next.index } : null;
  }

  /** The records of a file, all or of one kind, and how one is told. */
  private async shown(id: string, only?: string) {
    const record = await this.record(id);
    const u = await this.understand(record);
    const { records } = u.file;
    const none = {
      state: 'left-out' as const,
      note: u.opened.bundle
        ? say('intake.notAStudentOrStaff')
        : record.waits
          ? say('intake.appliedBefore')
          : say('intake.skipped2'),
    };
    const shown = !only
      ? records
      : records.filter(({ line }) => (only === 'problems' ? u.problems.has(line) : u.states.get(line)?.state === only));
    const row = ({ line, cells }: (typeof records)[number]): IntakeRow => ({
      line,
      cells,
      repaired: record.draft.repairs[line] ?? {},
      problems: u.problems.get(line) ?? [],
      isRepeated: false,
      ...(u.states.get(line) ?? none),
    });
    const { repairs, fills } = record.draft;
    const text = ({ line, cells }: (typeof records)[number], column: number): string =>
      repairs[line]?.[column] ?? fills?.[column] ?? cells[column] ?? '';
    return { shown, row, text, columns: u.file.reading.columns, problems: u.problems };
  }

  /** Cells of the rows shown that have this text in them, without regard to capitals. */
  async cellsWith(
    id: string,
    find: string,
    column?: number,
    only?: string,
  ): Promise<{ total: number; cells: IntakeCell[] }> {
    const { shown, text, columns } = await this.shown(id, only);
    const wanted = find.toLocaleLowerCase();
    const asked = columns.filter(({ index }) => column === undefined || index === column);
    const cells: IntakeCell[] = [];
    let total = 0;
    shown.forEach((record, index) => {
      for (const { index: at } of asked) {
        const here = text(record, at);
        if (here.toLocaleLowerCase().includes(wanted) && total++ < mostCells)
          cells.push({ index, line: record.line, column: at, text: here });
      }
    });
    return { total, cells };
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
        candidates: candidates.slice(0, 5).map((one) => {
          const { personId, ...rest } = one;
          return isWithin(u.reach, personId)
            ? { person: people(personId), ...rest }
            : { ...rest, person: elsewhere(personId), evidence: [] };
        }),
      }));
  }

  /** Pairs of people on record who may be one; computed anew only when the register or a decision changed. */
  async duplicates(): Promise<RecordPair[]> {
    const key = `${await versionNow(this.db)}|${await this.decisionMark()}`;
    if (this.doubles?.key !== key)
      this.doubles = { key, value: await duplicatePairs(this.db, await this.snapshot('students')) };
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
    file: OpenFile;
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
    return { result, matched, unanswered, file: prepared.opened.file };
  }

  /**
   * Starts a new file with what is known: from a feed, with the corrections made in its last file where a row is
   * unchanged; otherwise, with the reading of an earlier file of the same shape.
   */
  async carry(id: string): Promise<void> {
    const { head, draft } = await this.record(id);
    const begin = (begun: Draft) => this.db.models.intakes.update({ draft: JSON.stringify(begun) }, { where: { id } });
    try {
      if (!head.feedId) {
        const like = await readingLike(this.db, await this.bytes(id));
        if (like) await begin({ ...draft, hints: like.hints, readAsOn: like.at });
        return;
      }
      const { reading } = await this.feedOf(head.feedId);
      const { repairs, leftOut } = await putRightBefore(
        this.db,
        head.feedId,
        id,
        async () => (await this.open(id, draft.hints, reading)).file,
      );
      const cells = Object.values(repairs).reduce((sum, row) => sum + Object.keys(row).length, 0);
      if (cells + leftOut.length === 0) return;
      await begin({ ...draft, repairs, leftOut, carried: { cells, rows: leftOut.length } });
    } catch (error) {
      // What cannot be read is said when it is looked at.
      if (!(error instanceof Refusal)) throw error;
    }
  }

  private async feedOf(feedId: string): Promise<{ kept: string[]; reading: Remembered | null }> {
    const feed = await this.db.models.feeds.findOne({
      attributes: ['settings', 'reading'],
      where: { id: feedId },
      raw: true,
    });
    return {
      kept: (JSON.parse(feed?.settings ?? '{}') as { kept?: string[] }).kept ?? [],
      reading: feed?.reading ? (JSON.parse(feed.reading) as Remembered) : null,
    };
  }

  private compute(
    { read, intent, snapshot, bundle, refused, roster, last, draft, night }: Awaited<ReturnType<Reader['prepared']>>,
    tools: Tools,
  ): ImportResult | RosterResult {
    if (!bundle || !roster) return planImport(snapshot, read.rows, read.problems, intent, tools);
    const keys: Keys = last?.keys ?? { people: new Map(), classes: new Map() };
    return planRoster(
      snapshot,
      bundle,
      roster,
      read.problems,
      {
        ...intent,
        keys,
        ...(refused ? { refused } : {}),
        ...(draft.classes ? { classes: draft.classes } : {}),
        ...(night ? { night } : {}),
      },
      tools,
    );
  }

  private async record(id: string): Promise<IntakeRecord> {
    const record = await intakeRecord(this.db, id);
    if (!record) throw new Error(say('intake.thisFileNoLongerExists'));
    return record;
  }

  private async understand(record: IntakeRecord): Promise<Understood> {
    const key = `${record.head.id}|${await this.creatorMark(record)}|${JSON.stringify(record.draft)}|${await versionNow(this.db)}|${await this.decisionMark()}`;
    if (this.understood?.key === key) return this.understood.value;
    this.understood = null;
    const prepared = await this.prepared(record);
    const { opened, read } = prepared;
    const { file } = opened;
    const result = this.compute(prepared, countingTools());
    const states = new Map<number, Standing>();
    const [fresh, same] = [
      { state: 'new' as const, note: '' },
      { state: 'same' as const, note: '' },
    ];
    for (const line of result.fresh) states.set(line, fresh);
    for (const line of result.same) states.set(line, same);
    for (const [line, reasons] of result.changed) states.set(line, { state: 'changed', note: reasons.join(', ') });
    for (const { line, message, repeats } of result.waiting)
      states.set(line, { state: 'waits', note: message, isRepeated: repeats !== undefined });
    // What else is wrong with a row that another one stands for is of no account.
    const repeated = new Set(result.repeated.map(({ line }) => line));
    if (repeated.size > 0) read.problems = read.problems.filter(({ line }) => !repeated.has(line));
    for (const { line, message } of result.repeated) {
      states.set(line, { state: 'left-out', note: message, isRepeated: true });
      read.problems.push({ line, column: null, code: 'repeated', message, stops: false });
    }
    const problems = new Map<number, Problem[]>();
    for (const problem of read.problems) {
      const list = problems.get(problem.line);
      if (list) list.push(problem);
      else problems.set(problem.line, [problem]);
    }
    const rows = new Map(read.rows.map((row) => [row.line, row]));
    const value: Understood = {
      reach: prepared.intent.reach ?? null,
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
    if (!here) throw new Error(say('intake.theDistrictIsNotSet'));
    const feed = head.feedId ? await this.feedOf(head.feedId) : null;
    const opened = await this.open(head.id, draft.hints, feed?.reading ?? null);
    const last = head.feedId ? await this.last(head.feedId, head.id) : null;
    const bundle = opened.bundle && withRepairs(opened.bundle, draft.repairs);
    // A list that says roles is about staff as well.
    const saysRoles = opened.file.reading.columns.some(({ field }) => field === 'role');
    const since = bundle && last ? await this.nightSince(last, bundle, draft) : null;
    const snapshot = since?.snapshot ?? (await this.snapshot(bundle ? 'whole' : saysRoles ? 'people' : 'students'));
    const reach = await this.reachOf(record);
    if (reach && bundle) throw new Refusal('bundle', say('intake.aRosterBundleCoversA'));
    const school = snapshot.schools.find(({ id }) => id === draft.schoolId) ?? null;
    const night = since?.night;
    // Of what is wrong a person reads so much in each file; whatever cannot be taken over is not.
    const checked = bundle && checkBundle(bundle, 200);
    const roster = bundle ? (since?.roster ?? rosterRows(bundle, draft.classes)) : null;
    const read = roster
      ? {
          rows: roster.rows,
          problems: [...bundleProblems(checked!, opened.file), ...tooLongUsers(roster.rows, opened.file)],
          leftOut: [],
        }
      : readRows(opened.file, draft.repairs, {
          ...rulesFor(here, school, this.config.today()),
          whole: draft.whole,
          fills: draft.fills,
        });
    const leftOut = new Set(draft.leftOut);
    // What is applied is not planned once more: the file is older than what was done since.
    const open = record.waits && !bundle ? new Set(record.waits) : null;
    if (open) for (const { line } of opened.file.records) if (!open.has(line)) leftOut.add(line);
    if (leftOut.size > 0) read.problems = read.problems.filter(({ line }) => !leftOut.has(line));
    const intent: Intent = {
      schoolId: opened.bundle ? null : draft.schoolId,
      complete: draft.complete && open === null && (opened.bundle !== null || draft.schoolId !== null),
      date: this.config.today(),
      source: head.fileName,
      mostLeaving: here.settings.mostLeaving,
      decided: await this.decided(),
      leftOut,
      apart: new Set(draft.apart),
      kept: feed?.kept ?? [],
      ...(reach ? { reach } : {}),
      ...(last ? { said: last.said(night && { ids: night.news.ids }) } : {}),
      ...(draft.choices ? { choices: draft.choices } : {}),
    };
    return { opened, bundle, refused: checked?.refused, read, intent, snapshot, roster, last, draft, night };
  }

  /** How far the person reaches who opened the file, with the role that they have now; null: the whole district. */
  private async reachOf({ createdBy }: IntakeRecord): Promise<Reach | null> {
    const actor = await actorOf(this.db, createdBy);
    if (actor && isEverywhere(actor)) return null;
    if (!actor) return { schools: new Set(), people: new Set() };
    const people = await joined(this.db, 'person', {
      fields: ['id'],
      within: [theirRows(actor, 'people', 'person')],
    });
    return { schools: new Set(actor.schoolIds), people: new Set(people.map(({ id }) => id)) };
  }

  private async bytes(id: string): Promise<Uint8Array> {
    const row = await this.db.models.intakes.findOne({ attributes: ['bytes'], where: { id }, raw: true });
    return row!.bytes;
  }

  private async open(id: string, hints: Hints, remembered: Remembered | null): Promise<Opened> {
    const key = `${id}|${JSON.stringify(hints)}|${JSON.stringify(remembered)}`;
    if (this.opened?.key === key) return this.opened.opened;
    this.opened = null;
    const bytes = await this.bytes(id);
    let first = await openTable(bytes, hints);
    const line = remembered?.headings ? remembered.headerLine : undefined;
    // The heading line a person chose, if the same headings are there again.
    if (line !== undefined && hints.headerLine === undefined && recognize([remembered!], first.file)) {
      hints = { ...hints, headerLine: line };
      first = await openTable(bytes, hints);
    }
    let opened: Opened = { ...first, changed: [] };
    if (remembered && !first.bundle) {
      const { hints: recalled, changed } = recall(remembered, first.file.reading);
      const columns = { ...recalled.columns, ...hints.columns };
      opened = { ...(await openTable(bytes, { ...recalled, ...hints, columns })), changed };
    }
    this.opened = { key, opened };
    return opened;
  }

  /** The last applied file of the feed before this one. */
  private async last(feedId: string, id: string): Promise<LastTime | null> {
    const before = await lastId(this.db, feedId, id);
    if (before === null) return null;
    const key = `${before}|${await versionNow(this.db)}`;
    if (this.lastTime?.key !== key) {
      const value = await lastTime(this.db, feedId, id, this.config.today());
      if (!value) return null;
      this.lastTime = { key, value };
    }
    return this.lastTime.value;
  }

  private async decided(): Promise<Decided[]> {
    const rows = await this.db.models.decisions.findAll({
      attributes: ['rowKey', 'personId', 'same'],
      where: { rowKey: { [Op.notLike]: 'person:%' } },
      raw: true,
    });
    return rows.map(({ same, ...row }) => ({ ...row, same: same === 1 }));
  }

  private async decisionMark(): Promise<string> {
    const { decisions } = this.db.models;
    const [n, at] = await Promise.all([decisions.count(), decisions.max('at')]);
    return `${n}|${String(at)}`;
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

  /** By which a change of the role or the schools of the person who opened the file is known. */
  private async creatorMark({ createdBy }: IntakeRecord): Promise<string> {
    const actor = await actorOf(this.db, createdBy);
    return actor ? scopeKey(actor) : '';
  }

  private async snapshot(extent: Extent): Promise<Snapshot> {
    const ledger = `${await versionNow(this.db)}|${extent}`;
    if (this.register?.ledger !== ledger) this.register = { ledger, snapshot: await readSnapshot(this.db, extent) };
    return this.register.snapshot;
  }
}
