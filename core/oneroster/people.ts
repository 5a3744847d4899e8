/** The people of a bundle with what other files say of them: school, homeroom, birth date, guardian's e-mail. */
import type { PersonField, RecordRow } from '#core/entities/index';
import { parseGrade, type Grade, type RowRole } from '#core/tabular/values';
import { type Bundle, tableOf } from './bundle';
import { type FileName, userFields } from './spec';

export interface RosterPerson extends RecordRow {
  sourcedId: string;
  line: number;
  grade: Grade | null;
  /** Id and name of the org that is the person's school; '' if none. */
  schoolId: string;
  school: string;
  /** The homeroom's title, else that of the only class; '' if none. */
  className: string;
  /** Null: no role of the standard. */
  role: RowRole | null;
  enabled: boolean;
  /** Said to be gone, in a delta. */
  deleted: boolean;
}

const staffRoles = new Set([
  'administrator',
  'aide',
  'counselor',
  'districtAdministrator',
  'principal',
  'proctor',
  'siteAdministrator',
  'systemAdministrator',
]);

/** Those who are no users of a school; who has no role at all is none either. */
const guardianRoles = new Set(['', 'guardian', 'parent', 'relative']);

/** The standard's word for a role as Sheaf has it; null for what is none. */
export const roleOf = (word: string): RowRole | null =>
  word === 'student' || word === 'teacher'
    ? word
    : staffRoles.has(word)
      ? 'staff'
      : guardianRoles.has(word)
        ? 'guardian'
        : null;

/** Records by the values of a field. */
export interface Where {
  field: string;
  wanted: ReadonlySet<string>;
}

/** Cells of a file by field name; all records, those with a wanted value, or those of these indexes. */
export function eachRecord(
  bundle: Bundle,
  file: FileName,
  use: (get: (field: string) => string, line: number, index: number) => void,
  only?: Iterable<number> | Where,
): void {
  const table = tableOf(bundle, file);
  if (!table) return;
  const columns = new Map(table.header.map((name, i) => [name, i]));
  const getter = (cells: string[]) => (field: string) => cells[columns.get(field) ?? -1] ?? '';
  const some = only && ('field' in only ? table.having(table.column(only.field), only.wanted) : only);
  if (some) for (const index of some) use(getter(table.cells(index)), table.lineOf(index), index);
  else table.each((cells, line, index) => use(getter(cells), line, index));
}

export const listOf = (text: string): string[] =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean);

/** Some users of a bundle: by sourcedId, and the indexes of their records in users.csv where those are known. */
export interface SomeUsers {
  ids: ReadonlySet<string>;
  records?: Iterable<number>;
}

/** In the order of users.csv; `homerooms: false` leaves `className` empty and the enrollments unread; `only`: those people. */
export function rosterPeople(
  bundle: Bundle,
  { homerooms: wanted = true, only }: { homerooms?: boolean; only?: SomeUsers } = {},
): RosterPerson[] {
  const where = (field: string): Where | undefined => only && { field, wanted: only.ids };
  const orgs = new Map<string, { name: string; type: string }>();
  eachRecord(bundle, 'orgs.csv', (get) => orgs.set(get('sourcedId'), { name: get('name'), type: get('type') }));
  const births = new Map<string, string>();
  eachRecord(bundle, 'demographics.csv', (get) => births.set(get('sourcedId'), get('birthDate')), where('sourcedId'));
  const roles = new Map<string, { role: string; org: string }>();
  eachRecord(
    bundle,
    'roles.csv',
    (get) => {
      const user = get('userSourcedId');
      if (!roles.has(user) || get('roleType') === 'primary')
        roles.set(user, { role: get('role'), org: get('orgSourcedId') });
    },
    where('userSourcedId'),
  );
  const homerooms = wanted ? homeroomsOf(bundle) : new Map<string, string>();
  const emails = new Map<string, string>();
  const agents = new Map<number, string[]>();
  const people: RosterPerson[] = [];
  const use = (get: (field: string) => string, line: number) => {
    const id = get('sourcedId');
    const own = roles.get(id);
    const places = [own?.org ?? '', get('primaryOrgSourcedId'), ...listOf(get('orgSourcedIds'))].filter(Boolean);
    const schoolId = places.find((org) => orgs.get(org)?.type === 'school') ?? places[0] ?? '';
    const birth = births.get(id) ?? '';
    const list = listOf(get('agentSourcedIds'));
    if (list.length > 0) agents.set(people.length, list);
    const said = {} as Record<Exclude<PersonField, 'birthDate'>, string>;
    for (const [field, column] of userFields) if (field !== 'birthDate') said[field] = get(column);
    people.push({
      sourcedId: id,
      line,
      ...said,
      birthDate: /^\d{4}-\d\d-\d\d$/.test(birth) ? birth : null,
      grade: parseGrade(listOf(get('grades'))[0] ?? ''),
      schoolId,
      school: orgs.get(schoolId)?.name ?? '',
      className: homerooms.get(id) ?? '',
      guardianEmail: '',
      role: roleOf(own?.role ?? get('role')),
      enabled: get('enabledUser') !== 'false',
      deleted: get('status') === 'tobedeleted',
    });
  };
  eachRecord(bundle, 'users.csv', use, only?.records ?? where('sourcedId'));
  const named = new Set([...agents.values()].flat());
  if (named.size > 0)
    eachRecord(bundle, 'users.csv', (get) => emails.set(get('sourcedId'), get('email')), {
      field: 'sourcedId',
      wanted: named,
    });
  for (const [index, list] of agents) {
    const found = list.map((id) => emails.get(id) ?? '').find((email) => email !== '');
    if (found) people[index]!.guardianEmail = found;
  }
  return people;
}

/** Title of each user's homeroom, or of their only class. */
function homeroomsOf(bundle: Bundle): Map<string, string> {
  const classes = new Map<string, { title: string; homeroom: boolean }>();
  eachRecord(bundle, 'classes.csv', (get) => {
    const id = get('sourcedId');
    if (!classes.has(id)) classes.set(id, { title: get('title'), homeroom: get('classType') === 'homeroom' });
  });
  const found = new Map<string, { title: string; homeroom: boolean; count: number }>();
  eachRecord(bundle, 'enrollments.csv', (get) => {
    const its = classes.get(get('classSourcedId'));
    if (!its || get('role') !== 'student') return;
    const user = get('userSourcedId');
    const known = found.get(user);
    if (!known) found.set(user, { ...its, count: 1 });
    else if (its.homeroom && !known.homeroom) found.set(user, { ...its, count: known.count + 1 });
    else known.count++;
  });
  return new Map(
    [...found].flatMap(([user, { title, homeroom, count }]) => (homeroom || count === 1 ? [[user, title]] : [])),
  );
}

export interface RosterClass {
  id: string;
  title: string;
  school: string;
  /** Family names of its teachers. */
  teacher: string;
  students: number;
}

/** The bundle's classes with how many are in them. */
export function classesOf(bundle: Bundle): RosterClass[] {
  const orgs = new Map<string, string>();
  eachRecord(bundle, 'orgs.csv', (get) => orgs.set(get('sourcedId'), get('name')));
  const classes = new Map<string, RosterClass>();
  eachRecord(bundle, 'classes.csv', (get) => {
    const id = get('sourcedId');
    if (classes.has(id)) return;
    classes.set(id, {
      id,
      title: get('title'),
      school: orgs.get(get('schoolSourcedId')) ?? '',
      teacher: '',
      students: 0,
    });
  });
  const teachers = new Map<string, string[]>();
  eachRecord(bundle, 'enrollments.csv', (get) => {
    const its = classes.get(get('classSourcedId'));
    if (!its) return;
    if (get('role') === 'student') its.students++;
    else if (get('role') === 'teacher') {
      const user = get('userSourcedId');
      teachers.set(user, [...(teachers.get(user) ?? []), its.id]);
    }
  });
  if (teachers.size > 0)
    eachRecord(bundle, 'users.csv', (get) => {
      for (const id of teachers.get(get('sourcedId')) ?? []) {
        const its = classes.get(id)!;
        its.teacher = its.teacher ? `${its.teacher}, ${get('familyName')}` : get('familyName');
      }
    });
  return [...classes.values()];
}
