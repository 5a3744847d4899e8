/**
 * Passphrases by age: words that a child of the grade can read and type. Strength is the logarithm of the number
 * of secrets that the same recipe can make, since a guesser is assumed to know the recipe.
 */
import { pictureNames } from './pictures';
import { words } from './words';

/** How a secret is put together: so many words, then so many digits, between hyphens; or so many pictures. */
export interface SecretRecipe {
  words: number;
  digits: number;
  pictures?: number;
}

/** What a district chooses from for each band. */
export const recipes: Record<string, SecretRecipe> = {
  'three pictures': { words: 0, digits: 0, pictures: 3 },
  'four pictures': { words: 0, digits: 0, pictures: 4 },
  'two words': { words: 2, digits: 0 },
  'two words and two digits': { words: 2, digits: 2 },
  'three words': { words: 3, digits: 0 },
  'four words': { words: 4, digits: 0 },
};
export const recipeName = (recipe: SecretRecipe): string =>
  Object.keys(recipes).find((name) => JSON.stringify(shape(recipes[name]!)) === JSON.stringify(shape(recipe))) ??
  `${recipe.words} words and ${recipe.digits} digits`;
const shape = ({ words: w, digits, pictures: p = 0 }: SecretRecipe): number[] => [w, digits, p];

export interface GradeBand {
  name: string;
  grades: string[];
  recipe: SecretRecipe;
}

export const defaultBands: GradeBand[] = [
  { name: 'K–2', grades: ['IT', 'PR', 'PK', 'TK', 'KG', '01', '02'], recipe: { words: 2, digits: 0 } },
  { name: '3–5', grades: ['03', '04', '05'], recipe: { words: 2, digits: 2 } },
  { name: '6–8', grades: ['06', '07', '08'], recipe: { words: 3, digits: 0 } },
  { name: '9+', grades: ['09', '10', '11', '12', '13', 'PS', 'UG', 'Other'], recipe: { words: 4, digits: 0 } },
];

export const recipeFor = (grade: string | null, bands: GradeBand[] = defaultBands): SecretRecipe =>
  (bands.find((band) => grade !== null && band.grades.includes(grade)) ?? bands.at(-1)!).recipe;

/** Strength in bits of one word of a list: log2 of the list's length. Source: EFF word lists, 2016. */
export const bitsPerWord = (listLength: number): number => Math.log2(listLength);

/** Strength in bits. Words, and pictures, are drawn apart from each other, so none comes twice: n · (n−1) · … */
export function strengthBits(recipe: SecretRecipe, listLength = words.length): number {
  let bits = recipe.digits * Math.log2(10);
  for (let i = 0; i < (recipe.pictures ?? 0); i++) bits += Math.log2(pictureNames.length - i);
  for (let i = 0; i < recipe.words; i++) bits += bitsPerWord(listLength - i);
  return bits;
}

/** `below(n)` draws a whole number from 0 to n−1, from a source fit for secrets. */
export function makeSecret(recipe: SecretRecipe, below: (n: number) => number): string {
  const chosen: string[] = [];
  const [list, count] = recipe.pictures ? [pictureNames, recipe.pictures] : [words, recipe.words];
  while (chosen.length < count) {
    const word = list[below(list.length)]!;
    if (!chosen.includes(word)) chosen.push(word);
  }
  const digits = Array.from({ length: recipe.digits }, () => below(10)).join('');
  return [...chosen, ...(digits ? [digits] : [])].join('-');
}

/** The chance that so many tries a day at one account meet its secret. */
export const guessedInADay = (recipe: SecretRecipe, triesADay: number): number =>
  Math.min(1, triesADay / 2 ** strengthBits(recipe));

/** What is typed, as it is compared: case, and what stands between the words, do not matter. */
export const normalSecret = (typed: string): string => typed.toLowerCase().replace(/[^a-z0-9]+/g, '');
