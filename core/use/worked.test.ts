/** Worked examples of use, set work, classes for arrivals, and retention, told in `worked.txt`. */
import { asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import { planLines } from '#core/plan/lines';
import { classesFor, type Roster } from '#core/readiness/index';
import { addMonths, dueFrom, dueOn, retentionError, retentionKinds, usualRetention } from '#core/retention/index';
import { midway, phaseOf, planSetWork, sameWord, seesAnswers, type Target, type WorkFields } from '#core/setwork/index';
import { standing } from './figures';
import {
  addUp,
  bandOf,
  bandWords,
  hurries,
  objective,
  recordOf,
  secondsOf,
  type Statement,
  verbIri,
  weekOf,
  weeksBetween,
} from './index';

const out: string[] = [];
const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
const tried = (run: () => unknown): string => {
  try {
    return JSON.stringify(run());
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return `refused: ${error.message}`;
  }
};

it('use, set work, arrivals and retention are as these', async () => {
  const statement = (more: object): Statement => ({
    actor: { account: { name: 'ada' } },
    verb: { id: verbIri('experienced') },
    object: { id: 'http://x.example/1' },
    ...more,
  });
  const now = '2026-10-05T10:00:00.000Z';
  const skill = { id: 'http://x.example/skill', definition: { type: objective, name: { en: 'Adding' } } };
  show(
    'statements',
    [
      statement({}),
      statement({ verb: { id: verbIri('completed') }, timestamp: '2026-10-01T08:00:00+02:00' }),
      statement({
        verb: { id: verbIri('completed') },
        result: { completion: false, duration: 'PT12M30.6S', score: { scaled: -0.5 } },
      }),
      statement({ result: { completion: true, score: { raw: 7, min: 2, max: 12 } } }),
      statement({ result: { score: { raw: 7, max: 14 } } }),
      statement({ result: { score: { raw: 7 } } }),
      statement({ result: { score: { raw: 7, min: 5, max: 5 } } }),
      statement({ object: skill, result: { score: { scaled: 0.5 }, completion: true } }),
      statement({ object: { ...skill, definition: { type: objective } }, result: { score: { scaled: 2 } } }),
      statement({ object: skill }),
      statement({ actor: { mbox: 'MAILTO:ada@x.example' } }),
      statement({ actor: {} }),
      statement({ result: { duration: 'P1M' } }),
    ].map((one) => tried(() => recordOf(one, now))),
  );
  show(
    'durations',
    ['PT12M30S', 'P1W', 'P1DT1H', 'PT1.5H', 'P', 'PT', 'P1Y', 'PT0S', '12', 'P1D', 'P2W1D', 'PT1H30S'].map(
      (text) => `${text}: ${secondsOf(text)}`,
    ),
  );
  show(
    'levels',
    [0, 0.33, 1 / 3, 0.5, 2 / 3, 0.67, 1].map((share) => `${share.toFixed(3)}: ${bandWords[bandOf(share)]}`),
  );
  show(
    'haste',
    (
      [
        [2, 2],
        [3, 1],
        [3, 2],
        [4, 2],
        [10, 4],
        [10, 5],
      ] as const
    ).map(([timed, quick]) => `${quick} of ${timed}: ${hurries(timed, quick)}`),
  );
  show('weeks', [
    ...['2026-10-05', '2026-10-11', '2026-10-12', '2027-01-01'].map((day) => `${day}: ${weekOf(day)}`),
    weeksBetween('2026-10-08', '2026-10-26').join(' '),
    weeksBetween('2026-10-08', '2026-10-25').join(' '),
    weeksBetween('2026-10-12', '2026-10-05').join(' '),
  ]);
  const facts = {
    who: new Map([
      ['ada', ['3A', 'North']],
      ['bo', ['3A', '3B']],
      ['cy', []],
    ]),
    used: [
      { personId: 'ada', productId: 'p', seconds: [60, null, 0] },
      { personId: 'ada', productId: 'q', seconds: [30, 5, null] },
      { personId: 'bo', productId: 'p', seconds: [null, null, 7] },
      { personId: 'zed', productId: 'p', seconds: [99, 99, 99] },
    ],
    held: new Map([
      ['ada', { held: 2, never: 0, idle: 1 }],
      ['bo', { held: 0, never: 0, idle: 0 }],
      ['cy', { held: 1, never: 1, idle: 0 }],
      ['zed', { held: 1, never: 1, idle: 1 }],
    ]),
    paced: new Map([
      ['ada', { timed: 4, quick: 3 }],
      ['bo', { timed: 4, quick: 1 }],
      ['zed', { timed: 9, quick: 9 }],
    ]),
    weeks: 3,
  };
  const sums = addUp(facts);
  show('sums', [
    ...Object.entries(standing(facts)).map(([stand, people]) => `${stand}: ${[...people].join(' ')}`),
    JSON.stringify(sums.byWeek),
    JSON.stringify([...sums.byProduct]),
    ...[...sums.units].map((unit) => JSON.stringify(unit)),
    JSON.stringify(sums.counts),
  ]);

  const fields: WorkFields = {
    title: 'Tides',
    opensAt: '2026-10-05T08:00:00Z',
    dueAt: null,
    closesAt: '2026-10-09T15:00:00Z',
    minutes: 20,
    entryWord: 'curlew',
    paused: 0,
    answers: 'done',
  };
  const target: Target = { classId: 'c1', className: '3A', groupId: null, groupName: null, some: null };
  let n = 0;
  const set = (more: Partial<WorkFields>, targets: Target[]) =>
    tried(() => {
      n = 0;
      const { plan, ids } = planSetWork('m1', { ...fields, ...more }, targets, () => `new${n++}`);
      return [...planLines(plan.changes, () => undefined), ids.join()];
    });
  show('set work', [
    set({}, [target, { ...target, classId: 'c2', className: '3B', groupId: 'g', groupName: 'Red' }]),
    set({}, [
      {
        ...target,
        some: [
          { id: 'ada', label: 'Ada' },
          { id: 'bo', label: 'Bo' },
        ],
      },
    ]),
    set({ closesAt: null }, [target]),
    set({ closesAt: fields.opensAt }, [target]),
    set({}, []),
    set({}, [{ ...target, some: [] }]),
  ]);
  show(
    'phases',
    ['2026-10-05T07:59:59Z', '2026-10-05T08:00:00Z', '2026-10-09T14:59:59Z', '2026-10-09T15:00:00Z'].flatMap((at) =>
      [0, 1].map(
        (paused) =>
          `${at} ${paused}: ${phaseOf({ ...fields, paused }, at)}, without end ${phaseOf({ ...fields, closesAt: null, paused }, at)}`,
      ),
    ),
  );
  show(
    'answers',
    (['done', 'closed', 'never'] as const).flatMap((answers) =>
      (['open', 'closed'] as const).flatMap((phase) =>
        [true, false].map((done) => `${answers} ${phase} ${done}: ${seesAnswers(answers, phase, done)}`),
      ),
    ),
  );
  show(
    'words',
    [
      ['Curlew', ' cur lew'],
      ['a', 'b'],
      ['ﬁsh', 'fish'],
    ].map(([a, b]) => `${a} ${b}: ${sameWord(a!, b!)}`),
  );
  const year = { begins: '2026-08-26', ends: '2027-06-18' };
  show(
    'midway',
    [
      '2026-07-01',
      '2026-08-26',
      '2026-11-07',
      '2026-11-08',
      '2027-01-19',
      '2027-01-20',
      '2027-01-21',
      '2027-04-04',
      '2027-04-05',
      '2027-06-18',
    ].map((day) => `${day}: ${midway(year, day)}`),
  );

  const roster = (id: string, kind: Roster['kind'], students: string[], grade = '03', schoolId = 'north'): Roster => ({
    id,
    name: id,
    kind,
    students,
    grade,
    schoolId,
  });
  const arrivals = [
    ...['x1', 'x2', 'x3'].map((id) => ({ id, schoolId: 'north', grade: '03', isIn: new Set<string>() })),
    { id: 'in', schoolId: 'north', grade: '03', isIn: new Set(['A']) },
    { id: 'in both', schoolId: 'north', grade: '03', isIn: new Set(['A', 'MathA']) },
    { id: 'nowhere', schoolId: 'north', grade: '09', isIn: new Set<string>() },
    { id: 'other school', schoolId: 'south', grade: '03', isIn: new Set<string>() },
  ];
  const few = ['a', 'b', 'c', 'd', 'e'];
  const rosters = [
    roster('A', 'homeroom', few),
    roster('B', 'homeroom', ['f', 'g', 'h', 'i']),
    roster('MathA', 'course', ['a', 'b', 'c', 'd']),
    roster('MathB', 'course', ['f', 'g', 'h', 'i']),
    roster('Choir', 'course', [...few, 'f', 'g', 'h', 'i']),
    roster('Few', 'course', ['a', 'b', 'c']),
    roster('S', 'homeroom', [], '03', 'south'),
    roster('SC', 'course', [], '03', 'south'),
  ];
  show(
    'classes for arrivals',
    [...classesFor(arrivals, rosters)].map(
      ([id, list]) => `${id}: ${list?.map((one) => one.id).join(' ') ?? 'no homeroom'}`,
    ),
  );

  show(
    'months',
    (
      [
        ['2026-01-31', 1],
        ['2024-01-31', 1],
        ['2026-03-31', -1],
        ['2026-12-15', 1],
        ['2026-01-15', -1],
        ['2026-05-31', 36],
        ['2026-05-31', -36],
      ] as const
    ).map(([day, months]) => `${day} ${months}: ${addMonths(day, months)}`),
  );
  show('retention', [
    ...retentionKinds.map(
      (kind) => `${kind}: ${dueFrom(kind, usualRetention, '2026-08-31')} ${dueOn(kind, usualRetention, '2026-08-31')}`,
    ),
    ...[
      usualRetention,
      { ...usualRetention, files: 36 },
      { ...usualRetention, files: 37 },
      { ...usualRetention, use: 36 },
      { ...usualRetention, use: 37 },
    ].map((one) => String(retentionError(one))),
  ]);
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});
