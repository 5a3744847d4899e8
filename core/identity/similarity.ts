/**
 * How alike two short strings are. Jaro–Winkler for names, computed on bit masks: one bit a letter of the first
 * string, so that a letter of the second finds its partner in one step. Strings are ASCII, at most 32 letters
 * count; longer ones are compared by their first 32.
 */

const positions = new Int32Array(128);

/**
 * Jaro similarity, 0 to 1. Source: Winkler 1990, "String Comparator Metrics and Enhanced Decision Rules in the
 * Fellegi–Sunter Model of Record Linkage"; letters agree within half the longer length less one.
 */
export function jaro(a: string, b: string): number {
  const n = Math.min(a.length, 32);
  const m = Math.min(b.length, 32);
  if (n === 0 || m === 0) return n === m ? 1 : 0;
  for (let i = 0; i < n; i++) positions[a.charCodeAt(i) & 127]! |= 1 << i;
  const reach = Math.max(0, (Math.max(n, m) >> 1) - 1);
  let takenA = 0;
  let takenB = 0;
  for (let j = 0; j < m; j++) {
    const from = Math.max(0, j - reach);
    const to = Math.min(n - 1, j + reach);
    if (from > to) continue;
    const window = (to === 31 ? -1 : (1 << (to + 1)) - 1) & ~((1 << from) - 1);
    const open = positions[b.charCodeAt(j) & 127]! & window & ~takenA;
    if (open !== 0) {
      takenA |= open & -open;
      takenB |= 1 << j;
    }
  }
  for (let i = 0; i < n; i++) positions[a.charCodeAt(i) & 127] = 0;
  if (takenA === 0) return 0;
  let common = 0;
  let moved = 0;
  let restA = takenA;
  let restB = takenB;
  while (restA !== 0) {
    const i = 31 - Math.clz32(restA & -restA);
    const j = 31 - Math.clz32(restB & -restB);
    if (a.charCodeAt(i) !== b.charCodeAt(j)) moved++;
    restA &= restA - 1;
    restB &= restB - 1;
    common++;
  }
  return (common / n + common / m + (common - (moved >> 1)) / common) / 3;
}

/** Jaro–Winkler similarity, 0 to 1: up to four letters of common prefix add a tenth each of what is missing, above 0.7. */
export function jaroWinkler(a: string, b: string): number {
  const base = jaro(a, b);
  if (base <= 0.7) return base;
  let prefix = 0;
  while (prefix < 4 && prefix < a.length && prefix < b.length && a.charCodeAt(prefix) === b.charCodeAt(prefix))
    prefix++;
  return base + prefix * 0.1 * (1 - base);
}

/** True if one letter put in, left out or replaced, or two neighbors swapped, turns one string into the other. */
export function oneEditApart(a: string, b: string): boolean {
  if (a.length > b.length) return oneEditApart(b, a);
  if (b.length - a.length > 1) return false;
  let i = 0;
  while (i < a.length && a.charCodeAt(i) === b.charCodeAt(i)) i++;
  if (a.length < b.length) return a.slice(i) === b.slice(i + 1);
  if (i === a.length) return false;
  if (a.slice(i + 1) === b.slice(i + 1)) return true;
  return a[i] === b[i + 1] && a[i + 1] === b[i] && a.slice(i + 2) === b.slice(i + 2);
}

/** Which letters stand in a string: a bit for each, some characters sharing one. */
export function lettersOf(text: string): number {
  let letters = 0;
  for (let i = 0; i < text.length; i++) letters |= 1 << (text.charCodeAt(i) & 31);
  return letters;
}

export interface Spelled {
  text: string;
  letters: number;
}

export const spelled = (text: string): Spelled => ({ text, letters: lettersOf(text) });

function bits(x: number): number {
  let n = x - ((x >>> 1) & 0x55555555);
  n = (n & 0x33333333) + ((n >>> 2) & 0x33333333);
  return Math.imul((n + (n >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/**
 * Names as a slip of hand or ear leaves them: one edit apart, or a similarity of 0.9, of short ones 0.93. Letters that
 * only one of the two has find no partner, which rules most pairs out before anything is compared.
 */
export function alike(a: Spelled, b: Spelled): boolean {
  const [x, y] = [a.text, b.text];
  const [n, m] = [x.length, y.length];
  const least = Math.min(n, m) > 4 ? 0.9 : 0.93;
  const [onlyA, onlyB] = [bits(a.letters & ~b.letters), bits(b.letters & ~a.letters)];
  if (n > 2 && m > 2 && onlyA < 2 && onlyB < 2 && oneEditApart(x, y)) return true;
  if (n > 0 && m > 0 && n <= 32 && m <= 32) {
    const common = Math.min(n - onlyA, m - onlyB);
    const most = (common / n + common / m + 1) / 3;
    // Four letters of common prefix add 0.4 of what is missing; another first letter adds nothing.
    if (most + (x.charCodeAt(0) === y.charCodeAt(0) ? 0.4 * (1 - most) : 0) < least - 1e-9) return false;
  }
  return jaroWinkler(x, y) >= least;
}

const soundexDigits: Record<string, string> = Object.fromEntries(
  ['bfpv', 'cgjkqsxz', 'dt', 'l', 'mn', 'r'].flatMap((letters, i) => [...letters].map((c) => [c, String(i + 1)])),
);

/** Soundex code of a name in lower-case ASCII, "w252". Source: US National Archives, the Soundex indexing system. */
export function soundex(name: string): string {
  const letters = name.replace(/[^a-z]/g, '');
  if (letters === '') return '';
  let code = letters[0]!;
  let last = soundexDigits[code] ?? '';
  for (const letter of letters.slice(1)) {
    const digit = soundexDigits[letter] ?? '';
    if (digit !== '' && digit !== last) code += digit;
    // h and w do not part letters of one code; vowels do.
    if (letter !== 'h' && letter !== 'w') last = digit;
    if (code.length === 4) break;
  }
  return code.padEnd(4, '0');
}
