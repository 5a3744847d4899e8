/** Levels of a skill in the reader's words. */
import type { Band } from '#core/use/index';
import { t } from '@/words';

export const bandLabels: Record<Band, string> = {
  1: t('people.skillNotYet'),
  2: t('people.skillNearly'),
  3: t('people.skillReached'),
};
