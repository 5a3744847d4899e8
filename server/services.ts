/** What a room works with: the database, the configuration, the threads beside; and who asks. */
import type { Actor } from '#core/authority/index';
import type { Config } from './config';
import type { UseFilter, UsePerson, UseSheet, UseStand } from './contract';
import type { Db } from './db/connection';
import type { LicenseFigures } from './licenses/desk';
import type { PaperMaker } from './papers/maker';
import type { Roll } from './people/roll';

/** The person who is signed in, with their role and places as they are now. */
export interface Viewer extends Actor {
  accountId: string;
  sessionId: string;
  /** Whether the password was typed a short while ago. */
  isFresh: boolean;
  /** How they signed in. */
  way: string;
  /** The role must have a second factor and has none. */
  mustAddFactor: boolean;
}

export interface Services {
  db: Db;
  config: Config;
  /** Wakes the jobs' thread, so that a new job does not wait for its next look. */
  nudge: () => void;
  intake: IntakeReader;
  /** Everyone, for lists and counts. */
  roll: Roll;
  /** How products stand, counted beside. */
  licenses: LicenseFigures;
  year: YearFigures;
  /** Use of products, added up beside. */
  use: UseFigures;
  /** PDFs and workbooks, made beside. */
  papers: PaperMaker;
}

export type UseDays = UseFilter & { from: string; to: string };
/** Use of products, counted in a thread of its own. */
export interface UseFigures {
  sheet: (viewer: Viewer, filter: UseDays) => Promise<UseSheet>;
  people: (viewer: Viewer, filter: UseDays, stand: UseStand) => Promise<UsePerson[]>;
}

/** What next year would come to, counted beside. */
export interface YearFigures {
  rehearse(): Promise<import('./contract').Rehearsal>;
  /** Ids of the people behind a count of it. */
  people(group: import('#core/year/index').YearGroup, school: string | null): Promise<string[]>;
}

/** The thread that reads files, see intake/thread. */
export interface IntakeReader {
  /** Begins a new file with what a person said of the one before it, or of one of the same shape. */
  carry(id: string): Promise<void>;
  preview(id: string): Promise<import('./contract').IntakePreview>;
  rows(
    id: string,
    from: number,
    count: number,
    only: string | undefined,
  ): Promise<{ rows: import('./contract').IntakeRow[]; total: number }>;
  problemBeside(
    id: string,
    line: number,
    back: boolean,
    only: string | undefined,
  ): Promise<{ row: import('./contract').IntakeRow; index: number } | null>;
  cellsWith(
    id: string,
    find: string,
    column: number | undefined,
    only: string | undefined,
  ): Promise<{ total: number; cells: import('./contract').IntakeCell[] }>;
  pairs(id: string): Promise<import('./contract').IntakePair[]>;
  rowOf(id: string, line: number): Promise<import('#core/tabular/index').TypedRow | null>;
  /** Pairs of people on record who may be one; see people/duplicates. */
  duplicates(): Promise<import('./contract').RecordPair[]>;
}
