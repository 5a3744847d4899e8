/**
 * What pages say, by key: from the catalog in core/messages, in the language of the person, else of the browser. The
 * language holds until the page is loaded anew, so texts can be read anywhere and need not be watched.
 */
import { createI18n } from 'vue-i18n';
import { IntlMessageFormat } from 'intl-messageformat';
import { first as english } from '#core/messages/en/first';
import type { MessageKey, MessageParams, Messages } from '#core/messages/index';
import { pseudo } from '#core/messages/pseudo';
import { readSpoken, spoken as spokenBy } from '#core/messages/say';
import { speechIn } from '#core/messages/speech';
import { languageFor, type UiLanguage, uiLanguages } from '#core/preferences/index';

const kept = 'language';
/** `pseudo`: for tests, which see by it what is not in the catalog and what does not fit. */
type Shown = UiLanguage | 'pseudo';
const known = (word: string | null): word is Shown => word === 'pseudo' || uiLanguages.some((one) => one === word);

const wanted = localStorage.getItem(kept);
export const language: Shown = known(wanted) ? wanted : languageFor(navigator.languages);
/** By which numbers and dates are written, and names sorted. */
export const locale: UiLanguage = language === 'pseudo' ? 'en-US' : language;
document.documentElement.lang = locale;

type Rooms = Record<string, Record<string, string>>;
const isSpanish = locale === 'es-US';
const messages: Rooms = { ...(isSpanish ? (await import('#core/messages/es/first')).first : english) };
const i18n = createI18n({
  legacy: false,
  locale,
  messages: { [locale]: messages } as Record<string, Rooms>,
  messageCompiler: (message) => {
    const text = String(message);
    const format = new IntlMessageFormat(language === 'pseudo' ? pseudo(text) : text, locale, undefined, {
      ignoreTag: true,
    });
    return (context: { values: unknown }) => format.format(context.values as MessageParams) as string;
  },
});

let rest: Promise<void> | null = null;
async function loadRest(): Promise<void> {
  const more = isSpanish ? await import('#core/messages/es/rest') : await import('#core/messages/en/rest');
  Object.assign(messages, more.rest);
  i18n.global.mergeLocaleMessage(locale, more.rest);
}
/** What all pages but the first ones say. A page waits for it before its own modules are read, since they have texts. */
export const restOfWords = (): Promise<void> =>
  (rest ??= loadRest().catch((error: unknown) => {
    rest = null;
    throw error;
  }));

/** Until all is there that an answer of the server says: it may speak of what the first pages do not. */
export async function wordsFor(json: string): Promise<void> {
  for (const [, room] of json.matchAll(/\\u0002(\w+)\./g))
    if (!(room! in messages)) return restOfWords().catch(() => undefined);
}

/** A count as it is written; anything else as it is. */
export const inWords = (value: unknown): unknown => (typeof value === 'number' ? value.toLocaleString(locale) : value);

/** What is not known says nothing. */
const said = (params: MessageParams): MessageParams =>
  Object.fromEntries(Object.entries(params).map(([name, value]) => [name, value ?? '']));
export const t = (key: MessageKey, params: MessageParams = {}): string => i18n.global.t(key, said(params));
const speech = speechIn(locale, messages as Messages, language === 'pseudo' ? pseudo : undefined);
/** What the server, or code that it shares, says by a key. */
export const spoken = (text: string): string => spokenBy(text, speech);
/** An answer of the server, with all that it says by keys. */
export const readAnswer = <T>(json: string): T => readSpoken<T>(json, speech);
/** Takes away all that this browser holds, but for its language: the page is the next person's as well. */
export function forgetButLanguage(): void {
  const here = localStorage.getItem(kept);
  localStorage.clear();
  if (here !== null) localStorage.setItem(kept, here);
}

/**
 * Loads `to` anew where somebody chose another language than the page is in; null: they chose none, and what this
 * browser speaks stays. False: nothing is to be done.
 */
export function speak(chosen: UiLanguage | null, to: string = location.href): boolean {
  if (language === 'pseudo') return false;
  const here = localStorage.getItem(kept);
  const next = chosen ?? (known(here) ? here : languageFor(navigator.languages));
  if (chosen !== null) localStorage.setItem(kept, chosen);
  if (next === language) return false;
  if (new URL(to, location.href).href === location.href) location.reload();
  else location.assign(to);
  return true;
}
