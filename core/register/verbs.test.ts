/** Verbs on many people: what they plan fits the register, and does to each what it says or names why not. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyTo, invert, type Plan, type State } from '#core/plan/index';
import type { Affiliation, Enrollment, Group, Membership, Person, School, SchoolClass } from '#core/entities/index';
import { type Gathered, planVerb, type RegisterVerb } from './verbs';
import { sampleSchool } from './samples';

const school = (id: string, lowGrade: string, highGrade: string): School =>
  sampleSchool(id, { lowGrade, highGrade, name: `School ${id}` });
const schools = new Map([school('north', 'KG', '05'), school('south', '04', '08')].map((s) => [s.id, s]));
const klass = (id: string, schoolId: string, kind: SchoolClass['kind'], grade: string): SchoolClass => ({
  id,
  schoolId,
  name: id.toUpperCase(),
  kind,
  grade,
  subject: null,
  begins: '2026-08-01',
  ends: null,
});
const classes = new Map(
  [
    klass('n4a', 'north', 'homeroom', '04'),
    klass('n4b', 'north', 'homeroom', '04'),
    klass('nart', 'north', 'course', '04'),
    klass('s4a', 'south', 'homeroom', '04'),
  ].map((c) => [c.id, c]),
);
let minted = 0;
const art: Group = {
  id: 'g1',
  schoolId: 'north',
  classId: 'nart',
  name: 'Cohort A',
  kind: 'days',
  rule: null,
  begins: '2026-08-01',
  ends: null,
};
const around = () => ({
  schools,
  classes,
  group: art,
  heir: null,
  date: '2026-08-17',
  rollOvers: ['2025-06-20', '2026-07-01'],
  mint: () => `new${minted++}`,
});

function somebody(
  n: number,
  facts: Partial<Person> = {},
  at: string | null = 'north',
  into: string[] = ['n4a', 'nart'],
): Gathered {
  const id = `p${n}`;
  const person: Person = {
    id,
    role: 'student',
    number: String(1000 + n),
    givenName: 'Kim',
    middleName: null,
    familyName: `Number${n}`,
    birthDate: null,
    email: null,
    guardianEmail: null,
    status: 'active',
    mergedInto: null,
    ...facts,
  };
  const isOpen = person.status === 'active';
  return {
    person,
    place:
      at && isOpen ? { id: `a${n}`, personId: id, schoolId: at, grade: '04', begins: '2025-08-01', ends: null } : null,
    enrollments: isOpen
      ? into.map((classId, i) => ({
          id: `e${n}-${i}`,
          personId: id,
          classId,
          role: 'student',
          begins: '2025-08-01',
          ends: null,
        }))
      : [],
    memberships: [],
    seats: [],
    loans: [],
    account: { id: `u${n}`, username: `kim${n}`, status: isOpen ? 'active' : 'frozen', role: 'student' },
  };
}

/** The register with these people in it, as far as plans look at it. */
function stateOf(people: Gathered[]): State {
  const fields = <T extends { id: string }>(rows: T[]) => new Map(rows.map(({ id, ...rest }) => [id, rest as never]));
  return new Map([
    ['person', fields(people.map(({ person }) => person))],
    ['affiliation', fields(people.flatMap(({ place }) => (place ? [place] : [])))],
    ['enrollment', fields(people.flatMap(({ enrollments }) => enrollments))],
    ['membership', fields(people.flatMap(({ memberships }) => memberships))],
    ['account', fields(people.flatMap(({ account }) => (account ? [account] : [])))],
  ]);
}
const rows = <T>(state: State, entity: string) => [...state.get(entity)!.values()] as unknown as T[];
const openClasses = (state: State, personId: string) =>
  rows<Enrollment>(state, 'enrollment')
    .filter((e) => e.personId === personId && e.ends === null)
    .map((e) => e.classId)
    .sort();
function applied(state: State, plan: Plan): State {
  const done = applyTo(state, plan);
  if ('conflicts' in done) throw new Error(done.conflicts.map(({ message }) => message).join());
  return done.state;
}
const after = (people: Gathered[], order: RegisterVerb) => {
  const made = planVerb(people, order, around());
  return { ...made, state: applied(stateOf(people), made.plan) };
};

describe('enrolling', () => {
  it('takes the place of the homeroom and leaves courses alone; besides, all stay', () => {
    const people = [somebody(1), somebody(2, {}, 'north', ['n4b'])];
    const instead = after(people, { verb: 'enroll', classId: 'n4b', instead: true });
    expect(openClasses(instead.state, 'p1')).toEqual(['n4b', 'nart']);
    expect(instead.same).toBe(1);
    // A student is in one homeroom, also where the class is meant besides.
    const besides = after(people, { verb: 'enroll', classId: 'n4b', instead: false });
    expect(openClasses(besides.state, 'p1')).toEqual(['n4b', 'nart']);
    const course = after(people, { verb: 'enroll', classId: 'nart', instead: false });
    expect(openClasses(course.state, 'p2')).toEqual(['n4b', 'nart']);
  });

  it('names those of another school and leaves them, and makes staff teachers', () => {
    const people = [somebody(1), somebody(2, {}, 'south', ['s4a']), somebody(3, { role: 'staff' }, 'north', [])];
    const { problems, state } = after(people, { verb: 'enroll', classId: 'n4b', instead: true });
    expect(problems).toEqual([
      { label: 'Number2, Kim · 1002', message: 'is not at School north; transfer them there first' },
    ]);
    expect(openClasses(state, 'p2')).toEqual(['s4a']);
    expect(rows<Enrollment>(state, 'enrollment').find((e) => e.personId === 'p3')).toMatchObject({ role: 'teacher' });
  });
});

describe('taking out of a class', () => {
  it('ends that class and no other', () => {
    const people = [somebody(1), somebody(2, {}, 'north', ['n4b'])];
    const { state, plan } = after(people, { verb: 'unenroll', classId: 'nart' });
    expect(openClasses(state, 'p1')).toEqual(['n4a']);
    expect(openClasses(state, 'p2')).toEqual(['n4b']);
    expect(plan.changes).toHaveLength(1);
  });
});

describe('moving', () => {
  it('ends the old place and its classes, begins the new one, and can put into a class at once', () => {
    const { state, problems } = after([somebody(1)], { verb: 'move', schoolId: 'south', grade: null, classId: 's4a' });
    expect(problems).toEqual([]);
    expect(openClasses(state, 'p1')).toEqual(['s4a']);
    const places = rows<Affiliation>(state, 'affiliation').map(({ schoolId, grade, ends }) => [schoolId, grade, ends]);
    expect(places).toEqual([
      ['north', '04', '2026-08-17'],
      ['south', '04', null],
    ]);
  });

  it('refuses a grade that the school does not have, and takes back who had left with the sign-in', () => {
    const refused = after([somebody(1)], { verb: 'move', schoolId: 'south', grade: '02', classId: null });
    expect(refused.problems[0]!.message).toEqual('School south has no grade 2; choose a grade as well');
    const back = after([somebody(2, { status: 'left' })], {
      verb: 'move',
      schoolId: 'south',
      grade: '05',
      classId: null,
    });
    expect(back.state.get('person')!.get('p2')).toMatchObject({ status: 'active' });
    expect(back.state.get('account')!.get('u2')).toMatchObject({ status: 'active' });
  });
});

describe('grouping', () => {
  it('puts in those of the group’s class, names the others, and takes out again', () => {
    const people = [somebody(1), somebody(2, {}, 'north', ['n4b']), somebody(3, { role: 'staff' }, 'north', ['nart'])];
    const { plan, problems } = planVerb(people, { verb: 'group', groupId: 'g1', out: false }, around());
    expect(plan.changes.map(({ entity, subject }) => [entity, subject])).toEqual([['membership', 'p1']]);
    expect(problems.map(({ message }) => message)).toEqual(['is not in NART', 'is staff; groups are for students']);
    const byRule = { ...around(), group: { ...art, rule: '{}' } };
    expect(planVerb(people, { verb: 'group', groupId: 'g1', out: true }, byRule).problems).toHaveLength(3);
  });
});

describe('holding and leaving', () => {
  it('hold turns the sign-in off and nothing else; leaving ends all that is open and deletes nothing', () => {
    const people = [somebody(1), somebody(2, { status: 'left' })];
    const held = after(people, { verb: 'hold' });
    expect(held.plan.changes).toHaveLength(1);
    expect(held.problems).toHaveLength(1);
    const gone = after(people, { verb: 'leave' });
    expect(openClasses(gone.state, 'p1')).toEqual([]);
    expect(gone.same).toBe(1);
    for (const [entity, before] of stateOf(people)) expect(gone.state.get(entity)!.size).toBe(before.size);
  });

  it('calls devices back from whoever leaves, and leaves alone what is due already', () => {
    const one = {
      ...somebody(1),
      loans: [
        { id: 'own', due: null },
        { id: 'late', due: '2026-08-01' },
      ],
    };
    const { plan } = planVerb([one], { verb: 'leave' }, around());
    expect(plan.changes.filter(({ entity }) => entity === 'loan')).toMatchObject([
      { id: 'own', op: 'update', before: { due: null }, after: { due: '2026-08-17' } },
    ]);
  });

  it('brings back who had left as they were: school, grade or the next one, classes that run, the device still with them', () => {
    const gone = (left: string, grade = '04') => {
      const { person, place, account, ...rest } = somebody(1, {}, 'north', ['n4a', 'nart', 's4a']);
      return {
        ...rest,
        person: { ...person, status: 'left' as const },
        place: null,
        enrollments: [],
        loans: [
          { id: 'called', due: left },
          { id: 'other', due: '2027-01-01' },
        ],
        account: { ...account!, status: 'frozen' as const },
        left: {
          place: { ...place!, grade, ends: left },
          enrollments: [
            ...rest.enrollments.map((e) => ({ ...e, ends: left })),
            { ...rest.enrollments[0]!, classId: 'gone' },
          ],
        },
      };
    };
    const told = (one: Gathered, order: Partial<Extract<RegisterVerb, { verb: 'move' }>> = {}) => {
      const whole = { verb: 'move', schoolId: null, grade: null, classId: null, ...order } as const;
      const { plan, problems } = planVerb([one], whole, around());
      return {
        problems: problems.length,
        place: plan.changes.flatMap(({ entity, after }) =>
          entity === 'affiliation' ? [`${after.schoolId} ${after.grade}`] : [],
        ),
        classes: plan.changes.flatMap(({ entity, after }) => (entity === 'enrollment' ? [after.classId] : [])).sort(),
        loans: plan.changes.flatMap(({ entity, id, after }) => (entity === 'loan' ? [id, after.due] : [])),
      };
    };
    expect(told(gone('2026-08-10'))).toEqual({
      ...{ problems: 0, place: ['north 04'], classes: ['n4a', 'nart'], loans: ['called', null] },
    });
    // A roll-over since, then two; what comes after is not at that school.
    expect(told(gone('2026-06-30')).place).toEqual(['north 05']);
    expect(told(gone('2026-07-01')).place).toEqual(['north 04']);
    expect(told(gone('2024-08-01', '03')).place).toEqual(['north 05']);
    expect(told(gone('2024-08-01')).problems).toBe(1);
    // Another class of the kind takes the place of the former one; at another school none is left.
    expect(told(gone('2026-08-10'), { classId: 'n4b' }).classes).toEqual(['n4b', 'nart']);
    expect(told(gone('2026-08-10'), { schoolId: 'south' })).toMatchObject({ place: ['south 04'], classes: ['s4a'] });
    expect(told(gone('2026-06-30', '12'), { grade: '05' }).place).toEqual(['north 05']);
    const returned = planVerb([gone('2026-08-10'), somebody(2)], { verb: 'return' }, around());
    expect([
      returned.problems,
      returned.same,
      new Set(returned.plan.changes.map(({ subject }) => subject)).size,
    ]).toEqual([...[[], 1, 1]]);
  });

  it('hands the classes of a teacher who leaves to another, each once', () => {
    const teacher = (n: number, into: string[]) => {
      const one = somebody(n, { role: 'staff' }, 'north', into);
      return { ...one, enrollments: one.enrollments.map((e) => ({ ...e, role: 'teacher' as const })) };
    };
    const heir = { person: teacher(9, []).person, teaches: new Set(['nart']) };
    const people = [teacher(1, ['n4a', 'nart']), teacher(2, ['n4a', 'n4b'])];
    const { plan } = planVerb(people, { verb: 'leave', heirId: 'p9' }, { ...around(), heir });
    const taken = plan.changes.filter(({ subject }) => subject === 'p9');
    expect(taken.map(({ after: { classId, role } }) => [classId, role])).toEqual([
      ['n4a', 'teacher'],
      ['n4b', 'teacher'],
    ]);
  });

  it('spares whoever coordinates, and holds a plan that empties a school', () => {
    const boss = somebody(0, { role: 'staff' });
    boss.account!.role = 'district';
    const second = somebody(99, { role: 'staff' });
    second.account!.role = 'school';
    const people = [boss, second, ...Array.from({ length: 30 }, (_, i) => somebody(i + 1))];
    for (const verb of ['leave', 'hold'] as const) {
      const { problems, plan } = planVerb(people, { verb }, around());
      expect(problems.map(({ label }) => label)).toEqual(['Number0, Kim · 1000', 'Number99, Kim · 1099']);
      const touched = new Set(plan.changes.map(({ subject }) => subject));
      expect([verb, touched.size, touched.has('p0'), touched.has('p99')]).toEqual([verb, 30, false, false]);
    }
  });
});

describe('what a verb says', () => {
  const gone: [string, Gathered, RegisterVerb, Partial<ReturnType<typeof around>>?][] = [
    ['is part of another record', somebody(1, { status: 'merged' }), { verb: 'leave' }],
    ['has left, so there is nothing to suspend', somebody(1, { status: 'left' }), { verb: 'hold' }],
    ['has no account', { ...somebody(1), account: null }, { verb: 'hold' }],
    ['has left; transfer them to a school to enroll them again', somebody(1, { status: 'left' }), { verb: 'release' }],
    ['has no account', { ...somebody(1), account: null }, { verb: 'release' }],
    ['the class no longer exists', somebody(1), { verb: 'enroll', classId: 'none', instead: true }],
    [
      'has left; transfer them to a school first',
      somebody(1, { status: 'left' }),
      { verb: 'enroll', classId: 'n4b', instead: true },
    ],
    ['the group no longer exists', somebody(1), { verb: 'group', groupId: 'g1', out: false }, { group: undefined }],
    [
      'the group no longer exists',
      somebody(1),
      { verb: 'group', groupId: 'g1', out: true },
      { group: { ...art, ends: '2026-08-02' } },
    ],
    [
      'Cohort A follows a rule, so it includes everyone who matches',
      somebody(1),
      { verb: 'group', groupId: 'g1', out: false },
      { group: { ...art, rule: '{}' } },
    ],
    [
      'is not at School south',
      somebody(1),
      { verb: 'group', groupId: 'g1', out: false },
      { group: { ...art, classId: null, schoolId: 'south' } },
    ],
    [
      'has no school; choose a school to transfer to',
      somebody(1, {}, null, []),
      { verb: 'move', schoolId: null, grade: null, classId: null },
    ],
    [
      'S4A is not a class at School north',
      somebody(1),
      { verb: 'move', schoolId: 'north', grade: null, classId: 's4a' },
    ],
  ];
  it.each(gone)('%s: nothing is planned', (message, one, order, facts = {}) => {
    expect(planVerb([one], order, { ...around(), ...facts })).toMatchObject({
      plan: { changes: [] },
      problems: [{ message }],
      same: 0,
    });
  });

  const member = { ...somebody(1), memberships: [{ id: 'm1', personId: 'p1', groupId: 'g1', begins: '', ends: null }] };
  const frozen = somebody(1);
  frozen.account!.status = 'frozen';
  const done: [string, Gathered, RegisterVerb, object[]][] = [
    [
      'holds',
      somebody(1),
      { verb: 'hold' },
      [{ before: { status: 'active' }, after: { status: 'frozen' }, reason: 'suspended; sign-in turned off' }],
    ],
    ['holds once', frozen, { verb: 'hold' }, []],
    [
      'releases',
      frozen,
      { verb: 'release' },
      [{ before: { status: 'frozen' }, after: { status: 'active' }, reason: 'reinstated' }],
    ],
    ['releases once', somebody(1), { verb: 'release' }, []],
    [
      'takes out of a class',
      somebody(1),
      { verb: 'unenroll', classId: 'nart' },
      [{ id: 'e1-1', op: 'end', after: { ends: '2026-08-17' }, reason: 'NART: removed' }],
    ],
    [
      'enrolls',
      somebody(1),
      { verb: 'enroll', classId: 'n4b', instead: true },
      [
        { op: 'create', after: { classId: 'n4b', role: 'student', ends: null }, reason: 'joins N4B' },
        { id: 'e1-0', op: 'end', reason: 'N4A: moves to N4B' },
      ],
    ],
    [
      'makes teach',
      somebody(1, { role: 'staff' }, 'north', []),
      { verb: 'enroll', classId: 'n4b', instead: true },
      [{ after: { role: 'teacher' }, reason: 'teaches N4B' }],
    ],
    [
      'puts into a group',
      somebody(1),
      { verb: 'group', groupId: 'g1', out: false },
      [{ after: { personId: 'p1', groupId: 'g1', begins: '2026-08-17', ends: null }, reason: 'in Cohort A' }],
    ],
    ['puts into a group once', member, { verb: 'group', groupId: 'g1', out: false }, []],
    [
      'takes out of a group',
      member,
      { verb: 'group', groupId: 'g1', out: true },
      [{ id: 'm1', op: 'end', reason: 'removed from Cohort A' }],
    ],
    ['takes out of a group once', somebody(1), { verb: 'group', groupId: 'g1', out: true }, []],
    [
      'moves to another grade',
      somebody(1),
      { verb: 'move', schoolId: null, grade: '05', classId: null },
      [
        {
          entity: 'affiliation',
          op: 'update',
          before: { grade: '04' },
          after: { grade: '05' },
          reason: 'grade 4 to 5',
        },
      ],
    ],
    ['moves nowhere', somebody(1), { verb: 'move', schoolId: 'north', grade: '04', classId: null }, []],
    [
      'moves to another school',
      somebody(1),
      { verb: 'move', schoolId: 'south', grade: null, classId: null },
      [
        { op: 'create', after: { schoolId: 'south', grade: '04', ends: null }, reason: 'transfers from School north' },
        { id: 'a1', op: 'end', reason: 'transfers from School north to School south' },
        { id: 'e1-0', op: 'end', reason: 'N4A: left the school' },
        { id: 'e1-1', op: 'end', reason: 'NART: left the school' },
      ],
    ],
    [
      'moves staff without a grade',
      somebody(1, { role: 'staff' }, null, []),
      { verb: 'move', schoolId: 'south', grade: '02', classId: null },
      [{ op: 'create', after: { schoolId: 'south', grade: null }, reason: 'starts at School south' }],
    ],
  ];
  it.each(done)('%s', (_, one, order, changes) => {
    const { plan, problems, same } = planVerb([one], order, around());
    expect(plan.changes).toMatchObject(changes);
    expect([plan.changes.length, problems, same]).toEqual([changes.length, [], changes.length === 0 ? 1 : 0]);
    for (const change of plan.changes) expect([change.subject, change.label]).toEqual(['p1', 'Number1, Kim · 1001']);
  });
});

it('any verb on anybody fits the register, does nothing the second time, and is undone', () => {
  const ids = fc.constantFrom('n4a', 'n4b', 'nart', 's4a');
  const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: null });
  const order: fc.Arbitrary<RegisterVerb> = fc.oneof(
    fc.record({ verb: fc.constant('enroll' as const), classId: ids, instead: fc.boolean() }),
    fc.record({ verb: fc.constant('unenroll' as const), classId: ids }),
    fc.record({
      verb: fc.constant('move' as const),
      schoolId: maybe(fc.constantFrom('north', 'south')),
      grade: maybe(fc.constantFrom('02', '04', '07')),
      classId: maybe(ids),
    }),
    fc.record({ verb: fc.constant('group' as const), groupId: fc.constant('g1'), out: fc.boolean() }),
    fc.constantFrom({ verb: 'hold' as const }, { verb: 'release' as const }, { verb: 'leave' as const }),
  );
  const person = fc.record({
    status: fc.constantFrom('active' as const, 'left' as const),
    role: fc.constantFrom('student' as const, 'staff' as const),
    at: maybe(fc.constantFrom('north', 'south')),
    into: fc.uniqueArray(ids, { maxLength: 3 }),
  });
  fc.assert(
    fc.property(fc.array(person, { minLength: 1, maxLength: 6 }), order, (facts, verb) => {
      const people = facts.map(({ at, into, ...rest }, i) =>
        somebody(
          i,
          rest,
          at,
          into.filter((id) => classes.get(id)!.schoolId === at),
        ),
      );
      const before = stateOf(people);
      const { plan, problems, state } = after(people, verb);
      expect(applied(state, invert(plan))).toEqual(before);
      const open = <T extends { personId: string; ends: string | null }>(entity: string, id: string) =>
        [...state.get(entity)!]
          .map(([key, row]) => ({ id: key, ...row }) as unknown as T & { id: string })
          .filter((r) => r.personId === id && r.ends === null);
      const again = people.map(({ person: { id }, account }): Gathered => ({
        person: { id, ...(state.get('person')!.get(id) as unknown as Omit<Person, 'id'>) },
        place: open<Affiliation>('affiliation', id)[0] ?? null,
        enrollments: open<Enrollment>('enrollment', id),
        memberships: open<Membership>('membership', id),
        seats: [],
        loans: [],
        account: {
          id: account!.id,
          ...(state.get('account')!.get(account!.id) as unknown as Omit<NonNullable<Gathered['account']>, 'id'>),
        },
      }));
      const second = planVerb(again, verb, around());
      expect(second.plan.changes).toEqual([]);
      expect(second.problems.length).toBe(problems.length);
    }),
    { numRuns: 300 },
  );
});
