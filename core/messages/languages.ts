/** Both languages at once, for who speaks to many: the server, its letters and files. */
import type { UiLanguage } from '#core/preferences/index';
import { es } from './es/index';
import { en, type MessageKey } from './index';
import { spoken, type Speech } from './say';
import { speechIn } from './speech';

const speeches: Record<UiLanguage, Speech> = { 'en-US': speechIn('en-US', en), 'es-US': speechIn('es-US', es) };
export const speechOf = (language: UiLanguage): Speech => speeches[language];
/** For logs, and whoever has no language here. */
export const inEnglish = (text: string): string => spoken(text, speeches['en-US']);

/** Keys of texts of one or more rooms that hold the words in any language, at most `most`. */
export function keysSaying(words: string, rooms: readonly (keyof typeof en)[], most: number): MessageKey[] {
  const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
  const wanted = plain(words);
  return rooms
    .flatMap((room) =>
      Object.keys(en[room])
        .filter((name) =>
          [en, es].some((messages) => plain((messages[room] as Record<string, string>)[name]!).includes(wanted)),
        )
        .map((name) => `${room}.${name}` as MessageKey),
    )
    .slice(0, most);
}
