/**
 * Next year's people as far as they are known before the roll-over: every student where the grade map sends them; where
 * nobody has said, a grade up at a school that is not known yet, those of the last grade nowhere; and as many begin
 * school as did this year. Classes are taken for those of this year.
 */
import type { School } from '#core/entities/index';
import { grades } from '#core/tabular/values';
import type { Holder, Span } from './needs';

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);
/** Stands for a school that is not known yet. */
export const someSchool = '';

/** Where the grade map sends those of a grade of a school; see core/year. */
export type NextOf = (
  schoolId: string,
  grade: string | null,
) => { schoolId: string; grade: string } | 'leaves' | 'stays' | null;

export function promoted(people: readonly Holder[], schools: readonly School[], year: Span, nextOf: NextOf): Holder[] {
  const last = Math.max(...schools.map(({ highGrade }) => rank(highGrade)));
  const entry = schools.map(({ lowGrade }) => lowGrade).sort((a, b) => rank(a) - rank(b))[0];
  return people.flatMap((one): Holder[] => {
    const place = one.places.at(-1);
    if (one.stopped || !place) return [];
    const at = (schoolId: string, grade: string | null) => [{ schoolId, grade, ...year }];
    const { schoolId, grade } = place;
    if (one.role === 'staff') return [{ ...one, places: at(schoolId, grade) }];
    const begins = grade === entry ? [{ ...one, id: `${one.id}+`, classes: [], places: at(schoolId, grade) }] : [];
    const next = nextOf(schoolId, grade);
    const isOut = next === null && grade !== null && rank(grade) >= last;
    if (next === 'leaves' || isOut) return begins;
    if (next === 'stays') return [{ ...one, places: at(schoolId, grade) }, ...begins];
    const up = grade === null ? null : (grades[rank(grade) + 1] ?? null);
    return [{ ...one, places: at(next?.schoolId ?? someSchool, next?.grade ?? up) }, ...begins];
  });
}
