/** What an import takes (the register, what is meant, tools) and what it gives. */
import type { UsernameGiver } from '#core/accounts/index';
import type { Change, Held, Plan, Summary } from '#core/plan/index';
import type { Account, Affiliation, Enrollment, Loan, Person, School, SchoolClass } from '#core/entities/index';
import type { LeftWith } from '#core/register/returning';
import type { Grade } from '#core/tabular/values';
import type { Decided, PairCandidate, Sure, Waiting } from './match';
import type { Repeat } from './repeats';
import type { Ask, Choice, SaidBefore } from './three-way';

/** An enrollment that is open. */
export type Open = Pick<Enrollment, 'id' | 'personId' | 'classId' | 'role'>;

/** The register as far as an import needs it: what is open today. */
export interface Snapshot {
  schools: School[];
  /** Students, those who left included. */
  people: Person[];
  affiliations: Affiliation[];
  /** Open homerooms. */
  classes: SchoolClass[];
  /** Open student enrollments in homerooms. */
  enrollments: Open[];
  /** How many are at each school and in each class, where the lists hold only some of them. */
  sizes?: { schools: ReadonlyMap<string, number>; classes: ReadonlyMap<string, number> };
  /** Labels of people of whom only enrollments are here. */
  labels?: ReadonlyMap<string, string>;
  /** What those who left had then, with devices that they still have. */
  left?: ReadonlyMap<string, LeftWith & { loans: Pick<Loan, 'id' | 'due'>[] }>;
  /** Classes that still run and that they were in. */
  leftClasses?: ReadonlyMap<string, SchoolClass>;
  /** Days on which everybody went on to the next school year; yyyy-mm-dd. */
  rollOvers?: readonly string[];
  /** Of students; secrets left out. */
  accounts: Pick<Account, 'id' | 'personId' | 'username' | 'status'>[];
}

export interface Intent {
  /** The school that the file is about; null: its school column says. */
  schoolId: string | null;
  /** All students of the school are in the file: who is not has left. */
  complete: boolean;
  /** The day from which the changes hold; yyyy-mm-dd. */
  date: string;
  /** The file's name. */
  source: string;
  /** The share of a school's students that may leave without being held, 0 to 1. */
  mostLeaving: number;
  /** What people decided of who is who. */
  decided?: Decided[];
  /** What the same feed said last time, by person's id; absent: it is the first time. */
  said?: ReadonlyMap<string, SaidBefore>;
  /** Whom the source itself identifies. */
  sure?: Sure;
  /** People whom the source has named before. */
  named?: ReadonlySet<string>;
  /** Schools of which all students are in the file, where it is about several. */
  completeSchools?: string[];
  /** Lines that a person left out: nothing is done about whom they mean. */
  leftOut?: ReadonlySet<number>;
  /** Lines that a person told to be somebody else than the row above with the same name and birth date. */
  apart?: ReadonlySet<number>;
  /** Fields that the district keeps and no feed changes once they are filled. */
  kept?: readonly string[];
  /** How far the person who opened the file reaches; absent: the whole district. */
  reach?: Reach;
  /** What a person chose where the feed says something new against a correction: by line, by field. */
  choices?: Record<number, Record<string, Choice>>;
}

/** Schools and people that an import may change. What a file says of anyone else waits. */
export interface Reach {
  schools: ReadonlySet<string>;
  people: ReadonlySet<string>;
}

export interface Tools {
  /** A new id each time. */
  mint: () => string;
  /** A new secret for the person, sealed. */
  sealedSecret: (personId: string, grade: string | null) => string;
  usernames: UsernameGiver;
  /** A school's own username pattern; undefined: the district's. */
  patternOf?: (schoolId: string) => string | undefined;
  /** Only count: what the plan makes anew is not kept, so that a preview of many rows stays small. */
  onlyCount?: boolean;
}

/** A school that rows name and the district does not have. */
export interface NewSchool {
  name: string;
  /** What the source calls it; null: it has a name alone. */
  identifier: string | null;
  rows: number;
  /** Those of its rows. */
  grades: Grade[];
}

export interface ImportResult {
  /** Without the rows it makes, if only counted. */
  plan: Plan;
  summary: Summary;
  /** What would happen, in words. */
  sentence: string;
  held: Held[];
  waiting: Waiting[];
  /** Rows that repeat a person of another row and are imported with it. */
  repeated: Repeat[];
  newSchools: NewSchool[];
  /** Rows that wait to be told apart, with the people who could be meant. */
  pairs: Map<number, PairCandidate[]>;
  /** Where the feed says something new against what people corrected. */
  asks: Ask[];
  /** Person's id by line: those known, and those made anew. */
  matched: Map<number, string>;
  /** Rows about students of other schools, and the school that the file wants them at. */
  elsewhere: { line: number; personId: string; schoolId: string; grade: string | null }[];
  /** Lines of the file by what would happen. A line of `changed` has its reasons; `same` of a night is whole only when counted. */
  fresh: number[];
  changed: Map<number, string[]>;
  same: number[];
  /** Labels of those who would leave. */
  leaving: string[];
  newClasses: string[];
}

/** What is known when the people are planned: the changes made so far, and who is in which classes on record. */
export interface Sofar {
  result: ImportResult;
  changes: readonly Change[];
  enrollmentsOf: ReadonlyMap<string, readonly Open[]>;
  /** Whom rows that were left out mean, so far as that can be told. */
  leftAlone: ReadonlySet<string>;
}

/** Planned after the people: what else the file holds. */
export type Also = (put: (change: Change) => void, sofar: Sofar) => void;
