/**
 * People and classes as resources of SCIM 2.0 (RFC 7643): what Sheaf wants a directory to hold, and how what it holds
 * differs. Sheaf's own id is the externalId, by which a resource is known again whatever became of the answer to its
 * making. Attributes that Sheaf does not set are the directory's own and stay.
 */
import { isObject, type Json, keyIn, namesOf, type Resource, valuesAt } from './filter';
import type { Operation } from './patch';

export const userSchema = 'urn:ietf:params:scim:schemas:core:2.0:User';
export const groupSchema = 'urn:ietf:params:scim:schemas:core:2.0:Group';
export const enterpriseSchema = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';

export interface DirectoryPerson {
  /** The person's id in Sheaf. */
  id: string;
  userName: string;
  givenName: string;
  familyName: string;
  email: string | null;
  role: 'student' | 'staff';
  number: string | null;
  school: string | null;
  /** False: on hold, or left. */
  active: boolean;
}
export interface DirectoryClass {
  id: string;
  name: string;
  school: string;
  /** Ids of its people in the directory. */
  members: readonly string[];
}

export function userOf(person: DirectoryPerson, district: string): Resource {
  const { givenName, familyName, email } = person;
  return {
    schemas: [userSchema, enterpriseSchema],
    externalId: person.id,
    userName: person.userName,
    name: { formatted: `${givenName} ${familyName}`, familyName, givenName },
    displayName: `${givenName} ${familyName}`,
    userType: person.role === 'staff' ? 'Staff' : 'Student',
    active: person.active,
    ...(email === null ? {} : { emails: [{ value: email, type: 'work', primary: true }] }),
    [enterpriseSchema]: {
      organization: district,
      ...(person.number === null ? {} : { employeeNumber: person.number }),
      ...(person.school === null ? {} : { division: person.school }),
    },
  };
}

export const groupOf = ({ id, name, school, members }: DirectoryClass): Resource => ({
  schemas: [groupSchema],
  externalId: id,
  displayName: `${name} · ${school}`,
  members: members.map((value) => ({ value })),
});

/** What Sheaf sets of each kind; `members` and `emails` are compared by their values. */
const set = {
  User: [
    'userName',
    'name.familyName',
    'name.givenName',
    'displayName',
    'userType',
    'active',
    'emails',
    `${enterpriseSchema}:organization`,
    `${enterpriseSchema}:division`,
    `${enterpriseSchema}:employeeNumber`,
  ],
  Group: ['displayName', 'members'],
} as const;
export type Kind = keyof typeof set;

const flat = (resource: Resource, path: string): string[] =>
  valuesAt(resource, path)
    .map((value) => (isObject(value) ? String(value.value) : String(value)))
    .sort();

export interface Difference {
  attribute: string;
  /** As the directory has it, and as it should be. */
  held: string[];
  wanted: string[];
}

export const differences = (kind: Kind, held: Resource, wanted: Resource): Difference[] =>
  set[kind].flatMap((path) => {
    const [a, b] = [flat(held, path), flat(wanted, path)];
    return a.length === b.length && a.every((value, i) => value === b[i])
      ? []
      : [{ attribute: path.slice(path.lastIndexOf(':') + 1), held: a, wanted: b }];
  });

/** What of a resource Sheaf sets, as one text: two are the same when it is. */
export const fingerprint = (kind: Kind, resource: Resource): string =>
  JSON.stringify(set[kind].map((path) => flat(resource, path)));

/** The operations that make what is held what is wanted; members one by one, so that a large group is not sent anew. */
export function patchFor(kind: Kind, held: Resource, wanted: Resource): Operation[] {
  const operations: Operation[] = [];
  for (const path of set[kind]) {
    const [a, b] = [flat(held, path), flat(wanted, path)];
    if (path === 'members') {
      const [before, after] = [new Set(a), new Set(b)];
      const added = b.filter((value) => !before.has(value));
      if (added.length > 0) operations.push({ op: 'add', path, value: added.map((value) => ({ value })) });
      for (const value of a.filter((one) => !after.has(one)))
        operations.push({ op: 'remove', path: `members[value eq "${value}"]` });
    } else if (a.length !== b.length || a.some((value, i) => value !== b[i])) {
      const value = at(wanted, path);
      operations.push(value === undefined ? { op: 'remove', path } : { op: 'replace', path, value });
    }
  }
  return operations;
}

function at(resource: Resource, path: string): Json | undefined {
  let value: Json | undefined = resource;
  for (const name of namesOf(path)) value = isObject(value) ? value[keyIn(value, name)] : undefined;
  return value;
}

/** A person as a directory has them; null where it says nothing. Any resource of the standard can be read. */
export function personOf(
  resource: Resource,
): Omit<DirectoryPerson, 'role' | 'active'> & { active: boolean | null; role: DirectoryPerson['role'] | null } {
  const one = (path: string): string | null => {
    const [value] = valuesAt(resource, path);
    return typeof value === 'string' ? value : null;
  };
  const emails = valuesAt(resource, 'emails').filter(isObject);
  const email = emails.find((e) => e.primary === true) ?? emails[0];
  const [active] = valuesAt(resource, 'active');
  const type = one('userType')?.toLowerCase();
  return {
    id: one('externalId') ?? '',
    userName: one('userName') ?? '',
    givenName: one('name.givenName') ?? '',
    familyName: one('name.familyName') ?? '',
    email: typeof email?.value === 'string' ? email.value : null,
    role: type === 'student' ? 'student' : type === 'staff' ? 'staff' : null,
    number: one(`${enterpriseSchema}:employeeNumber`),
    school: one(`${enterpriseSchema}:division`),
    active: typeof active === 'boolean' ? active : null,
  };
}
