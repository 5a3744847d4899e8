/**
 * Worked examples: what files about a small district would change, told in `worked.txt`. Whoever changes what is planned
 * looks at each line that changes.
 */
import { asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import { UsernameGiver } from '#core/accounts/index';
import { planLines } from '#core/plan/lines';
import type { Person, SchoolClass } from '#core/entities/index';
import { personKey, personLabel } from '#core/register/index';
import type { Problem, TypedRow } from '#core/tabular/index';
import { enrollmentsSince, readBundle, type Records, toFiles, usersSince } from '#core/oneroster/index';
import { night, sound } from '#core/oneroster/worked';
import {
  type ImportResult,
  type Intent,
  type Keys,
  newsOf,
  placesOf,
  planImport,
  planRoster,
  type RosterIntent,
  rosterRows,
  rowKeyOf,
  type Snapshot,
  touchedBy,
  type Tools,
} from './index';
import { sampleRow, sampleSchool } from '#core/register/samples';

const klass = (id: string, schoolId: string, name: string): SchoolClass => ({
  ...{ id, schoolId, name, kind: 'homeroom', grade: '03', subject: null, begins: '2026-08-01', ends: null },
});
const person = (id: string, familyName: string, givenName: string, more: Partial<Person> = {}): Person => ({
  ...{
    id,
    role: 'student',
    number: `10${id.slice(1)}`,
    givenName,
    middleName: null,
    familyName,
    birthDate: '2017-05-14',
  },
  ...{ email: null, guardianEmail: null, status: 'active', mergedInto: null },
  ...more,
});
const people = [
  person('p01', 'Abara', 'Tomi', { birthDate: '2017-01-11', guardianEmail: 'abara@x.example' }),
  person('p02', 'Müller', 'Zoé', { birthDate: '2017-02-12', middleName: 'Ida' }),
  person('p03', 'Moyo', 'Deniz', { birthDate: '2017-03-13' }),
  person('p04', 'Ode', 'Kai', { birthDate: '2017-04-14' }),
  person('p05', 'Voss', 'Ida', { birthDate: '2017-05-15', status: 'left' }),
  person('p06', 'Nu', 'Ber', { birthDate: null, number: null }),
  person('p07', 'Cove', 'Lin', { birthDate: '2017-07-17' }),
  person('p08', 'Cove', 'Lio', { birthDate: '2017-07-17' }),
  person('p09', 'Reef', 'Orla', { birthDate: '2016-09-19', role: 'staff', number: null }),
  person('p10', 'Sand', 'Ona', { birthDate: '2016-10-20', email: 'ona@x.example' }),
];
const at = (id: string, schoolId: string, grade: string | null) => ({
  ...{ id: `a${id}`, personId: id, schoolId, grade, begins: '2025-08-01', ends: null },
});
const into = (id: string, classId: string) => ({ id: `e${id}`, personId: id, classId, role: 'student' as const });
const register = (): Snapshot => ({
  schools: [sampleSchool('north', { name: 'North' }), sampleSchool('south', { name: 'South' })],
  people: structuredClone(people),
  classes: [klass('n3a', 'north', '3A'), klass('n3b', 'north', '3B'), klass('s3a', 'south', '3A')],
  affiliations: [
    ...['p01', 'p02', 'p03', 'p06', 'p07', 'p08'].map((id) => at(id, 'north', '03')),
    at('p04', 'south', '03'),
    at('p09', 'north', null),
    at('p10', 'south', '04'),
  ],
  enrollments: [...['p01', 'p02', 'p07', 'p08'].map((id) => into(id, 'n3a')), into('p03', 'n3b'), into('p04', 's3a')],
  accounts: people
    .filter(({ id }) => id !== 'p06')
    .map(({ id, status }) => ({
      id: `u${id}`,
      personId: id,
      username: `user${id}`,
      status: status === 'left' ? 'frozen' : 'active',
    })),
});
const row = (line: number, of: string | null, more: Partial<TypedRow> = {}): TypedRow => {
  const on = people.find(({ id }) => id === of);
  return {
    ...sampleRow,
    ...{ line, number: on?.number ?? '', familyName: on?.familyName ?? 'New', givenName: on?.givenName ?? 'Ada' },
    ...{
      middleName: on?.middleName ?? '',
      birthDate: on?.birthDate ?? null,
      grade: '03',
      className: '',
      schoolName: '',
    },
    ...{ email: '', guardianEmail: '', role: null, birthAsWritten: null },
    ...more,
  };
};
const out: string[] = [];
function show(
  title: string,
  rows: TypedRow[],
  intent: Partial<Intent> = {},
  problems: Problem[] = [],
  more: Partial<Tools> & { snapshot?: Snapshot } = {},
): ImportResult {
  const snapshot = more.snapshot ?? register();
  let n = 0;
  const given = new Map(
    snapshot.accounts.map((a) => [a.username, personKey(people.find((p) => p.id === a.personId)!)]),
  );
  const result = planImport(
    snapshot,
    rows,
    problems,
    { ...{ schoolId: 'north', complete: false, date: '2026-08-17', source: 'list.csv', mostLeaving: 0.2 }, ...intent },
    {
      mint: () => `new${n++}`,
      sealedSecret: (id, grade) => `sealed ${id} ${grade}`,
      usernames: new UsernameGiver('{given:1}{family}', given),
      ...more,
    },
  );
  const names = new Map<string, string>([
    ...snapshot.people.map((p) => [p.id, personLabel(p)] as const),
    ...snapshot.classes.map((c) => [c.id, `${c.name} ${c.schoolId}`] as const),
  ]);
  out.push(
    `# ${title}`,
    ...planLines(result.plan.changes, (id) => names.get(id)),
    `says: ${result.sentence}`,
    ...result.summary.kinds.map((k) => `counts ${k.kind} ${k.count}`),
    ...result.held.map((h) => `held ${h.code} ${h.count}: ${h.message} [${h.names.join('; ')}]`),
    ...result.repeated.map(({ line, message }) => `once ${line}: ${message}`),
    ...result.waiting.map(
      (w) => `waits ${w.line} ${w.code}: ${w.message} [${w.candidates.map((id) => names.get(id)).join('; ')}]`,
    ),
    ...result.asks.map((a) => `asks ${a.line} ${a.label} ${a.field}: ${a.before} ${a.now} ${a.record} ${a.choice}`),
    ...result.elsewhere.map((e) => `elsewhere ${e.line} ${e.personId} ${e.schoolId} ${e.grade}`),
    ...[...result.pairs].flatMap(([line, pairs]) =>
      pairs.map(
        (pair) =>
          `pair ${line} ${names.get(pair.personId)} ${pair.probability.toFixed(3)} ${pair.bits.toFixed(1)} ${pair.never ?? 'open'}: ${pair.evidence.map(({ what, level, bits }) => `${what} ${level} ${bits.toFixed(1)}`).join(', ')}`,
      ),
    ),
    `matched ${[...result.matched].map(([line, id]) => `${line}:${id}`).join(' ')}`,
    `fresh ${result.fresh.join(' ')} same ${result.same.join(' ')} changed ${[...result.changed].map(([line, why]) => `${line}:${why.join('+')}`).join(' ')}`,
    `leaving ${result.leaving.join('; ')} classes ${result.newClasses.join('; ')}`,
    '',
  );
  return result;
}

it('files change a small district as these do', async () => {
  show('nothing new', [
    row(2, 'p01', { className: '3A' }),
    row(3, 'p02', { className: '3a', familyName: 'MÜLLER', givenName: 'Zoe' }),
    row(4, 'p03'),
  ]);
  show('new people, a new class, staff, one without number', [
    row(2, null, {
      number: '900001',
      birthDate: '2018-01-02',
      className: '3C',
      email: 'n@x.example',
      guardianEmail: 'g@x.example',
      middleName: 'Mid',
    }),
    row(3, null, { number: '900002', familyName: 'Newer', birthDate: '2018-02-03', className: '3c', grade: 'KG' }),
    row(4, null, { number: '900003', familyName: 'Newest', birthDate: '1980-02-03', role: 'teacher', grade: null }),
    row(5, null, { familyName: 'Nameless', givenName: 'Neo' }),
    row(6, null, {
      familyName: 'Dated',
      givenName: 'Dee',
      birthDate: '2018-03-04',
      schoolName: 'south',
      className: '3A',
    }),
    row(7, null, { familyName: 'Dated', givenName: 'Dee', birthDate: '2018-03-04', schoolName: 'SOUTH' }),
  ]);
  show('changes of every field', [
    row(2, 'p01', {
      familyName: 'Abara-Lee',
      guardianEmail: 'new@x.example',
      email: 't@x.example',
      grade: '04',
      className: '3B',
    }),
    row(3, 'p02', { birthDate: '2017-02-21', middleName: 'Ada' }),
    row(4, 'p03', { className: '3D', grade: null }),
    row(5, 'p04', { className: '3A' }),
    row(6, 'p05', { className: '3A', grade: '02' }),
    row(7, 'p10', { grade: null }),
  ]);
  show('who is who', [
    row(2, 'p01', { number: '', birthDate: null }),
    row(3, 'p07', { number: '' }),
    row(4, 'p07', { number: '1008' }),
    row(5, 'p03', { familyName: 'Other', givenName: 'Person', birthDate: '2015-12-01' }),
    row(6, 'p04', { familyName: 'Ode', givenName: 'Kay', number: '' }),
    row(7, 'p06', { number: '', birthDate: null }),
    row(8, 'p02', { birthDate: '2017-12-02' }),
  ]);
  show('who could be who', [
    row(2, 'p03', { number: '900010', givenName: 'Amara' }),
    row(3, 'p10', { number: '', birthDate: null, email: 'ona@x.example', schoolName: 'South', grade: '04' }),
    row(5, null, { familyName: 'Nobody', givenName: 'Knows' }),
    row(6, null, { number: '900011', familyName: 'Twice', givenName: 'Told', birthDate: '2018-05-06' }),
    row(7, null, { number: '900012', familyName: 'Twice', givenName: 'Told', birthDate: '2018-05-06' }),
    row(8, 'p04', { number: '', birthDate: '2017-04-15', className: '3A', schoolName: 'South' }),
    row(10, null, { number: '1005', familyName: 'Returned', givenName: 'Rae', birthDate: '2015-05-06' }),
  ]);
  show('an initial and an address', [
    row(4, 'p10', { number: '', givenName: 'O.', email: 'ona@x.example', schoolName: 'South', grade: '04' }),
  ]);
  show('a row that is somebody whose row is sure already', [
    row(2, 'p10', { schoolName: 'South', grade: '04' }),
    row(3, 'p10', { number: '', birthDate: null, schoolName: 'South', grade: '04', className: '4A' }),
    row(4, 'p06', { number: '', birthDate: null, className: '3A' }),
  ]);
  show(
    'two users of one name and nothing else, from a source with ids of its own',
    [row(2, null, { familyName: 'Alike', givenName: 'Al' }), row(3, null, { familyName: 'Alike', givenName: 'Al' })],
    { sure: { byLine: new Map(), settled: new Set(['p01']) } },
  );
  show('twins by their names', [row(2, 'p03', { number: '', givenName: 'Amara' })]);
  show(
    'everybody a grade up, in a complete file',
    ['p01', 'p02', 'p03', 'p06', 'p07', 'p08'].map((id, i) => row(i + 2, id, { grade: '04' })),
    { complete: true },
  );
  const staffed = register();
  staffed.enrollments.push({ id: 'ep09', personId: 'p09', classId: 'n3a', role: 'teacher' });
  const teaches = { role: 'teacher' as const, grade: null };
  show(
    'staff with classes in a list',
    [
      row(2, 'p09', { ...teaches, className: '3B' }),
      row(3, 'p01', { className: '3B' }),
      row(4, null, { ...teaches, familyName: 'Newly', birthDate: '1980-02-03', className: '3A' }),
      row(5, null, { ...teaches, familyName: 'Apart', birthDate: '1981-02-03', role: 'staff', className: '3F' }),
    ],
    {},
    [],
    { snapshot: staffed },
  );
  show('staff with the class that they teach', [row(2, 'p09', { ...teaches, className: '3A' })], {}, [], {
    snapshot: staffed,
  });
  show('staff who change schools', [row(2, 'p09', { ...teaches, className: '3A', schoolName: 'South' })], {}, [], {
    snapshot: staffed,
  });
  const problem = (line: number, stops: boolean): Problem => ({
    line,
    column: 1,
    code: 'vague',
    message: `Problem ${line}.`,
    stops,
  });
  show(
    'rows that stop, unknown schools, rows left out',
    [
      row(2, 'p01', { className: '3B' }),
      row(3, 'p02', { className: '3B' }),
      row(4, 'p03', { schoolName: 'West' }),
      row(5, 'p07', { className: '3B' }),
      row(6, 'p08', { className: '3B' }),
    ],
    { leftOut: new Set([5]), complete: true },
    [problem(2, true), problem(2, true), problem(3, false)],
  );
  show(
    'left out rows mean somebody by name and birth date, or by number',
    [
      row(2, 'p01', { number: '' }),
      row(3, 'p02', { familyName: 'Else', givenName: 'Who', birthDate: null }),
      row(4, 'p03', { number: '', birthDate: '2001-01-01' }),
      row(5, 'p07'),
    ],
    { leftOut: new Set([2, 3, 4]), complete: true, mostLeaving: 1 },
  );
  show('no school anywhere', [row(2, 'p01'), row(3, 'p04', { schoolName: 'South', grade: '04' })], { schoolId: null });
  show(
    'complete: who is missing leaves',
    [row(2, 'p01'), row(3, 'p02'), row(4, 'p08', { number: '', birthDate: null })],
    {
      complete: true,
      mostLeaving: 1,
    },
  );
  show('complete, held', [row(2, 'p01')], { complete: true, mostLeaving: 0.1, named: new Set(['p09']) });
  show('complete schools of a feed', [row(2, 'p01', { schoolName: 'North' })], {
    schoolId: null,
    complete: true,
    completeSchools: ['south'],
    mostLeaving: 1,
  });
  const said = new Map([
    [
      'p01',
      { said: { familyName: 'Abara', grade: '03', className: '3A', guardianEmail: 'old@x.example', school: 'North' } },
    ],
    ['p03', { said: { className: '3A', grade: '02' } }],
    ['p10', { said: { school: 'North', grade: '04', className: '4A' }, mended: { grade: '04' } }],
    ['p02', { said: { className: '3B', school: 'South' } }],
  ]);
  const feed = [
    row(2, 'p01', { guardianEmail: 'newer@x.example', className: '3A' }),
    row(3, 'p03', { className: '3A', grade: '04' }),
    row(4, 'p10', { grade: '04', className: '4B' }),
    row(5, 'p02', { email: 'z@x.example', familyName: 'Mueller' }),
  ];
  show('a feed again, against corrections', feed, { said });
  show('a feed again, with answers and fields of the district', feed, {
    ...{ said, kept: ['familyName'] },
    choices: { 2: { guardianEmail: 'feed' }, 3: { className: 'feed', grade: 'record' } },
  });
  show(
    'a coordinator of one school',
    [
      row(2, 'p01', { className: '3B' }),
      row(3, 'p04'),
      row(4, 'p10', { number: '' }),
      row(5, null, { number: '900009', birthDate: '2018-01-02', schoolName: 'South' }),
      row(6, 'p04', { number: '', birthDate: null }),
    ],
    { reach: { schools: new Set(['north']), people: new Set(['p01', 'p02', 'p03', 'p06', 'p07', 'p08']) } },
  );
  const undated = row(4, 'p06', { number: '', birthDate: null, familyName: 'Nuh' });
  const decided = [
    { rowKey: rowKeyOf(undated), personId: 'p06', same: true },
    { rowKey: rowKeyOf(row(2, 'p04', { number: '', givenName: 'Kay' })), personId: 'p04', same: true },
    { rowKey: rowKeyOf(row(3, 'p07', { number: '' })), personId: 'p07', same: false },
  ];
  show('decisions bind', [row(2, 'p04', { number: '', givenName: 'Kay' }), row(3, 'p07', { number: '' }), undated], {
    decided,
  });
  show(
    'the source itself identifies',
    [row(2, null, { familyName: 'Odd', givenName: 'Name' }), row(3, null, { familyName: 'Odder', givenName: 'Name' })],
    {
      sure: { byLine: new Map([[2, 'p03']]), settled: new Set(['p01', 'p02']) },
      ...{ complete: true, mostLeaving: 1 },
    },
  );
  // A class of many of which nobody is left, one that others join, and somebody who came a short while ago.
  const many = register();
  for (let i = 10; i < 16; i++) {
    const one = person(`q${i}`, `Crowd${i}`, 'Kim', { number: `2${i}`, birthDate: `2017-01-${i}` });
    people.push(one);
    many.people.push(one);
    many.affiliations.push({ ...at(one.id, 'north', '03'), ...(i === 10 ? { begins: '2026-08-01' } : {}) });
    many.enrollments.push(into(one.id, 'n3b'));
  }
  const crowd = (className: string, more: Partial<TypedRow> = {}) => [
    row(2, 'p03', { className, ...more }),
    ...[10, 11, 12, 13, 14, 15].map((i) => row(i, `q${i}`, { className, ...more })),
  ];
  const all = { snapshot: many };
  show('a class is emptied', crowd('3Z'), {}, [], all);
  show('a class is emptied, and others join it', [...crowd('3Z'), row(30, 'p01', { className: '3B' })], {}, [], all);
  const sizes = { schools: new Map([['north', 13]]), classes: new Map([['n3b', 9]]) };
  show('a class is not emptied, told by its size', crowd('3Z'), {}, [], { snapshot: { ...many, sizes } });
  show('who came a short while ago is moved on', crowd('', { schoolName: 'South' }), {}, [], all);
  const counted = show(
    'only counted',
    [row(2, 'p01', { className: '3E' }), row(3, null, { number: '900001', birthDate: '2018-01-02', className: '3E' })],
    {},
    [],
    { onlyCount: true },
  );
  expect(counted.plan.changes.every(({ op }) => op !== 'create')).toBe(true);
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});

/** The register after a plan, as the server would read it. */
function afterwards(snapshot: Snapshot, { plan }: ImportResult): Snapshot {
  const next = structuredClone(snapshot);
  const tables: Record<string, { id: string }[]> = {
    person: next.people,
    affiliation: next.affiliations,
    class: next.classes,
    enrollment: next.enrollments,
    account: next.accounts,
  };
  for (const { entity, id, op, after } of plan.changes) {
    const table = tables[entity]!;
    if (op === 'create') table.push({ id, ...after });
    else if (op === 'update')
      Object.assign(
        table.find((row) => row.id === id)!,
        after,
      );
    else
      table.splice(
        table.findIndex((row) => row.id === id),
        1,
      );
  }
  return next;
}

it('roster bundles change a small district as these do', async () => {
  const out: string[] = [];
  let n = 0;
  const take = (
    title: string,
    snapshot: Snapshot,
    records: Records,
    more: Partial<RosterIntent> = {},
    delta: string[] = [],
  ) => {
    const bundle = readBundle(toFiles(records, '1.2'));
    for (const file of delta) bundle.delta.add(file);
    const keys: Keys = { people: new Map(), classes: new Map() };
    const result = planRoster(
      snapshot,
      bundle,
      rosterRows(bundle, more.classes, more.night?.news),
      [],
      { ...{ schoolId: null, complete: true, date: '2026-08-17', source: 'feed', mostLeaving: 1, keys }, ...more },
      { mint: () => `new${n++}`, sealedSecret: () => 'sealed', usernames: new UsernameGiver('{given}', new Map()) },
    );
    const names = new Map<string, string>([
      ...snapshot.people.map((p) => [p.id, personLabel(p)] as const),
      ...snapshot.classes.map((c) => [c.id, `${c.name} ${c.schoolId}`] as const),
    ]);
    const called = (id: string) => names.get(id) ?? id;
    out.push(
      `# ${title}`,
      ...planLines(result.plan.changes, (id) => names.get(id)),
      `says: ${result.sentence}`,
      ...result.held.map((h) => `held ${h.code} ${h.count}: ${h.message}`),
      ...result.waiting.map((w) => `waits ${w.line} ${w.code}: ${w.message}`),
      `fresh ${result.fresh.join(' ')} same ${result.same.join(' ')} changed ${[...result.changed].map(([line, why]) => `${line}:${why.join('+')}`).join(' ')} leaving ${result.leaving.join('; ')}`,
      `people ${[...result.keys.people].map(([from, id]) => `${from}:${called(id)}`).join(' ')}`,
      `classes ${[...result.keys.classes].map(([from, id]) => `${from}:${called(id)}`).join(' ')} unknown ${[...result.keys.unknown].join()}`,
      '',
    );
    return { result, bundle };
  };
  const empty: Snapshot = { ...register(), people: [], classes: [], affiliations: [], enrollments: [], accounts: [] };
  const first = take('the first bundle', empty, sound());
  const then = afterwards(empty, first.result);
  const { people: known, classes } = first.result.keys;
  take('the same again', then, sound(), { keys: { people: known, classes } });
  take('a night later', then, night(), { keys: { people: known, classes } });
  take('a night later, not said to be complete', then, night(), { keys: { people: known, classes }, complete: false });
  take('changes alone', then, night(), { keys: { people: known, classes } }, ['users.csv', 'enrollments.csv']);
  take('one class', then, night(), { keys: { people: known, classes }, classes: ['c1'] });
  const later = readBundle(toFiles(night(), '1.2'));
  const news = newsOf(usersSince(first.bundle, later), later, { people: known, classes });
  take('a night later, by its news', then, night(), {
    keys: { people: known, classes },
    night: { news, enrollments: enrollmentsSince(first.bundle, later) },
  });
  // What was unknown last night, a class and an office's pupil without a school, is known now.
  const more = sound();
  more['classes.csv']![3]!.schoolSourcedId = 'isles';
  more['users.csv']![4]!.primaryOrgSourcedId = 'isles';
  more['enrollments.csv']!.push(
    { ...more['enrollments.csv']![0]!, sourcedId: 'e10', classSourcedId: 'c4' },
    { ...more['enrollments.csv']![0]!, sourcedId: 'e11', userSourcedId: 'u5', role: 'teacher' },
    { ...more['enrollments.csv']![0]!, sourcedId: 'e12', role: 'teacher' },
  );
  more['classes.csv']!.push({ ...more['classes.csv']![0]!, sourcedId: 'c5', title: 'Over', status: 'tobedeleted' });
  const less = take('a class and a person of no school', empty, more);
  const there = afterwards(empty, less.result);
  const moved = structuredClone(more);
  moved['classes.csv']![3]!.schoolSourcedId = 'south';
  moved['users.csv']![4]!.primaryOrgSourcedId = 'north';
  moved['roles.csv']![5]!.orgSourcedId = 'north';
  const late = readBundle(toFiles(moved, '1.2'));
  const { people: byUser, classes: byClass } = less.result.keys;
  const found = newsOf(usersSince(less.bundle, late), late, { people: byUser, classes: byClass });
  take('both have a school a night later', there, moved, { keys: { people: byUser, classes: byClass } });
  take('both have a school a night later, by its news', there, moved, {
    keys: { people: byUser, classes: byClass },
    night: { news: found, enrollments: enrollmentsSince(less.bundle, late) },
  });
  const unknown = { people: byUser, classes: byClass, unknown: less.result.keys.unknown };
  take('both have a school a night later, by its news and last night’s unknown users', there, moved, {
    keys: unknown,
    night: {
      news: newsOf(usersSince(less.bundle, late), late, unknown),
      enrollments: enrollmentsSince(less.bundle, late),
    },
  });
  out.push(
    `touched ${JSON.stringify(touchedBy(found, late, { people: byUser, classes: byClass }))}`,
    `touched ${JSON.stringify(touchedBy(news, later, { people: known, classes }))}`,
    `places ${JSON.stringify(placesOf(enrollmentsSince(first.bundle, later), later, { people: known, classes }, []))}`,
    `places of others ${JSON.stringify(placesOf(enrollmentsSince(first.bundle, later), later, { people: known, classes }, [known.get('u1')!]))}`,
    '',
  );
  // Somebody leaves a school and the classes there, of which the bundle says the same.
  const gone = sound();
  gone['users.csv']![1]!.primaryOrgSourcedId = 'south';
  gone['roles.csv']!.splice(1, 2, {
    ...gone['roles.csv']![0]!,
    sourcedId: 'u2-s',
    userSourcedId: 'u2',
    orgSourcedId: 'south',
  });
  take('a student who changes schools', then, gone, { keys: { people: known, classes } });
  take('a row left out, whose enrollments changed', then, night(), {
    keys: { people: known, classes },
    leftOut: new Set([3]),
  });
  const refused = new Map([
    ['enrollments.csv', new Set([2])],
    ['classes.csv', new Set([3])],
    ['orgs.csv', new Set([3])],
  ]) as RosterIntent['refused'] & object;
  take('with lines that cannot be taken over, and one left out', empty, sound(), { refused, leftOut: new Set([2]) });
  // One homeroom at a time: the second one waits, and is taken once the first one ends.
  const twice = sound();
  twice['classes.csv']!.push({ ...twice['classes.csv']![0]!, sourcedId: 'c6', title: 'Second room' });
  twice['enrollments.csv']!.push({
    ...twice['enrollments.csv']![0]!,
    sourcedId: 'e20',
    userSourcedId: 'u1',
    classSourcedId: 'c6',
  });
  take('two homerooms of one student', empty, twice);
  take('a second homeroom a night later', then, twice, { keys: { people: known, classes } });
  twice['enrollments.csv'] = twice['enrollments.csv']!.filter(
    ({ userSourcedId, classSourcedId }) => userSourcedId !== 'u1' || classSourcedId !== 'c1',
  );
  take('another homeroom a night later', then, twice, { keys: { people: known, classes } });
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked-rosters.txt');
});
