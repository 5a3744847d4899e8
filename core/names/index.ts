/**
 * Names as people write them against names as they are compared. Folding takes away case, accents, punctuation
 * and double spaces, so that "O’Brien-Šmíd" and "OBRIEN SMID" are the same; nothing is ever stored folded.
 */
import anyAscii from 'any-ascii';
import { familyStart } from './particles';

/** Plain lower-case ASCII letters and digits with single spaces between words. */
export function fold(text: string): string {
  const ascii = /^[\x20-\x7e]*$/.test(text) ? text : anyAscii(text);
  return ascii
    .toLowerCase()
    .replace(/['’`´]/g, '')
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();
}

/** Letters and digits only: for usernames. "Van der Berg" -> "vanderberg". */
export const squash = (text: string): string => fold(text).replaceAll(' ', '');

export interface NameParts {
  givenName: string;
  middleName: string;
  familyName: string;
}

/**
 * Splits one column's name: "Family, Given Middle", or "Given Middle Family" where particles ("van der", see ./particles)
 * go with the family name. A single word is taken as the given name.
 */
export function splitName(text: string): NameParts {
  const clean = tidy(text);
  const comma = clean.indexOf(',');
  if (comma >= 0) {
    const [given = '', ...middle] = clean
      .slice(comma + 1)
      .trim()
      .split(/[ ,]+/);
    return { familyName: clean.slice(0, comma).trim(), givenName: given, middleName: middle.join(' ') };
  }
  const words = clean.split(' ').filter(Boolean);
  if (words.length < 2) return { givenName: words[0] ?? '', middleName: '', familyName: '' };
  const start = familyStart(words);
  return {
    givenName: words[0]!,
    middleName: words.slice(1, start).join(' '),
    familyName: words.slice(start).join(' '),
  };
}

/** Single spaces, none at the ends, composed letters (NFC), typographic spaces as plain ones. */
export const tidy = (text: string): string =>
  isTidy.test(text)
    ? text
    : text
        .normalize('NFC')
        .replace(/[\s\u00a0\u2000-\u200b\u202f]+/g, ' ')
        .trim();

/** Most cells: plain ASCII with single spaces. */
const isTidy = /^(?:[\x21-\x7e]+(?: [\x21-\x7e]+)*)?$/;

/** True for "ABARA" and "O'NEIL": at least two letters, none of them small. */
export const isShouted = (text: string): boolean => /\p{Lu}.*\p{Lu}/u.test(text) && !/\p{Ll}/u.test(text);

/** "ABARA-LINDÉN" -> "Abara-Lindén", "o'neil" -> "O'Neil": a proposal, since capitals are lost for good. */
export const unshout = (text: string): string =>
  text
    .toLocaleLowerCase('en')
    .replace(/(^|[\s\-'’])(\p{L})/gu, (_, before: string, letter: string) => before + letter.toLocaleUpperCase('en'));

/** What Windows-1252 has at 0x80 to 0x9f; the rest is as in ISO 8859-1. */
export const windows1252High = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

/** A lead byte of UTF-8 for Latin letters, followed by what a continuation byte turns into. */
const misdecoded = new RegExp(`[ÂÃÄÅÆÇÈÉ][\\u0080-\\u00bf${windows1252High}]`);

/**
 * Text that was UTF-8 and was read as Windows-1252 ("BjÃ¶rk"), put right; null where nothing points to that.
 */
export function undoMisdecoding(text: string): string | null {
  if (!misdecoded.test(text)) return null;
  const bytes: number[] = [];
  for (const char of text) {
    const code = char.codePointAt(0)!;
    const high = windows1252High.indexOf(char);
    if (code < 256) bytes.push(code);
    else if (high >= 0) bytes.push(0x80 + high);
    else return null;
  }
  try {
    const mended = new TextDecoder('utf-8', { fatal: true }).decode(new Uint8Array(bytes));
    return mended === text ? null : mended;
  } catch {
    return null;
  }
}
