/**
 * A file being taken in: its bytes and draft are in the database, its reading and what would happen are computed
 * from them whenever asked. The last reading is kept at hand, as is the register while its ledger stands still;
 * both are only quicker that way, never needed.
 */
import { type ImportResult, type Intent, planImport, type Snapshot, type Tools } from '#core/intake/index';
import { grades, open, type OpenFile, type Problem, readRows, Refusal, type RowRules } from '#core/tabular/index';
import type { Draft, IntakeHead, IntakePreview, IntakeRow, RowState } from '../api/contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district, type District } from '../district';
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
const headColumns = `i.id, i.fileName, i.size, i.createdAt, i.savedAt, i.status, i.planId, i.draft, i.createdBy, s.name AS school
  FROM intakes i LEFT JOIN schools s ON s.id = i.schoolId`;

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

interface Understood {
  file: OpenFile;
  /** Index into file.records by line. */
  states: Map<number, { state: RowState; note: string }>;
  problems: Map<number, Problem[]>;
  result: ImportResult;
  problemList: Problem[];
}

export class Reader {
  private opened: { key: string; file: OpenFile } | null = null;
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

  /** The plan in earnest, with ids, usernames and secrets of its own. Throws Refusal. */
  async plan(record: IntakeRecord, tools: Tools): Promise<ImportResult> {
    const { read, intent, snapshot } = await this.prepared(record);
    return planImport(snapshot, read.rows, read.problems, intent, tools);
  }

  private async record(id: string): Promise<IntakeRecord> {
    const record = await intakeRecord(this.db, id);
    if (!record) throw new Error('This file is not there.');
    return record;
  }

  private async understand(record: IntakeRecord): Promise<Understood> {
    const key = `${record.head.id}|${JSON.stringify(record.draft)}|${await this.ledgerMark()}`;
    if (this.understood?.key === key) return this.understood.value;
    this.understood = null;
    const { file, read, intent, snapshot } = await this.prepared(record);
    const result = planImport(snapshot, read.rows, read.problems, intent, countingTools());
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
    const value: Understood = { file, states, problems, result, problemList: read.problems };
    this.understood = { key, value };
    return value;
  }

  private async prepared(record: IntakeRecord) {
    const { draft, head } = record;
    const here = await district(this.db);
    if (!here) throw new Error('There is no district yet.');
    const snapshot = await this.snapshot();
    const file = await this.file(head.id, draft);
    const school = snapshot.schools.find(({ id }) => id === draft.schoolId) ?? null;
    const read = readRows(file, draft.repairs, rulesFor(here, school, this.config.today()));
    if (draft.leftOut.length > 0) {
      const out = new Set(draft.leftOut);
      read.rows = read.rows.filter(({ line }) => !out.has(line));
      read.problems = read.problems.filter(({ line }) => !out.has(line));
    }
    const intent: Intent = {
      schoolId: draft.schoolId,
      complete: draft.complete && draft.schoolId !== null,
      date: this.config.today(),
      source: head.fileName,
      mostLeaving: here.settings.mostLeaving,
    };
    return { file, read, intent, snapshot };
  }

  private async file(id: string, { hints }: Draft): Promise<OpenFile> {
    const key = `${id}|${JSON.stringify(hints)}`;
    if (this.opened?.key === key) return this.opened.file;
    this.opened = null;
    const row = await this.db.one<{ bytes: Buffer }>('SELECT bytes FROM intakes WHERE id = :id', { id });
    const file = open(row!.bytes, hints);
    this.opened = { key, file };
    return file;
  }

  private async ledgerMark(): Promise<string> {
    return (await this.db.one<{ mark: string | null }>('SELECT MAX(id) AS mark FROM ledger'))?.mark ?? '';
  }

  private async snapshot(): Promise<Snapshot> {
    const ledger = await this.ledgerMark();
    if (this.register?.ledger !== ledger) this.register = { ledger, snapshot: await readSnapshot(this.db) };
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
