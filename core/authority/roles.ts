/**
 * Roles as data: each has a rank, a kind of scope and its rights. A right names an action; the scope says which
 * records it covers. A role that is not in the table has no rights and an empty scope.
 */
import type { AccountRole } from '#core/entities/index';

const student = ['session', 'own.page'] as const;
const teacher = [
  'session',
  'profile',
  'today',
  'people.see',
  'people.gather',
  'passwords.reveal',
  'passwords.reset',
  'classes.see',
  'classes.make',
  'groups',
  'levels',
  'codes',
  'requests',
  'plans',
  'prints',
  'exports',
  'work',
  'usage.see',
  'carts.see',
  'carts.book',
  'field.number',
  'field.birthDate',
  'field.guardian',
] as const;
const school = [
  ...teacher,
  'readiness',
  'people.edit',
  'people.verbs',
  'people.whole',
  'people.merge',
  'imports',
  'feeds.see',
  'ledger',
  'staff.invite',
  'roles.school',
  'settings.see',
  'schools.edit',
  'classes.templates',
  'classes.all',
  'codes.staff',
  'licenses.see',
  'licenses.keep',
  'devices',
  'sections',
  'archive',
  'field.evidence',
  'field.history',
] as const;
const district = [
  ...school,
  'imports.bundle',
  'schools.make',
  'settings.change',
  'roles.district',
  'feeds.keep',
  'directory',
  'products.keep',
  'seats.assign',
  'product.keys',
  'materials.keep',
  'calendar',
  'usage.strays',
  'year',
  'retention',
  'health',
] as const;

export type Right = (typeof district)[number] | (typeof student)[number];

/** The records a role's rights cover: all, those of the actor's schools or classes, the actor's own, none. */
export type ScopeKind = 'district' | 'schools' | 'classes' | 'self' | 'nothing';

export interface Role {
  name: AccountRole | 'none';
  /** Nobody acts on the record of a person of a higher rank. */
  rank: number;
  scope: ScopeKind;
  rights: ReadonlySet<Right>;
}

const role = (name: Role['name'], rank: number, scope: ScopeKind, rights: readonly Right[]): Role => ({
  name,
  rank,
  scope,
  rights: new Set(rights),
});

export const roles: Readonly<Record<AccountRole, Role>> = {
  district: role('district', 3, 'district', district),
  school: role('school', 2, 'schools', school),
  teacher: role('teacher', 1, 'classes', teacher),
  student: role('student', 0, 'self', student),
};
const none: Role = role('none', -1, 'nothing', []);

export const roleNames = Object.keys(roles) as AccountRole[];

/** The role of that name; one without rights for a name that is not in the table. */
export const roleOf = (name: string): Role => (Object.hasOwn(roles, name) ? roles[name as AccountRole] : none);

/** A person with the role and the places that they have at one moment. */
export interface Actor {
  personId: string;
  role: string;
  /** Schools at which they are, for coordinators of schools and teachers. */
  schoolIds: readonly string[];
  /** Classes that they teach. */
  classIds: readonly string[];
}

export const may = ({ role }: Pick<Actor, 'role'>, right: Right): boolean => roleOf(role).rights.has(right);

/** Whether the whole district is theirs. */
export const isEverywhere = ({ role }: Pick<Actor, 'role'>): boolean => roleOf(role).scope === 'district';
