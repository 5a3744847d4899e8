/** Records of the standard by field name, as they come from a service or are made: to CSV and to the REST protocol's JSON, and back. */
import type { FileName, Version } from './spec';
import { fieldsOf, fileNames } from './spec';
import { eachRecord } from './people';
import type { Bundle } from './bundle';
import { writeTable } from './table';

export type RosterRecord = Record<string, string>;
export type Records = Partial<Record<FileName, RosterRecord[]>>;

/** A bulk bundle's files, with a manifest. */
export function toFiles(records: Records, version: Version): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>();
  const manifest: [string, string][] = [
    ['manifest.version', '1.0'],
    ['oneroster.version', version],
  ];
  for (const file of fileNames) {
    const list = records[file];
    if (file === 'userProfiles.csv' || (file === 'roles.csv' && version === '1.1')) continue;
    manifest.push([`file.${file.replace('.csv', '')}`, list ? 'bulk' : 'absent']);
    if (!list) continue;
    const names = fieldsOf(file, version).map(({ name }) => name);
    files.set(
      file,
      writeTable(
        names,
        list.map((record) => names.map((name) => record[name] ?? '')),
      ),
    );
  }
  files.set('manifest.csv', writeTable(['propertyName', 'value'], manifest));
  return files;
}

export function fromBundle(bundle: Bundle): Records {
  const records: Records = {};
  for (const file of fileNames) {
    const table = bundle.tables.get(file);
    if (!table) continue;
    const list: RosterRecord[] = [];
    eachRecord(bundle, file, (get) => list.push(Object.fromEntries(table.header.map((name) => [name, get(name)]))));
    records[file] = list;
  }
  return records;
}

type Shape = 'text' | 'list' | 'ref' | 'refs' | 'bool';
/** CSV field to the JSON's property and its shape; source: OneRoster 1.2 Rostering Service, REST/JSON binding (from memory). */
const shapes: Partial<Record<FileName, { path: string; one: string; fields: Record<string, [string, Shape]> }>> = {
  'orgs.csv': {
    path: 'orgs',
    one: 'org',
    fields: {
      name: ['name', 'text'],
      type: ['type', 'text'],
      identifier: ['identifier', 'text'],
      parentSourcedId: ['parent', 'ref'],
    },
  },
  'academicSessions.csv': {
    path: 'academicSessions',
    one: 'academicSession',
    fields: {
      title: ['title', 'text'],
      type: ['type', 'text'],
      startDate: ['startDate', 'text'],
      endDate: ['endDate', 'text'],
      parentSourcedId: ['parent', 'ref'],
      schoolYear: ['schoolYear', 'text'],
    },
  },
  'courses.csv': {
    path: 'courses',
    one: 'course',
    fields: {
      schoolYearSourcedId: ['schoolYear', 'ref'],
      title: ['title', 'text'],
      courseCode: ['courseCode', 'text'],
      grades: ['grades', 'list'],
      orgSourcedId: ['org', 'ref'],
      subjects: ['subjects', 'list'],
      subjectCodes: ['subjectCodes', 'list'],
    },
  },
  'classes.csv': {
    path: 'classes',
    one: 'class',
    fields: {
      title: ['title', 'text'],
      grades: ['grades', 'list'],
      courseSourcedId: ['course', 'ref'],
      classCode: ['classCode', 'text'],
      classType: ['classType', 'text'],
      location: ['location', 'text'],
      schoolSourcedId: ['school', 'ref'],
      termSourcedIds: ['terms', 'refs'],
      subjects: ['subjects', 'list'],
      subjectCodes: ['subjectCodes', 'list'],
      periods: ['periods', 'list'],
    },
  },
  'users.csv': {
    path: 'users',
    one: 'user',
    fields: {
      enabledUser: ['enabledUser', 'bool'],
      username: ['username', 'text'],
      givenName: ['givenName', 'text'],
      familyName: ['familyName', 'text'],
      middleName: ['middleName', 'text'],
      identifier: ['identifier', 'text'],
      email: ['email', 'text'],
      sms: ['sms', 'text'],
      phone: ['phone', 'text'],
      agentSourcedIds: ['agents', 'refs'],
      grades: ['grades', 'list'],
      userMasterIdentifier: ['userMasterIdentifier', 'text'],
      preferredGivenName: ['preferredFirstName', 'text'],
      preferredMiddleName: ['preferredMiddleName', 'text'],
      preferredFamilyName: ['preferredLastName', 'text'],
      primaryOrgSourcedId: ['primaryOrg', 'ref'],
      pronouns: ['pronouns', 'text'],
    },
  },
  'enrollments.csv': {
    path: 'enrollments',
    one: 'enrollment',
    fields: {
      classSourcedId: ['class', 'ref'],
      schoolSourcedId: ['school', 'ref'],
      userSourcedId: ['user', 'ref'],
      role: ['role', 'text'],
      primary: ['primary', 'bool'],
      beginDate: ['beginDate', 'text'],
      endDate: ['endDate', 'text'],
    },
  },
  'demographics.csv': { path: 'demographics', one: 'demographics', fields: { birthDate: ['birthDate', 'text'] } },
};

/** The service's collections, with the file that each fills. */
export const collections = Object.entries(shapes).map(([file, { path, one }]) => ({
  file: file as FileName,
  path,
  one,
}));

type Json = Record<string, unknown>;

/** A record as the service sends it; `roles` of a user with it. */
export function toJson(file: FileName, record: RosterRecord, roles: RosterRecord[] = []): Json {
  const json: Json = {
    sourcedId: record.sourcedId,
    status: record.status || 'active',
    dateLastModified: record.dateLastModified || '1970-01-01T00:00:00.000Z',
  };
  for (const [name, [property, shape]] of Object.entries(shapes[file]?.fields ?? {})) {
    const value = record[name] ?? '';
    if (value === '') continue;
    const parts = () => value.split(',').map((part) => part.trim());
    json[property] =
      shape === 'ref'
        ? { sourcedId: value }
        : shape === 'refs'
          ? parts().map((sourcedId) => ({ sourcedId }))
          : shape === 'list'
            ? parts()
            : shape === 'bool'
              ? value
              : value;
  }
  if (file === 'users.csv')
    json.roles = roles.map((role) => ({
      roleType: role.roleType || 'primary',
      role: role.role,
      org: { sourcedId: role.orgSourcedId },
      ...(role.beginDate ? { beginDate: role.beginDate } : {}),
      ...(role.endDate ? { endDate: role.endDate } : {}),
    }));
  return json;
}

/** A record as it would stand in the file; a user's roles apart. Throws Error where it has no sourcedId. */
export function fromJson(file: FileName, json: unknown): { record: RosterRecord; roles: RosterRecord[] } {
  const source = json as Json;
  const text = (value: unknown): string =>
    typeof value === 'string' ? value : typeof value === 'number' || typeof value === 'boolean' ? String(value) : '';
  const ref = (value: unknown): string => text((value as Json | null | undefined)?.sourcedId);
  const sourcedId = text(source.sourcedId);
  if (sourcedId === '') throw new Error(`A record of ${file.replace('.csv', '')} has no sourcedId.`);
  const status = text(source.status);
  const record: RosterRecord = { sourcedId, ...(status === 'tobedeleted' ? { status } : {}) };
  for (const [name, [property, shape]] of Object.entries(shapes[file]?.fields ?? {})) {
    const value = source[property];
    if (value === undefined || value === null) continue;
    const list = Array.isArray(value) ? value : [];
    record[name] =
      shape === 'ref'
        ? ref(value)
        : shape === 'refs'
          ? list.map(ref).join(',')
          : shape === 'list'
            ? list.map(text).join(',')
            : text(value);
  }
  const roles = (Array.isArray(source.roles) ? (source.roles as Json[]) : []).map((role, i) => ({
    sourcedId: `${sourcedId}-role-${i + 1}`,
    userSourcedId: sourcedId,
    roleType: text(role.roleType),
    role: text(role.role),
    beginDate: text(role.beginDate),
    endDate: text(role.endDate),
    orgSourcedId: ref(role.org),
  }));
  return { record, roles };
}
