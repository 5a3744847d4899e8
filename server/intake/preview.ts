/** A file as it is understood, and what is told of it before anything is planned. */
import { type ImportResult, type Reach, reasonsOf, type Snapshot } from '#core/intake/index';
import {
  type OpenFile,
  type Problem,
  questionsOf,
  type ReadRows,
  type Refusal,
  type TypedRow,
} from '#core/tabular/index';
import type { IntakePreview, RowState } from '../contract';
import { bundleFacts, type Opened } from './opened';

/** What would become of a row. */
export interface Standing {
  state: RowState;
  note: string;
  isRepeated?: boolean;
}

export interface Understood {
  file: OpenFile;
  /** Index into file.records by line. */
  states: Map<number, Standing>;
  problems: Map<number, Problem[]>;
  result: ImportResult;
  problemList: Problem[];
  rows: Map<number, TypedRow>;
  opened: Opened;
  read: ReadRows;
  snapshot: Snapshot;
  /** Of the person who opened the file; null: the whole district. */
  reach: Reach | null;
}

type Base = Pick<IntakePreview, 'head' | 'draft'>;

export function previewOf(base: Base, u: Understood): IntakePreview {
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
      newSchools: result.newSchools,
      waiting: reasonsOf(result.waiting, 60),
      waitingCount: result.waiting.length,
      pairs: result.pairs.size,
      asks: result.asks.slice(0, 300),
      held: result.held.map((held) => ({ ...held, names: held.names.slice(0, 500) })),
      sentence: result.sentence,
      changes: result.summary.total,
    },
  };
}

/** Of a file that cannot be read: why not, and nothing else. */
export const refusedOf = (base: Base, { code, message }: Refusal): IntakePreview => ({
  ...base,
  refusal: { code, message },
  reading: null,
  titles: [],
  rows: 0,
  questions: [],
  changedReading: [],
  bundle: null,
  problems: { total: 0, stops: 0, rows: 0, byCode: [] },
  outcome: null,
});
