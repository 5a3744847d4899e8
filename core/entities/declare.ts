/**
 * The language in which an entity is declared: its fields with what they can hold, and what always holds of it. All
 * that needs to know a field asks the declaration: tables and models, what the borders let in, the words of plans, the
 * rules of applying and undoing, what a purge takes.
 */
import { say } from '#core/messages/say';
import type { MessageKey } from '#core/messages/index';
import type { Value } from '#core/plan/index';

/**
 * What a column holds. `id`: a ULID, or one of another table. `word`: ASCII, compared to the letter; `exact`: any
 * letters, compared to the letter; `name`: compared without accents and case. `day`: yyyy-mm-dd; `moment`: ISO 8601 in
 * UTC with milliseconds, `time`: the database's own. `count`: a whole number; `small`: one up to 127, or yes and no as 1
 * and 0; `big`: beyond 2^31. `line`, `note` and `text`: any letters, a few, up to 64 KB, and more; `bytes`: no letters.
 */
export type Kind =
  | ('id' | 'word' | 'exact' | 'name' | 'line' | 'note' | 'text')
  | ('day' | 'moment' | 'time' | 'count' | 'small' | 'big' | 'bytes');

/** What a field of any table holds. */
export type Held = Value | Uint8Array;

export interface Field<
  V extends Held = Value,
  Late extends boolean = boolean,
  To extends string | undefined = string | undefined,
> {
  readonly kind: Kind;
  /** Letters at most, where the kind does not say it. */
  readonly longest: number | null;
  readonly canBeNull: boolean;
  /** All that it can be; null: anything of its kind. */
  readonly values: readonly string[] | null;
  /** Came after the first version: plans that were made before it say nothing of it. */
  readonly isLate: Late;
  readonly facts: FieldFacts;
  /** For the types alone: what it holds, and the table whose row it names. */
  readonly holds?: V;
  readonly to?: To;
}

export interface FieldFacts {
  /** The entity or table whose row it names. */
  refers?: string;
  /** No two rows have the same; text: what a second one is told, where the value says nothing to a person. */
  unique?: true | Clash;
  /** Key of what it is called, see words; the field's own name where nothing else is said. */
  label?: string;
  /** Never leaves the server. */
  secret?: true;
  /** Opens something, or is a document about many: left out where all that is kept of a person is written out. */
  withheld?: true;
  /** Names a person whose row it is not: it stays when they are purged. */
  stays?: true;
  /** The database fills it where nothing is said. */
  hasDefault?: true;
  /** The right without which it is not seen. */
  seen?: `field.${string}`;
  /** Coordinators correct it in the record, by hand. */
  byHand?: true;
  /** Lists of people show it. */
  listed?: true;
  /** People are found by it. */
  searched?: true;
  /** What files say of a person and what a merge keeps of one or the other. */
  ofRecord?: true;
  /** How a cell of a file is read for it, where it is no plain text. */
  reads?: 'name' | 'email';
  /** Of a new row it is not told: it stands in the reason, or is the same for all. */
  untold?: true;
  /** Says nothing to a person as it stands: the reason of a change says what it means. */
  coded?: true;
  /** Only ever grows: an undo counts on, it does not count back. */
  grows?: true;
  /** Whoever has an account is signed out when it changes. */
  endsSessions?: true;
}

type Plain<V extends Held, To extends string | undefined = undefined> = Field<V, false, To>;

function field<V extends Held, To extends string | undefined = undefined>(
  kind: Kind,
  longest: number | null,
  facts: FieldFacts,
  values: readonly string[] | null = null,
): Plain<V, To> {
  return { kind, longest, canBeNull: false, values, isLate: false, facts };
}

/** Of a row of another entity or table, by its name; without one it names no row of the database. */
export const id = <const To extends string | undefined = undefined>(
  refers?: To,
  facts: FieldFacts = {},
): Plain<string, To> => field('id', null, { ...facts, refers });
export const word = (longest: number, facts: FieldFacts = {}): Plain<string> => field('word', longest, facts);
export const exact = (longest: number, facts: FieldFacts = {}): Plain<string> => field('exact', longest, facts);
export const name = (longest: number, facts: FieldFacts = {}): Plain<string> => field('name', longest, facts);
export const day = (facts: FieldFacts = {}): Plain<string> => field('day', null, facts);
export const moment = (facts: FieldFacts = {}): Plain<string> => field('moment', null, facts);
export const count = (facts: FieldFacts = {}): Plain<number> => field('count', null, facts);
export const small = (facts: FieldFacts = {}): Plain<number> => field('small', null, facts);
export const big = (facts: FieldFacts = {}): Plain<number> => field('big', null, facts);
export const line = (longest: number, facts: FieldFacts = {}): Plain<string> => field('line', longest, facts);
export const note = (facts: FieldFacts = {}): Plain<string> => field('note', null, facts);
export const text = (facts: FieldFacts = {}): Plain<string> => field('text', null, facts);
export const time = (facts: FieldFacts = {}): Plain<string> => field('time', null, facts);
export const bytes = (longest: number | null, facts: FieldFacts = {}): Plain<Uint8Array> =>
  field('bytes', longest, facts);
/** One of a few words; `longest`: of its column. */
export const oneOf = <const W extends string>(
  values: readonly W[],
  longest: number,
  facts: FieldFacts = {},
): Plain<W> => field('word', longest, facts, values);

/** The field, which may also be empty. */
export const orNull = <V extends Held, L extends boolean, To extends string | undefined>(
  of: Field<V, L, To>,
): Field<V | null, L, To> => ({
  ...of,
  canBeNull: true,
  holds: undefined,
});
/** The field, which came later than its table. */
export const late = <V extends Held, To extends string | undefined>(of: Field<V, false, To>): Field<V, true, To> => ({
  ...of,
  isLate: true,
});

/** What the second of two rows is told, of which one may be there; it is told the `value` that both have. */
export type Clash = MessageKey;
/** Of rows that say the same in these fields, one is open at a time. */
export interface OpenOnce {
  /** Of the key in the database. */
  key: string;
  fields: readonly string[];
  /** What the second one is told. */
  message: Clash;
}
/** Of rows that say the same in these fields, one of those that are `among` a kind holds it. It can pass from one to another within a plan. */
export interface HeldOnce extends OpenOnce {
  among: Readonly<Record<string, Value>>;
}
export interface UniqueFields {
  fields: readonly string[];
  /** What a second one is told, where the values say nothing to a person. */
  message?: Clash;
}
export interface Facts {
  /** The day on which a new one begins says something. */
  tellsBegin?: true;
  /** The field that says when it ended; without one its rows do not end. */
  ends?: 'ends';
  openOnce?: OpenOnce;
  heldOnce?: HeldOnce;
  /** Keys of several fields that no two rows share, by the name of each in the database. */
  unique?: Readonly<Record<string, UniqueFields>>;
}

export type FieldMap = Readonly<Record<string, Field>>;
/** Of any table; entities have no bytes. */
export type TableMap = Readonly<Record<string, Field<Held>>>;
export interface Declaration<M extends TableMap = FieldMap, K extends string | null = null> {
  readonly table: string;
  /** The fields by which a row is found; null: its id, which is none of `fields`. */
  readonly key: readonly K[] | null;
  readonly fields: M;
  readonly facts: Facts;
  /** Names of the fields, in order. */
  readonly columns: readonly string[];
}

const declared = <M extends TableMap, K extends string | null>(
  table: string,
  fields: M,
  facts: Facts,
  key: readonly K[] | null,
): Declaration<M, K> => ({ table, fields, facts, key, columns: Object.keys(fields) });

/** An entity is a table of which rows are changed by plans. */
export const entity = <const M extends FieldMap>(table: string, fields: M, facts: Facts = {}): Declaration<M> =>
  declared<M, null>(table, fields, facts, null);
/** A table whose rows have an id. */
export const table = <const M extends TableMap>(name: string, fields: M, facts: Facts = {}): Declaration<M> =>
  declared<M, null>(name, fields, facts, null);
/** A table whose rows are found by some of their fields. */
export const keyed = <const M extends TableMap, const K extends keyof M & string>(
  name: string,
  key: readonly K[],
  fields: M,
  facts: Facts = {},
): Declaration<M, K> => declared(name, fields, facts, key);

type Holds<F> = F extends Field<infer V extends Held, boolean> ? V : never;
type LateOf<M extends TableMap> = { [K in keyof M]: M[K] extends Field<Held, true> ? K : never }[keyof M];
type Simple<T> = { [K in keyof T]: T[K] };
/** What a row says, its id left aside. Late fields may be missing. */
export type FieldsOf<M extends TableMap> = Simple<
  { -readonly [K in Exclude<keyof M, LateOf<M>>]: Holds<M[K]> } & { -readonly [K in LateOf<M>]?: Holds<M[K]> }
>;
export type RowOf<D> =
  D extends Declaration<infer M, null>
    ? Simple<{ id: string } & FieldsOf<M>>
    : D extends Declaration<infer M, string>
      ? FieldsOf<M>
      : never;

/** What of a text does not fit the field, as the end of a sentence; null: it fits. */
export function unfit({ kind, longest, values }: Field, text: string): string | null {
  if (kind === 'day') return isDay(text) ? null : say('plan.mustBeADateLike');
  if (values && !values.includes(text)) return say('plan.mustBeOneOf', { list: values.join(', ') });
  if (longest !== null && [...text].length > longest) return say('plan.mustHaveAtMostCharacters', { longest });
  if (kind === 'word' && !/^[ -~]*$/.test(text)) return say('plan.canHaveOnlyPlainLetters');
  return null;
}

/** Whether a text is a day that the calendar has, yyyy-mm-dd. */
function isDay(text: string): boolean {
  const [, year, month, date] = text.match(/^(\d{4})-(\d\d)-(\d\d)$/) ?? [];
  if (!date) return false;
  const day = new Date(Date.UTC(Number(year), Number(month) - 1, Number(date)));
  return day.getUTCMonth() === Number(month) - 1 && day.getUTCDate() === Number(date);
}
