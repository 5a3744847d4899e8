/**
 * The grade map: where those who finish a grade of a school go. A grade goes on at the same school as long as the
 * school has the next one, else to the school that begins with it; after the last grade people leave.
 */
import type { School } from '#core/entities/index';
import { grades, hasGrade } from '#core/tabular/values';

/** `leaves`: out of the district; `stays`: as they are, in no grade that goes up; null: nobody has said yet. */
export type Next = { schoolId: string; grade: string } | 'leaves' | 'stays' | null;
/** By "schoolId:grade". */
export type GradeMap = ReadonlyMap<string, Next>;

export const mapKey = (schoolId: string, grade: string | null): string => `${schoolId}:${grade ?? ''}`;

const rank = (grade: string): number => (grades as readonly string[]).indexOf(grade);
const lastGrade = rank('12');

/** The grade that follows; null: none does. Transitional kindergarten is for those who are sent there, so nobody goes up into it. */
export function nextGrade(grade: string): string | null {
  const at = rank(grade);
  if (at < 0 || at >= lastGrade) return null;
  return grade === 'PK' ? 'KG' : grades[at + 1]!;
}

/**
 * The map as it usually is. Common practice: the school that begins with a grade takes those who come from a school
 * that ends before it; where several could, or none, it is left open. Evening schools and people without a grade
 * that goes up stay.
 */
export function usualMap(
  schools: readonly School[],
  there: readonly { schoolId: string; grade: string | null }[],
): Map<string, Next> {
  const map = new Map<string, Next>();
  const byId = new Map(schools.map((school) => [school.id, school]));
  for (const { schoolId, grade } of there) {
    const key = mapKey(schoolId, grade);
    const school = byId.get(schoolId);
    if (!school || map.has(key)) continue;
    map.set(key, usualNext(schools, school, grade));
  }
  return map;
}

function usualNext(schools: readonly School[], school: School, grade: string | null): Next {
  if (school.kind === 'evening' || grade === null || rank(grade) < 0 || rank(grade) > lastGrade) return 'stays';
  if (rank(grade) === lastGrade) return 'leaves';
  const next = nextGrade(grade)!;
  if (hasGrade(next, school)) return { schoolId: school.id, grade: next };
  const able = schools.filter((one) => one.kind !== 'evening' && one.id !== school.id && hasGrade(next, one));
  const begins = able.filter(({ lowGrade }) => lowGrade === next);
  const one = begins.length === 1 ? begins[0] : able.length === 1 ? able[0] : undefined;
  return one ? { schoolId: one.id, grade: next } : null;
}
