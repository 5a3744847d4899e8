/**
 * The directory's protocol against its standard: the full user of RFC 7643, 8.2, the PATCH examples of RFC 7644, 3.5.2,
 * and the filters of its 3.4.2.2. The documents' texts are written down from memory.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  applyPatch,
  differences,
  enterpriseSchema,
  fingerprint,
  groupOf,
  parseFilter,
  patchFor,
  personOf,
  type Resource,
  ScimError,
  userOf,
  userSchema,
} from './index';

/** RFC 7643, 8.2 and 8.3: the full user with the enterprise extension. */
const bjensen: Resource = {
  schemas: [userSchema, enterpriseSchema],
  id: '2819c223-7f76-453a-919d-413861904646',
  externalId: '701984',
  userName: 'bjensen@example.com',
  name: {
    formatted: 'Ms. Barbara J Jensen, III',
    familyName: 'Jensen',
    givenName: 'Barbara',
    middleName: 'Jane',
    honorificPrefix: 'Ms.',
    honorificSuffix: 'III',
  },
  displayName: 'Babs Jensen',
  nickName: 'Babs',
  profileUrl: 'https://login.example.com/bjensen',
  emails: [
    { value: 'bjensen@example.com', type: 'work', primary: true },
    { value: 'babs@jensen.org', type: 'home' },
  ],
  addresses: [
    {
      streetAddress: '100 Universal City Plaza',
      locality: 'Hollywood',
      region: 'CA',
      postalCode: '91608',
      country: 'USA',
      formatted: '100 Universal City Plaza\nHollywood, CA 91608 USA',
      type: 'work',
      primary: true,
    },
    {
      streetAddress: '456 Hollywood Blvd',
      locality: 'Hollywood',
      region: 'CA',
      postalCode: '91608',
      country: 'USA',
      formatted: '456 Hollywood Blvd\nHollywood, CA 91608 USA',
      type: 'home',
    },
  ],
  phoneNumbers: [
    { value: '555-555-5555', type: 'work' },
    { value: '555-555-4444', type: 'mobile' },
  ],
  ims: [{ value: 'someaimhandle', type: 'aim' }],
  photos: [{ value: 'https://photos.example.com/profilephoto/72930000000Ccne/F', type: 'photo' }],
  userType: 'Employee',
  title: 'Tour Guide',
  preferredLanguage: 'en-US',
  locale: 'en-US',
  timezone: 'America/Los_Angeles',
  active: true,
  password: 't1meMa$heen',
  groups: [{ value: 'e9e30dba-f08f-4109-8486-d5c6a331660a', display: 'Tour Guides' }],
  x509Certificates: [{ value: 'MIIDQzCCAqygAwIBAgICEAAwDQYJKoZIhvcNAQEFBQAwTjELMAkGA1UEBhMCVVMx' }],
  [enterpriseSchema]: {
    employeeNumber: '701984',
    costCenter: '4130',
    organization: 'Universal Studios',
    division: 'Theme Park',
    department: 'Tour Operations',
    manager: { value: '26118915-6090-4610-87e4-49d8ca9f808d', displayName: 'John Smith' },
  },
  meta: {
    resourceType: 'User',
    created: '2010-01-23T04:56:22Z',
    lastModified: '2011-05-13T04:42:34Z',
    version: 'W/"a330bc54f0671c9"',
  },
};
const group: Resource = {
  schemas: ['urn:ietf:params:scim:schemas:core:2.0:Group'],
  id: 'acbf3ae7-8463-4692-b4fd-9b4da3f908ce',
  displayName: 'Tour Guides',
  members: [
    { value: '2819c223-7f76-453a-919d-413861904646', display: 'Babs Jensen' },
    { value: '902c246b-6245-4190-8e05-00816be7344a', display: 'Mandy Pepperidge' },
  ],
};

describe('the full user of RFC 7643', () => {
  it('is read: what Sheaf knows of a person, in whatever attribute', () => {
    expect(personOf(bjensen)).toEqual({
      id: '701984',
      userName: 'bjensen@example.com',
      givenName: 'Barbara',
      familyName: 'Jensen',
      email: 'bjensen@example.com',
      role: null,
      number: '701984',
      school: 'Theme Park',
      active: true,
    });
  });

  it('is written: what Sheaf wants otherwise is set, all else stays as it was', () => {
    const person = {
      ...personOf(bjensen),
      role: 'staff' as const,
      active: false,
      familyName: 'Jensen-Falk',
      email: null,
    };
    const wanted = userOf(person, 'Universal Studios');
    const after = applyPatch(bjensen, patchFor('User', bjensen, wanted));
    expect(differences('User', after, wanted)).toEqual([]);
    expect(after).toMatchObject({
      active: false,
      userType: 'Staff',
      name: { familyName: 'Jensen-Falk', honorificPrefix: 'Ms.' },
      title: 'Tour Guide',
      addresses: bjensen.addresses as object,
      [enterpriseSchema]: { costCenter: '4130' },
    });
    expect(after.emails).toBeUndefined();
    expect(patchFor('User', after, wanted)).toEqual([]);
  });
});

describe('the PATCH examples of RFC 7644', () => {
  const value = '23a35c27-23d3-4c03-b4c5-6443c09e7173';
  const other = [
    { value: '2819c223-7f76-453a-919d-413861904646', display: 'Babs Jensen' },
    { value, display: 'James Smith' },
  ];
  const home = (bjensen.addresses as Resource[])[1];
  it.each<[string, Resource, Parameters<typeof applyPatch>[1], object]>([
    [
      'adds a member',
      group,
      [{ op: 'add', path: 'members', value: [{ display: 'Babs Jensen', value }] }],
      { members: [...(group.members as object[]), { display: 'Babs Jensen', value }] },
    ],
    [
      'adds attributes without a path',
      { ...bjensen, emails: [] },
      [{ op: 'add', value: { emails: [{ value: 'babs@jensen.org', type: 'home' }], nickname: 'Babs' } }],
      { emails: [{ value: 'babs@jensen.org', type: 'home' }], nickName: 'Babs' },
    ],
    [
      'removes a member by a filter',
      group,
      [{ op: 'remove', path: 'members[value eq "2819c223-7f76-453a-919d-413861904646"]' }],
      { members: [(group.members as object[])[1]] },
    ],
    ['removes all members', group, [{ op: 'remove', path: 'members' }], {}],
    [
      'removes by a filter of two parts',
      bjensen,
      [{ op: 'remove', path: 'emails[type eq "work" and value ew "example.com"]' }],
      { emails: [{ value: 'babs@jensen.org', type: 'home' }] },
    ],
    [
      'removes one and adds another',
      group,
      [
        { op: 'remove', path: 'members[value eq "2819c223-7f76-453a-919d-413861904646"]' },
        { op: 'add', path: 'members', value: [{ display: 'James Smith', value }] },
      ],
      { members: [(group.members as object[])[1], { display: 'James Smith', value }] },
    ],
    ['replaces all members', group, [{ op: 'replace', path: 'members', value: other }], { members: other }],
    [
      'replaces the work address',
      bjensen,
      [
        {
          op: 'replace',
          path: 'addresses[type eq "work"]',
          value: { type: 'work', streetAddress: '911 Universal City Plaza', locality: 'Hollywood' },
        },
      ],
      { addresses: [expect.objectContaining({ type: 'work', streetAddress: '911 Universal City Plaza' }), home] },
    ],
    [
      'replaces a part of it',
      bjensen,
      [{ op: 'replace', path: 'addresses[type eq "work"].streetAddress', value: '1010 Broadway Ave' }],
      { addresses: [expect.objectContaining({ streetAddress: '1010 Broadway Ave', locality: 'Hollywood' }), home] },
    ],
    [
      'replaces without a path',
      bjensen,
      [
        {
          op: 'replace',
          value: { emails: [{ value: 'bjensen@example.com', type: 'work', primary: true }], nickname: 'Babs' },
        },
      ],
      { emails: [{ value: 'bjensen@example.com', type: 'work', primary: true }], nickName: 'Babs' },
    ],
  ])('%s', (_, before, operations, expected) => {
    const kept = structuredClone(before);
    expect(applyPatch(before, operations)).toMatchObject(expected);
    expect(before).toEqual(kept);
  });

  it('removing all members leaves none; adding one who is there changes nothing', () => {
    expect('members' in applyPatch(group, [{ op: 'remove', path: 'members' }])).toBe(false);
    expect(
      applyPatch(group, [{ op: 'Add', path: 'members', value: [{ value: '902c246b-6245-4190-8e05-00816be7344a' }] }]),
    ).toEqual(group);
  });

  it('refuses what the standard refuses, with its words', () => {
    const type = (operations: Parameters<typeof applyPatch>[1]) => {
      try {
        applyPatch(bjensen, operations);
        return 'none';
      } catch (error) {
        return error instanceof ScimError ? `${error.status} ${error.scimType}` : 'other';
      }
    };
    expect(type([{ op: 'remove' }])).toBe('400 noTarget');
    expect(type([{ op: 'replace', path: 'addresses[type eq "other"].locality', value: 'x' }])).toBe('400 noTarget');
    expect(type([{ op: 'replace', path: 'id', value: 'x' }])).toBe('400 mutability');
    expect(type([{ op: 'replace', path: 'emails[type like "x"]', value: {} }])).toBe('400 invalidFilter');
    expect(type([{ op: 'swap', path: 'name', value: {} }])).toBe('400 invalidSyntax');
  });
});

it('the filters of RFC 7644 find the full user, or do not', () => {
  const yes = [
    'userName eq "bjensen@example.com"',
    'USERNAME Eq "BJENSEN@example.com"',
    'name.familyName co "ENSE"',
    'userName sw "b"',
    'urn:ietf:params:scim:schemas:core:2.0:User:userName sw "b"'.replace(
      'urn:ietf:params:scim:schemas:core:2.0:User:',
      '',
    ),
    'title pr',
    'title pr and userType eq "Employee"',
    'title pr or userType eq "Intern"',
    'meta.lastModified gt "2011-05-13T04:42:33Z"',
    'userType eq "Employee" and (emails co "example.com" or emails.value co "example.org")',
    'userType ne "Intern" and not (emails co "example.org")',
    'emails[type eq "work" and value co "@example.com"] or ims[type eq "xmpp" and value co "@foo.com"]',
    `${enterpriseSchema}:employeeNumber eq "701984"`,
    'active eq true',
  ];
  const no = [
    'externalId eq "70198"',
    'nickName eq "babs x"',
    'emails[type eq "home" and value co "@example.com"]',
    'not (title pr)',
    'active eq false',
    'id eq "2819C223-7f76-453a-919d-413861904646"',
  ];
  expect(yes.filter((filter) => !parseFilter(filter)(bjensen))).toEqual([]);
  expect(no.filter((filter) => parseFilter(filter)(bjensen))).toEqual([]);
  for (const wrong of ['', 'userName', 'userName eq', 'userName eq x', '(title pr', 'title pr title', 'a xx "b"'])
    expect(() => parseFilter(wrong)).toThrow(ScimError);
});

it('whatever a directory holds, the operations make of it what is wanted, and then nothing more', () => {
  const name = fc.constantFrom('Wren', 'Zoë', "O'Neil", '');
  const person = fc.record({
    id: fc.constant('p1'),
    userName: fc.constantFrom('a', 'b'),
    givenName: name,
    familyName: name,
    email: fc.constantFrom(null, 'a@x.example', 'b@x.example'),
    role: fc.constantFrom('student' as const, 'staff' as const),
    number: fc.constantFrom(null, '1', '2'),
    school: fc.constantFrom(null, 'North'),
    active: fc.boolean(),
  });
  fc.assert(
    fc.property(
      person,
      person,
      fc.uniqueArray(fc.constantFrom('1', '2', '3', '4')),
      fc.uniqueArray(fc.constantFrom('1', '2', '3', '4')),
      (a, b, from, to) => {
        for (const [kind, held, wanted] of [
          ['User', userOf(a, 'D'), userOf(b, 'D')],
          [
            'Group',
            groupOf({ id: 'c', name: '3A', school: 'N', members: from }),
            groupOf({ id: 'c', name: '3B', school: 'N', members: to }),
          ],
        ] as const) {
          const after = applyPatch(held, patchFor(kind, held, wanted));
          expect(differences(kind, after, wanted)).toEqual([]);
          expect(fingerprint(kind, after)).toBe(fingerprint(kind, wanted));
          expect(patchFor(kind, after, wanted)).toEqual([]);
        }
      },
    ),
  );
});
