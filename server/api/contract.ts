/**
 * What the server answers, route by route: the one thing that the web application takes from here, and only as
 * types. `query` and `body` are checked with Zod at the border, see routes.
 */
import type { GradeBand } from '#core/accounts/index';
import type { AccountRole, Affiliation, Contact, GroupKind, Person, School } from '#core/register/index';
import type { ClassTemplate, GroupRule, MadeClass, NewClasses } from '#core/classes/index';
import type { Verb } from '#core/register/verbs';
import type { Change, Conflict, Held, Summary, TakenOut } from '#core/plan/index';
import type { Ask, Choice } from '#core/intake/index';
import type { ClaimField, Evidence, Likeness } from '#core/identity/index';
import type { Hints, Problem, Question, Reading, Repairs } from '#core/tabular/index';
import type { Paper } from '#core/cards/index';

export interface Me {
  personId: string;
  name: string;
  role: AccountRole;
  district: string;
  schools: School[];
  /** yyyy-mm-dd */
  today: string;
  year: { name: string; begins: string; ends: string };
}

export type Lack = 'account' | 'class' | 'card' | 'signed-in';
/** `held`: sign-in off; `past`: only in classes that ended; `left`: no longer here. */
export type Standing = 'held' | 'past' | 'left';

/** Which people: all conditions hold at once. */
export interface PeopleFilter {
  q?: string;
  school?: string;
  grade?: string;
  classId?: string;
  group?: string;
  role?: Person['role'];
  lacks?: Lack;
  /** Without it everyone who is here. */
  status?: 'active' | Standing;
  /** Only those in the sheaf. */
  gathered?: boolean;
}
export type PeopleSort = 'family' | 'given' | 'number' | 'grade' | 'username';

export interface PersonRow {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
  role: Person['role'];
  grade: string | null;
  school: string | null;
  classes: string | null;
  username: string | null;
  lacks: Lack[];
  gathered: boolean;
}
export interface PeoplePage {
  rows: PersonRow[];
  /** Give it as `after` for the next page; null at the end. */
  next: string | null;
}
export interface Facet {
  value: string;
  label: string;
  count: number;
}
export interface PeopleFacets {
  total: number;
  school: Facet[];
  grade: Facet[];
  class: Facet[];
  role: Facet[];
  lacks: Facet[];
  status: Facet[];
}

export interface PersonSheet {
  person: Person;
  places: (Affiliation & { school: string })[];
  classes: {
    id: string;
    classId: string;
    name: string;
    school: string;
    role: string;
    begins: string;
    ends: string | null;
  }[];
  account: { username: string; status: string; role: string; secretVersion: number } | null;
  card: { printedAt: string; current: boolean } | null;
  signedIn: { firstAt: string; lastAt: string } | null;
  groups: { id: string; name: string }[];
  contacts: Contact[];
  /** Students who share a contact, by its address. */
  siblings: { id: string; name: string; grade: string | null; school: string | null; by: string }[];
  /** What was done that was about them, latest first; for coordinators. */
  history: {
    ledgerId: string;
    planId: string;
    title: string;
    action: 'apply' | 'undo';
    by: string | null;
    at: string;
  }[];
}

export interface ClassRow {
  id: string;
  schoolId: string;
  name: string;
  school: string;
  kind: string;
  grade: string | null;
  subject: string | null;
  period: string | null;
  color: string | null;
  discuss: string | null;
  invite: string | null;
  teachers: string | null;
  students: number;
  lackCard: number;
}

export interface GroupRow {
  id: string;
  name: string;
  kind: GroupKind;
  schoolId: string;
  school: string;
  classId: string | null;
  className: string | null;
  /** null: by hand. */
  rule: GroupRule | null;
  /** The rule in words. */
  ruleText: string | null;
  members: number;
  /** What its members speak against in its name. */
  notes: string[];
}
export interface GroupOrder {
  /** Of a class, or across the classes of a school. */
  classId: string | null;
  schoolId: string | null;
  name: string;
  kind: GroupKind;
  rule: GroupRule | null;
  /** Put in those who are gathered and fit. */
  gathered: boolean;
}

export type Way = 'secret' | 'pictures' | 'card' | 'sign-on';
/** What is offered where one signs in. */
export interface Door {
  district: string;
  /** null: the district's own. */
  school: string | null;
  ways: Way[];
}
export interface DistrictSettings {
  numberDigits: number | null;
  usernamePattern: string;
  /** Schools with a pattern of their own, by id. */
  schoolPatterns: Record<string, string>;
  bands: GradeBand[];
  /** Share of a school that an import may let leave without being held. */
  mostLeaving: number;
}
export interface DistrictState {
  name: string;
  settings: DistrictSettings;
  schools: (School & { students: number })[];
  url: string;
  mail: boolean;
  /** The provider's address; null: none is set up. */
  signOn: string | null;
}
export interface PatternTried {
  /** What is wrong with the pattern; null: nothing. */
  wrong: string | null;
  examples: { name: string; username: string }[];
  /** How many would have the same as somebody else, and get a number. */
  clashes: number;
  people: number;
}

export interface StaffAlike {
  personId: string;
  name: string;
  school: string;
  username: string | null;
  why: 'the same address' | 'the same name';
}
export interface Invitation {
  id: string;
  personId: string;
  name: string;
  email: string;
  createdAt: string;
  expiresAt: string;
  lastError: string | null;
  /** waits: neither sent nor handed over. */
  state: 'waits' | 'sent' | 'failed' | 'expired' | 'used';
}

/** How things stand with the district's directory. */
export interface DirectoryState {
  /** Its address; null: none is set up. */
  url: string | null;
  people: { done: number; due: number; failed: number };
  classes: { done: number; due: number; failed: number };
  /** Refused for good, at most 100. */
  failures: { label: string; message: string }[];
  lastSentAt: string | null;
}

export interface JoinCode {
  id: string;
  kind: 'class' | 'staff';
  /** As it is written: C7F-HJ2-MNP. */
  code: string;
  /** Where it leads, for a QR. */
  url: string;
  schoolId: string;
  school: string;
  classId: string | null;
  className: string | null;
  opensAt: string;
  closesAt: string;
  uses: number;
  usesMost: number;
  /** waits: not open yet. */
  state: 'waits' | 'open' | 'full' | 'closed';
}
export interface JoinCodes {
  codes: JoinCode[];
  /** All that are open, in the district; the guesses allowed in a day; the chance that they find one of them. */
  live: number;
  guessesADay: number;
  risk: number;
}
/** Whoever asks to be let in: a child with a code, a teacher for a child who is missing, a teacher for a class, staff with a school's code. */
export interface JoinRequest {
  id: string;
  kind: 'student' | 'missing' | 'teach' | 'staff';
  school: string;
  classId: string | null;
  className: string | null;
  familyName: string;
  givenName: string;
  number: string | null;
  birthDate: string | null;
  email: string | null;
  note: string | null;
  askedBy: string | null;
  at: string;
  /** People on record whom it could be about, most alike first. */
  candidates: {
    personId: string;
    name: string;
    number: string | null;
    birthDate: string | null;
    school: string | null;
    classes: string | null;
    fields: Record<ClaimField, Likeness>;
    /** What stands in the way of just letting them in. */
    note: string | null;
  }[];
}
export interface Joined {
  /** `in`: now; `there`: already; `waits`: a person looks at it. */
  state: 'in' | 'there' | 'waits';
  className: string | null;
  school: string;
}

export interface ClassesOrder extends Omit<NewClasses, 'like' | 'template'> {
  schoolId: string;
  /** Name of a template. */
  template: string | null;
  /** Made like this class, with its people or without. */
  likeId: string | null;
  people: boolean;
}
export interface ClassesPreview {
  classes: MadeClass[];
  changes: number;
  sentence: string;
}

/** A class by what it is picked from a list. */
export type ClassName = Pick<ClassRow, 'id' | 'name' | 'school' | 'subject' | 'grade'>;

/** A sheaf that is kept under a name. */
export interface KeptSheaf {
  id: string;
  name: string;
  count: number;
}

/** What a verb would do with those who are gathered. */
export interface VerbPreview {
  people: number;
  changes: number;
  sentence: string;
  /** Already so. */
  same: number;
  problems: { label: string; message: string }[];
  held: Held[];
}

export interface SheafState {
  count: number;
  byGrade: Facet[];
  byClass: Facet[];
}

export interface Draft {
  hints: Hints;
  repairs: Repairs;
  /** Lines left out by a person. */
  leftOut: number[];
  schoolId: string | null;
  complete: boolean;
  /** Where the feed says something new against a correction: by line, by field. */
  choices?: Record<number, Record<string, Choice>>;
  /** Of a bundle, only these classes (sourcedIds); absent: all. */
  classes?: string[];
}

/** Which fields the feed may not change once they are filled. */
export const keepableFields = [
  'givenName',
  'middleName',
  'familyName',
  'birthDate',
  'number',
  'email',
  'guardianEmail',
  'grade',
  'className',
] as const;

export interface FeedSettings {
  /** What it is about: a school, or null for those that its files name; and whether who is missing has left. */
  schoolId: string | null;
  complete: boolean;
  kept: (typeof keepableFields)[number][];
  /** Minutes between two looks; null: only when asked. */
  everyMinutes: number | null;
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
    waiting: { line: number; code: string; message: string }[];
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
}

export interface PlanSheet {
  id: string;
  kind: string;
  title: string;
  status: string;
  createdAt: string;
  by: string | null;
  total: Summary;
  remaining: Summary;
  sentence: string;
  held: (Held & { released: { reason: string; by: string; at: string } | null })[];
  takenOut: TakenOut;
  waiting: { line: number; message: string }[];
  intakeId: string | null;
  ledgerId: string | null;
}

export interface Job {
  id: string;
  kind: string;
  status: 'waiting' | 'running' | 'done' | 'failed' | 'interrupted';
  done: number;
  total: number;
  step: string;
  result: {
    planId?: string;
    intakeId?: string;
    printId?: string;
    ledgerId?: string;
    sentence?: string;
    changes?: number;
  } | null;
  error: { message: string; conflicts?: Conflict[] } | null;
}

export interface LedgerRow {
  id: string;
  planId: string;
  title: string;
  action: 'apply' | 'undo';
  by: string | null;
  at: string;
  changes: number;
  sentence: string;
  /** The plan stands as applied by this entry, so it can be undone here. */
  canUndo: boolean;
}
export interface AuditRow {
  id: string;
  at: string;
  by: string | null;
  action: string;
  about: string | null;
  detail: string;
}

export interface Today {
  waits: { id: string; text: string; action: string; to: string; urgency: number }[];
  readiness: {
    id: string;
    name: string;
    parent: string | null;
    people: number;
    link: Record<'account' | 'class' | 'card' | 'signed-in', number>;
  }[];
}

export interface RibbonTick {
  date: string;
  text: string;
  to: string | null;
  kind: 'import' | 'print' | 'year';
}

export interface HandoutClass {
  classId: string;
  name: string;
  school: string;
  grade: string | null;
  students: number;
  /** Students whose printed card no longer holds, or who have none. */
  outdated: number;
  missing: number;
}
export interface Handouts {
  classes: HandoutClass[];
  prints: {
    id: string;
    at: string;
    by: string | null;
    what: string;
    cards: number;
    paper: string;
    canFetch: boolean;
  }[];
}

export interface Mine {
  givenName: string;
  familyName: string;
  username: string;
  school: string | null;
  grade: string | null;
  classes: { name: string; teachers: string | null }[];
}

export interface PrintRequest {
  classId?: string;
  sheaf?: boolean;
  /** Only those who have no card that holds. */
  onlyOutdated?: boolean;
  paper: Paper;
  voidOlder: boolean;
}

/** Method and path to what goes in and what comes out. */
export interface Api {
  'GET /healthz': { out: { status: 'ok'; database: string; migrations: number; version: string } };
  'GET /api/setup': { out: { needed: boolean; district: string | null } };
  'POST /api/setup': {
    body: {
      district: string;
      school: string;
      lowGrade: string;
      highGrade: string;
      givenName: string;
      familyName: string;
      username: string;
      password: string;
      /** Digits of a student number; null: any form. */
      numberDigits: number | null;
      usernamePattern: string;
    };
    out: { ok: true };
  };
  'POST /api/sign-in': { body: { username: string; secret: string }; out: { role: AccountRole } };
  'POST /api/sign-in/card': { body: { code: string }; out: { role: AccountRole } };
  'POST /api/sign-out': { out: { ok: true } };
  'GET /api/me': { out: Me };
  'GET /api/mine': { out: Mine };
  'GET /api/ribbon': { out: RibbonTick[] };
  'GET /api/today': { out: Today };
  'GET /api/people': {
    query: PeopleFilter & { sort?: PeopleSort; desc?: boolean; after?: string; limit?: number };
    out: PeoplePage;
  };
  'GET /api/people/facets': { query: PeopleFilter; out: PeopleFacets };
  'GET /api/people/:id': { out: PersonSheet };
  'POST /api/people/:id/edit': {
    body: {
      field: 'givenName' | 'middleName' | 'familyName' | 'number' | 'birthDate' | 'email' | 'guardianEmail';
      before: string | null;
      after: string | null;
    };
    out: { ledgerId: string; planId: string };
  };
  /** Without an id a new one; `remove`: away with it. */
  'POST /api/people/:id/contacts': {
    body: {
      id: string | null;
      remove: boolean;
      name: string | null;
      email: string | null;
      phone: string | null;
      relation: string | null;
    };
    out: { planId: string };
  };
  'POST /api/people/:id/reveal': { body: { why: string }; out: { secret: string } };
  'GET /api/classes': { query: { school?: string; grade?: string; q?: string }; out: ClassRow[] };
  'POST /api/classes': { body: ClassesOrder; out: { planId: string; sentence: string } };
  'POST /api/classes/preview': { body: ClassesOrder; out: ClassesPreview };
  'POST /api/classes/:id/edit': {
    body: {
      field: 'name' | 'grade' | 'subject' | 'period' | 'color' | 'discuss' | 'invite';
      before: string | null;
      after: string | null;
    };
    out: { planId: string };
  };
  /** What new classes are made from: templates, and each school's naming pattern. */
  'GET /api/templates': { out: { templates: ClassTemplate[]; patterns: Record<string, string> } };
  /** Keeps a class as a template under a name, without its people; without a class the name is forgotten. */
  'POST /api/templates': { body: { name: string; classId: string | null }; out: { ok: true } };
  'POST /api/templates/pattern': { body: { schoolId: string; pattern: string }; out: { ok: true } };
  'POST /api/classes/:id/end': { out: { planId: string } };
  /** Names of the parts beside the one that stays. The plan is to be looked at. */
  'POST /api/classes/:id/split': { body: { names: string }; out: { planId: string } };
  /** Everyone of the others joins this one. */
  'POST /api/classes/:id/combine': { body: { others: string[] }; out: { planId: string } };
  'GET /api/classes/names': { query: { school?: string; q?: string }; out: ClassName[] };
  /** With nobody signed in the names are needed, and the number or the birth date. */
  'POST /api/join': {
    body: {
      code: string;
      familyName?: string;
      givenName?: string;
      number?: string | null;
      birthDate?: string | null;
      email?: string | null;
    };
    out: Joined;
  };
  'GET /api/groups': { query: { school?: string; classId?: string }; out: GroupRow[] };
  'POST /api/groups': {
    body: GroupOrder;
    out: { planId: string; id: string; sentence: string; left: string[] };
  };
  'POST /api/groups/:id/copy': {
    body: { classId: string };
    out: { planId: string; id: string; name: string; left: string[] };
  };
  'POST /api/groups/:id/rename': { body: { before: string; after: string }; out: { planId: string } };
  'POST /api/groups/:id/end': { out: { planId: string } };
  'GET /api/district': { out: DistrictState };
  'POST /api/district': { body: Partial<DistrictSettings>; out: { ok: true } };
  'POST /api/schools': {
    body: { name: string; code: string; kind: string; lowGrade: string; highGrade: string; door: string | null };
    out: { planId: string; id: string };
  };
  'POST /api/schools/:id/edit': {
    body: {
      field: 'name' | 'code' | 'kind' | 'lowGrade' | 'highGrade' | 'door' | 'ways' | 'cardText';
      before: string | null;
      after: string | null;
    };
    out: { planId: string };
  };
  'GET /api/door': { query: { at?: string }; out: Door };
  'POST /api/usernames/try': { body: { pattern: string; schoolId: string | null }; out: PatternTried };
  'POST /api/staff': {
    body: {
      people: {
        givenName: string;
        familyName: string;
        email: string;
        schoolId: string;
        role: Exclude<AccountRole, 'student'>;
      }[];
      /** Lines of which it was said that they are nobody of those who are alike. */
      anyway: number[];
    };
    out: {
      planId: string | null;
      invitationIds: string[];
      alike: { line: number; who: StaffAlike[] }[];
      jobId: string | null;
    };
  };
  'POST /api/staff/:id/role': { body: { role: Exclude<AccountRole, 'student'> }; out: { planId: string } };
  'POST /api/staff/:id/invite': { out: { invitationId: string; jobId: string | null } };
  'GET /api/invitations': { out: Invitation[] };
  'POST /api/invitations/:id/link': { out: { url: string } };
  /** By the token of the link. */
  'GET /api/invited/:id': { out: { name: string; username: string; district: string } };
  'POST /api/invited/:id': { body: { password: string }; out: { username: string } };
  'GET /api/directory': { out: DirectoryState };
  'POST /api/directory/send': { out: { jobId: string } };
  'POST /api/directory/compare': { out: { jobId: string } };
  'GET /api/codes': { query: { classId?: string }; out: JoinCodes };
  'POST /api/codes': {
    body: { classId: string | null; schoolId: string | null; days: number; usesMost: number; opensInDays?: number };
    out: JoinCode;
  };
  'GET /api/codes/:id': { out: JoinCode };
  'POST /api/codes/:id/end': { out: { ok: true } };
  'GET /api/requests': { out: JoinRequest[] };
  'POST /api/requests': {
    body: {
      kind: 'missing' | 'teach';
      classId: string;
      familyName?: string;
      givenName?: string;
      number?: string | null;
      birthDate?: string | null;
      note?: string | null;
    };
    out: { ok: true };
  };
  'POST /api/requests/:id/settle': {
    body: { accept: true; personId: string | null } | { accept: false; why: string };
    out: { planId: string | null; sentence: string };
  };
  'GET /api/sheaf': { out: SheafState };
  'GET /api/sheaves': { out: KeptSheaf[] };
  'POST /api/sheaves': { body: { name: string }; out: KeptSheaf };
  'POST /api/sheaves/:id/gather': { out: SheafState };
  'POST /api/sheaves/:id/drop': { out: { ok: true } };
  'POST /api/sheaf/gather': { body: { ids?: string[]; filter?: PeopleFilter }; out: SheafState };
  'POST /api/sheaf/let-go': { body: { ids?: string[]; all?: boolean }; out: SheafState };
  /** The two who are gathered. */
  'GET /api/sheaf/pair': { out: RecordPair };
  'POST /api/sheaf/secrets': { out: { jobId: string } };
  'POST /api/sheaf/preview': { body: Verb; out: VerbPreview };
  'POST /api/sheaf/plan': { body: Verb; out: { jobId: string } };
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
  'POST /api/plans/:id/unmerge': { out: { ledgerId: string; kept: string[] } };
  'GET /api/intakes/:id': { out: IntakePreview };
  'POST /api/intakes/:id/draft': { body: Draft; out: { savedAt: string } };
  'GET /api/intakes/:id/rows': {
    query: { from: number; count: number; only?: 'problems' | 'waits' | 'new' | 'changed' | 'same' };
    out: { rows: IntakeRow[]; total: number };
  };
  'POST /api/intakes/:id/plan': { out: { jobId: string } };
  'POST /api/intakes/:id/set-aside': { out: { ok: true } };
  'GET /api/plans/:id': { out: PlanSheet };
  'GET /api/plans/:id/changes': {
    query: { kind?: string; offset: number };
    out: { changes: (Change & { out: boolean })[]; next: number | null };
  };
  'POST /api/plans/:id/take-out': { body: { subject?: string; kind?: string; back: boolean }; out: { ok: true } };
  'POST /api/plans/:id/release': { body: { code: string; reason: string }; out: { ok: true } };
  'POST /api/plans/:id/apply': { out: { jobId: string } };
  'POST /api/plans/:id/undo': { out: { jobId: string } };
  'POST /api/plans/:id/set-aside': { out: { ok: true } };
  'GET /api/jobs/:id': { out: Job };
  'GET /api/ledger': { query: { before?: string }; out: LedgerRow[] };
  'GET /api/audit': { query: { before?: string }; out: AuditRow[] };
  'GET /api/handouts': { out: Handouts };
  'POST /api/prints': { body: PrintRequest; out: { jobId: string; cards: number } };
}

export type RouteName = keyof Api;
export type Body<R extends RouteName> = Api[R] extends { body: infer B } ? B : undefined;
/** What an answer other than 2xx says. */
export interface Failure {
  error: string;
}
