/**
 * Words that stand before a family name and belong to it: written, dropped, or grown together with it as an office likes.
 * Common practice of the languages named; from memory.
 */
const byLanguage = {
  dutchAndGerman: 'van von vom der den zu zum zur ten ter',
  french: 'de du des la le les',
  italian: 'da di del della dello dei degli delle dal',
  portugueseAndSpanish: 'do das dos las los',
  arabicAndHebrew: 'al el ibn bin bint ben',
  nordic: 'af av',
  saints: 'st saint san santa',
};
const particles = new Set(Object.values(byLanguage).flatMap((words) => words.split(' ')));

/** Part of the name rather than before it, so that it counts where names are compared: "Mac Donald" is not Donald. */
const joined = new Set(['mac', 'mc']);
/** Names of their own too ("Ben", "Della", the Vietnamese family name "Do"): before a family name only where written small. */
const alsoNames = new Set(['ben', 'della', 'dal', 'do']);
/** Between the two halves of a family name: "García y López", "Santos e Silva", "von und zu Hagen". */
const between = new Set(['y', 'e', 'i', 'und']);

/** Whether a folded word may be left out when family names are compared. */
export const isParticle = (folded: string): boolean => particles.has(folded);

/** Where the family name begins in "Given Middle Family", as an index into its words; two at least. Only the first is surely given. */
export function familyStart(words: readonly string[]): number {
  const goesAlong = (word: string): boolean => {
    const small = word.toLowerCase();
    if (alsoNames.has(small)) return word === small;
    return particles.has(small) || joined.has(small);
  };
  let start = words.length - 1;
  for (;;) {
    if (start > 1 && goesAlong(words[start - 1]!)) start--;
    // Only small letters: a capital alone is an initial.
    else if (start > 2 && between.has(words[start - 1]!)) start -= 2;
    else return start;
  }
}
