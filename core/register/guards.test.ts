/** The guards of every plan: each holds what it is for, passes what it is not for, and is passed just at its limit. */
import type { Step } from '#core/entities/index';
import { describe, expect, it } from 'vitest';
import { type Change, guard } from '#core/plan/index';
import { type GuardFacts, planGuards } from './guards';
import { sampleOf } from './samples';
import { creates, ends, updates } from './steps';

const none: GuardFacts = {
  schools: new Map([
    ['north', { name: 'North', size: 100 }],
    ['south', { name: 'South', size: 40 }],
    ['empty', { name: 'Empty', size: 0 }],
  ]),
  schoolOfPlace: (id) => (id.startsWith('n') ? 'north' : 'south'),
  studentsOf: () => [],
  holdersOf: () => [],
  seatsPast: () => [],
};
const limits = { mostLeaving: 0.12, mostJoining: 0.5, yearEnds: '2027-06-20' };
const of = (subject: string, step: Step): Change => ({ ...step, label: subject, subject });
const place = (subject: string, schoolId: string) =>
  of(subject, creates('affiliation', `a-${subject}`, sampleOf('affiliation', { personId: subject, schoolId }), ''));
const leave = (subject: string, from: string) =>
  of(subject, ends('affiliation', `${from}-${subject}`, '2026-09-01', ''));
const people = (n: number) => Array.from({ length: n }, (_, i) => `p${i}`);
const held = (kind: string, changes: Change[], facts = none) =>
  guard({ changes }, planGuards(kind, facts, limits)).map(({ code, count }) => [code, count]);

describe('a school', () => {
  it('may lose its share and no more, whatever kind of plan it is', () => {
    expect(
      held(
        'import',
        people(12).map((p) => leave(p, 'n')),
      ),
    ).toEqual([]);
    for (const kind of ['import', 'leave', 'merge', 'scan'])
      expect(
        held(
          kind,
          people(13).map((p) => leave(p, 'n')),
        ),
      ).toEqual([['leaving:north', 13]]);
    // Ten are few, however small the school.
    expect(
      held(
        'leave',
        people(10).map((p) => leave(p, 's')),
      ),
    ).toEqual([]);
    expect(
      held(
        'leave',
        people(11).map((p) => leave(p, 's')),
      ),
    ).toEqual([['leaving:south', 11]]);
  });
  it('does not lose who has a new place there by the same plan', () => {
    const changes = people(30).flatMap((p) => [place(p, 'north'), leave(p, 'n')]);
    expect(held('move', changes)).toEqual([]);
    expect(
      held(
        'move',
        people(30).flatMap((p) => [place(p, 'south'), leave(p, 'n')]),
      ),
    ).toEqual([
      ['leaving:north', 30],
      ['joining:south', 30],
    ]);
  });
  it('may grow by half; one that is empty is filled', () => {
    expect(
      held(
        'import',
        people(50).map((p) => place(p, 'north')),
      ),
    ).toEqual([]);
    expect(
      held(
        'import',
        people(51).map((p) => place(p, 'north')),
      ),
    ).toEqual([['joining:north', 51]]);
    expect(
      held(
        'import',
        people(25).map((p) => place(p, 'south')),
      ),
    ).toEqual([]);
    expect(
      held(
        'import',
        people(26).map((p) => place(p, 'south')),
      ),
    ).toEqual([['joining:south', 26]]);
    expect(
      held(
        'import',
        people(400).map((p) => place(p, 'empty')),
      ),
    ).toEqual([]);
  });
});

describe('what ends with people in it', () => {
  const end = of('6b', ends('class', '6b', '2026-09-01', ''));
  const inside = {
    ...none,
    studentsOf: () => [
      { id: 'e1', personId: 'ada', label: 'Ada' },
      { id: 'e2', personId: 'bo', label: 'Bo' },
    ],
  };
  it('holds a class, less those who come into another one', () => {
    expect(held('class-end', [end])).toEqual([]);
    expect(held('class-end', [end], inside)).toEqual([['class-ends:6b', 2]]);
    const moved = of(
      'ada',
      creates('enrollment', 'e3', sampleOf('enrollment', { personId: 'ada', classId: '6c' }), ''),
    );
    expect(held('classes', [moved, end], inside)).toEqual([['class-ends:6b', 1]]);
  });
  it('lets a roll-over end classes, from the last day of the year on', () => {
    expect(held('year', [end], inside)).toEqual([['early', 1]]);
    expect(held('year', [of('6b', ends('class', '6b', '2027-06-19', ''))], inside)).toEqual([['early', 1]]);
    expect(held('year', [of('6b', ends('class', '6b', '2027-06-20', ''))], inside)).toEqual([]);
  });
  it('holds a device that is retired while it is lent, and a license that ends before its seats', () => {
    const facts: GuardFacts = {
      ...none,
      holdersOf: () => [{ id: 'l1', label: 'Ada' }],
      seatsPast: (_, day) => (day < '2027-01-01' ? [{ id: 's1', label: 'Ada' }] : []),
    };
    const retire = of('t1', updates('device', 'd1', { condition: 'good' }, { condition: 'retired' }, ''));
    expect(held('inventory', [retire], facts)).toEqual([['device-ends:d1', 1]]);
    expect(held('inventory', [of('ada', ends('loan', 'l1', '2026-09-01', '')), retire], facts)).toEqual([]);
    const until = (ends: string) => of('p', updates('license', 'x', { ends: '2027-06-01' }, { ends }, ''));
    expect(held('edit', [until('2026-12-31')], facts)).toEqual([['license-ends:x', 1]]);
    expect(held('edit', [until('2027-02-01')], facts)).toEqual([]);
    expect(held('edit', [until('2027-08-01')], facts)).toEqual([]);
  });
});
