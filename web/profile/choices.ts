/** What a person may choose of how they see Sheaf. */
import { t } from '@/words';
import type { Preferences, UiLanguage } from '#core/preferences/index';

/** Each language by its own name. */
export const languages: [UiLanguage | '', string][] = [
  ['', t('profile.browserDefault')],
  ['en-US', 'English'],
  ['es-US', t('profile.espanOl')],
];
export const themes: [Preferences['theme'], string][] = [
  ['system', t('profile.asTheSystem')],
  ['day', t('profile.day')],
  ['night', t('profile.night')],
];
export const densities: [Preferences['density'], string][] = [
  ['dense', t('profile.dense')],
  ['roomy', t('profile.roomy')],
];
