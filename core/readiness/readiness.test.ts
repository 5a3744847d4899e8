import { describe, expect, it } from 'vitest';
import { classesFor, type Roster } from './index';

const roster = (
  name: string,
  kind: Roster['kind'],
  students: string[],
  schoolId = 's',
  grade: string | null = '06',
): Roster => ({
  ...{ id: name, name, kind, students, schoolId, grade },
});
const a = ['a1', 'a2', 'a3', 'a4', 'a5'];
const b = ['b1', 'b2', 'b3'];
const rosters = [
  roster('6A', 'homeroom', a),
  roster('6B', 'homeroom', b),
  roster('Math 6A', 'course', a),
  roster('Math 6B', 'course', b),
  roster('Choir', 'course', [...a, ...b]),
  roster('Chess', 'course', ['a1', 'b1']),
  roster('7A', 'homeroom', [], 's', '07'),
];
const late = (id: string, isIn: string[] = [], grade = '06', schoolId = 's') => ({
  id,
  schoolId,
  grade,
  isIn: new Set(isIn),
});
const names = (arrivals: ReturnType<typeof late>[]) =>
  [...classesFor(arrivals, rosters)].map(([id, joins]) => [id, joins?.map(({ name }) => name) ?? null]);

describe('classes of late arrivals', () => {
  it('are the homeroom with the fewest and its own courses, spread over those who come at once', () => {
    expect(names([late('x'), late('y'), late('z')])).toEqual([
      ['x', ['6B', 'Math 6B']],
      ['y', ['6B', 'Math 6B']],
      ['z', ['6A', 'Math 6A']],
    ]);
  });
  it('are only what is lacking, and none where the school has none', () => {
    expect(names([late('x', ['6A']), late('y', ['6A', 'Math 6A']), late('z', [], '09'), late('w', [], '07')])).toEqual([
      ['x', ['Math 6A']],
      ['y', []],
      ['z', null],
      ['w', ['7A']],
    ]);
  });
});
