/** Splitting and combining: nobody is lost, nobody is in two parts, and back again leaves nothing. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { applyTo, invert, type Plan, type State } from '#core/plan/index';
import type { Enrollment, SchoolClass } from '#core/entities/index';
import { planCombine, planSplit } from './reshape';

const klass = (id: string): SchoolClass => ({
  id,
  schoolId: 's',
  name: id.toUpperCase(),
  kind: 'homeroom',
  grade: '03',
  subject: null,
  begins: '2026-08-01',
  ends: null,
});
let minted = 0;
const tools = { date: '2026-09-14', mint: () => `new${minted++}` };
const placed = (classId: string, ids: number[], teachers: number[]) =>
  [...ids.map((n) => ['student', n] as const), ...teachers.map((n) => ['teacher', n] as const)].map(([role, n]) => ({
    id: `${classId}-${role}-${n}`,
    personId: `p${n}`,
    classId,
    role,
    begins: '2026-08-01',
    ends: null,
    label: `P${n}`,
  }));
const stateOf = (classes: SchoolClass[], enrollments: (Enrollment & { label: string })[]): State =>
  new Map([
    ['class', new Map(classes.map(({ id, ...rest }) => [id, rest as never]))],
    ['enrollment', new Map(enrollments.map(({ id, label: _, ...rest }) => [id, rest as never]))],
  ]);
function applied(state: State, plan: Plan): State {
  const done = applyTo(state, plan);
  if ('conflicts' in done) throw new Error(done.conflicts.map(({ message }) => message).join());
  return done.state;
}
const open = (state: State, role: string) =>
  ([...state.get('enrollment')!.values()] as unknown as Enrollment[])
    .filter((e) => e.ends === null && e.role === role)
    .map(({ personId, classId }) => [personId, classId] as const);
const people = fc.uniqueArray(fc.integer({ min: 0, max: 40 }), { maxLength: 30 });

it('a split counts off: parts differ by one at most, all have the teachers, and it is undone', () => {
  fc.assert(
    fc.property(people, fc.integer({ min: 1, max: 3 }), (ids, more) => {
      const enrollments = placed('c', ids, [90, 91]);
      const before = stateOf([klass('c')], enrollments);
      const names = ['C2', 'C3', 'C4'].slice(0, more);
      const plan = planSplit(klass('c'), enrollments, names, (name) => name, tools);
      const after = applied(before, plan);
      const sizes = new Map<string, number>();
      for (const [, classId] of open(after, 'student')) sizes.set(classId, (sizes.get(classId) ?? 0) + 1);
      expect(
        open(after, 'student')
          .map(([id]) => id)
          .sort(),
      ).toEqual(ids.map((n) => `p${n}`).sort());
      const counts = [...Array.from({ length: more + 1 }, (_, i) => [...sizes.values()][i] ?? 0)];
      expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
      expect(open(after, 'teacher')).toHaveLength(2 * (more + 1));
      expect(applied(after, invert(plan))).toEqual(before);
    }),
  );
});

it('combining puts everyone into the first class once, ends the others, and is undone', () => {
  fc.assert(
    fc.property(people, people, people, (a, b, c) => {
      const [ea, eb, ec] = [placed('a', a, [90]), placed('b', b, [90, 91]), placed('c', c, [])];
      const before = stateOf(['a', 'b', 'c'].map(klass), [...ea, ...eb, ...ec]);
      const others = [
        { class: klass('b'), enrollments: eb, label: 'B' },
        { class: klass('c'), enrollments: ec, label: 'C' },
      ];
      const plan = planCombine(klass('a'), ea, others, tools);
      const after = applied(before, plan);
      expect(new Set(open(after, 'student').map(([, classId]) => classId)).size).toBeLessThanOrEqual(1);
      expect(
        open(after, 'student')
          .map(([id]) => id)
          .sort(),
      ).toEqual([...new Set([...a, ...b, ...c])].map((n) => `p${n}`).sort());
      expect(
        open(after, 'teacher')
          .map(([id]) => id)
          .sort(),
      ).toEqual(['p90', 'p91']);
      expect([...after.get('class')!].filter(([, row]) => row.ends === null).map(([id]) => id)).toEqual(['a']);
      expect(applied(after, invert(plan))).toEqual(before);
    }),
  );
});
