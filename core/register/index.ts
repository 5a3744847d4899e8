/**
 * The register: who is where. People are affiliated with schools and enrolled in classes, both with a begin and
 * an end, so that any day can be asked for; an account lets a person sign in. Dates are yyyy-mm-dd; `ends` is the
 * first day on which it no longer holds; null: it goes on. Text from outside stays as it came, empty is null.
 */
import { type Change, kindOf, type Plan } from '#core/plan/index';

export type PersonRole = 'student' | 'staff';
export type AccountRole = 'student' | 'teacher' | 'school' | 'district';

export interface School {
  id: string;
  name: string;
  code: string;
  /** primary, k8, middle, high, evening */
  kind: string;
  lowGrade: string;
  highGrade: string;
  /** The last part of its own sign-in address; null: it has none. */
  door: string | null;
  /** The ways of signing in that it offers, apart by commas; null: all. */
  ways: string | null;
  /** What its cards say at the foot; null: how to sign in. */
  cardText: string | null;
}
export interface Person {
  id: string;
  role: PersonRole;
  number: string | null;
  givenName: string;
  middleName: string | null;
  familyName: string;
  birthDate: string | null;
  email: string | null;
  guardianEmail: string | null;
  /** The family's, of two letters; null: not known. */
  language?: string | null;
  /** `merged`: found to be somebody who is on record already; `mergedInto` is that person's id. */
  status: 'active' | 'left' | 'merged';
  mergedInto: string | null;
}
/** What files say of a person, what is corrected by hand, and what a merge keeps of one or the other. */
export const personFields = [
  'number',
  'familyName',
  'givenName',
  'middleName',
  'birthDate',
  'email',
  'guardianEmail',
] as const;
export type PersonField = (typeof personFields)[number];

export interface Affiliation {
  id: string;
  personId: string;
  schoolId: string;
  grade: string | null;
  begins: string;
  ends: string | null;
}
export interface SchoolClass {
  id: string;
  schoolId: string;
  name: string;
  kind: ClassKind;
  grade: string | null;
  subject: string | null;
  begins: string;
  ends: string | null;
  /** When it meets, in the school's own words: "2", "Mon A". */
  period?: string | null;
  /** By which it is told apart at a glance; one of classColors. */
  color?: string | null;
  /** Who may write to the class, and who may bring others in; null: the teachers alone. */
  discuss?: string | null;
  invite?: string | null;
}
/** `template`: of teachers alone, who keep set work in it for the classes of others. */
export const classKinds = ['homeroom', 'course', 'template'] as const;
export type ClassKind = (typeof classKinds)[number];
export const classColors = ['straw', 'stem', 'rust', 'dusk', 'ink'] as const;
export const policies = { discuss: ['teachers', 'all'], invite: ['teachers', 'coordinators'] } as const;
export interface Enrollment {
  id: string;
  personId: string;
  classId: string;
  role: 'student' | 'teacher';
  begins: string;
  ends: string | null;
}
/** Whom a school reaches for a child: a guardian, an aunt who fetches them. Siblings share them. */
export interface Contact {
  id: string;
  personId: string;
  name: string | null;
  email: string | null;
  phone: string | null;
  relation: string | null;
}
/** People of a class, or of several classes of a school. */
export interface Group {
  id: string;
  schoolId: string;
  /** null: across classes. */
  classId: string | null;
  name: string;
  kind: GroupKind;
  /** JSON of a GroupRule: whoever it fits is in it, now and later; null: by hand. */
  rule: string | null;
  begins: string;
  ends: string | null;
}
export type GroupKind = 'days' | 'level' | 'project' | 'other';
export interface Membership {
  id: string;
  personId: string;
  groupId: string;
  begins: string;
  ends: string | null;
}
export interface Account {
  id: string;
  personId: string;
  username: string;
  role: AccountRole;
  status: 'active' | 'frozen';
  /** The printable secret, sealed; null for those who chose a password of their own. */
  secretSealed: string | null;
  /** Counts up with each new secret; a card printed for an older one is void. */
  secretVersion: number;
  passwordHash: string | null;
}

/** A school year of the district; the one that begins last is this one. */
export interface SchoolYear {
  id: string;
  /** "2026–27" */
  name: string;
  begins: string;
  ends: string;
}

/** What can be licensed: a book, a course of lessons, a practice. */
export interface Product {
  id: string;
  name: string;
  publisher: string | null;
  edition: string | null;
  /** For which grades; null: for any. */
  lowGrade: string | null;
  highGrade: string | null;
  subject: string | null;
  /** The older edition whose place it takes. */
  supersedes: string | null;
}
export interface License {
  id: string;
  productId: string;
  /** Whose; null: the district's. */
  schoolId: string | null;
  /** null: site-wide. */
  seats: number | null;
  begins: string;
  /** The first day on which it no longer holds. */
  ends: string;
  costCents: number | null;
  orderNumber: string | null;
  /** 1: for trying out. */
  trial: number;
}
/** Who is entitled to a product: everyone for whom all that it names holds. */
export interface Rule {
  id: string;
  productId: string;
  role: 'student' | 'teacher';
  schoolId: string | null;
  grade: string | null;
  subject: string | null;
  classId: string | null;
  /** 3: lessons stop without it; 2: is taught with it; 1: good to have. */
  urgency: number;
  begins: string | null;
  ends: string | null;
}
export interface Seat {
  id: string;
  personId: string;
  licenseId: string;
  begins: string;
  /** null: with its license. */
  ends: string | null;
}

export interface Device {
  id: string;
  /** On its label; one only in the district. */
  tag: string;
  serial: string | null;
  model: string;
  schoolId: string;
  boughtOn: string | null;
  warrantyEnds: string | null;
  /** The first day without updates; from then on it is not given out. */
  updatesEnd: string | null;
  condition: DeviceCondition;
  /** Where it stays when nobody has it: a cart's slot, a room, or with neither the store. */
  cartId: string | null;
  slot: number | null;
  room: string | null;
}
export const conditions = ['good', 'worn', 'broken', 'repair', 'missing', 'retired'] as const;
export type DeviceCondition = (typeof conditions)[number];
export interface Cart {
  id: string;
  schoolId: string;
  name: string;
  slots: number;
  room: string | null;
  ends: string | null;
}
/** A device that somebody has. */
export interface Loan {
  id: string;
  deviceId: string;
  personId: string;
  /** `own`: for as long as they are here; `loan`: until a day. */
  kind: 'own' | 'loan';
  begins: string;
  due: string | null;
  ends: string | null;
}
/** A class has a cart in a period of a weekday, from a day to a day. */
export interface Booking {
  id: string;
  cartId: string;
  classId: string;
  /** 1: Monday to 5: Friday. */
  weekday: number;
  period: string;
  begins: string;
  ends: string | null;
}

/** What a product offers. */
export interface Material {
  id: string;
  productId: string;
  title: string;
  kind: MaterialKind;
  /** For which grades; null: for those of its product. */
  lowGrade: string | null;
  highGrade: string | null;
  subject: string | null;
  /** How long it takes as a rule. */
  minutes: number | null;
  /** What it takes beside a screen: "headphones". */
  needs: string | null;
  /** Where it opens, an IRI; its records name it by this. One only in a product. */
  address: string;
}
export const materialKinds = ['book', 'lesson', 'practice', 'test'] as const;
export type MaterialKind = (typeof materialKinds)[number];
/** A material that a class, a group of it, or some of it are to work on. */
export interface SetWork {
  id: string;
  classId: string;
  materialId: string;
  title: string;
  /** `some`: its assignees alone. */
  whom: 'class' | 'group' | 'some';
  groupId: string | null;
  /** ISO 8601 in UTC. */
  opensAt: string;
  /** null: stays open. */
  closesAt: string | null;
  /** Time limit; null: none. */
  minutes: number | null;
  /** What children type before it opens; null: nothing. */
  entryWord: string | null;
  /** 1: shut for the moment. */
  paused: number;
  answers: AnswersShown;
  /** The day on which it was taken back. */
  ends: string | null;
}
/** When a child sees the right answers: once done, once it is closed, or not. */
export const answersShown = ['done', 'closed', 'never'] as const;
export type AnswersShown = (typeof answersShown)[number];
export interface Assignee {
  id: string;
  workId: string;
  personId: string;
}

/** Each entity's table and columns, in the order in which rows can be made without missing what they refer to. */
export const entities = {
  school: { table: 'schools', columns: ['name', 'code', 'kind', 'lowGrade', 'highGrade', 'door', 'ways', 'cardText'] },
  year: { table: 'school_years', columns: ['name', 'begins', 'ends'] },
  person: {
    table: 'people',
    columns: [
      'role',
      'number',
      'givenName',
      'middleName',
      'familyName',
      'birthDate',
      'email',
      'guardianEmail',
      'language',
      'status',
      'mergedInto',
    ],
  },
  class: {
    table: 'classes',
    columns: ['schoolId', 'name', 'kind', 'grade', 'subject', 'begins', 'ends', 'period', 'color', 'discuss', 'invite'],
  },
  affiliation: { table: 'affiliations', columns: ['personId', 'schoolId', 'grade', 'begins', 'ends'] },
  enrollment: { table: 'enrollments', columns: ['personId', 'classId', 'role', 'begins', 'ends'] },
  group: { table: 'class_groups', columns: ['schoolId', 'classId', 'name', 'kind', 'rule', 'begins', 'ends'] },
  membership: { table: 'memberships', columns: ['personId', 'groupId', 'begins', 'ends'] },
  contact: { table: 'contacts', columns: ['personId', 'name', 'email', 'phone', 'relation'] },
  product: {
    table: 'products',
    columns: ['name', 'publisher', 'edition', 'lowGrade', 'highGrade', 'subject', 'supersedes'],
  },
  license: {
    table: 'licenses',
    columns: ['productId', 'schoolId', 'seats', 'begins', 'ends', 'costCents', 'orderNumber', 'trial'],
  },
  rule: {
    table: 'entitlements',
    columns: ['productId', 'role', 'schoolId', 'grade', 'subject', 'classId', 'urgency', 'begins', 'ends'],
  },
  seat: { table: 'seats', columns: ['personId', 'licenseId', 'begins', 'ends'] },
  cart: { table: 'carts', columns: ['schoolId', 'name', 'slots', 'room', 'ends'] },
  device: {
    table: 'devices',
    columns: [
      'tag',
      'serial',
      'model',
      'schoolId',
      'boughtOn',
      'warrantyEnds',
      'updatesEnd',
      'condition',
      'cartId',
      'slot',
      'room',
    ],
  },
  loan: { table: 'loans', columns: ['deviceId', 'personId', 'kind', 'begins', 'due', 'ends'] },
  material: {
    table: 'materials',
    columns: ['productId', 'title', 'kind', 'lowGrade', 'highGrade', 'subject', 'minutes', 'needs', 'address'],
  },
  work: {
    table: 'set_work',
    columns: [
      'classId',
      'materialId',
      'title',
      'whom',
      'groupId',
      'opensAt',
      'closesAt',
      'minutes',
      'entryWord',
      'paused',
      'answers',
      'ends',
    ],
  },
  assignee: { table: 'assignees', columns: ['workId', 'personId'] },
  booking: { table: 'bookings', columns: ['cartId', 'classId', 'weekday', 'period', 'begins', 'ends'] },
  account: {
    table: 'accounts',
    columns: ['personId', 'username', 'role', 'status', 'secretSealed', 'secretVersion', 'passwordHash'],
  },
  /** What the directory was sent; plans mark what is to be sent anew. */
  directory: { table: 'directory_items', columns: ['state'] },
} as const;
export type Entity = keyof typeof entities;
export const entityNames = Object.keys(entities) as Entity[];

/** Fields that never leave the server. */
export const secretFields = new Set(['secretSealed', 'passwordHash']);

export const fullName = (person: { familyName: string; givenName: string }): string =>
  `${person.familyName}, ${person.givenName}`;

export const personLabel = (person: { familyName: string; givenName: string; number: string | null }): string =>
  person.number ? `${fullName(person)} · ${person.number}` : fullName(person);

/** By what a person is known again when a username was theirs before: the number, else name and birth date. */
export const personKey = (person: Pick<Person, 'number' | 'familyName' | 'givenName' | 'birthDate'>): string =>
  person.number ?? `${person.familyName}|${person.givenName}|${person.birthDate ?? ''}`;

const opRank = { create: 0, update: 1, restore: 2, end: 3, purge: 4 } as const;

/** The changes with each kind in one run, made before they are needed and purged after. Order within a kind stays. */
export function ordered(changes: Change[]): Plan {
  const runs = new Map<string, Change[]>();
  for (const change of changes) {
    const kind = kindOf(change);
    const run = runs.get(kind);
    if (run) run.push(change);
    else runs.set(kind, [change]);
  }
  const rank = ({ op, entity }: Change): number => {
    const place = entityNames.indexOf(entity as Entity);
    return opRank[op] * 100 + (op === 'purge' ? 50 - place : place);
  };
  return { changes: [...runs.values()].sort((a, b) => rank(a[0]!) - rank(b[0]!)).flat() };
}
