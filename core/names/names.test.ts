import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fold, isShouted, splitName, squash, tidy, undoMisdecoding, unshout } from './index';

describe('folding', () => {
  it('makes spellings of one name the same and keeps different names apart', () => {
    const same: [string, string][] = [
      ['O’Brien-Šmíd', 'OBRIEN SMID'],
      ['Großkopf', 'GROSSKOPF'],
      ['Þóra', 'thora'],
      ['Łukasz', 'lukasz'],
      ['José  María', 'jose maria'],
      ['Nguyễn', 'Nguyen'],
      ['D’Arcy', "D'Arcy"],
      ['Ǆ', 'dz'],
    ];
    for (const [a, b] of same) expect([a, fold(a)]).toEqual([a, fold(b)]);
    expect(fold('Marit')).not.toBe(fold('Marita'));
    expect(squash('van der Meer')).toBe('vandermeer');
  });

  it('is the same when done twice, and never leaves anything but small ASCII words', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const folded = fold(text);
        expect(fold(folded)).toBe(folded);
        expect(folded).toMatch(/^([a-z0-9]+( [a-z0-9]+)*)?$/);
      }),
    );
  });
});

describe('one column’s name in parts', () => {
  it('is split at the comma, or before the family name with its particles', () => {
    const cases: [string, string, string, string][] = [
      ['Anstruther, Wren', 'Wren', '', 'Anstruther'],
      ['van der Meer, Jan Willem', 'Jan', 'Willem', 'van der Meer'],
      ['Wren Anstruther', 'Wren', '', 'Anstruther'],
      ['Jan Willem van der Meer', 'Jan', 'Willem', 'van der Meer'],
      ['María de la Peña', 'María', '', 'de la Peña'],
      ['Ana das Neves', 'Ana', '', 'das Neves'],
      ['Rui do Carmo', 'Rui', '', 'do Carmo'],
      ['Yusuf ibn Tashfin', 'Yusuf', '', 'ibn Tashfin'],
      ['Omar Al Zubaidi', 'Omar', '', 'Al Zubaidi'],
      ['Nora von und zu Hagen', 'Nora', '', 'von und zu Hagen'],
      ['Inés García y López', 'Inés', '', 'García y López'],
      ['Rita dos Santos e Silva', 'Rita', '', 'dos Santos e Silva'],
      // A name of its own where it is written large; and nobody is without a given name.
      ['Anna Ben Smith', 'Anna', 'Ben', 'Smith'],
      ['Linh Do Hansen', 'Linh', 'Do', 'Hansen'],
      ['Al Smith', 'Al', '', 'Smith'],
      ['Cher', 'Cher', '', ''],
      ['  Ann   Lee  ', 'Ann', '', 'Lee'],
    ];
    for (const [text, givenName, middleName, familyName] of cases)
      expect(splitName(text)).toEqual({ givenName, middleName, familyName });
  });

  it('loses no letter of it', () => {
    const word = fc.stringMatching(/^[A-Z][a-zé]{1,8}$/);
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 5 }), fc.boolean(), (words, comma) => {
        const text = comma && words.length > 1 ? `${words[0]}, ${words.slice(1).join(' ')}` : words.join(' ');
        const { givenName, middleName, familyName } = splitName(text);
        const letters = (list: string[]) => list.join(' ').split(' ').filter(Boolean).sort();
        expect(letters([givenName, middleName, familyName])).toEqual(letters(words));
      }),
    );
  });
});

describe('repairs', () => {
  it('put right what was UTF-8 and read as Windows-1252, and leave the rest alone', () => {
    const latin1 = (text: string) => {
      const decoded = new TextDecoder('latin1').decode(new TextEncoder().encode(text));
      const high = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';
      return decoded.replace(/[\u0080-\u009f]/g, (c) => high[c.charCodeAt(0) - 0x80]!);
    };
    for (const name of ['Björk', 'Großkopf', 'Ágnes', 'Štěpán', 'Żółć', 'Núñez', 'Øyvind', 'Çelik'])
      expect([name, undoMisdecoding(latin1(name))]).toEqual([name, name]);
    for (const name of ['Björk', 'Ann', 'Ãngela', 'São', 'ÄÖÜ'])
      expect([name, undoMisdecoding(name)]).toEqual([name, null]);
  });

  it('write capitals as names', () => {
    expect(isShouted('ABARA-LINDÉN')).toBe(true);
    expect([isShouted('Abara'), isShouted('A')]).toEqual([false, false]);
    expect(unshout('ABARA-LINDÉN')).toBe('Abara-Lindén');
    expect(unshout("MARY O'NEIL")).toBe("Mary O'Neil");
  });

  it('tidy spaces and compose letters, and nothing else', () => {
    expect(tidy(' José\u00a0 Luis\t')).toBe('José Luis');
    fc.assert(
      fc.property(fc.string(), (text) => {
        expect(tidy(tidy(text))).toBe(tidy(text));
      }),
    );
  });
});
