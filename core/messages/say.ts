/**
 * Texts that are stored and sent, as a key of the catalog with what it is told, so that each reader has them in their
 * own language. Such a text is a string like any other and may stand within another one, or be told to one.
 */
import type { MessageKey } from './index';

/** Many are told as a list: "a, b, and c". */
export type Told = string | number | boolean | null | undefined | readonly string[];

/** Neither is of use in text; what comes from outside loses them, see `unsaid`. */
const [opens, closes] = ['\u0002', '\u0003'];
// What is told is JSON, in which these two are escaped, so the first that closes ends the text that was opened.
const pattern = new RegExp(`${opens}([\\w.]+)([^${closes}]*)${closes}`, 'g');
const marks = new RegExp(`[${opens}${closes}]`, 'g');

/** Text from outside, which says nothing by a key. */
export const unsaid = (text: string): string => text.replace(marks, '');

export const say = (key: MessageKey, told?: Record<string, Told>): string =>
  `${opens}${key}${told ? JSON.stringify(told) : ''}${closes}`;

/** Names for a title, which may be of very many: the first few of them. */
export const few = (names: readonly string[], most = 8): string[] =>
  names.length > most ? [...names.slice(0, most), '…'] : [...names];

/** What a key says in a language, told that. */
export type Speech = (key: string, told: Record<string, unknown>) => string;

/**
 * The text as it is read. What was written before texts had keys, or by a person, stays as it is; what cannot be said,
 * as another version kept it, is shown without its marks. Never throws: a list is not lost for one text in it.
 */
export function spoken(text: string, speech: Speech): string {
  if (!text.includes(opens)) return text;
  const said = text.replace(pattern, (whole, key: string, told: string) => {
    try {
      return speech(key, told === '' ? {} : spokenIn(JSON.parse(told) as Record<string, unknown>, speech));
    } catch {
      return unsaid(whole);
    }
  });
  return unsaid(said);
}

/** All texts in what was stored or sent. */
export function spokenIn<T>(value: T, speech: Speech): T {
  if (typeof value === 'string') return spoken(value, speech) as T;
  if (Array.isArray(value)) return value.map((one: unknown) => spokenIn(one, speech)) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, spokenIn(one, speech)])) as T;
}

/** JSON, with all texts in it as they are read. */
export const readSpoken = <T>(json: string, speech: Speech): T =>
  json.includes('\\u0002') ? spokenIn(JSON.parse(json) as T, speech) : (JSON.parse(json) as T);
