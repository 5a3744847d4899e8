/** Worked examples: classes and groups that are made, split, combined and ended, told in `worked.txt`. */
import { thrown, asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import { planLines } from '#core/plan/lines';
import type { Enrollment, Group, SchoolClass } from '#core/entities/index';
import {
  belongs,
  classPatternError,
  contradictions,
  copiedName,
  fitsRule,
  gradeOfName,
  groupsByLevel,
  namesByPattern,
  type NewClasses,
  planClasses,
  planCombine,
  planEnding,
  planGroup,
  planGroupEnd,
  planSplit,
  readNames,
} from './index';
import { sampleSchool } from '#core/register/samples';

const out: string[] = [];
const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
const school = sampleSchool('north', { name: 'North', highGrade: '05' });
const klass = (id: string, name: string, more: Partial<SchoolClass> = {}): SchoolClass => ({
  ...{ id, schoolId: 'north', name, kind: 'homeroom', grade: '03', subject: null, begins: '2026-08-01', ends: null },
  ...more,
});
const enrolled = (id: string, personId: string, classId: string, role: Enrollment['role'] = 'student') => ({
  ...{ id, personId, classId, role, begins: '2026-08-01', ends: null, label: `Child ${personId}` },
});
const tools = () => {
  let n = 0;
  return { date: '2026-09-01', mint: () => `new${n++}` };
};

it('classes and groups are made and changed as these are', async () => {
  show(
    'names',
    [
      '3A-3D, 4A',
      '3A–C; 3a',
      'K1-K3',
      '01-03',
      '9-12',
      'D-A',
      'A-3',
      '3A-4B',
      'A - C',
      'x-y',
      'Art\nMath ,  Math',
      '3A-3A',
      '1-99',
      '',
    ].map((text) => `${JSON.stringify(text)}: ${readNames(text).join(' | ')}`),
  );
  show('patterns', [
    ...['{grade}{letter}', '{grade}-{number} {year}', 'Room {number}', '{grade}', '{color}{letter}', '{letter', ''].map(
      (pattern) =>
        `${pattern}: ${classPatternError(pattern) ?? namesByPattern(pattern, ['KG', '03'], 3, '2026–27').join(' | ')}`,
    ),
    namesByPattern('{letter}', ['03'], 28, '').slice(24).join(' '),
  ]);
  show(
    'grades of names',
    ['3A', 'K-2', 'Kite', '10 Blue', '06', '5', 'Art', '0'].map((name) => `${name}: ${gradeOfName(name, school)}`),
  );
  const order = (more: Partial<NewClasses>): NewClasses => ({
    ...{ names: '3A', kind: 'homeroom', grade: null, subject: null, like: null, template: null },
    ...more,
  });
  const taken = new Map([['3b', { classId: 'c3b', teachers: 'Ode' }]]);
  const made = (title: string, more: Partial<NewClasses>, teacher: string | null = null) => {
    const { plan, classes } = planClasses(order(more), school, taken, { ...tools(), teacher });
    show(title, [...planLines(plan.changes, () => undefined), ...classes.map((c) => JSON.stringify(c))]);
  };
  made('added by hand', { names: '3A-3C, Art, 9X' }, 't1');
  made('with a grade and a subject', { names: 'Art', grade: '04', subject: 'Art', kind: 'course' });
  const like = {
    class: klass('c1', 'Blue', {
      grade: '02',
      subject: 'Math',
      kind: 'course',
      period: '3',
      color: 'red',
      discuss: 'all',
      invite: 'x',
    }),
    enrollments: [enrolled('e1', 'p1', 'c1'), enrolled('e2', 't1', 'c1', 'teacher')],
  };
  made('like another, with its people', { names: 'Green', like: { ...like, people: true } }, 't1');
  made('like another, with its people, by somebody else', { names: 'Green', like: { ...like, people: true } }, 'p1');
  made('like another, without its people', { names: 'Green', like: { ...like, people: false }, subject: 'Art' }, 't1');
  made('from a template', {
    names: '4A',
    template: {
      name: 'Usual',
      kind: 'course',
      subject: 'Math',
      period: '1',
      color: 'blue',
      discuss: null,
      invite: null,
      groups: ['Red', 'Blue'],
    },
  });
  show('at most so many', [
    String(
      planClasses(order({ names: Array.from({ length: 70 }, (_, i) => `N${i}x`).join() }), school, taken, {
        ...tools(),
        teacher: null,
      }).classes.length,
    ),
  ]);
  const one = klass('c1', '3A', { period: '2', color: 'red' });
  const there = [
    enrolled('e1', 'p1', 'c1'),
    enrolled('e2', 'p2', 'c1'),
    enrolled('e3', 'p3', 'c1'),
    enrolled('e4', 'p4', 'c1'),
    enrolled('e5', 't1', 'c1', 'teacher'),
  ];
  show(
    'ended',
    planLines(planEnding(one, there.slice(3), '3A · North', '2026-09-01').changes, () => undefined),
  );
  show(
    'split in three',
    planLines(planSplit(one, there, ['3B', '3C'], (name) => `${name} · North`, tools()).changes, () => undefined),
  );
  const others = [
    {
      class: klass('c2', '3B'),
      enrollments: [
        enrolled('f1', 'p1', 'c2'),
        enrolled('f2', 'p9', 'c2'),
        enrolled('f3', 't1', 'c2', 'teacher'),
        enrolled('f4', 't2', 'c2', 'teacher'),
      ],
      label: '3B · North',
    },
    { class: klass('c3', '3C'), enrollments: [enrolled('g1', 'p9', 'c3')], label: '3C · North' },
  ];
  show(
    'combined',
    planLines(planCombine(one, there, others, tools()).changes, () => undefined),
  );
  const members = [{ id: 'p1', label: 'Child p1' }];
  const grouped = (rule: Parameters<typeof planGroup>[0]['rule']) =>
    planGroup({ schoolId: 'north', classId: 'c1', name: 'Red', kind: 'level', rule }, rule ? [] : members, tools());
  const group: Group = {
    id: 'g1',
    schoolId: 'north',
    classId: 'c1',
    name: 'Red',
    kind: 'level',
    rule: null,
    begins: '2026-08-01',
    ends: null,
  };
  show('groups', [
    ...planLines(grouped(null).plan.changes, () => undefined),
    ...planLines(grouped({ grade: '03', classIds: [] }).plan.changes, () => undefined),
    grouped(null).id,
    ...planLines(
      planGroupEnd(
        group,
        [{ id: 'm1', personId: 'p1', groupId: 'g1', begins: '', ends: null, label: 'Child p1' }],
        '2026-09-01',
      ).changes,
      () => undefined,
    ),
  ]);
  const placed = { schoolId: 'north', grade: '03', classes: ['c1'] };
  show('who fits', [
    ...[
      { grade: null, classIds: [] },
      { grade: '03', classIds: [] },
      { grade: '04', classIds: [] },
      { grade: null, classIds: ['c1', 'c2'] },
      { grade: null, classIds: ['c2'] },
    ].map((rule) => `${JSON.stringify(rule)}: ${fitsRule(rule, placed, 'north')} ${fitsRule(rule, placed, 'south')}`),
    ...[
      { classId: 'c1', schoolId: 'south' },
      { classId: 'c2', schoolId: 'north' },
      { classId: null, schoolId: 'north' },
      { classId: null, schoolId: 'south' },
    ].map((of) => `${JSON.stringify(of)}: ${belongs(of, placed)}`),
  ]);
  show('names of copies', [
    copiedName('Math Red', { name: '3A', subject: 'Math' }, { name: '3B', subject: 'Art' }),
    copiedName('3a Red', { name: '3A', subject: 'Math' }, { name: '3B', subject: 'Art' }),
    copiedName('math', { name: '3A', subject: 'Math' }, { name: '3B', subject: null }),
    copiedName('Red', { name: '3A', subject: null }, { name: '3B', subject: 'Art' }),
    copiedName('Red', null, { name: '3B', subject: null }),
    String(copiedName('R'.repeat(130), null, { name: '3B', subject: null }).length),
  ]);
  const names = new Map([
    ['c1', '3A'],
    ['c2', '3B'],
  ]);
  const child = (id: string, grade: string, classId: string) => ({ id, grade, classes: [classId] });
  const inB = ['p1', 'p2', 'p3'].map((id) => child(id, '03', 'c2'));
  const peopled = (name: string, list = inB, id = 'g1') => ({ id, name, members: list });
  const says = (name: string, list = inB, rest: Parameters<typeof contradictions>[2] = []) =>
    `${name}: ${contradictions(peopled(name, list), names, rest).join('; ') || 'nothing'}`;
  show('names that speak against their members', [
    says('3A Red'),
    says('3B Red'),
    says('3A Red', [child('p1', '03', 'c1'), child('p2', '03', 'c2')]),
    says('Grade 4 readers'),
    says('Grade 3 readers'),
    says('Grade 4', [child('p1', '04', 'c9'), child('p2', '03', 'c9')]),
    says('3A', []),
    says('Cohort Monday', inB, [peopled('Cohort Tuesday', inB, 'g2')]),
    says('Cohort Monday', inB, [peopled('Cohort Monday', inB, 'g2')]),
    says('Cohort Monday', inB, [peopled('Cohort Tuesday', inB.slice(0, 1), 'g2')]),
    says('Cohort Monday', inB, [peopled('Cohort Tuesday', inB.slice(0, 2), 'g2')]),
    says('Cohort Monday', inB, [peopled('Cohort Tuesday', inB, 'g1')]),
    says('Readers', inB, [peopled('Cohort Tuesday', inB, 'g2')]),
    says('Cohort A', inB, [peopled('Cohort', inB, 'g2')]),
  ]);
  const levels = (
    [
      ['a', 3],
      ['b', 1],
      ['c', null],
      ['d', 2],
      ['e', 1],
      ['f', 3],
      ['g', null],
    ] as const
  ).map(([id, band]) => ({ id, label: `L${id}`, band }));
  const told = (how: 'alike' | 'mixed', count: number) =>
    groupsByLevel(levels, how, count)
      .map((list) => list.map(({ id }) => id).join(''))
      .join(' ');
  show('groups by level', [told('alike', 1), told('alike', 2), told('alike', 3), told('mixed', 2), told('mixed', 3)]);
  expect(thrown(() => groupsByLevel(levels, 'alike', 8))).toContain('7 students are too few for 8 groups.');
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});
