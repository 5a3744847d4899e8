/** Worked examples: people and classes as resources, what differs, filters and patches, told in `worked.txt`. */
import { expect, it } from 'vitest';
import {
  applyPatch,
  differences,
  type DirectoryPerson,
  enterpriseSchema,
  fingerprint,
  groupOf,
  groupSchema,
  namesOf,
  parseFilter,
  patchFor,
  personOf,
  type Resource,
  ScimError,
  userOf,
  userSchema,
  valuesAt,
} from './index';
import { keyIn } from './filter';

const ada: DirectoryPerson = {
  ...{ id: 'p1', userName: 'ada', givenName: 'Ada', familyName: 'Moyo', email: 'ada@x.example', role: 'student' },
  ...{ number: '1001', school: 'North', active: true },
};
const tried = <T>(run: () => T): string => {
  try {
    return JSON.stringify(run()) ?? 'nothing';
  } catch (error) {
    if (!(error instanceof ScimError)) throw error;
    return `${error.status} ${error.scimType}: ${error.message}`;
  }
};

it('resources, filters and patches are as these', async () => {
  const out: string[] = [];
  const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
  const plain: DirectoryPerson = {
    ...ada,
    id: 'p2',
    email: null,
    number: null,
    school: null,
    role: 'staff',
    active: false,
  };
  const [user, staff] = [userOf(ada, 'Isles'), userOf(plain, 'Isles')];
  const group = groupOf({ id: 'c1', name: '3A', school: 'North', members: ['u1', 'u2'] });
  expect([userSchema, groupSchema, enterpriseSchema]).toEqual([
    // RFC 7643, 8.7: the schemas' URNs.
    'urn:ietf:params:scim:schemas:core:2.0:User',
    'urn:ietf:params:scim:schemas:core:2.0:Group',
    'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User',
  ]);
  show(
    'people and classes',
    [user, staff, group].map((r) => JSON.stringify(r)),
  );
  show(
    'read back',
    [
      user,
      staff,
      { userName: 'x', emails: [{ value: 'a' }, { value: 'b', primary: true }], userType: 'Robot', active: 'yes' },
      {},
      { emails: [{ type: 'work' }], name: { familyName: 3 } },
    ].map((r) => JSON.stringify(personOf(r as Resource))),
  );
  const held: Resource = {
    ...structuredClone(user),
    displayName: 'Other',
    emails: [{ value: 'old@x.example' }],
    active: false,
    nickName: 'A',
  };
  const more = groupOf({ id: 'c1', name: '3A+', school: 'North', members: ['u2', 'u3'] });
  show('differences', [
    ...differences('User', held, user).map((d) => JSON.stringify(d)),
    ...differences('User', user, structuredClone(user)).map((d) => JSON.stringify(d)),
    ...differences('User', user, staff).map((d) => JSON.stringify(d)),
    ...differences('Group', group, more).map((d) => JSON.stringify(d)),
    fingerprint('User', user),
    fingerprint('Group', group),
  ]);
  show('what makes them alike', [
    ...patchFor('User', held, user).map((o) => JSON.stringify(o)),
    '-',
    ...patchFor('User', user, staff).map((o) => JSON.stringify(o)),
    '-',
    ...patchFor('User', staff, user).map((o) => JSON.stringify(o)),
    '-',
    ...patchFor('Group', group, more).map((o) => JSON.stringify(o)),
    JSON.stringify(applyPatch(group, patchFor('Group', group, more))),
    JSON.stringify(patchFor('Group', group, group)),
  ]);
  show(
    'paths',
    [
      'name.familyName',
      `${enterpriseSchema}:employeeNumber`,
      `${enterpriseSchema}:manager.displayName`,
      userSchema,
      'emails.value',
      'EMAILS',
    ].map((path) => `${path}: ${namesOf(path).join(' > ')} = ${JSON.stringify(valuesAt(user, path))}`),
  );
  show('keys', [keyIn(user, 'USERNAME'), keyIn(user, 'none')]);
  const filters = [
    'userName eq "ADA"',
    'USERNAME EQ "ada"',
    'userName ne "ada"',
    'userName ne "x"',
    'externalId eq "P1"',
    'externalId eq "p1"',
    'name.familyName co "oy"',
    'name.familyName sw "mo"',
    'name.familyName ew "yo"',
    'name.familyName co "x"',
    'name.familyName sw "oy"',
    'name.familyName ew "mo"',
    'userName gt "abc"',
    'userName gt "ada"',
    'userName ge "ada"',
    'userName lt "adb"',
    'userName lt "ada"',
    'userName le "ada"',
    'active eq true',
    'active eq false',
    'active gt true',
    'title pr',
    'emails pr',
    'emails eq "ada@x.example"',
    'emails[type eq "work" and value ew "x.example"]',
    'emails[type eq "home"]',
    'not (userName eq "ada")',
    'not userName eq "x"',
    'userName eq "x" or active eq true and name.givenName eq "Ada"',
    '(userName eq "x" or active eq true) and name.givenName eq "Bo"',
    'title eq null',
    `${enterpriseSchema}:employeeNumber eq "1001"`,
    'userName eq 1',
    'userName',
    'userName is "x"',
    'userName eq x',
    'userName eq "x" and',
    '(userName eq "x"',
    'userName eq "x" extra',
    '',
    'emails[type eq "work"',
    'userName eq "a\\"b"',
  ];
  show(
    'filters',
    filters.map((filter) => `${filter}: ${tried(() => parseFilter(filter)(user))}`),
  );
  const patches: [string, object[]][] = [
    ['adds to one', [{ op: 'Add', path: 'nickName', value: 'A' }]],
    ['adds to attributes', [{ op: 'add', path: 'name', value: { middleName: 'M' } }]],
    [
      'adds to many, each once',
      [{ op: 'add', path: 'emails', value: [{ value: 'ada@x.example', type: 'work' }, { value: 'new@x.example' }] }],
    ],
    ['adds one to many', [{ op: 'add', path: 'emails', value: { value: 'new@x.example' } }]],
    ['adds without a path', [{ op: 'add', value: { nickName: 'A', displayName: 'B' } }]],
    ['replaces', [{ op: 'replace', path: 'DISPLAYNAME', value: 'B' }]],
    ['replaces with nothing', [{ op: 'replace', path: 'displayName' }]],
    ['replaces deep down', [{ op: 'replace', path: 'address.street.name', value: 'Quay' }]],
    [
      'replaces in what a filter finds',
      [{ op: 'replace', path: 'emails[type eq "work"].value', value: 'w@x.example' }],
    ],
    ['replaces what a filter finds', [{ op: 'replace', path: 'emails[type eq "work"]', value: { display: 'W' } }]],
    ['replaces what a filter finds by a word', [{ op: 'replace', path: 'emails[type eq "work"]', value: 'x' }]],
    ['replaces in what no filter finds', [{ op: 'replace', path: 'emails[type eq "home"].value', value: 'h' }]],
    ['removes', [{ op: 'remove', path: 'emails' }]],
    ['removes what a filter finds', [{ op: 'remove', path: 'emails[type eq "work"]' }]],
    ['removes what no filter finds', [{ op: 'remove', path: 'emails[type eq "home"]' }]],
    ['removes in what a filter finds', [{ op: 'remove', path: 'emails[type eq "work"].primary' }]],
    ['removes of an extension', [{ op: 'remove', path: `${enterpriseSchema}:division` }]],
    ['removes nothing named', [{ op: 'remove' }]],
    ['adds nothing', [{ op: 'add', value: 'x' }]],
    ['does what there is not', [{ op: 'move', path: 'x' }]],
    ['changes what is read only', [{ op: 'replace', path: 'id', value: 'x' }]],
    ['changes what is read only, without a path', [{ op: 'replace', value: { Meta: {} } }]],
    ['has no path', [{ op: 'add', path: '[x]', value: 1 }]],
    ['does all or nothing', [{ op: 'add', path: 'nickName', value: 'A' }, { op: 'remove' }]],
  ];
  show(
    'patches',
    patches.map(([title, operations]) => `${title}: ${tried(() => applyPatch(user, operations as never))}`),
  );
  expect(user).toEqual(userOf(ada, 'Isles'));
  await expect(out.join('\n')).toMatchFileSnapshot('./worked.txt');
});
