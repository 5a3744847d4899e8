/** Kinds of schools, and the grades that schools teach. */
import { t } from '@/words';
import type { NewSchool } from '#core/intake/index';
import { grades } from '#core/tabular/values';

export const schoolKinds = {
  primary: t('district.primary'),
  k8: t('district.k8'),
  middle: t('district.middle'),
  high: t('district.high'),
  evening: t('district.evening'),
};
export const taught = grades.slice(2);

/** What a school of these grades is usually called; common practice. */
export function kindOf(low: string, high: string): keyof typeof schoolKinds {
  const rank = (grade: string) => (grades as readonly string[]).indexOf(grade);
  if (rank(low) >= rank('09')) return 'high';
  if (rank(high) <= rank('06')) return 'primary';
  return rank(low) >= rank('05') ? 'middle' : 'k8';
}

/** A school as a roster tells of it; without grades it is a primary one. */
export function formOf({ name, identifier, grades: taughtThere }: NewSchool) {
  const rank = (grade: string) => (grades as readonly string[]).indexOf(grade);
  const sorted = [...taughtThere].sort((a, b) => rank(a) - rank(b));
  const [lowGrade = 'KG', highGrade = '05'] = [sorted[0], sorted.at(-1)];
  return { name, code: identifier, kind: kindOf(lowGrade, highGrade), lowGrade, highGrade } as const;
}
