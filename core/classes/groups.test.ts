/** Groups: who is in one by its rule, what a copy is called, and names that their members speak against. */
import { describe, expect, it } from 'vitest';
import { belongs, contradictions, copiedName, fitsRule, type Peopled, planGroup, planGroupEnd } from './groups';

const child = (n: number, grade: string, ...classes: string[]) => ({ id: `p${n}`, grade, classes });
const names = new Map([
  ['a', '3A'],
  ['b', '3B'],
  ['x', '4A'],
]);
const group = (id: string, name: string, members: Peopled['members']): Peopled => ({ id, name, members });
const third = Array.from({ length: 8 }, (_, i) => child(i, '03', i < 6 ? 'a' : 'b'));

describe('who is in a group', () => {
  it('is whoever fits all of its rule, at its school', () => {
    const one = { schoolId: 's', grade: '03', classes: ['a', 'art'] };
    expect(fitsRule({ grade: '03', classIds: [] }, one, 's')).toBe(true);
    expect(fitsRule({ grade: '03', classIds: ['b', 'art'] }, one, 's')).toBe(true);
    expect(fitsRule({ grade: '04', classIds: ['a'] }, one, 's')).toBe(false);
    expect(fitsRule({ grade: null, classIds: ['b'] }, one, 's')).toBe(false);
    expect(fitsRule({ grade: '03', classIds: [] }, one, 'other')).toBe(false);
    expect([belongs({ classId: 'art', schoolId: 's' }, one), belongs({ classId: 'b', schoolId: 's' }, one)]).toEqual([
      true,
      false,
    ]);
  });

  it('is planned with the group itself, and ends with it', () => {
    let n = 0;
    const tools = { date: '2026-08-17', mint: () => `m${n++}` };
    const order = { schoolId: 's', classId: 'a', name: 'Cohort A', kind: 'days' as const, rule: null };
    const { plan, id } = planGroup(order, [{ id: 'p1', label: 'One' }], tools);
    expect(plan.changes.map(({ entity, subject, needs }) => [entity, subject, needs])).toEqual([
      ['group', id, undefined],
      ['membership', 'p1', [id]],
    ]);
    const open = { id: 'm9', personId: 'p1', groupId: id, begins: '2026-08-17', ends: null, label: 'One' };
    const end = planGroupEnd({ ...order, id, begins: '2026-08-17', ends: null }, [open], '2026-09-01');
    expect(end.changes.map(({ entity, after }) => [entity, after.ends])).toEqual([
      ['group', '2026-09-01'],
      ['membership', '2026-09-01'],
    ]);
  });
});

describe('the name of a copy', () => {
  it('speaks of the other subject or class', () => {
    expect(
      copiedName('Reading A', { name: 'Reading 3', subject: 'Reading' }, { name: 'Science 3', subject: 'Science' }),
    ).toBe('Science A');
    expect(copiedName('3A odd days', { name: '3A', subject: null }, { name: '3B', subject: null })).toBe('3B odd days');
    expect(copiedName('Cohort A', { name: '3A', subject: null }, { name: 'Science 3', subject: 'Science' })).toBe(
      'Cohort A · Science',
    );
  });
});

describe('a name that its members speak against', () => {
  it('names a class or a grade that few of them are in', () => {
    expect(contradictions(group('g', '3B readers', third), names, [])).toEqual([
      'Its name says 3B, but 6 of 8 are in 3A',
    ]);
    expect(contradictions(group('g', '3A readers', third), names, [])).toEqual([]);
    expect(contradictions(group('g', 'Grade 4 choir', third), names, [])).toEqual([
      'Its name says grade 4, but 8 of 8 are in grade 3',
    ]);
    expect(contradictions(group('g', 'Readers', third), names, [])).toEqual([]);
    expect(contradictions(group('g', '3B', []), names, [])).toEqual([]);
  });

  it('ends as another cohort than the group with the same members', () => {
    const a = group('1', 'Math Cohort A', third);
    const copied = group('2', 'Science Cohort B', third.slice(0, 7));
    const apart = group('3', 'Science Cohort B', [child(20, '03', 'b'), child(21, '03', 'b')]);
    expect(contradictions(copied, names, [a, copied])).toEqual([
      'Has the same members as Math Cohort A, but its name ends in B',
    ]);
    expect(contradictions(apart, names, [a, apart])).toEqual([]);
    expect(contradictions(group('4', 'Science Cohort A', third), names, [a])).toEqual([]);
  });
});
