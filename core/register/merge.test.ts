/** Merging two records and parting them again, whatever happened in between. */
import { asRead } from '#core/messages/expect';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyTo, type Change, type Fields, type Plan, type State } from '#core/plan/index';
import { planLines } from '#core/plan/lines';
import {
  type Affiliation,
  type Loan,
  type Contact,
  type Membership,
  type Person,
  personFields,
} from '#core/entities/index';
import { personLabel } from './index';
import { betterOf, chosen, planMerge, planUnmerge, type WithAll } from './merge';

const word = fc.constantFrom('Ada', 'ADA', 'Adá', 'A', 'Zoë', 'Zoe Ann');
const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: null });
const person = (id: string): fc.Arbitrary<Person> =>
  fc.record({
    id: fc.constant(id),
    role: fc.constant('student' as const),
    number: maybe(fc.constantFrom('000001', '000002')),
    givenName: word,
    middleName: maybe(word),
    familyName: word,
    birthDate: maybe(fc.constantFrom('2014-05-03', '2014-05-04')),
    email: fc.constant(null),
    guardianEmail: maybe(fc.constantFrom('a@home.example', 'b@home.example')),
    status: fc.constantFrom('active' as const, 'left' as const),
    mergedInto: fc.constant(null),
  });
const withAll = (id: string): fc.Arbitrary<WithAll> =>
  fc.record({
    person: person(id),
    affiliations: fc
      .array(fc.record({ schoolId: fc.constantFrom('s1', 's2'), ends: maybe(fc.constant('2026-01-01')) }), {
        maxLength: 2,
      })
      .map((list) =>
        list.map((a, i): Affiliation => ({ id: `${id}a${i}`, personId: id, grade: '03', begins: '2025-08-01', ...a })),
      ),
    enrollments: fc
      .array(fc.record({ classId: fc.constantFrom('c1', 'c2', 'c3'), ends: maybe(fc.constant('2026-01-01')) }), {
        maxLength: 4,
      })
      .map((list) =>
        list.map((e, i): WithAll['enrollments'][number] => ({
          id: `${id}e${i}`,
          personId: id,
          role: 'student',
          begins: '2025-08-01',
          kind: e.classId === 'c3' ? 'course' : 'homeroom',
          ...e,
        })),
      ),
    memberships: fc
      .array(fc.record({ groupId: fc.constantFrom('g1', 'g2'), ends: maybe(fc.constant('2026-01-01')) }), {
        maxLength: 2,
      })
      .map((list) => list.map((m, i): Membership => ({ id: `${id}m${i}`, personId: id, begins: '2025-08-01', ...m }))),
    contacts: fc.array(fc.constantFrom('a@home.example', 'b@home.example'), { maxLength: 2 }).map((list) =>
      list.map((email, i): Contact => ({
        id: `${id}k${i}`,
        personId: id,
        name: null,
        email,
        phone: null,
        relation: null,
      })),
    ),
    seats: fc
      .array(fc.record({ productId: fc.constantFrom('p1', 'p2'), ends: maybe(fc.constant('2026-01-01')) }), {
        maxLength: 2,
      })
      .map((list) =>
        list.map((s, i) => ({ id: `${id}s${i}`, personId: id, licenseId: 'l', begins: '2025-08-01', ...s })),
      ),
    loans: fc.array(fc.constantFrom('d1', 'd2'), { maxLength: 2 }).map((list) =>
      list.map((deviceId, i): Loan => ({
        id: `${id}l${i}`,
        deviceId,
        personId: id,
        kind: 'own',
        begins: '2025-08-01',
        due: null,
        ends: null,
      })),
    ),
    account: maybe(fc.constantFrom('active' as const, 'frozen' as const)).map((status) =>
      status ? { id: `${id}u`, status, username: `user-${id}` } : null,
    ),
  });

function stateOf(all: WithAll[]): State {
  const state: State = new Map();
  const put = (entity: string, { id, ...fields }: { id: string } & Fields) => {
    const table = state.get(entity) ?? new Map<string, Fields>();
    state.set(entity, table.set(id, fields));
  };
  for (const { person: p, affiliations, enrollments, memberships, contacts, seats, loans, account } of all) {
    put('person', { ...p });
    for (const a of affiliations) put('affiliation', { ...a });
    for (const e of enrollments) put('enrollment', { ...e });
    for (const k of contacts) put('contact', { ...k });
    for (const m of memberships) put('membership', { ...m });
    for (const s of seats) put('seat', { ...s });
    for (const l of loans) put('loan', { ...l });
    if (account) put('account', { ...account, personId: p.id });
  }
  return state;
}
const applied = (state: State, plan: Plan): State => {
  const next = applyTo(state, plan);
  if (!('state' in next)) throw new Error(JSON.stringify(next.conflicts));
  return next.state;
};
const rowsOf = (state: State) => [...state].map(([entity, table]) => [entity, [...table].sort()]).sort();
const rowOf = (state: State) => (entity: string, id: string) => state.get(entity)?.get(id);

describe('a merge', () => {
  it('keeps the better value of each field by rule, and another where that is chosen', () => {
    const cases: [Parameters<typeof betterOf>, 'keep' | 'gone'][] = [
      [['givenName', 'ADA', 'Ada'], 'gone'],
      [['givenName', 'Adá', 'Ada'], 'keep'],
      [['familyName', 'Sorensen', 'Sørensen'], 'gone'],
      [['middleName', 'A', 'Ann'], 'gone'],
      [['middleName', 'Ann', null], 'keep'],
      [['number', null, '000001'], 'gone'],
      [['number', '000002', '000001'], 'keep'],
      [['birthDate', '2014-05-03', '2014-05-04'], 'keep'],
    ];
    for (const [args, better] of cases) expect([args, betterOf(...args)]).toEqual([args, better]);
  });

  it('is parted again without a trace, and moves everything that the second had', () => {
    fc.assert(
      fc.property(withAll('k'), withAll('g'), fc.constantFrom('keep', 'gone', undefined), (keep, gone, number) => {
        const start = stateOf([keep, gone]);
        const plan = planMerge(keep, gone, number ? { number } : {}, '2026-08-17');
        const merged = applied(start, plan);
        const from = chosen(keep.person, gone.person, number ? { number } : {});
        for (const f of personFields)
          expect(merged.get('person')!.get('k')![f]).toBe((from[f] === 'keep' ? keep : gone).person[f]);
        expect(merged.get('person')!.get('g')).toMatchObject({ status: 'merged', mergedInto: 'k' });
        for (const [, e] of merged.get('enrollment') ?? []) if (e.ends === null) expect(e.personId).toBe('k');
        // In a class once, and in one homeroom, as far as each of the two was.
        const enrolled = (id: string) => [...keep.enrollments, ...gone.enrollments].find((e) => e.id === id)!;
        const inside = [...(merged.get('enrollment') ?? [])]
          .filter(([, e]) => e.ends === null)
          .map(([id]) => enrolled(id));
        const twice = (list: { classId: string; kind: string }[]) =>
          new Set(list.map(({ classId }) => classId)).size < list.length ||
          list.filter((e) => e.kind === 'homeroom').length > 1;
        const each = [keep, gone].map((of) => of.enrollments.filter(({ ends }) => ends === null));
        if (!each.some(twice)) expect(twice(inside)).toBe(false);
        // At one school at a time, as far as the two records were.
        const open = (of: WithAll) => of.affiliations.filter(({ ends }) => ends === null);
        const places = [...(merged.get('affiliation') ?? [])].filter(([, a]) => a.ends === null);
        expect(places.map(([id]) => id).sort()).toEqual(
          (open(keep).length > 0 ? open(keep) : open(gone)).map(({ id }) => id).sort(),
        );
        for (const [, a] of places) expect(a.personId).toBe('k');
        for (const [id, a] of merged.get('affiliation') ?? [])
          if (start.get('affiliation')!.get(id)!.ends !== null) expect(a.personId).toBe('k');
        const { plan: back, kept } = planUnmerge(plan, rowOf(merged));
        expect(kept).toEqual([]);
        expect(rowsOf(applied(merged, back))).toEqual(rowsOf(start));
      }),
    );
  });

  it('is parted with nothing lost when the record changed since: what was edited stays, all else returns', () => {
    const edit = fc.record({
      field: fc.constantFrom('givenName', 'familyName', 'guardianEmail', 'number'),
      value: fc.constantFrom('Edited', 'Changed'),
    });
    fc.assert(
      fc.property(
        withAll('k'),
        withAll('g'),
        fc.array(edit, { maxLength: 3 }),
        fc.array(fc.nat({ max: 3 }), { maxLength: 2 }),
        (keep, gone, edits, endings) => {
          const start = stateOf([keep, gone]);
          const merge = planMerge(keep, gone, {}, '2026-08-17');
          let now = applied(start, merge);
          for (const { field, value } of edits) {
            const before = now.get('person')!.get('k')![field]!;
            if (before === value) continue;
            now = applied(now, { changes: [change('person', 'k', { [field]: before }, { [field]: value })] });
          }
          const open = [...(now.get('enrollment') ?? [])].filter(([, e]) => e.ends === null).map(([id]) => id);
          for (const n of new Set(endings)) {
            if (open[n])
              now = applied(now, { changes: [change('enrollment', open[n], { ends: null }, { ends: '2026-09-30' })] });
          }
          const { plan } = planUnmerge(merge, rowOf(now));
          const parted = applied(now, plan);
          const edited = new Set(edits.map(({ field }) => field));
          for (const f of personFields) {
            const value = parted.get('person')!.get('k')![f];
            if (edited.has(f as 'number')) expect(value).toBe(now.get('person')!.get('k')![f]);
            else expect(value).toBe(keep.person[f]);
          }
          expect(parted.get('person')!.get('g')).toEqual(start.get('person')!.get('g'));
          for (const [id, e] of parted.get('enrollment') ?? []) {
            expect(e.personId).toBe(start.get('enrollment')!.get(id)!.personId);
            if (now.get('enrollment')!.get(id)!.ends === '2026-09-30') expect(e.ends).toBe('2026-09-30');
            else expect(e.ends).toBe(start.get('enrollment')!.get(id)!.ends);
          }
          expect([...parted.get('person')!.keys()].sort()).toEqual(['g', 'k']);
        },
      ),
    );
  });
});

const change = (entity: string, id: string, before: Fields, after: Fields): Change => ({
  entity,
  id,
  op: 'update',
  before,
  after,
  reason: 'edited',
  label: id,
  subject: id,
});

it('merges are what they were when they were last looked at', async () => {
  const cases = fc.sample(fc.tuple(withAll('k'), withAll('g'), fc.boolean()), { numRuns: 40, seed: 11 });
  const told = cases.map(([keep, gone, isChosen]) =>
    [
      `# ${personLabel(keep.person)} ${keep.person.birthDate} takes in ${personLabel(gone.person)} ${gone.person.birthDate}`,
      ...planLines(
        planMerge(keep, gone, isChosen ? { familyName: 'gone', number: 'gone' } : {}, '2026-08-17').changes,
        () => undefined,
      ),
    ].join('\n'),
  );
  await expect(asRead(told.join('\n\n'))).toMatchFileSnapshot('./worked-merges.txt');
});
