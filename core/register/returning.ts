/** What a person who left gets back on return: the same by a list, by a register, and by hand. */
import { say } from '#core/messages/say';
import { grades } from '#core/tabular/values';
import type { Affiliation, Enrollment, Loan, SchoolClass, Step } from '#core/entities/index';
import { creates, updates } from './steps';

/** What they had when they left: the place that ended last, and the enrollments that ended with it. */
export interface LeftWith {
  place: Pick<Affiliation, 'schoolId' | 'grade' | 'ends'>;
  enrollments: Pick<Enrollment, 'classId' | 'role'>[];
}

const ladder: readonly string[] = grades.filter((code) => code === 'KG' || /^\d\d$/.test(code));

/** A grade further for each roll-over since they left (days, yyyy-mm-dd), the last one at most. */
export function gradeOnReturn({ place }: LeftWith, rollOvers: readonly string[]): string | null {
  const at = place.grade === null ? -1 : ladder.indexOf(place.grade);
  if (at < 0) return place.grade;
  const missed = rollOvers.filter((day) => day > (place.ends ?? day)).length;
  return ladder[Math.min(at + missed, ladder.length - 1)]!;
}

export interface Return {
  personId: string;
  left: LeftWith;
  /** Of devices that they have: one that is due since the day on which they left is theirs again. */
  loans: readonly Pick<Loan, 'id' | 'due'>[];
  schoolId: string;
  /** The class that they come back to: it takes the place of the one of its kind. */
  instead: Pick<SchoolClass, 'id' | 'kind'> | null;
  classOf: (id: string) => Pick<SchoolClass, 'id' | 'schoolId' | 'name' | 'kind' | 'ends'> | undefined;
  date: string;
  mint: () => string;
}

/** What ended when they left begins anew: classes of the school that still run, and the device that they still have. */
export function stepsOnReturn({ personId, left, loans, schoolId, instead, classOf, date, mint }: Return): Step[] {
  const steps: Step[] = [];
  for (const { classId, role } of left.enrollments) {
    const to = classOf(classId);
    if (!to || to.ends !== null || to.schoolId !== schoolId || classId === instead?.id) continue;
    if (instead && role === 'student' && to.kind === instead.kind) continue;
    const after = { personId, classId, role, begins: date, ends: null };
    const reason = say(role === 'teacher' ? 'intake.teaches' : 'classes.joins', { name: to.name });
    steps.push(creates('enrollment', mint(), after, reason));
  }
  for (const { id, due } of loans)
    if (due !== null && due === left.place.ends)
      steps.push(updates('loan', id, { due }, { due: null }, say('plan.keepsTheDevice')));
  return steps;
}
