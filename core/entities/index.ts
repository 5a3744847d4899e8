/**
 * The register's entities, each declared once in a file of its own, and what follows from the declarations. Dates are
 * yyyy-mm-dd; `ends` is the first day on which something no longer holds; null: it goes on. Text from outside stays as
 * it came, empty is null.
 */
import type { MessageKey } from '#core/messages/index';
import { say } from '#core/messages/say';
import type { Change, Op, Value } from '#core/plan/index';
import { group } from './classes/group';
import { membership } from './classes/membership';
import { enrollment } from './classes/enrollment';
import { schoolClass } from './classes/class';
import type { Clash, Declaration, FieldMap, FieldsOf } from './declare';
import { booking } from './devices/booking';
import { cart } from './devices/cart';
import { device } from './devices/device';
import { loan } from './devices/loan';
import { license } from './licenses/license';
import { product } from './licenses/product';
import { rule } from './licenses/rule';
import { seat } from './licenses/seat';
import { assignee } from './materials/assignee';
import { material } from './materials/material';
import { work } from './materials/work';
import { account } from './people/account';
import { affiliation } from './people/affiliation';
import { contact } from './people/contact';
import { person } from './people/person';
import { dayOff } from './schools/day-off';
import { directory } from './schools/directory';
import { district } from './schools/district';
import { school } from './schools/school';
import { term } from './schools/term';
import { year } from './schools/year';

export * from './classes/class';
export * from './classes/enrollment';
export * from './classes/group';
export * from './classes/membership';
export * from './devices/booking';
export * from './devices/cart';
export * from './devices/device';
export * from './devices/loan';
export * from './licenses/license';
export * from './licenses/product';
export * from './licenses/rule';
export * from './licenses/seat';
export * from './materials/assignee';
export * from './materials/material';
export * from './materials/work';
export * from './people/account';
export * from './people/affiliation';
export * from './people/contact';
export * from './people/person';
export * from './schools/day-off';
export * from './schools/district';
export * from './schools/school';
export * from './schools/term';
export * from './schools/year';

/** By name, in the order in which rows can be made without missing what they refer to. */
export const entities = {
  district,
  school,
  year,
  term,
  dayOff,
  person,
  class: schoolClass,
  affiliation,
  enrollment,
  group,
  membership,
  contact,
  product,
  license,
  rule,
  seat,
  cart,
  device,
  loan,
  material,
  work,
  assignee,
  booking,
  account,
  directory,
} as const;
export type Entity = keyof typeof entities;
export const entityNames = Object.keys(entities) as Entity[];

/** What a row of an entity says, its id left aside. */
export type Columns<E extends Entity> =
  (typeof entities)[E] extends Declaration<infer M extends FieldMap> ? FieldsOf<M> : never;
export type Row<E extends Entity> = { id: string } & Columns<E>;
/** Entities of which rows end. */
export type Ending = { [E in Entity]: Columns<E> extends { ends: string | null } ? E : never }[Entity];

type Nothing = Record<string, never>;
type Before<E extends Entity, O extends Op> = O extends 'create'
  ? Nothing
  : O extends 'purge'
    ? Columns<E>
    : Partial<Columns<E>>;
/** What a change does to a row of one entity: what it must say before and after follows from its operation. */
export interface StepOf<E extends Entity, O extends Op = Op> {
  entity: E;
  id: string;
  op: O;
  before: Before<E, O>;
  after: Before<E, O extends 'create' ? 'purge' : O extends 'purge' ? 'create' : O>;
  /** Why, in words for the person who looks at the plan. */
  reason: string;
}
/** Any step of the register, without whom it is about and where it came from. */
export type Step = { [E in Entity]: { [O in Op]: StepOf<E, O> }[Op] }[Entity];
type Told = Omit<Change, keyof StepOf<Entity>>;
/** Any change of the register; see core/plan for what all changes have. */
export type RegisterChange = Step & Told;

type Named = Record<Entity, Declaration>;
const all: Named = entities;
export const declarationOf = (entity: string): Declaration | undefined => all[entity as Entity];

/** What a field is called. */
export const fieldLabel = (entity: string, field: string): string =>
  say(`fields.${declarationOf(entity)?.fields[field]?.facts.label ?? field}` as MessageKey);

/** Fields of an entity of which something is so. */
export const fieldsThat = (entity: Entity, is: (field: Declaration['fields'][string]) => unknown): string[] =>
  Object.entries(all[entity].fields).flatMap(([name, field]) => (is(field) ? [name] : []));

/** Fields that never leave the server. */
export const secretFields: ReadonlySet<string> = new Set(
  entityNames.flatMap((entity) => fieldsThat(entity, ({ facts }) => facts.secret)),
);

/** What no two rows of an entity share. */
export interface UniqueKey {
  /** Its name in the database: that of the field, where it is one. */
  key: string;
  fields: readonly string[];
  /** Only among rows that say this. */
  among: Readonly<Record<string, Value>>;
  /** What a second one is told; null: that its value is taken. */
  message: Clash | null;
}
export const uniqueKeysOf = (entity: Entity): UniqueKey[] => {
  const { fields, facts } = all[entity];
  const { openOnce, heldOnce, unique = {} } = facts;
  return [
    ...(openOnce ? [{ ...openOnce, among: { ends: null } }] : []),
    ...(heldOnce ? [heldOnce] : []),
    ...Object.entries(unique).map(([key, { fields: of, message = null }]) => ({
      key,
      fields: of,
      among: {},
      message,
    })),
    ...Object.entries(fields).flatMap(
      ([
        field,
        {
          facts: { unique: is },
        },
      ]) => (is ? [{ key: field, fields: [field], among: {}, message: is === true ? null : is }] : []),
    ),
  ];
};

/** Which field of which entity names a row of an entity. */
export const referrersOf = (entity: Entity): { entity: Entity; field: string }[] =>
  entityNames.flatMap((from) =>
    fieldsThat(from, ({ facts }) => facts.refers === entity).map((field) => ({ entity: from, field })),
  );
