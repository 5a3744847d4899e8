/**
 * Set work: what of a product's materials a class, a group of it or some of it are to work on, from when to when, and
 * in which state that is at a moment. Moments are ISO 8601 in UTC, so that they compare as text.
 */
import { say } from '#core/messages/say';
import { addDays, daysBetween } from '#core/time/index';
import type { Change, Plan } from '#core/plan/index';
import type { AnswersShown, SchoolYear, SetWork } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates } from '#core/register/steps';
import type { Phase } from './phase';

export * from './phase';
export * from './progress';

export const seesAnswers = (answers: AnswersShown, phase: Phase, isDone: boolean): boolean =>
  answers === 'done' ? isDone : answers === 'closed' && phase === 'closed';

/** Whether two words are the same for a child who types: case and blanks do not count. */
export const sameWord = (typed: string, word: string): boolean => {
  const plain = (text: string) => text.normalize('NFKC').replace(/\s+/gu, '').toLowerCase();
  return plain(typed) === plain(word);
};

type Span = Pick<SchoolYear, 'begins' | 'ends'>;
const middleOf = ({ begins, ends }: Span): string => addDays(begins, Math.floor(daysBetween(begins, ends) / 2));

/**
 * The day midway through the term that `today` is in, or that comes next. A year without terms has two, its halves.
 * Once that day is past, the end of the term.
 */
export function midway(year: Span, today: string, terms: readonly Span[] = []): string {
  const half = middleOf(year);
  const halves = [
    { begins: year.begins, ends: half },
    { begins: half, ends: year.ends },
  ];
  const inOrder = terms.length > 0 ? [...terms].sort((a, b) => (a.begins < b.begins ? -1 : 1)) : halves;
  const term = inOrder.find(({ ends }) => today < ends) ?? inOrder.at(-1)!;
  const middle = middleOf(term);
  return today <= middle ? middle : term.ends;
}

const saturday = 6;
/** The day itself where there is school on it, else the next one on which there is; within the year, else the last one before. */
export function schoolDay(day: string, year: Span, daysOff: readonly Span[] = []): string {
  const isOff = (one: string) =>
    new Date(one).getUTCDay() % saturday === 0 || daysOff.some(({ begins, ends }) => begins <= one && one <= ends);
  for (const step of [1, -1])
    for (let one = day; one >= year.begins && one <= year.ends; one = addDays(one, step)) if (!isOff(one)) return one;
  return day;
}

export type WorkFields = Pick<
  SetWork,
  'title' | 'opensAt' | 'dueAt' | 'closesAt' | 'minutes' | 'entryWord' | 'paused' | 'answers' | 'library'
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

/** What is wrong with the times, as a text; null: nothing. */
export function timesError({
  opensAt,
  dueAt,
  closesAt,
}: Pick<SetWork, 'opensAt' | 'dueAt' | 'closesAt'>): string | null {
  if (closesAt !== null && closesAt <= opensAt) return say('materials.itClosesBeforeItOpens');
  if (dueAt !== null && dueAt <= opensAt) return say('materials.itIsDueBeforeItOpens');
  return dueAt !== null && closesAt !== null && closesAt < dueAt ? say('materials.itClosesBeforeItIsDue') : null;
}

/** What is in the library is due at no time. */
export const libraryError = ({ library, dueAt }: Pick<SetWork, 'library' | 'dueAt'>): string | null =>
  library && dueAt !== null ? say('materials.inTheLibraryNothingIsDue') : null;

/** One piece for each target; throws RangeError where its times are not in order, or it is for nobody. */
export function planSetWork(
  materialId: string,
  fields: WorkFields,
  targets: readonly Target[],
  mint: () => string,
): { plan: Plan; ids: string[] } {
  if (targets.length === 0) throw new RangeError(say('materials.chooseTheClasses'));
  const wrong = timesError(fields) ?? libraryError(fields);
  if (wrong) throw new RangeError(wrong);
  const ids: string[] = [];
  const changes = targets.flatMap(({ classId, className, groupId, groupName, some }): Change[] => {
    if (some?.length === 0) throw new RangeError(say('materials.noneOfTheGatheredPeople', { name: className }));
    const id = mint();
    ids.push(id);
    const whom = some ? 'some' : groupId ? 'group' : 'class';
    const of = some
      ? say('materials.studentsIn', { count: some.length, name: className })
      : groupName
        ? say('materials.in', { group: groupName, name: className })
        : className;
    const after = { classId, materialId, ...fields, whom, groupId, ends: null } as const;
    return [
      { ...creates('work', id, after, say('materials.for2', { whom: of })), label: fields.title, subject: id },
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
