/**
 * Worked examples of the open roster standard: a small bundle with its faults, a night after it, and the register
 * written as a bundle, told in `worked.txt`. Whoever changes what is said there looks at each line that changes.
 */
import { thrown, asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import {
  type Bundle,
  checkBundle,
  collections,
  coverage,
  diffTables,
  enrollmentsSince,
  fileNames,
  fromBundle,
  fromJson,
  readBundle,
  type RegisterPart,
  roleOf,
  rosterPeople,
  toFiles,
  toJson,
  toRecords,
  usersSince,
} from './index';
import { classesOf } from './people';
import { faulty, night, sound } from './worked';
import { sampleSchool } from '#core/register/samples';

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const said = (row: object): string =>
  Object.entries(row)
    .filter(([, value]) => value !== null && value !== '' && value !== undefined)
    .map(([key, value]) => `${key}=${typeof value === 'object' ? JSON.stringify(value) : String(value)}`)
    .join(' ');
const problems = (bundle: Bundle, most?: number): string[] => {
  const { problems: all, refused } = checkBundle(bundle, most);
  return [
    ...all.map(
      (p) =>
        `${p.file}:${p.line ?? '-'} ${p.column ?? '-'} ${p.code}${p.imported ? '' : ' not imported'}: ${p.message}`,
    ),
    ...[...refused].flatMap(([file, lines]) => (lines.size > 0 ? [`refused in ${file}: ${[...lines].join(' ')}`] : [])),
  ];
};

it('bundles are read, checked, compared and written as these are', async () => {
  const out: string[] = [];
  const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
  const files = (bundle: Map<string, Uint8Array>) =>
    [...bundle].flatMap(([name, bytes]) => [`== ${name}`, ...text(bytes).trimEnd().split('\r\n')]);
  show('a sound bundle, version 1.2', files(toFiles(sound(), '1.2')));
  show('the same, version 1.1', files(toFiles(sound(), '1.1')));
  const bundle = readBundle(toFiles(sound(), '1.2'));
  show('nothing is wrong with it', problems(bundle));
  show('its people', rosterPeople(bundle).map(said));
  show(
    'some of them, without homerooms',
    rosterPeople(bundle, { homerooms: false, only: { ids: new Set(['u1', 'u5']) } }).map(said),
  );
  show('its classes', classesOf(bundle).map(said));
  show(
    'read again',
    fileNames.flatMap((file) => (fromBundle(bundle)[file] ?? []).map((r) => `${file} ${said(r)}`)),
  );
  const wrong = readBundle(faulty());
  show('a faulty bundle', [
    `version ${wrong.version}, changes only: ${[...wrong.delta].join() || 'none'}`,
    ...problems(wrong),
  ]);
  show('the same, at most one of a kind', problems(wrong, 1));
  show('its people', rosterPeople(wrong).map(said));
  const later = readBundle(toFiles(night(), '1.2'));
  const since = usersSince(bundle, later);
  show('a night later', [
    `news of ${[...since.users].sort().join()}; gone ${[...since.gone].sort().join()}`,
    said(enrollmentsSince(bundle, later)),
    ...fileNames.map(
      (file) => `${file} ${said(diffTables(bundle.tables.get(file) ?? null, later.tables.get(file) ?? null))}`,
    ),
  ]);
  const older = readBundle(toFiles(sound(), '1.1'));
  show(
    'against another version',
    fileNames.map(
      (file) => `${file} ${said(diffTables(older.tables.get(file) ?? null, bundle.tables.get(file) ?? null))}`,
    ),
  );
  const json = collections.flatMap(({ file, path, one }) =>
    (fromBundle(bundle)[file] ?? []).map((record) => {
      const sent = toJson(
        file,
        record,
        file === 'users.csv'
          ? fromBundle(bundle)['roles.csv']!.filter((r) => r.userSourcedId === record.sourcedId)
          : [],
      );
      return `${path}/${one} ${JSON.stringify(sent)} → ${JSON.stringify(fromJson(file, sent))}`;
    }),
  );
  show('as the service sends it, and read back', json);
  for (const version of ['1.1', '1.2'] as const)
    show(
      `fields of ${version}`,
      coverage(version).map(({ file, field, into, why }) => `${file} ${field}: ${into ?? `left out, ${why}`}`),
    );
  const part: RegisterPart = {
    district: 'Isles',
    year: { begins: '2026-08-01', ends: '2027-07-31' },
    schools: [sampleSchool('s1', { name: 'North', code: 'N' })],
    people: [
      ...['p1', 'p2', 'p3', 'p4'].map((id, i) => ({
        ...{
          id,
          role: i === 2 ? ('staff' as const) : ('student' as const),
          number: i === 1 ? null : `10${i}`,
          givenName: `Given${i}`,
          middleName: i === 0 ? 'Mid' : null,
        },
        ...{
          familyName: `Family${i}`,
          birthDate: i === 2 ? null : `2017-01-0${i + 1}`,
          email: i === 2 ? 't@x.example' : null,
        },
        ...{ guardianEmail: i < 2 ? 'g@x.example' : null, status: 'active' as const, mergedInto: null },
      })),
    ],
    affiliations: ['p1', 'p2', 'p3'].map((personId) => ({
      id: `a-${personId}`,
      personId,
      schoolId: 's1',
      grade: personId === 'p3' ? null : '03',
      begins: '2026-08-01',
      ends: null,
    })),
    classes: [
      {
        id: 'c1',
        schoolId: 's1',
        name: '3A',
        kind: 'homeroom',
        grade: '03',
        subject: null,
        begins: '2026-08-01',
        ends: null,
      },
      {
        id: 'c2',
        schoolId: 's1',
        name: 'Art',
        kind: 'course',
        grade: null,
        subject: 'Art',
        begins: '2026-08-01',
        ends: null,
      },
      {
        id: 'c3',
        schoolId: 's1',
        name: 'Club',
        kind: 'course',
        grade: null,
        subject: null,
        begins: '2026-08-01',
        ends: null,
      },
    ],
    enrollments: [
      ['p1', 'c1', 'student'],
      ['p2', 'c2', 'student'],
      ['p3', 'c1', 'teacher'],
      ['p4', 'c1', 'student'],
      ['p1', 'c9', 'student'],
      ['p9', 'c1', 'student'],
    ].map(([personId, classId, role], i) => ({
      id: `e${i}`,
      personId: personId!,
      classId: classId!,
      role: role as 'student',
      begins: '2026-08-17',
      ends: null,
    })),
    usernames: new Map([['p1', 'given0']]),
  };
  show('the register as a bundle', files(toFiles(toRecords(part), '1.2')));
  show(
    'roles',
    ['student', 'teacher', 'aide', 'principal', 'proctor', 'parent', '', 'coach'].map(
      (word) => `${word}: ${roleOf(word)}`,
    ),
  );
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});

it('what is no bundle, or no record, is refused', () => {
  const bytes = (content: string) => new TextEncoder().encode(content);
  expect(thrown(() => readBundle(new Map([['manifest.csv', bytes('propertyName,value\n')]])))).toContain(
    'has a manifest but no files',
  );
  expect(thrown(() => fromJson('users.csv', { givenName: 'x' }))).toContain('A record of users has no sourcedId.');
  expect(
    fromJson('users.csv', {
      sourcedId: 7,
      status: 'tobedeleted',
      enabledUser: true,
      grades: ['03', 4],
      agents: [null, { sourcedId: 'a' }],
      givenName: null,
    }),
  ).toEqual({
    record: { sourcedId: '7', status: 'tobedeleted', enabledUser: 'true', grades: '03,4', agentSourcedIds: ',a' },
    roles: [],
  });
});
