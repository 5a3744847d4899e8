/** What a plan's changes are called, and which of their fields say something to a person. */
import type { Change, Fields, KindCount, Value } from '#core/plan/index';
import { type School, secretFields } from './index';

const nouns: Record<string, string> = {
  person: 'people',
  affiliation: 'places at schools',
  class: 'classes',
  enrollment: 'enrollments',
  account: 'accounts',
  school: 'schools',
  year: 'school years',
  group: 'groups',
  membership: 'members of groups',
  product: 'products',
  license: 'licenses',
  rule: 'rules of entitlement',
  seat: 'seats',
  cart: 'carts',
  device: 'devices',
  loan: 'loans of devices',
  booking: 'bookings of carts',
  material: 'materials',
  work: 'set work',
  assignee: 'children who are to do it',
};
const verbs = { create: 'new', update: 'change', end: 'end', restore: 'restore', purge: 'remove' } as const;
const words: Record<string, string> = {
  familyName: 'family name',
  givenName: 'given name',
  middleName: 'middle name',
  birthDate: 'birth date',
  guardianEmail: 'guardian’s e-mail',
  email: 'e-mail',
  secretSealed: 'secret',
  secretVersion: 'secret’s count',
  passwordHash: 'password',
  schoolId: 'school',
  classId: 'class',
  personId: 'person',
  productId: 'product',
  cartId: 'cart',
  boughtOn: 'bought',
  warrantyEnds: 'warranty until',
  updatesEnd: 'updates until',
  costCents: 'cost in cents',
  orderNumber: 'order',
  lowGrade: 'from grade',
  highGrade: 'to grade',
};

export const kindWords = (kind: Pick<KindCount, 'op' | 'entity' | 'fields'>): string =>
  `${verbs[kind.op]} ${nouns[kind.entity] ?? kind.entity}${kind.fields.length ? `: ${kind.fields.map((field) => words[field] ?? field).join(', ')}` : ''}`;

/** The change as people may see it: secrets, sealed as they are, are dots. */
export const withoutSecrets = <T extends Change>(change: T): T => ({
  ...change,
  before: dotted(change.before),
  after: dotted(change.after),
});
const dotted = (fields: Fields): Fields =>
  Object.fromEntries(
    Object.entries(fields).map(([key, value]) => [key, secretFields.has(key) && value !== null ? '•••' : value]),
  );

/** Of a new row: what stands in the reason, or is the same for all. */
const unsaid = new Set([
  'role',
  'passwordHash',
  'secretVersion',
  'status',
  'kind',
  'begins',
  'ends',
  'condition',
  'trial',
  'urgency',
]);
/** Rows of which the day on which they begin says something. */
const dated = new Set(['enrollment', 'seat', 'license']);

export interface ShownField {
  field: string;
  before: string;
  after: string;
  hasBefore: boolean;
  hasAfter: boolean;
}
/** Ids say nothing to a person; what they mean stands in the reason. */
export function shownFields(change: Change, schools: readonly School[]): ShownField[] {
  const { op, entity, before, after } = change;
  const isWhole = op === 'create' || op === 'purge';
  const say = (field: string, value: Value | undefined) =>
    value === null || value === undefined || value === ''
      ? 'empty'
      : field === 'schoolId'
        ? (schools.find(({ id }) => id === value)?.name ?? 'a school')
        : String(value);
  const says = (field: string) =>
    (field === 'begins' && dated.has(entity)) ||
    (!unsaid.has(field) && (field === 'schoolId' || !field.endsWith('Id')));
  return Object.keys(isWhole ? { ...before, ...after } : after)
    .filter((field) =>
      isWhole ? says(field) && (before[field] ?? after[field]) !== null : field === 'schoolId' || !field.endsWith('Id'),
    )
    .map((field) => ({
      field: words[field] ?? field,
      before: say(field, before[field]),
      after: say(field, after[field]),
      hasBefore: field in before,
      hasAfter: field in after,
    }));
}
