import { inEnglish } from '#core/messages/languages';
import { describe, expect, it } from 'vitest';
import { summarise } from '#core/plan/index';
import type { Enrollment, SchoolClass } from '#core/entities/index';
import {
  classPatternError,
  gradeOfName,
  namesByPattern,
  planClasses,
  planEnding,
  readNames,
  usualPattern,
} from './make';
import { sampleSchool } from '#core/register/samples';

const school = sampleSchool('s', { name: 'Gull' });
let n = 0;
const around = { date: '2026-08-17', mint: () => `id${n++}`, teacher: null };

describe('names by a school’s pattern', () => {
  it('are of each grade and section, in order, and read back as they are', () => {
    expect(namesByPattern('{grade}{letter}', ['KG', '03'], 2, '')).toEqual(['KA', 'KB', '3A', '3B']);
    expect(namesByPattern('Year {grade}-{number} {year}', ['10'], 2, '2026–27')).toEqual([
      'Year 10-1 2026–27',
      'Year 10-2 2026–27',
    ]);
    const names = namesByPattern(usualPattern, ['01', '02', '03'], 4, '');
    expect(readNames(names.join(', '))).toEqual(names);
    expect(
      [classPatternError('{grade}'), classPatternError('{grade}{room}'), classPatternError(usualPattern)].map(
        (text) => text && inEnglish(text),
      ),
    ).toEqual([expect.stringContaining('needs'), expect.stringContaining('A part must be one of'), null]);
  });
});

describe('names typed in one line', () => {
  it('are taken apart, ranges written out, each once', () => {
    expect(readNames('3A-3D, 4A; 4a\n Blue  Room ')).toEqual(['3A', '3B', '3C', '3D', '4A', 'Blue Room']);
    expect(readNames('Art 1–3, Art 09-11')).toEqual(['Art 1', 'Art 2', 'Art 3', 'Art 09', 'Art 10', 'Art 11']);
    // What only looks like a range stays a name.
    expect(readNames('K-2, 3D-3A, A-4, Anne-Marie')).toEqual(['K-2', '3D-3A', 'A-4', 'Anne-Marie']);
  });

  it('say their grade where the school has it', () => {
    expect(['3A', '10B', 'KC', 'Kites', 'Art 4A'].map((name) => gradeOfName(name, school))).toEqual([
      '03',
      null,
      'KG',
      null,
      null,
    ]);
  });
});

describe('making', () => {
  const order = { names: '3A-3C', kind: 'homeroom' as const, grade: null, subject: null, like: null, template: null };

  it('leaves those alone that are there already, and says whose they are', () => {
    const taken = new Map([['3b', { classId: 'old', teachers: 'Runa Falk' }]]);
    const { plan, classes } = planClasses(order, school, taken, around);
    expect(plan.changes.map(({ after }) => [after.name, after.grade])).toEqual([
      ['3A', '03'],
      ['3C', '03'],
    ]);
    expect(classes.map(({ clash }) => clash?.teachers ?? null)).toEqual([null, 'Runa Falk', null]);
  });

  it('copies another with its people, who depend on it', () => {
    const like: SchoolClass = {
      id: 'x',
      schoolId: 's',
      name: 'Art 4A',
      kind: 'course',
      grade: '04',
      subject: 'Art',
      begins: '2026-01-01',
      ends: null,
    };
    const enrollments = ['t', 'p1', 'p2'].map((personId, i): Enrollment => ({
      id: `e${i}`,
      personId,
      classId: 'x',
      role: i === 0 ? 'teacher' : 'student',
      begins: '2026-01-01',
      ends: null,
    }));
    const { plan } = planClasses(
      { ...order, names: 'Art 4A evening', like: { class: like, enrollments, people: true }, template: null },
      school,
      new Map(),
      around,
    );
    const [made, ...people] = plan.changes;
    expect(made!.after).toMatchObject({ name: 'Art 4A evening', kind: 'course', grade: '04', subject: 'Art' });
    expect(people.map(({ after, needs }) => [after.role, needs])).toEqual([
      ['teacher', [made!.id]],
      ['student', [made!.id]],
      ['student', [made!.id]],
    ]);
    const ending = planEnding(
      like,
      enrollments.map((e) => ({ ...e, label: e.personId })),
      'Art 4A',
      '2026-09-01',
    );
    expect(summarise(ending.changes).kinds.map(({ kind, count }) => [kind, count])).toEqual([
      ['class.end', 1],
      ['enrollment.end', 3],
    ]);
  });
});
