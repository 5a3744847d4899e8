/**
 * Set work: what of a product's materials a class, a group of it or some of it are to work on, from when to when, and
 * in which state that is at a moment. Moments are ISO 8601 in UTC, so that they compare as text.
 */
import type { Change, Plan } from '#core/plan/index';
import type { AnswersShown, SchoolYear, SetWork } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates } from '#core/register/steps';

/** `shut`: open by its times, and paused. */
export type Phase = 'coming' | 'open' | 'shut' | 'closed';

export function phaseOf(work: Pick<SetWork, 'opensAt' | 'closesAt' | 'paused'>, now: string): Phase {
  if (work.closesAt !== null && work.closesAt <= now) return 'closed';
  if (work.opensAt > now) return 'coming';
  return work.paused ? 'shut' : 'open';
}

export const seesAnswers = (answers: AnswersShown, phase: Phase, isDone: boolean): boolean =>
  answers === 'done' ? isDone : answers === 'closed' && phase === 'closed';

/** Whether two words are the same for a child who types: case and blanks do not count. */
export const sameWord = (typed: string, word: string): boolean => {
  const plain = (text: string) => text.normalize('NFKC').replace(/\s+/gu, '').toLowerCase();
  return plain(typed) === plain(word);
};

const dayMs = 86_400_000;
const dayAt = (ms: number): string => new Date(ms).toISOString().slice(0, 10);

/**
 * The day midway through the term that `today` is in, or that comes next. Terms are the two halves of the school year.
 * Once that day is past, the end of the term.
 */
export function midway({ begins, ends }: Pick<SchoolYear, 'begins' | 'ends'>, today: string): string {
  const [from, to] = [Date.parse(begins), Date.parse(ends)];
  const half = from + Math.floor((to - from) / 2 / dayMs) * dayMs;
  const [first, last] = Date.parse(today) < half ? [from, half] : [half, to];
  const middle = first + Math.floor((last - first) / 2 / dayMs) * dayMs;
  return dayAt(Date.parse(today) <= middle ? middle : last);
}

export type WorkFields = Pick<
  SetWork,
  'title' | 'opensAt' | 'closesAt' | 'minutes' | 'entryWord' | 'paused' | 'answers'
>;
/** Where work is set: a class, a group of it, or some of its students. */
export interface Target {
  classId: string;
  className: string;
  groupId: string | null;
  groupName: string | null;
  /** null: not by name. */
  some: { id: string; label: string }[] | null;
}

/** One piece for each target; throws RangeError where it closes before it opens, or is for nobody. */
export function planSetWork(
  materialId: string,
  fields: WorkFields,
  targets: readonly Target[],
  mint: () => string,
): { plan: Plan; ids: string[] } {
  if (targets.length === 0) throw new RangeError('Choose for which classes it is.');
  if (fields.closesAt !== null && fields.closesAt <= fields.opensAt)
    throw new RangeError('It closes before it opens. Choose another end.');
  const ids: string[] = [];
  const changes = targets.flatMap(({ classId, className, groupId, groupName, some }): Change[] => {
    if (some?.length === 0) throw new RangeError(`Nobody who is gathered is a student of ${className}.`);
    const id = mint();
    ids.push(id);
    const whom = some ? 'some' : groupId ? 'group' : 'class';
    const of = some ? `${some.length} of ${className}` : groupName ? `${groupName} of ${className}` : className;
    const after = { classId, materialId, ...fields, whom, groupId, ends: null } as const;
    return [
      { ...creates('work', id, after, `for ${of}`), label: fields.title, subject: id },
      ...(some ?? []).map((one) => ({
        ...creates('assignee', mint(), { workId: id, personId: one.id }, fields.title),
        label: one.label,
        subject: id,
        needs: [id],
      })),
    ];
  });
  return { plan: ordered(changes), ids };
}
