import { inEnglish } from '#core/messages/languages';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bitsPerWord,
  defaultBands,
  localPartMost,
  makeSecret,
  normalSecret,
  patternError,
  recipeFor,
  strengthBits,
  guessedInADay,
  pictureNames,
  pictures,
  picturesOf,
  recipeName,
  recipes,
  UsernameGiver,
  usernameOf,
  words,
} from './index';
import { randomFrom } from '#core/random/index';

const facts = (givenName: string, familyName: string, number = '004117') => ({
  givenName,
  familyName,
  middleName: '',
  number,
});

describe('usernames', () => {
  it('are plain letters, whatever the name is written in', () => {
    const pattern = '{given:1}{family}{number:-2}';
    expect(usernameOf(pattern, facts('Łukasz', 'Żółć'))).toBe('lzolc17');
    expect(usernameOf(pattern, facts('Þóra', 'Ísfjörð'))).toBe('tisfjord17');
    expect(usernameOf(pattern, facts('Åsa', 'Großmann-Øst'))).toBe('agrossmannost17');
    expect(usernameOf('{given}.{family}', facts('Mary Ann', "O'Neil"))).toBe('maryann.oneil');
    expect(usernameOf('{given}', facts('', ''))).toBe('user');
  });

  it('are never given to two people, fit an address, and come back to their own person', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.string({ maxLength: 90 }), fc.constantFrom('a', 'Ann', 'x'.repeat(70))), {
          maxLength: 60,
        }),
        (people) => {
          const given = new Map<string, string>();
          const first = new UsernameGiver('{given}{family}', given);
          const names = people.map(([family, name], i) => first.give(facts(name, family), `key${i}`));
          expect(new Set(names).size).toBe(people.length);
          // RFC 5321, 4.5.3.1.1: 64 octets at most.
          for (const name of names) expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(localPartMost);
          const again = new UsernameGiver('{given}{family}', given);
          // Another order, other neighbors: everyone has their own one back.
          for (const [i, [family, name]] of [...people.entries()].reverse())
            expect(again.give(facts(name, family), `key${i}`)).toBe(names[i]);
        },
      ),
    );
  });

  it('are two for two people who are told apart by nothing, and come back only when nobody holds them', () => {
    const given = new Map<string, string>();
    const giver = new UsernameGiver('{given}{family}', given);
    const both = [1, 2].map(() => giver.give(facts('Nils', 'Newcomer'), 'Newcomer|Nils|'));
    expect(both).toEqual(['nilsnewcomer', 'nilsnewcomer2']);
    const third = (held: string[]) =>
      new UsernameGiver('{given}{family}', new Map(given), held).give(facts('Nils', 'Newcomer'), 'Newcomer|Nils|');
    expect([third(both), third(['nilsnewcomer']), third([])]).toEqual([
      'nilsnewcomer3',
      'nilsnewcomer2',
      'nilsnewcomer',
    ]);
  });

  it('say what is wrong with a pattern', () => {
    expect(patternError('{given:1}{family}')).toBeNull();
    expect(inEnglish(patternError('{surname}')!)).toMatch(/needs/);
    expect(inEnglish(patternError('{given} {surname}')!)).toMatch(/A part must be one of/);
    expect(inEnglish(patternError('{given} {family}')!)).toMatch(/Between/);
  });
});

describe('passphrases', () => {
  it('have the strength that word lists of a length give', () => {
    // Published: EFF word lists, 2016: 7776 words 12.92 bits a word, 1296 words 10.34.
    expect(bitsPerWord(7776)).toBeCloseTo(12.92, 2);
    expect(bitsPerWord(1296)).toBeCloseTo(10.34, 2);
    // Counting all of them is the definition: 3 words of a list of 5 in order, no word twice, and a digit.
    expect(2 ** strengthBits({ words: 3, digits: 1 }, 5)).toBeCloseTo(5 * 4 * 3 * 10, 6);
    const bits = defaultBands.map((band) => strengthBits(band.recipe));
    expect([...bits].sort((a, b) => a - b)).toEqual(bits);
    expect(bits[0]).toBeGreaterThan(17);
  });

  it('use each word about equally often and no word twice', () => {
    const r = randomFrom(7);
    const seen = new Map<string, number>();
    for (let i = 0; i < 20_000; i++) {
      const drawn = makeSecret({ words: 2, digits: 2 }, r.below).split('-');
      expect(drawn).toHaveLength(3);
      expect(drawn[0]).not.toBe(drawn[1]);
      for (const word of drawn.slice(0, 2)) seen.set(word, (seen.get(word) ?? 0) + 1);
    }
    const expected = 40_000 / words.length;
    const chi2 = words.reduce((sum, word) => sum + ((seen.get(word) ?? 0) - expected) ** 2 / expected, 0);
    // Chi square with n−1 degrees of freedom: mean n−1, standard deviation sqrt(2(n−1)); six of them leave room.
    expect(Math.abs(chi2 - (words.length - 1))).toBeLessThan(6 * Math.sqrt(2 * (words.length - 1)));
  });

  it('are told from a list without repeats, and typed in any case and spacing', () => {
    expect(new Set(words).size).toBe(words.length);
    expect(words.every((word) => /^[a-z]{3,8}$/.test(word))).toBe(true);
    expect(normalSecret(' Puffin Harbor 42 ')).toBe(normalSecret('puffin-harbor-42'));
    expect(recipeFor('01')).toEqual({ words: 2, digits: 0 });
    expect(recipeFor(null)).toEqual({ words: 4, digits: 0 });
  });
});

describe('picture secrets', () => {
  const three = recipes['three pictures']!;
  it('are three of twenty-four in order: 12,144 of them, each as likely as another', () => {
    expect(pictureNames).toHaveLength(24);
    expect(2 ** strengthBits(three)).toBeCloseTo(24 * 23 * 22, 6);
    expect(guessedInADay(three, 60)).toBeCloseTo(60 / 12_144, 9);
    const r = randomFrom(3);
    const seen = new Map<string, number>();
    for (let n = 0; n < 60_000; n++) {
      const secret = makeSecret(three, r.below);
      seen.set(secret, (seen.get(secret) ?? 0) + 1);
    }
    expect(new Set([...seen.keys()].map((secret) => secret.split('-').length))).toEqual(new Set([3]));
    // 60,000 draws of 12,144 leave about e^-4.94 of them undrawn: 87.
    expect(12_144 - seen.size).toBeGreaterThan(40);
    expect(12_144 - seen.size).toBeLessThan(140);
  });

  it('are told from words, and no two of them are the same when typed together', () => {
    expect(picturesOf('sun-boat-tree')).toEqual(['sun', 'boat', 'tree']);
    expect(picturesOf('puffin-harbor-42')).toBeNull();
    const joined = new Set<string>();
    for (const a of pictureNames)
      for (const b of pictureNames)
        for (const c of pictureNames) if (a !== b && b !== c && a !== c) joined.add(normalSecret(`${a}-${b}-${c}`));
    expect(joined.size).toBe(24 * 23 * 22);
    // A name is drawn within its field, by strokes that every reader of SVG paths knows.
    for (const path of Object.values(pictures)) expect(path).toMatch(/^M[\d\sMmLlHhVvCcSsAaZz.,-]+$/);
    expect(recipeName(three)).toBe('three pictures');
  });
});
