/** Codes: what the check promises, shown by trying all; how long they must be; how they are typed. */
import { describe, expect, it } from 'vitest';
import { randomFrom } from '#core/random/index';
import { alphabet, checkOf, guessed, isWhole, lengthFor, makeCode, offends, readCode, spelled } from './index';

describe('the check character', () => {
  it('catches every single wrong character and every swap of two, tried one and all', () => {
    const r = randomFrom(4);
    let tried = 0;
    for (let length = 6; length <= 15; length++) {
      for (let n = 0; n < 20; n++) {
        const code = makeCode(length, r.below);
        expect(isWhole(code)).toBe(true);
        const letters = [...code];
        for (let i = 0; i < length; i++) {
          for (const other of alphabet) {
            if (other === letters[i]) continue;
            if (isWhole(letters.with(i, other).join(''))) throw new Error(`${code}: ${i} ${other}`);
            tried++;
          }
          for (let j = i + 1; j < length; j++) {
            if (letters[i] === letters[j]) continue;
            if (isWhole(letters.with(i, letters[j]!).with(j, letters[i]!).join('')))
              throw new Error(`${code}: ${i} ${j}`);
            tried++;
          }
        }
      }
    }
    expect(tried).toBeGreaterThan(50_000);
  });

  it('is that of ISO 2108 with another modulus: the standard’s own example with 11', () => {
    // Published: ISO 2108, ISBN-10 0-306-40615-2 (memory); the same sum, taken modulo 11.
    const digits = [0, 3, 0, 6, 4, 0, 6, 1, 5, 2];
    expect(digits.reduce((sum, d, i) => sum + (10 - i) * d, 0) % 11).toBe(0);
    // By hand: 2 is 0 and 3 is 1, so "22223" weighs 2, and the check must make 23 of it: 21 is X.
    expect(checkOf('22223')).toBe('X');
  });
});

describe('how long a code is', () => {
  it('follows from the live codes and the attempts allowed, and stays below one in a million a day', () => {
    for (const live of [1, 30, 300, 3000, 30_000])
      for (const tries of [100, 1000, 100_000]) {
        const length = lengthFor(live, tries);
        expect(guessed(length - 1, live, tries)).toBeLessThan(1e-6);
        // One fewer would not do, unless it was lengthened to whole groups or is the shortest there is.
        if (length > 6 && length % 3 !== 0) expect(guessed(length - 2, live, tries)).toBeGreaterThanOrEqual(1e-6);
      }
    expect(lengthFor(300, 1000)).toBe(10);
    expect(lengthFor(20, 1000)).toBe(9);
  });

  it('has the chance that a simulation finds', () => {
    const r = randomFrom(11);
    const [space, live, tries, rounds] = [23 ** 2, 3, 40, 20_000];
    let hits = 0;
    for (let n = 0; n < rounds; n++)
      for (let t = 0; t < tries; t++)
        if (r.below(space) < live) {
          hits++;
          break;
        }
    expect(hits / rounds).toBeCloseTo(guessed(2, live, tries), 2);
  });
});

describe('typing a code', () => {
  it('takes any case and marks, reads look-alikes, and says which letter is never in one', () => {
    const code = makeCode(9, randomFrom(1).below);
    expect(readCode(` ${spelled(code).toLowerCase().replaceAll('-', ' – ')} `)).toEqual({ code });
    const swapped = readCode(code.slice(1, 2) + code.slice(0, 1) + code.slice(2));
    expect(swapped).toMatchObject({ problem: 'check' });
    expect(readCode('C7F HOO')).toMatchObject({ problem: 'letter', message: expect.stringContaining('O') });
    expect(readCode('zgb')).toMatchObject({ problem: 'short' });
    for (const [wrong, right] of ['Z2', 'G6', 'B8', 'UV'])
      for (let n = 0; n < 40; n++) {
        const one = makeCode(9, randomFrom(n).below);
        expect(readCode(one.replaceAll(right!, wrong!))).toEqual({ code: one });
      }
  });

  it('draws codes that have no vowel, spell nothing that offends, and can be read back in groups', () => {
    const r = randomFrom(2);
    for (let n = 0; n < 5000; n++) {
      const code = makeCode(6 + (n % 10), r.below);
      expect(code).not.toMatch(/[AEIOUL01]/);
      expect(offends(code)).toBe(false);
      expect(spelled(code).replaceAll('-', '')).toBe(code);
      expect(spelled(code)).toMatch(/^\w{3}(-\w{2,4})+$/);
    }
    expect(offends('C7FCKM2')).toBe(true);
    expect([spelled('CCCDDDF'), spelled('CCCDDDFFF'), spelled('CCCDDDFFFH')]).toEqual([
      'CCC-DDDF',
      'CCC-DDD-FFF',
      'CCC-DDD-FFFH',
    ]);
  });
});
