/** Roles, ranks and changes: who may make which change, case by case and for anyone in a random register. */
import { sampleOf } from '#core/register/samples';
import type { Step } from '#core/entities/index';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyone } from '#core/licenses/index';
import type { Change, Fields } from '#core/plan/index';
import { creates, ends, updates } from '#core/register/steps';
import {
  type Actor,
  ChangeCheck,
  type Facts,
  type Grant,
  holds,
  inScope,
  isTheirWork,
  conditionOf,
  may,
  mayActOn,
  mayGiveRole,
  personFacts,
  roleNames,
  roleOf,
  roles,
  scopeKey,
  scopeOf,
  sqlOf,
  theirWork,
  withFields,
} from './index';

const actor = (role: string, schoolIds: string[] = [], classIds: string[] = []): Actor => ({
  personId: `me-${role}`,
  role,
  schoolIds,
  classIds,
});
const district = actor('district');
const north = actor('school', ['north']);
const teacher = actor('teacher', ['north'], ['n1']);

/** Ada is in n1 at North, Bo in n2 at North, Cy in s1 at South; Di left North; Eve coordinates the district from North. */
const register: Record<string, Fields> = {
  'class:n1': { schoolId: 'north' },
  'class:n2': { schoolId: 'north' },
  'class:s1': { schoolId: 'south' },
  'enrollment:e-ada': { personId: 'ada', classId: 'n1', role: 'student' },
  'enrollment:e-bo': { personId: 'bo', classId: 'n2', role: 'student' },
  'enrollment:e-cy': { personId: 'cy', classId: 's1', role: 'student' },
  'affiliation:a-cy': { personId: 'cy', schoolId: 'south' },
  'affiliation:a-bo': { personId: 'bo', schoolId: 'north' },
  'account:x-eve': { personId: 'eve', role: 'district' },
  'account:x-ada': { personId: 'ada', role: 'student' },
  'account:x-flo': { personId: 'flo', role: 'teacher' },
  'device:d-n': { schoolId: 'north' },
  'device:d-s': { schoolId: 'south' },
  'loan:l-n': { deviceId: 'd-n', personId: 'cy' },
  'group:g1': { schoolId: 'north', classId: 'n1' },
  'group:g2': { schoolId: 'north', classId: null },
  'cart:k': { schoolId: 'north' },
  'work:w2': { classId: 'n2' },
};
const schools: Record<string, string[]> = {
  ada: ['north'],
  bo: ['north'],
  cy: ['south'],
  di: ['north'],
  eve: ['north'],
  flo: ['north', 'south'],
};
const facts: Facts = {
  row: (entity, id) => register[`${entity}:${id}`] ?? {},
  schoolsOf: (id) => schools[id] ?? [],
  classesOf: (id) => ({ ada: ['n1'], bo: ['n2'], cy: ['s1'] })[id] ?? [],
  accountRole: (id) => ({ eve: 'district', flo: 'teacher', ada: 'student', bo: 'student', cy: 'student' })[id] ?? null,
};
const of = (subject: string, step: Step): Change => ({ ...step, label: subject, subject });
const ask = (who: Actor, changes: Change[], grant: Grant | null = null) => {
  const check = new ChangeCheck(who, facts, grant);
  return changes.map((change) => check.refusal(change));
};
const email = (id: string) => of(id, updates('person', id, { email: null }, { email: 'x@example.org' }, ''));
const out = (id: string) => of(id, ends('enrollment', `e-${id}`, '2026-09-01', ''));
const into = (id: string, classId: string, role: 'student' | 'teacher' = 'student') =>
  of(id, creates('enrollment', `new-${id}-${classId}`, sampleOf('enrollment', { personId: id, classId, role }), ''));
const at = (id: string, schoolId: string) =>
  of(id, creates('affiliation', `new-${id}-${schoolId}`, sampleOf('affiliation', { personId: id, schoolId }), ''));

describe('roles', () => {
  it('are data: each has the rights of those below it, and a word that is no role has none', () => {
    expect(roleNames.map((name) => roles[name].rank)).toEqual([3, 2, 1, 0]);
    for (const right of roles.teacher.rights) expect([right, may(north, right)]).toEqual([right, true]);
    for (const right of roles.school.rights) expect([right, may(district, right)]).toEqual([right, true]);
    for (const word of ['', 'principal', 'constructor', '__proto__', 'District']) {
      expect([word, roleOf(word).rights.size, roleOf(word).scope]).toEqual([word, 0, 'nothing']);
      expect(ask(actor(word, ['north'], ['n1']), [email('ada'), into('ada', 'n1'), out('ada')])).toEqual([
        'right',
        'right',
        'right',
      ]);
    }
  });
  it('are given by rank alone', () => {
    expect(roleNames.map((role) => mayGiveRole(district, role))).toEqual([true, true, true, true]);
    expect(roleNames.map((role) => mayGiveRole(north, role))).toEqual([false, true, true, true]);
    expect(roleNames.map((role) => mayGiveRole(teacher, role))).toEqual([false, false, false, false]);
    expect(mayGiveRole(district, 'emperor')).toBe(false);
  });
  it('protect those above them, and those who also work elsewhere', () => {
    expect(mayActOn(north, { role: 'district', schoolIds: ['north'] })).toBe(false);
    expect(mayActOn(north, { role: 'school', schoolIds: ['north'] })).toBe(true);
    expect(mayActOn(north, { role: 'teacher', schoolIds: ['north', 'south'] })).toBe(false);
    expect(mayActOn(district, { role: 'district', schoolIds: ['north', 'south'] })).toBe(true);
    expect(mayActOn(teacher, { role: 'student', schoolIds: ['north', 'south'] })).toBe(true);
    expect(mayActOn(teacher, { role: 'school', schoolIds: ['north'] })).toBe(false);
  });
});

describe('a change', () => {
  it('of a person is for those whose school they are at', () => {
    expect(ask(north, ['ada', 'cy', 'di'].map(email))).toEqual([null, 'elsewhere', null]);
    expect(ask(district, ['ada', 'cy', 'di', 'eve'].map(email))).toEqual([null, null, null, null]);
    // A coordinator of the same school is not a coordinator of the district.
    expect(ask(north, ['eve', 'flo'].map(email))).toEqual(['rank', 'rank']);
    expect(ask(teacher, [email('ada')])).toEqual(['right']);
  });
  it('of an account keeps to rank: roles, passwords, suspension', () => {
    const account = (id: string, before: Fields, after: Fields) =>
      of(id, updates('account', `x-${id}`, before, after, ''));
    const role = (to: string) => account('ada', { role: 'student' }, { role: to });
    expect(ask(north, [role('teacher'), role('district')])).toEqual([null, 'rank']);
    expect(ask(north, [account('eve', { status: 'active' }, { status: 'frozen' })])).toEqual(['rank']);
    const secret = (id: string) => account(id, { secretSealed: 'a' }, { secretSealed: 'b' });
    expect(ask(teacher, [secret('ada')])).toEqual([null]);
    expect(ask(district, [secret('ada'), secret('flo')])).toEqual([null, 'right']);
    // A password that somebody chose is nobody else's to set.
    expect(ask(district, [account('flo', { passwordHash: 'a' }, { passwordHash: 'b' })])).toEqual(['right']);
  });
  it('between two schools is for who has both', () => {
    const both = actor('school', ['north', 'south']);
    const move = [at('cy', 'north'), of('cy', ends('affiliation', 'a-cy', '2026-09-01', ''))];
    expect(ask(both, move)).toEqual([null, null]);
    expect(ask(north, move)).toEqual(['elsewhere', 'elsewhere']);
    expect(ask(actor('school', ['south']), move)).toEqual(['elsewhere', null]);
    const grant: Grant = { is: 'transfer', personId: 'cy', schoolIds: ['south', 'north'] };
    expect(ask(actor('school', ['south']), move, grant)).toEqual([null, null]);
    expect(ask(actor('school', ['south']), [at('bo', 'south')], grant)).toEqual(['right']);
  });
  it('makes new people at one’s own school alone', () => {
    const born = of('new', creates('person', 'new', sampleOf('person', { role: 'student' }), ''));
    expect(ask(north, [born, at('new', 'north'), into('new', 'n2')])).toEqual([null, null, null]);
    expect(ask(north, [born, at('new', 'south')])).toEqual([null, 'elsewhere']);
    expect(ask(north, [born, at('new', 'north'), into('new', 's1')])).toEqual([null, null, 'elsewhere']);
  });
  it('by a teacher is of their own class, with students of their school', () => {
    expect(ask(teacher, [into('bo', 'n1'), into('cy', 'n1'), into('bo', 'n2')])).toEqual([
      null,
      'elsewhere',
      'elsewhere',
    ]);
    expect(ask(teacher, [out('ada'), out('bo')])).toEqual([null, 'elsewhere']);
    // Out of a colleague's class only who comes into one's own by the same plan.
    expect(ask(teacher, [into('bo', 'n1'), out('bo')])).toEqual([null, null]);
    const made = of('n9', creates('class', 'n9', sampleOf('class', { schoolId: 'north' }), ''));
    expect(ask(teacher, [made, into('me-teacher', 'n9', 'teacher'), into('ada', 'n9')])).toEqual([null, null, null]);
    expect(ask(teacher, [of('s9', creates('class', 's9', sampleOf('class', { schoolId: 'south' }), ''))])).toEqual([
      'elsewhere',
    ]);
    expect(ask(teacher, [of('n1', updates('class', 'n1', { invite: null }, { invite: 'coordinators' }, ''))])).toEqual([
      'right',
    ]);
  });
  it('of devices, loans, groups, bookings and work keeps to the school or the class', () => {
    const lend = (deviceId: string, personId: string) =>
      of(personId, creates('loan', `l-${deviceId}-${personId}`, sampleOf('loan', { deviceId, personId }), ''));
    expect(ask(north, [lend('d-n', 'ada'), lend('d-n', 'cy'), lend('d-s', 'ada')])).toEqual([
      null,
      'elsewhere',
      'elsewhere',
    ]);
    // A child who moved brings back what the old school lent.
    expect(ask(north, [of('cy', ends('loan', 'l-n', '2026-09-01', ''))])).toEqual([null]);
    const away = of('d-n', updates('device', 'd-n', { schoolId: 'north' }, { schoolId: 'south' }, ''));
    expect([ask(north, [away]), ask(district, [away])]).toEqual([['elsewhere'], [null]]);
    const member = (groupId: string) =>
      of('ada', creates('membership', `m-${groupId}`, sampleOf('membership', { personId: 'ada', groupId }), ''));
    expect(ask(teacher, [member('g1'), member('g2')])).toEqual([null, 'elsewhere']);
    const book = (classId: string) =>
      of(classId, creates('booking', `b-${classId}`, sampleOf('booking', { cartId: 'k', classId }), ''));
    expect(ask(teacher, [book('n1'), book('n2')])).toEqual([null, 'elsewhere']);
    const assign = of('bo', creates('assignee', 'as', sampleOf('assignee', { workId: 'w2', personId: 'bo' }), ''));
    expect([ask(teacher, [assign]), ask(north, [assign])]).toEqual([['elsewhere'], [null]]);
  });
  it('by a code is that one place in that one class', () => {
    const grant: Grant = { is: 'join', personId: 'ada', classId: 'n2' };
    const child = actor('student');
    expect(
      ask(child, [into('ada', 'n2'), into('ada', 'n1'), into('bo', 'n2'), out('ada'), email('ada')], grant),
    ).toEqual([null, 'right', 'right', 'right', 'right']);
    expect(ask(child, [into('ada', 'n2')])).toEqual(['right']);
  });
  it('of a kind that nobody declared is refused to everyone but the district’s own rights', () => {
    for (const who of [district, north, teacher])
      expect(ask(who, [{ ...of('x', updates('school', 'x', {}, {}, '')), entity: 'passport' }])).toEqual(['right']);
  });
});

describe('a scope', () => {
  const id = (n: number) => String(n).padStart(26, '0');
  it('keeps a person who left with the last school, and one who moved with the present one alone', () => {
    const place = (n: number, schoolId: string, begins: string, ends: string | null) => ({
      id: id(n),
      schoolId,
      begins,
      ends,
    });
    const moved = [place(1, 'a', '2024-08-01', '2026-01-10'), place(2, 'b', '2026-01-10', null)];
    const left = [place(1, 'a', '2024-08-01', '2026-01-10'), place(2, 'b', '2025-01-01', '2026-06-20')];
    const sees = (school: string, places: typeof left, day: string | null = null) =>
      holds(conditionOf(scopeOf(actor('school', [school]), day), 'people'), personFacts('p', places as never, [], day));
    expect([sees('a', moved), sees('b', moved), sees('a', left), sees('b', left)]).toEqual([false, true, false, true]);
    // As of a day that has passed it is who was there on that day.
    expect([sees('a', moved, '2025-05-01'), sees('b', moved, '2025-05-01')]).toEqual([true, false]);
  });
  it('writes ids into its text only when they are ids', () => {
    fc.assert(
      fc.property(fc.string(), (odd) => {
        const scope = scopeOf(actor('school', [odd]));
        if (/^[0-9A-Z]{26}$/.test(odd)) return;
        expect(() => sqlOf(conditionOf(scope, 'people'), 'p')).toThrow(RangeError);
      }),
    );
    expect(() => sqlOf(conditionOf(scopeOf(actor('school', [id(1)]), "x' OR 1"), 'people'), 'p')).toThrow(RangeError);
  });
  it('of fields leaves out what a role may not see', () => {
    const record = { number: '1', birthDate: '2015-01-01', guardianEmail: 'g@example.org', familyName: 'A' };
    expect(withFields(teacher, record)).toEqual(record);
    expect(withFields(actor('student'), record)).toEqual({
      number: null,
      birthDate: null,
      guardianEmail: null,
      familyName: 'A',
    });
  });
});

it('who may make which change is as it was when it was last looked at', async () => {
  const both = actor('school', ['north', 'south']);
  const actors: [string, Actor][] = [
    ['district', district],
    ['school', north],
    ['both schools', both],
    ['teacher', teacher],
    ['student', { ...actor('student', ['north'], ['n1']), personId: 'ada' }],
    ['no role', actor('wizard', ['north'], ['n1'])],
  ];
  const people = ['ada', 'bo', 'cy', 'di', 'eve', 'flo', 'nobody'];
  const classes = ['n1', 'n2', 's1'];
  const rows: [string, string, Fields][] = [
    ...people.flatMap((id): [string, string, Fields][] => [
      ['person', id, {}],
      ['contact', `c-${id}`, { personId: id }],
      ['seat', `s-${id}`, { personId: id, licenseId: 'l' }],
      ['account', `x-${id}`, { personId: id, role: facts.accountRole(id) }],
      ...['north', 'south'].map((schoolId): [string, string, Fields] => [
        'affiliation',
        `a-${id}-${schoolId}`,
        { personId: id, schoolId },
      ]),
      ...classes.map((classId): [string, string, Fields] => [
        'enrollment',
        `e-${id}-${classId}`,
        { personId: id, classId, role: 'student' },
      ]),
      ['loan', `l-n-${id}`, { deviceId: 'd-n', personId: id }],
      ['loan', `l-s-${id}`, { deviceId: 'd-s', personId: id }],
    ]),
    ...['north', 'south', null].flatMap((schoolId): [string, string, Fields][] => [
      ...(schoolId ? [['school', schoolId, {}] as [string, string, Fields]] : []),
      ...['license', 'rule', 'device', 'cart'].map((entity): [string, string, Fields] => [
        entity,
        `${entity}-${schoolId}`,
        { schoolId },
      ]),
    ]),
    ...classes.flatMap((classId): [string, string, Fields][] => [
      ['class', classId, {}],
      ['rule', `r-${classId}`, { schoolId: null, classId }],
      ['group', `g-${classId}`, { schoolId: 'north', classId }],
      ['work', `w-${classId}`, { classId }],
      ['booking', `b-${classId}`, { cartId: 'k', classId }],
    ]),
    ...(
      [
        ['both', { schools: ['north', 'south'] }],
        ['theirs', { schools: ['north', 'north'] }],
        ['n1 and s1', { classes: ['n1', 's1'] }],
        ['n1 and n2', { classes: ['n1', 'n2'] }],
        ['all but south', { except: { ...anyone().except, schools: ['south'] } }],
      ] as const
    ).map(([id, terms]): [string, string, Fields] => [
      'rule',
      `rule of ${id}`,
      { schoolId: null, classId: null, terms: JSON.stringify({ ...anyone(), ...terms }) },
    ]),
    ['class', 'new', { schoolId: 'north' }],
    ['class', 'new-s', { schoolId: 'south' }],
    ['group', 'g2', { schoolId: 'north', classId: null }],
    ['group', 'g3', { schoolId: 'south', classId: null }],
    ['membership', 'm1', { personId: 'cy', groupId: 'g1' }],
    ['membership', 'm2', { personId: 'cy', groupId: 'g2' }],
    ['assignee', 'as', { workId: 'w2', personId: 'bo' }],
    ...['year', 'product', 'material', 'directory', 'castle'].map((entity): [string, string, Fields] => [
      entity,
      'x',
      {},
    ]),
  ];
  const told = rows.flatMap(([entity, id, fields]) =>
    (['create', 'update', 'end', 'restore', 'purge'] as const).map((op) => {
      const change: Change = {
        ...{ entity, id, op, reason: '', label: id, subject: id },
        before: op === 'create' ? {} : fields,
        after: op === 'create' || op === 'restore' ? fields : {},
      };
      return `${op} ${entity} ${id}: ${actors.map(([who, one]) => `${who} ${ask(one, [change])[0] ?? 'may'}`).join(', ')}`;
    }),
  );
  const special: [string, Change][] = [
    ['a role, to school', of('flo', updates('account', 'x-flo', { role: 'teacher' }, { role: 'school' }, ''))],
    ['a role, to district', of('flo', updates('account', 'x-flo', { role: 'teacher' }, { role: 'district' }, ''))],
    [
      'a role, to none that is known',
      of('flo', updates('account', 'x-flo', { role: 'teacher' }, { role: 'king' as never }, '')),
    ],
    ['a chosen password', of('ada', updates('account', 'x-ada', {}, { passwordHash: 'h' }, ''))],
    ['a printed password', of('ada', updates('account', 'x-ada', {}, { secretSealed: 's' }, ''))],
    ['a printed password of staff', of('flo', updates('account', 'x-flo', {}, { secretSealed: 's' }, ''))],
    ['an invitation to a class', of('n1', updates('class', 'n1', {}, { invite: 'x' }, ''))],
    ['a device to another school', of('d', updates('device', 'd-n', { schoolId: 'north' }, { schoolId: 'south' }, ''))],
    [
      'a rule of another school',
      of('r', updates('rule', 'rule-south', { schoolId: 'south' }, { schoolId: 'north' }, '')),
    ],
    [
      'a device from another school',
      of('d', updates('device', 'd-s', { schoolId: 'south' }, { schoolId: 'north' }, '')),
    ],
  ];
  for (const [title, change] of special)
    told.push(`${title}: ${actors.map(([who, one]) => `${who} ${ask(one, [change])[0] ?? 'may'}`).join(', ')}`);
  const [s1, c1, me] = ['S'.repeat(26), 'C'.repeat(26), 'M'.repeat(26)];
  for (const role of [...roleNames, 'wizard']) {
    for (const schoolIds of [[s1], []])
      for (const day of [null, '2026-08-17'])
        for (const kind of ['people', 'schools', 'classes', 'ofClass', 'atSchool'] as const) {
          const one: Actor = { personId: me, role, schoolIds, classIds: schoolIds.length > 0 ? [c1] : [] };
          const sql = sqlOf(conditionOf(scopeOf(one, day), kind), 'p').replace(/\s+/g, ' ');
          told.push(`${role} ${schoolIds.length} ${day} ${kind}: ${sql}`);
        }
    const one: Actor = { personId: me, role, schoolIds: [s1], classIds: [c1] };
    const work = [theirWork(one, 'w.by'), isTheirWork(one, me), isTheirWork(one, null), scopeKey(one)];
    told.push(`${role}: ${[...work, ...[s1, c1, null].map((id) => inScope(one, id))].join(' ')}`);
  }
  for (const one of roleNames)
    told.push(`${one}: ${roles[one].rank} ${roles[one].scope} ${[...roles[one].rights].join(' ')}`);
  await expect(told.join('\n')).toMatchFileSnapshot('./worked.txt');
});
