/**
 * Join codes: short enough to be typed by a child from the board, long enough that guessing does not pay. A code is
 * some characters drawn at random and one that checks them, written in groups of three: "C7F-HJ2-MNP".
 *
 * The alphabet has 23 characters, a prime. The check is that of ISO 2108 (ISBN-10) with 23 in the place of 11: the
 * values, weighted by their place counted from the end, add up to a multiple of 23. A prime modulus and weights that
 * all differ catch every single wrong character and every swap of two, neighbors or not, up to 22 characters.
 */
import { say } from '#core/messages/say';

/** Without vowels, which would make words, and without one of each pair that looks alike: 0 O, 1 I L, 2 Z, 5 S, 6 G, 8 B, U V. */
export const alphabet = '2346789CDFHJKMNPQRTVWXY';
const base = alphabet.length;
const valueOf = new Map([...alphabet].map((letter, i) => [letter, i]));
/** What is read for the one of a pair that codes do not use. */
const readAs = new Map([...'ZGBU'].map((letter, i) => [letter, '268V'[i]!]));

export const shortest = 6;
export const longest = 15;

const weighted = (text: string, offset: number): number =>
  [...text].reduce((sum, letter, i) => sum + (text.length - i + offset) * valueOf.get(letter)!, 0);

/** The character that checks `body`, which is of the alphabet. */
export const checkOf = (body: string): string => alphabet[(base - (weighted(body, 1) % base)) % base]!;

export const isWhole = (code: string): boolean =>
  code.length >= shortest && code.length <= longest && weighted(code, 0) % base === 0;

/** Chance that somebody who may try `tries` codes meets one of `live` ones, of 23^drawn: 1 − (1 − live/space)^tries. */
export const guessed = (drawn: number, live: number, tries: number): number =>
  -Math.expm1(tries * Math.log1p(-Math.min(live / base ** drawn, 1 - Number.EPSILON)));

/** The chance of a guess in a day that is small enough. */
export const mostRisk = 1e-6;

/** The fewest characters, check included, with which a day's guessing stays below `most`; whole groups of three where that costs one more. */
export function lengthFor(live: number, triesADay: number, most = mostRisk): number {
  let drawn = shortest - 1;
  while (drawn < longest - 1 && guessed(drawn, live, triesADay) >= most) drawn++;
  const length = drawn + 1;
  return length % 3 === 2 ? length + 1 : length;
}

/**
 * What no code spells, digits read as the letters they resemble; written down from memory. Common practice: codes go on
 * a wall in front of children.
 */
const offending = /F[CVXKN]K|CNT|KKK|DCK|TWT|WTF|FTW|XXX|666|69|88|D3V|CR4P|H3LL|D34D|W4NK|T4T|P3D|N4Z/;
export const offends = (code: string): boolean => offending.test(code);

/** A new code of so many characters; `below(n)` draws a whole number from 0 to n−1. */
export function makeCode(length: number, below: (n: number) => number): string {
  for (;;) {
    const body = Array.from({ length: length - 1 }, () => alphabet[below(base)]!).join('');
    const code = body + checkOf(body);
    if (!offends(code)) return code;
  }
}

/** In groups of three, as it is shown; four stay together rather than leave one alone. */
export const spelled = (code: string): string =>
  code.length % 3 === 1 ? code.replace(/(.{3})(?=.{3})(?!.$)/g, '$1-') : code.replace(/(.{3})(?=.)/g, '$1-');

export type TypedCode =
  | { code: string }
  | {
      /** `empty`, `short`: nothing to say yet. */
      problem: 'empty' | 'short' | 'long' | 'letter' | 'check';
      message: string;
    };

/** What somebody typed, in any case and with any marks between. */
export function readCode(typed: string): TypedCode {
  const letters = [...typed.toUpperCase().normalize('NFKC')]
    .filter((letter) => /[\p{L}\p{N}]/u.test(letter))
    .map((letter) => readAs.get(letter) ?? letter);
  const code = letters.join('');
  if (code === '') return { problem: 'empty', message: say('joining.typeTheCodeFromThe') };
  const odd = letters.find((letter) => !valueOf.has(letter));
  if (odd) return { problem: 'letter', message: say('joining.aCodeNeverHasIn', { letter: odd }) };
  if (code.length < shortest) return { problem: 'short', message: say('joining.theCodeIsTooShort') };
  if (code.length > longest) return { problem: 'long', message: say('joining.theCodeIsTooLong') };
  if (!isWhole(code)) return { problem: 'check', message: say('joining.oneOfTheLettersIs') };
  return { code };
}
