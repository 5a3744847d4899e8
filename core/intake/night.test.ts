/** A night that is planned from what differs, on the part of the register that it can touch, is the night planned whole. */
import { describe, expect, it } from 'vitest';
import { UsernameGiver } from '#core/accounts/index';
import { applyTo, type Fields, type State } from '#core/plan/index';
import { enrollmentsSince, readBundle, type Records, toFiles, usersSince } from '#core/oneroster/index';
import { nextNight, practiceDistrict } from '#core/oneroster/practice';
import type { Account, Affiliation, Enrollment, Person, School, SchoolClass } from '#core/entities/index';
import {
  type Keys,
  newsOf,
  placesOf,
  planRoster,
  type RosterResult,
  rosterRows,
  type Snapshot,
  touchedBy,
} from './index';

const bundleOf = (records: Records) => readBundle(toFiles(records, '1.2'));
let n = 0;
const tools = () => ({
  mint: () => `id${n++}`,
  sealedSecret: () => 'sealed',
  usernames: new UsernameGiver('{given:1}{family}', new Map()),
});

const rowsOf = <T>(state: State, entity: string): T[] =>
  [...(state.get(entity) ?? [])].map(([id, fields]) => ({ id, ...fields })) as T[];
const isOpen = ({ ends }: { ends: string | null }) => ends === null;
const wholeOf = (state: State): Snapshot => ({
  schools: rowsOf<School>(state, 'school'),
  people: rowsOf<Person>(state, 'person'),
  classes: rowsOf<SchoolClass>(state, 'class').filter(isOpen),
  affiliations: rowsOf<Affiliation>(state, 'affiliation').filter(isOpen),
  enrollments: rowsOf<Enrollment>(state, 'enrollment').filter(isOpen),
  accounts: rowsOf<Account>(state, 'account'),
});

/** What the server would read of it: people by id or number, and single enrollments of others. */
function partOf(whole: Snapshot, ids: string[], numbers: string[], pairs: ReturnType<typeof placesOf>): Snapshot {
  const people = whole.people.filter(({ id, number }) => ids.includes(id) || numbers.includes(number ?? ''));
  const own = new Set(people.map(({ id }) => id));
  const single = new Set(pairs.map((pair) => pair.join()));
  const count = (list: string[]) => {
    const counts = new Map<string, number>();
    for (const id of list) counts.set(id, (counts.get(id) ?? 0) + 1);
    return counts;
  };
  return {
    ...whole,
    people,
    affiliations: whole.affiliations.filter((a) => own.has(a.personId)),
    accounts: whole.accounts.filter((a) => own.has(a.personId)),
    enrollments: whole.enrollments.filter((e) => own.has(e.personId) || single.has(`${e.personId},${e.classId}`)),
    labels: new Map(whole.people.map((p) => [p.id, `${p.familyName}, ${p.givenName} (${p.number ?? ''})`])),
    sizes: {
      schools: count(whole.affiliations.map((a) => a.schoolId)),
      classes: count(whole.enrollments.map((e) => e.classId)),
    },
  };
}

/** The changes in no order, without ids that were made for this plan alone. */
const told = ({ plan }: RosterResult, state: State): string[] => {
  const known = new Set([...state.values()].flatMap((table) => [...table.keys()]));
  const value = (v: Fields[string]) => (typeof v === 'string' && /^id\d+$/.test(v) && !known.has(v) ? 'new' : v);
  const fields = (f: Fields) => Object.fromEntries(Object.entries(f).map(([key, v]) => [key, value(v)]));
  return plan.changes
    .map(({ entity, op, id, before, after, reason, origin }) =>
      JSON.stringify([entity, op, value(id), fields(before), fields(after), reason, origin]),
    )
    .sort();
};

const intent = { schoolId: null, complete: true, date: '2026-08-17', source: 'feed', mostLeaving: 1 };
/** An empty register, and the first bundle applied to it. */
function firstOf(records: Records, bundle: ReturnType<typeof bundleOf>): { first: RosterResult; state: State } {
  const schools = records['orgs.csv']!.filter(({ type }) => type === 'school');
  const opening: State = new Map([
    [
      'school',
      new Map(schools.map(({ sourcedId, name, identifier }) => [sourcedId!, { name: name!, code: identifier! }])),
    ],
  ]);
  const none: Keys = { people: new Map(), classes: new Map() };
  const first = planRoster(wholeOf(opening), bundle, rosterRows(bundle), [], { ...intent, keys: none }, tools());
  const opened = applyTo(opening, first.plan);
  if (!('state' in opened)) throw new Error('the first bundle does not apply');
  return { first, state: opened.state };
}

describe('a night', () => {
  it('brings the same changes from its part as from the whole register, whoever has two ids or was never named', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const records = practiceDistrict(seed, { students: 240, schools: 2, classesEach: 3 });
      // Who was merged: two ids of the source are one person.
      const twin = records['users.csv']!.find(({ sourcedId }) => sourcedId === 'p7')!;
      records['users.csv']!.push({ ...twin, sourcedId: 'p7-again' });
      records['roles.csv']!.push({
        sourcedId: 'p7-again-r',
        userSourcedId: 'p7-again',
        roleType: 'primary',
        role: 'student',
        orgSourcedId: twin.primaryOrgSourcedId!,
      });
      // Whose school nobody knows: who is nobody in the first bundle is looked at again in the next.
      records['users.csv']!.push({ ...twin, sourcedId: 'astray', identifier: '', primaryOrgSourcedId: 'nowhere' });
      records['roles.csv']!.push({
        ...records['roles.csv']!.at(-1)!,
        sourcedId: 'astray-r',
        userSourcedId: 'astray',
        orgSourcedId: 'nowhere',
      });
      const before = bundleOf(records);
      const { first, state } = firstOf(records, before);
      first.keys.people.set('p7-again', first.keys.people.get('p7')!);
      // A child whom no bundle has named, put in by hand, who comes in the next one.
      const [place] = state.get('affiliation')!.values();
      const { records: next } = nextNight(records, seed, { changed: 0.05, fresh: 0.03, gone: 0.03, enrollments: 0.05 });
      const newcomer = next['users.csv']!.at(-1)!;
      state.get('person')!.set('by-hand', {
        role: 'student',
        number: newcomer.identifier!,
        givenName: newcomer.givenName!,
        middleName: null,
        familyName: newcomer.familyName!,
        birthDate: null,
        email: null,
        guardianEmail: null,
        status: 'active',
        mergedInto: null,
      });
      state.get('affiliation')!.set('by-hand-at', { ...place!, personId: 'by-hand', ends: null });
      // One of the two ids is no longer sent: by turns the first and the second.
      const lost = seed % 2 ? 'p7' : 'p7-again';
      for (const [file, key] of [
        ['users.csv', 'sourcedId'],
        ['roles.csv', 'userSourcedId'],
        ['enrollments.csv', 'userSourcedId'],
        ['demographics.csv', 'sourcedId'],
      ] as const)
        next[file] = next[file]!.filter((record) => record[key] !== lost);
      const after = bundleOf(next);
      const whole = wholeOf(state);
      const keys: Keys = first.keys;
      const all = planRoster(whole, after, rosterRows(after), [], { ...intent, keys }, tools());
      const news = newsOf(usersSince(before, after), after, keys);
      const enrollments = enrollmentsSince(before, after);
      const { ids: touched, numbers } = touchedBy(news, after, keys);
      const unnamed = whole.people.flatMap(({ id }) => (news.named.has(id) ? [] : id));
      const part = partOf(whole, [...touched, ...unnamed], numbers, placesOf(enrollments, after, keys, touched));
      expect(part.people.length).toBeLessThan(whole.people.length / 3);
      const some = planRoster(
        part,
        after,
        rosterRows(after, undefined, news),
        [],
        { ...intent, keys, night: { news, enrollments } },
        tools(),
      );
      expect([seed, told(some, state)]).toEqual([seed, told(all, state)]);
      expect(all.plan.changes.length).toBeGreaterThan(40);
      expect([...some.same, ...news.same()].sort()).toEqual([...all.same].sort());
      const waiting = ({ waiting: list }: RosterResult) => list.map(({ line, code }) => `${line} ${code}`);
      expect(waiting(some)).toEqual(waiting(all));
      expect(waiting(all)).toContainEqual(expect.stringMatching(/ problem$/));
      expect(some.leaving.sort()).toEqual(all.leaving.sort());
      const ids = ({ keys: { people } }: RosterResult) =>
        [...people].map(([sourced, id]) => [sourced, state.get('person')!.has(id) ? id : 'new'].join()).sort();
      expect(ids(some)).toEqual(ids(all));
    }
  });
});

describe('what a bundle does not name', () => {
  it('ends when the bundle is whole and said to be complete, and stays in all other cases', () => {
    const records = practiceDistrict(1, { students: 120, schools: 2, classesEach: 3 });
    const { first, state } = firstOf(records, bundleOf(records));
    const whole = wholeOf(state);
    const every = records['classes.csv']!.map(({ sourcedId }) => sourcedId!);
    for (const role of ['student', 'teacher'])
      for (const kind of ['bulk', 'delta', 'some classes'])
        for (const complete of [true, false]) {
          const at = records['enrollments.csv']!.findIndex((record) => record.role === role);
          const lost = records['enrollments.csv']![at]!;
          // And a child of whom it says nothing at all.
          const child = records['users.csv']!.at(-1)!.sourcedId!;
          const left = (file: string, key: string) => records[file as 'users.csv']!.filter((r) => r[key] !== child);
          const after = bundleOf({
            ...records,
            'users.csv': left('users.csv', 'sourcedId'),
            'roles.csv': left('roles.csv', 'userSourcedId'),
            'demographics.csv': left('demographics.csv', 'sourcedId'),
            'enrollments.csv': left('enrollments.csv', 'userSourcedId').filter((record) => record !== lost),
          });
          if (kind === 'delta') for (const file of after.tables.keys()) after.delta.add(file);
          const classes = kind === 'some classes' ? every : undefined;
          const { plan, leaving } = planRoster(
            whole,
            after,
            rosterRows(after, classes),
            [],
            { ...intent, complete, keys: first.keys, ...(classes ? { classes } : {}) },
            tools(),
          );
          const isWhole = kind === 'bulk' && complete;
          const ended = plan.changes.filter(({ entity, op }) => entity === 'enrollment' && op === 'end');
          const place = [first.keys.people.get(lost.userSourcedId!), first.keys.classes.get(lost.classSourcedId!)];
          const isLost = (id: string) => {
            const row = whole.enrollments.find((e) => e.id === id)!;
            return row.personId === place[0] && row.classId === place[1] && row.role === role;
          };
          expect([role, kind, complete, ended.some(({ id }) => isLost(id)), leaving.length]).toEqual([
            ...[role, kind, complete, isWhole],
            isWhole ? 1 : 0,
          ]);
          if (!isWhole) expect(plan.changes).toEqual([]);
        }
  });
});
