/**
 * The scope of an actor: which rows are theirs, as one condition per kind of row. A condition is data and has two
 * renderings, `holds` over rows in memory and `sqlOf` for the database; a property test shows that both choose the
 * same rows. Lists, look-ups and checks of plans all ask this one definition.
 */
import { type Actor, isEverywhere, roleOf, type ScopeKind } from './roles';

export interface Scope {
  kind: ScopeKind;
  personId: string;
  schoolIds: readonly string[];
  classIds: readonly string[];
  /** As of which day, yyyy-mm-dd; null: now. */
  day: string | null;
}

export const scopeOf = (actor: Actor, day: string | null = null): Scope => ({
  kind: roleOf(actor.role).scope,
  personId: actor.personId,
  schoolIds: actor.schoolIds,
  classIds: actor.classIds,
  day,
});

/**
 * `in`: a column is one of the ids. `place`: one of the places that count for a person is at one of the schools: the
 * open ones, and where there is none the one that ended last, so that a person who left stays with the school they
 * left and with no other. `studies`: an open enrollment as a student in one of the classes.
 */
export type Condition =
  | { is: 'all' }
  | { is: 'none' }
  | { is: 'in'; column: 'id' | 'schoolId' | 'classId'; ids: readonly string[] }
  | { is: 'place'; schools: readonly string[]; day: string | null }
  | { is: 'studies'; classes: readonly string[]; day: string | null };

const all: Condition = { is: 'all' };
const none: Condition = { is: 'none' };
const isIn = (column: 'id' | 'schoolId' | 'classId', ids: readonly string[]): Condition => ({ is: 'in', column, ids });

/** What of each kind of row is in a scope of each kind. */
type Rules = Record<ScopeKind, (scope: Scope) => Condition>;
const rules = {
  /** `people` */
  people: {
    district: () => all,
    schools: ({ schoolIds: schools, day }) => ({ is: 'place', schools, day }),
    classes: ({ classIds: classes, day }) => ({ is: 'studies', classes, day }),
    self: ({ personId }) => isIn('id', [personId]),
    nothing: () => none,
  },
  /** `schools` */
  schools: {
    district: () => all,
    schools: ({ schoolIds }) => isIn('id', schoolIds),
    classes: ({ schoolIds }) => isIn('id', schoolIds),
    self: () => none,
    nothing: () => none,
  },
  /** `classes`: those that one runs. */
  classes: {
    district: () => all,
    schools: ({ schoolIds }) => isIn('schoolId', schoolIds),
    classes: ({ classIds }) => isIn('id', classIds),
    self: () => none,
    nothing: () => none,
  },
  /** Rows of a class, or of a school as a whole: `class_groups`, `join_codes`, student requests. */
  ofClass: {
    district: () => all,
    schools: ({ schoolIds }) => isIn('schoolId', schoolIds),
    classes: ({ classIds }) => isIn('classId', classIds),
    self: () => none,
    nothing: () => none,
  },
  /** Rows that are at a school and open to all who work there: `devices`, `carts`. */
  atSchool: {
    district: () => all,
    schools: ({ schoolIds }) => isIn('schoolId', schoolIds),
    classes: ({ schoolIds }) => isIn('schoolId', schoolIds),
    self: () => none,
    nothing: () => none,
  },
} satisfies Record<string, Rules>;

export type RowKind = keyof typeof rules;

/** Which rows of a kind are in the scope. */
export const conditionOf = (scope: Scope, kind: RowKind): Condition => rules[kind][scope.kind](scope);

/** A span with a first day and the first day on which it no longer holds. */
interface Span {
  id: string;
  begins: string;
  ends: string | null;
}
/** A row in memory: its own columns, and of a person the schools and classes that the scope asks about, see personFacts. */
export interface ScopedRow {
  id?: string;
  schoolId?: string | null;
  classId?: string | null;
  /** Schools of the places that count. */
  schools?: readonly string[];
  /** Classes that they are in as a student. */
  classes?: readonly string[];
}

const isOpen = ({ begins, ends }: Span, day: string | null): boolean =>
  day === null ? ends === null : begins <= day && (ends === null || ends > day);

/**
 * The places that count: the open ones, else the one that ended last; with a day, those that were open on it.
 * Of two that ended on one day the one with the later id counts.
 */
export function placesThatCount<P extends Span>(places: readonly P[], day: string | null = null): P[] {
  const open = places.filter((place) => isOpen(place, day));
  if (open.length > 0 || day !== null) return open;
  const last = places.reduce<P | null>(
    (best, place) =>
      !best || place.ends! > best.ends! || (place.ends === best.ends && place.id > best.id) ? place : best,
    null,
  );
  return last ? [last] : [];
}

/** What a person's places and enrollments, past ones among them, come to for a scope. */
export const personFacts = (
  id: string,
  places: readonly (Span & { schoolId: string })[],
  enrollments: readonly (Span & { classId: string; role: string })[],
  day: string | null = null,
): ScopedRow => ({
  id,
  schools: placesThatCount(places, day).map(({ schoolId }) => schoolId),
  classes: enrollments.flatMap((e) => (e.role === 'student' && isOpen(e, day) ? e.classId : [])),
});

/** The rendering in memory. */
export function holds(condition: Condition, row: ScopedRow): boolean {
  switch (condition.is) {
    case 'all':
      return true;
    case 'none':
      return false;
    case 'in': {
      const value = row[condition.column];
      return typeof value === 'string' && condition.ids.includes(value);
    }
    case 'place':
      return row.schools?.some((id) => condition.schools.includes(id)) ?? false;
    case 'studies':
      return row.classes?.some((id) => condition.classes.includes(id)) ?? false;
  }
}

/** Ids stand in the text itself, so they are looked at: 26 letters and digits, as all ids are. */
function list(ids: readonly string[]): string {
  const odd = ids.find((id) => !/^[0-9A-Z]{26}$/.test(id));
  if (odd !== undefined) throw new RangeError(`not an id: ${odd}`);
  return ids.map((id) => `'${id}'`).join(', ');
}
const day = (text: string): string => {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) throw new RangeError(`not a day: ${text}`);
  return `'${text}'`;
};
const openSql = (alias: string, on: string | null): string =>
  on === null
    ? `${alias}.ends IS NULL`
    : `${alias}.begins <= ${day(on)} AND (${alias}.ends IS NULL OR ${alias}.ends > ${day(on)})`;

/** The rendering in SQL, for rows of the table under `alias`; without parameters. */
export function sqlOf(condition: Condition, alias: string): string {
  switch (condition.is) {
    case 'all':
      return '1 = 1';
    case 'none':
      return '1 = 0';
    case 'in':
      return condition.ids.length === 0 ? '1 = 0' : `${alias}.${condition.column} IN (${list(condition.ids)})`;
    case 'place': {
      if (condition.schools.length === 0) return '1 = 0';
      const here = `FROM affiliations sa WHERE sa.personId = ${alias}.id AND sa.schoolId IN (${list(condition.schools)})`;
      if (condition.day !== null) return `EXISTS (SELECT 1 ${here} AND ${openSql('sa', condition.day)})`;
      return `EXISTS (SELECT 1 ${here} AND (sa.ends IS NULL OR NOT EXISTS (SELECT 1 FROM affiliations so WHERE so.personId = ${alias}.id
        AND (so.ends IS NULL OR so.ends > sa.ends OR (so.ends = sa.ends AND so.id > sa.id)))))`;
    }
    case 'studies':
      return condition.classes.length === 0
        ? '1 = 0'
        : `EXISTS (SELECT 1 FROM enrollments se WHERE se.personId = ${alias}.id AND se.role = 'student' AND se.classId IN (${list(condition.classes)}) AND ${openSql('se', condition.day)})`;
  }
}

/** The condition, in SQL, on rows of a kind under `alias` that are the actor's. */
export const theirRows = (actor: Actor, kind: RowKind, alias: string, on: string | null = null): string =>
  sqlOf(conditionOf(scopeOf(actor, on), kind), alias);

/** Whether a row of a kind is the actor's. */
export const isTheirs = (actor: Actor, kind: RowKind, row: ScopedRow): boolean =>
  holds(conditionOf(scopeOf(actor), kind), row);

/** The condition, in SQL, on rows that the actor made; for the district all. */
export const theirWork = (actor: Actor, column: string): string => {
  const { kind, personId } = scopeOf(actor);
  return kind === 'district' ? '1 = 1' : kind === 'nothing' ? '1 = 0' : `${column} = ${list([personId])}`;
};
export const isTheirWork = (actor: Actor, madeBy: string | null): boolean =>
  isEverywhere(actor) || (roleOf(actor.role).scope !== 'nothing' && madeBy === actor.personId);

/** The same for two actors who see the same: by what is counted for the one, the other is answered. */
export const scopeKey = (actor: Actor): string => {
  const { kind, personId, schoolIds, classIds } = scopeOf(actor);
  return JSON.stringify(kind === 'district' ? kind : [kind, kind === 'self' ? personId : '', schoolIds, classIds]);
};

/** Whether a school is the actor's, the one that a teacher works at, too; null, no school in particular, is the district's. */
export const inScope = (actor: Actor, schoolId: string | null): boolean =>
  schoolId === null ? isEverywhere(actor) : isTheirs(actor, 'schools', { id: schoolId });
