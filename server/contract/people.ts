/** People, one and many, and the sheaf. */
import type { Affiliation, Contact, HandField, ListPerson, Person } from '#core/entities/index';
import type { Verb } from '#core/register/verbs';
import type { Held } from '#core/plan/index';
import type { RecordPair } from './intake';

export type Lack = 'account' | 'class' | 'seats' | 'device' | 'card' | 'signed-in';

/** `held`: sign-in off; `past`: only in classes that ended; `left`: no longer here. */
export type Standing = 'held' | 'past' | 'left';

/** Which people: all conditions hold at once. */
export interface PeopleFilter {
  q?: string;
  school?: string;
  grade?: string;
  classId?: string;
  group?: string;
  /** Who is new by this plan, or has an account by it. */
  plan?: string;
  role?: Person['role'];
  lacks?: Lack;
  /** Whose printed card no longer holds. */
  card?: 'outdated';
  /** Id of a product, with `seat`: who has a seat of it, who needs one and has none, who has one and needs none. */
  product?: string;
  seat?: SeatState;
  /** Without it everyone who is here. */
  status?: 'active' | Standing;
  /** Only those in the sheaf. */
  gathered?: boolean;
}

export type SeatState = 'holds' | 'lacks' | 'spare';
export type PeopleSort = 'family' | 'given' | 'number' | 'grade' | 'username';

export interface PersonRow extends ListPerson {
  id: string;
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
    kind: string;
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
  /**
   * The first day on which it no longer holds is `until`. `why`: the rules that entitle them as school opens, in words;
   * empty for those who see no licenses.
   */
  seats: {
    id: string;
    productId: string;
    name: string;
    edition: string | null;
    begins: string;
    until: string;
    why: string[];
  }[];
  /** Products to which they are entitled and of which they have no seat as school opens. `isFree`: there is one left. */
  lacksSeats: { productId: string; label: string; why: string[]; isFree: boolean }[];
  devices: {
    id: string;
    deviceId: string;
    tag: string;
    model: string;
    kind: 'own' | 'loan';
    begins: string;
    due: string | null;
    ends: string | null;
  }[];
  lacksDevice: boolean;
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

export interface WholeRecord {
  about: string;
  on: string;
  /** By table; of each row the column by which it names the person is said as `as`. */
  tables: Record<string, Record<string, unknown>[]>;
}

export interface PeopleApi {
  'GET /api/people': {
    query: PeopleFilter & { sort?: PeopleSort; then?: PeopleSort; desc?: boolean; after?: string; limit?: number };
    out: PeoplePage;
  };
  'GET /api/people/facets': { query: PeopleFilter; out: PeopleFacets };
  'GET /api/people/:id': { out: PersonSheet };
  /** All that is kept about somebody. */
  'GET /api/people/:id/whole': { out: WholeRecord };
  'POST /api/people/:id/edit': {
    body: {
      field: HandField;
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
  /** A new password at once; undone by the plan. */
  'POST /api/people/:id/password': { out: { planId: string; sentence: string } };
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
}
