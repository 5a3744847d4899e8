/** Where somebody is: number, grade, school. */
import { t } from '@/words';
import type { PersonSheet } from '../../server/contract';
import { gradeLabel } from '#core/tabular/values';

export function whereOf({ person, places }: PersonSheet): string {
  const place = places.find(({ ends }) => ends === null);
  return [
    person.number,
    place?.grade && t('people.grade2', { grade: gradeLabel(place.grade) }),
    place?.school ?? (person.status === 'left' ? t('people.left') : t('people.atNoSchool')),
  ]
    .filter(Boolean)
    .join(' · ');
}
