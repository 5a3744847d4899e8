/** Files and feeds, and the pairs that they leave to a person. */
import { type PersonField, personFields } from '#core/entities/index';
import type { Held } from '#core/plan/index';
import type { Ask, Choice, NewSchool, Reason } from '#core/intake/index';
import type { Evidence } from '#core/identity/index';
import type { Grade } from '#core/tabular/values';
import type { Hints, Problem, Question, Reading, Repairs } from '#core/tabular/index';

export interface Draft {
  hints: Hints;
  repairs: Repairs;
  /** Lines left out by a person. */
  leftOut: number[];
  schoolId: string | null;
  complete: boolean;
  /** Where the feed says something new against a correction: by line, by field. */
  choices?: Record<number, Record<string, Choice>>;
  /** Of every cell of a column, by its index; a corrected cell comes before it. */
  fills?: Record<number, string>;
  /** Lines that are somebody else than the row above with the same name and birth date. */
  apart?: number[];
  /** When a file of the same shape was read, whose reading this one begins with. */
  readAsOn?: string;
  /** Of all rows that name none themselves. */
  whole?: { grade?: Grade | undefined; className?: string | undefined } | undefined;
  /** Of a bundle, only these classes (sourcedIds); absent: all. */
  classes?: string[];
  /** How many cells and rows were put right, and left out, as in the feed's file before this one. */
  carried?: { cells: number; rows: number };
}

/** Which fields the feed may not change once they are filled. */
export const keepableFields: readonly (PersonField | 'grade' | 'className')[] = [...personFields, 'grade', 'className'];

export interface FeedSettings {
  /** What it is about: a school, or null for those that its files name; and whether who is missing has left. */
  schoolId: string | null;
  complete: boolean;
  kept: (typeof keepableFields)[number][];
  /** Minutes between two looks; null: only when asked. */
  everyMinutes: number | null;
  /** Once a day at this time of the district's zone (HH:MM), in the place of so many minutes. */
  at?: string | null;
  /** A folder that is watched. */
  folder?: string;
  /** A register's service: the base of its rostering address, where its tokens come from, and who asks. */
  url?: string;
  tokenUrl?: string;
  clientId?: string;
}

export type FeedWay = 'upload' | 'folder' | 'service';

export interface Feed {
  id: string;
  name: string;
  way: FeedWay;
  settings: FeedSettings;
  /** Headings remembered. */
  remembered: number;
  active: boolean;
  lastRunAt: string | null;
  nextRunAt: string | null;
  lastError: string | null;
  files: number;
}

export interface FeedEdit {
  id?: string;
  name: string;
  way: FeedWay;
  settings: FeedSettings;
  /** The service's secret; left away: as it is. */
  secret?: string;
}

/** A person as pairs show them, field by field. */
export interface PairPerson {
  id: string;
  number: string;
  familyName: string;
  givenName: string;
  middleName: string;
  birthDate: string;
  grade: string;
  school: string;
  className: string;
  guardianEmail: string;
}

export interface PairCandidateRow {
  person: PairPerson;
  probability: number;
  bits: number;
  never: string | null;
  evidence: Evidence[];
}

export interface IntakePair {
  line: number;
  why: string;
  row: PairPerson;
  candidates: PairCandidateRow[];
}

/** Two people on record who may be one. */
export interface RecordPair {
  one: PairPerson;
  two: PairPerson;
  bits: number;
  never: string | null;
  evidence: Evidence[];
}

export interface IntakeHead {
  id: string;
  fileName: string;
  size: number;
  createdAt: string;
  savedAt: string;
  status: 'open' | 'planned' | 'applied' | 'set-aside';
  planId: string | null;
  school: string | null;
  feedId: string | null;
  feed: string | null;
  /** Rows that the applied plan left out. */
  waits: number;
}

export interface IntakePreview {
  head: IntakeHead;
  draft: Draft;
  /** Set when the file cannot be read; the rest is then empty. */
  refusal: { code: string; message: string } | null;
  reading: Reading | null;
  titles: string[][];
  rows: number;
  /** What a person must say before the file can be believed. */
  questions: Question[];
  /** What is no longer as the feed's last file had it. */
  changedReading: string[];
  /** Of a bundle: its files with their records, and its classes. */
  bundle: {
    counts: Record<string, number>;
    classes: { id: string; title: string; school: string; teacher: string; students: number }[];
  } | null;
  problems: { total: number; stops: number; rows: number; byCode: { code: string; count: number; repairs: number }[] };
  outcome: {
    fresh: number;
    changed: number;
    byReason: { reason: string; count: number }[];
    same: number;
    leaving: string[];
    newClasses: string[];
    /** Schools that rows name and the district does not have. */
    newSchools: NewSchool[];
    waiting: Reason[];
    waitingCount: number;
    /** Rows to be told apart from people on record. */
    pairs: number;
    asks: Ask[];
    held: Held[];
    sentence: string;
    changes: number;
  } | null;
}

export type RowState = 'new' | 'changed' | 'same' | 'waits' | 'left-out';

export interface IntakeRow {
  line: number;
  cells: string[];
  /** By column's index, as told by a person. */
  repaired: Record<number, string>;
  problems: Problem[];
  state: RowState;
  /** Why it waits, or what changes. */
  note: string;
  /** It waits since another row of the file has the same name and birth date. */
  isRepeated: boolean;
}

/** A cell that was found: index of its row among those shown. */
export interface IntakeCell {
  index: number;
  line: number;
  column: number;
  text: string;
}

/** Which rows are shown. */
export type IntakeRowKind = 'problems' | 'waits' | 'new' | 'changed' | 'same';

export interface IntakeApi {
  'GET /api/intakes': { out: IntakeHead[] };
  'POST /api/intakes': { query: { name: string; feed?: string }; out: { id: string } };
  'GET /api/intakes/:id/pairs': { out: IntakePair[] };
  'POST /api/intakes/:id/decide': {
    body: { line: number; personId: string; same: boolean | null };
    out: { ok: true };
  };
  'GET /api/feeds': { out: Feed[] };
  'POST /api/feeds': { body: FeedEdit; out: { id: string } };
  'POST /api/feeds/:id/take': { out: { jobId: string } };
  'POST /api/feeds/:id/active': { body: { active: boolean }; out: { ok: true } };
  'GET /api/pairs': { out: RecordPair[] };
  'POST /api/pairs/decide': { body: { one: string; two: string; same: false | null }; out: { ok: true } };
  'POST /api/pairs/merge': {
    body: { keep: string; gone: string; choices?: Record<string, 'keep' | 'gone'> };
    out: { planId: string; held: boolean; ledgerId: string | null };
  };
  'GET /api/intakes/:id': { out: IntakePreview };
  'POST /api/intakes/:id/draft': { body: Draft; out: { savedAt: string } };
  'GET /api/intakes/:id/rows': {
    query: { from: number; count: number; only?: IntakeRowKind };
    out: { rows: IntakeRow[]; total: number };
  };
  /** The nearest row with a problem after (or before) this line, and its index among those shown; round the end if there is none. */
  'GET /api/intakes/:id/problem': {
    query: { line: number; back?: boolean; only?: IntakeRowKind };
    out: { row: IntakeRow; index: number } | null;
  };
  /** Cells that have this text in them, as the sheet shows them: the first 20,000, and how many there are. */
  'GET /api/intakes/:id/cells': {
    query: { find: string; column?: number; only?: IntakeRowKind };
    out: { total: number; cells: IntakeCell[] };
  };
  'POST /api/intakes/:id/plan': { out: { jobId: string } };
  'POST /api/intakes/:id/set-aside': { out: { ok: true } };
}
