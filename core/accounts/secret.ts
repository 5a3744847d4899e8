/**
 * Passphrases by age: words that a child of the grade can read and type. Strength is the logarithm of the number
 * of secrets that the same recipe can make, since a guesser is assumed to know the recipe.
 */
import { words } from './words';

/** How a secret is put together: so many words, then so many digits, between hyphens. */
export interface SecretRecipe {
  words: number;
  digits: number;
}

export interface GradeBand {
  name: string;
  grades: string[];
  recipe: SecretRecipe;
}

export const defaultBands: GradeBand[] = [
  { name: 'K–2', grades: ['IT', 'PR', 'PK', 'TK', 'KG', '01', '02'], recipe: { words: 2, digits: 0 } },
  { name: '3–5', grades: ['03', '04', '05'], recipe: { words: 2, digits: 2 } },
  { name: '6–8', grades: ['06', '07', '08'], recipe: { words: 3, digits: 0 } },
  { name: '9 and up', grades: ['09', '10', '11', '12', '13', 'PS', 'UG', 'Other'], recipe: { words: 4, digits: 0 } },
];

export const recipeFor = (grade: string | null, bands: GradeBand[] = defaultBands): SecretRecipe =>
  (bands.find((band) => grade !== null && band.grades.includes(grade)) ?? bands.at(-1)!).recipe;

/** Strength in bits of one word of a list: log2 of the list's length. Source: EFF word lists, 2016. */
export const bitsPerWord = (listLength: number): number => Math.log2(listLength);

/** Strength in bits. Words are drawn apart from each other, so a word may not come twice: n · (n−1) · … */
export function strengthBits(recipe: SecretRecipe, listLength = words.length): number {
  let bits = recipe.digits * Math.log2(10);
  for (let i = 0; i < recipe.words; i++) bits += bitsPerWord(listLength - i);
  return bits;
}

/** `below(n)` draws a whole number from 0 to n−1, from a source fit for secrets. */
export function makeSecret(recipe: SecretRecipe, below: (n: number) => number): string {
  const chosen: string[] = [];
  while (chosen.length < recipe.words) {
    const word = words[below(words.length)]!;
    if (!chosen.includes(word)) chosen.push(word);
  }
  const digits = Array.from({ length: recipe.digits }, () => below(10)).join('');
  return [...chosen, ...(digits ? [digits] : [])].join('-');
}

/** What is typed, as it is compared: case, and what stands between the words, do not matter. */
export const normalSecret = (typed: string): string => typed.toLowerCase().replace(/[^a-z0-9]+/g, '');
