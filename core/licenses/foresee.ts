/**
 * Next year's people as far as they are known before the roll-over: every student a grade up where they are; who is
 * above their school's highest grade goes to a school that is not known yet; who has finished the 12th leaves; and as
 * many begin school as did this year. Classes are taken for those of this year.
 */
import type { School } from '#core/register/index';
import { grades } from '#core/tabular/values';
import type { Holder, Span } from './needs';

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);
/** Stands for a school that is not known yet. */
export const someSchool = '';
/** The last grade, common practice; adults go on in theirs. */
const last = rank('12');

export function promoted(people: readonly Holder[], schools: readonly School[], year: Span): Holder[] {
  const byId = new Map(schools.map((school) => [school.id, school]));
  const entry = schools.map(({ lowGrade }) => lowGrade).sort((a, b) => rank(a) - rank(b))[0];
  return people.flatMap((one): Holder[] => {
    const place = one.places.at(-1);
    if (one.stopped || !place) return [];
    const at = (schoolId: string, grade: string | null) => [{ schoolId, grade, ...year }];
    const { schoolId, grade } = place;
    if (one.role === 'staff' || grade === null || rank(grade) > last) return [{ ...one, places: at(schoolId, grade) }];
    const begins = grade === entry ? [{ ...one, id: `${one.id}+`, classes: [], places: at(schoolId, grade) }] : [];
    if (rank(grade) === last) return begins;
    const next = grades[rank(grade) + 1]!;
    const stays = rank(next) <= rank(byId.get(schoolId)?.highGrade ?? grade);
    return [{ ...one, places: at(stays ? schoolId : someSchool, next) }, ...begins];
  });
}
