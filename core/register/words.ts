/** What a plan's changes are called, and which of their fields say something to a person. */
import type { Declaration } from '#core/entities/declare';
import { declarationOf, type Entity, fieldLabel, secretFields } from '#core/entities/index';
import type { School } from '#core/entities/index';
import { type Change, type Fields, type KindCount, plainly, type Telling, type Value } from '#core/plan/index';

/** What one of an entity is called, and many. */
const nouns: Record<Entity, readonly [one: string, many: string]> = {
  person: ['person', 'people'],
  affiliation: ['place at a school', 'places at schools'],
  class: ['class', 'classes'],
  contact: ['contact', 'contacts'],
  enrollment: ['enrollment', 'enrollments'],
  account: ['account', 'accounts'],
  district: ['district', 'the district'],
  school: ['school', 'schools'],
  year: ['school year', 'school years'],
  term: ['term', 'terms'],
  dayOff: ['day off', 'days off'],
  group: ['group', 'groups'],
  membership: ['place in a group', 'members of groups'],
  product: ['product', 'products'],
  license: ['license', 'licenses'],
  rule: ['rule of entitlement', 'rules of entitlement'],
  seat: ['seat', 'seats'],
  cart: ['cart', 'carts'],
  device: ['device', 'devices'],
  loan: ['loan', 'loans of devices'],
  booking: ['booking', 'bookings of carts'],
  material: ['material', 'materials'],
  work: ['piece of set work', 'set work'],
  assignee: ['child who is to do it', 'children who are to do it'],
  directory: ['entry of the directory', 'entries of the directory'],
};
const nounOf = (entity: string): readonly [one: string, many: string] => nouns[entity as Entity] ?? [entity, entity];
const verbs = { create: 'new', update: 'change', end: 'end', restore: 'restore', purge: 'remove' } as const;
export const kindWords = (kind: Pick<KindCount, 'op' | 'entity' | 'fields'>): string =>
  `${verbs[kind.op]} ${nounOf(kind.entity)[1]}${kind.fields.length ? `: ${kind.fields.map((field) => fieldLabel(kind.entity, field)).join(', ')}` : ''}`;

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

/** Conflicts, in the words of the register; what is secret is dots there too. */
export const inWords: Telling = {
  noun: (entity) => nounOf(entity)[0],
  field: fieldLabel,
  value: (field, value) => (secretFields.has(field) && value !== null ? '•••' : plainly.value(field, value)),
};

export interface ShownField {
  field: string;
  before: string;
  after: string;
  hasBefore: boolean;
  hasAfter: boolean;
}
const blank: Pick<Declaration, 'fields' | 'facts'> = { fields: {}, facts: {} };

/** Ids say nothing to a person; what they mean stands in the reason. */
export function shownFields(change: Change, schools: readonly School[]): ShownField[] {
  const { op, entity, before, after } = change;
  const { fields, facts } = declarationOf(entity) ?? blank;
  const isWhole = op === 'create' || op === 'purge';
  const say = (field: string, value: Value | undefined) =>
    value === null || value === undefined || value === ''
      ? 'empty'
      : field === 'schoolId'
        ? (schools.find(({ id }) => id === value)?.name ?? 'a school')
        : String(value);
  const says = (field: string) =>
    (field in before || field in after) && (field === 'schoolId' || !fields[field]!.facts.refers);
  const isWorthwhile = (field: string) =>
    (before[field] ?? after[field] ?? null) !== null &&
    (!fields[field]!.facts.untold || (field === 'begins' && facts.tellsBegin));
  return Object.keys(fields)
    .filter((field) => says(field) && (isWhole ? isWorthwhile(field) : field in after))
    .map((field) => ({
      field: fieldLabel(entity, field),
      before: say(field, before[field]),
      after: say(field, after[field]),
      hasBefore: field in before,
      hasAfter: field in after,
    }));
}
