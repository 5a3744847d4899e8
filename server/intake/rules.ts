/** What a row of a file must be, by the district's settings and the school that the file is about. */
import { grades, type RowRules } from '#core/tabular/index';
import type { District } from '../district';

export function rulesFor(
  { settings }: District,
  school: { lowGrade: string; highGrade: string; kind: string } | null,
  today: string,
): RowRules {
  const year = Number(today.slice(0, 4));
  const rest = today.slice(4);
  const low = school ? grades.indexOf(school.lowGrade as never) : -1;
  const high = school ? grades.indexOf(school.highGrade as never) : -1;
  return {
    numberDigits: settings.numberDigits,
    // Pupils are 3 to 21; an evening school's students may be of any age.
    bornFrom: `${year - (school?.kind === 'evening' ? 90 : 22)}${rest}`,
    bornTo: `${year - 3}${rest}`,
    grades: low >= 0 && high >= low ? grades.slice(low, high + 1) : [],
  };
}
