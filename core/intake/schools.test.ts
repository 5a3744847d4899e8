/** Which school a source means, and those that it names and the district does not have. */
import { expect, it } from 'vitest';
import { UsernameGiver } from '#core/accounts/index';
import type { School } from '#core/entities/index';
import { schoolFinder } from '#core/names/schools';
import { readBundle, type Records, toFiles } from '#core/oneroster/index';
import { planRoster, rosterRows, type Snapshot } from './index';

const school = (id: string, name: string, code: string | null): School => ({
  ...{ id, name, code, kind: 'k8', lowGrade: 'KG', highGrade: '08', door: null, ways: null, cardText: null },
});

it('goes by the identifier first, then by the name, and by nothing that nobody gave', () => {
  const [north, south, unnamed] = [
    school('n', 'Northside', '4411'),
    school('s', 'Southside', '4412'),
    school('u', 'Millbrook', null),
  ];
  const { find, findOrg } = schoolFinder([north, south, unnamed]);
  // A roster that has an identifier means it, also where another school has the name by now.
  expect(findOrg({ name: 'Southside', identifier: '4411' })).toBe(north);
  expect(findOrg({ name: 'NORTHSIDE', identifier: '' })).toBe(north);
  expect(findOrg({ name: 'Millbrook', identifier: '4499' })).toBe(unnamed);
  expect(findOrg({ name: 'Westside', identifier: 'S1' })).toBeNull();
  expect([find('4412'), find('southside'), find('S1'), find('')]).toEqual([south, south, null, null]);
});

const records = (orgs: { sourcedId: string; name: string; identifier?: string }[]): Records => ({
  'orgs.csv': [
    { sourcedId: 'd', name: 'Isles', type: 'district' },
    ...orgs.map((org) => ({ ...org, type: 'school', parentSourcedId: 'd' })),
  ],
  'users.csv': orgs.flatMap(({ sourcedId }, s) =>
    ['03', '05'].map((grades, i) => ({
      sourcedId: `u${s}${i}`,
      enabledUser: 'true',
      username: `u${s}${i}`,
      givenName: 'Wren',
      familyName: `Xname${s}${i}`,
      identifier: `10${s}${i}`,
      primaryOrgSourcedId: sourcedId,
      grades,
    })),
  ),
  'roles.csv': orgs.flatMap(({ sourcedId }, s) =>
    [0, 1].map((i) => ({
      ...{ sourcedId: `r${s}${i}`, userSourcedId: `u${s}${i}`, roleType: 'primary', role: 'student' },
      orgSourcedId: sourcedId,
    })),
  ),
});
function planned(schools: School[], orgs: Parameters<typeof records>[0]) {
  const bundle = readBundle(toFiles(records(orgs), '1.2'));
  const snapshot: Snapshot = {
    ...{ schools, people: [], affiliations: [], classes: [], enrollments: [], accounts: [] },
  };
  let n = 0;
  return planRoster(
    snapshot,
    bundle,
    rosterRows(bundle),
    [],
    {
      ...{ schoolId: null, complete: true, date: '2026-08-17', source: 'feed', mostLeaving: 1 },
      keys: { people: new Map(), classes: new Map() },
    },
    { mint: () => `new${n++}`, sealedSecret: () => 'sealed', usernames: new UsernameGiver('{number}', new Map()) },
  );
}

it('puts students at the school with the identifier, whatever the roster calls it by now', () => {
  const result = planned(
    [school('n', 'Northside', '4411')],
    [{ sourcedId: 'a', name: 'Northside Academy', identifier: '4411' }],
  );
  const places = result.plan.changes.filter(({ entity }) => entity === 'affiliation');
  expect(places.map(({ after }) => (after as { schoolId: string }).schoolId)).toEqual(['n', 'n']);
  expect([result.newSchools, result.waiting]).toEqual([[], []]);
});

it('tells a school that is not on record with what makes it: name, identifier, rows, grades', () => {
  const result = planned(
    [school('n', 'Northside', null)],
    [
      { sourcedId: 'a', name: 'Northside', identifier: '4411' },
      { sourcedId: 'b', name: 'Skerry Annex', identifier: '4415' },
    ],
  );
  expect(result.newSchools).toEqual([{ name: 'Skerry Annex', identifier: '4415', rows: 2, grades: ['03', '05'] }]);
  // Those of it wait; those of the other one come in.
  expect([result.waiting.length, result.fresh.length]).toEqual([2, 2]);
});
