/** Cards and letters of families who write otherwise: every letter is in the PDF, every code is read, nothing is broken. */
import { expect, it } from 'vitest';
import { type CardContent, isRtl, type Language, languages, texts } from '#core/cards/index';
import { readCodes } from '../testing/codes';
import { card, cards, printed } from '../testing/printed';
import { measure, missingLetters } from './type';

/** Made-up names by script, family name first; from memory. */
const names: Record<string, readonly (readonly [string, string])[]> = {
  latin: [
    ['Nguyễn', 'Thảo'],
    ['Żółkiewska', 'Łucja'],
    ['Ọlábísí', 'Ṣadé'],
  ],
  cyrillic: [
    ['Коваленко', 'Ївга'],
    ['Ґалаґан', 'Єлизавета'],
  ],
  greek: [['Παπαδοπούλου', 'Ευαγγελία']],
  arabic: [
    ['الحسن', 'مريم'],
    ['نور الدين', 'ياسين'],
    ['بن عبدالله', 'شيماء'],
  ],
  hebrew: [
    ['כהן', 'נועה'],
    ['בן־דוד', 'איתן'],
  ],
  han: [
    ['欧阳', '娜娜'],
    ['陳', '曉龍'],
    ['劉', '思齊'],
  ],
  hangul: [
    ['김', '민준'],
    ['남궁', '서연'],
  ],
  devanagari: [
    ['क्षत्रिय', 'प्रिया'],
    ['शर्मा', 'कृष्ण'],
  ],
  bengali: [['দাশগুপ্ত', 'শ্রেয়া']],
  ethiopic: [['ተስፋዬ', 'ሰላማዊት']],
};
const everyone = Object.values(names).flat();
const spoken = Object.keys(languages) as Language[];
/** Two hundred, of each script and each language. */
const list: CardContent[] = Array.from({ length: 200 }, (_, i) => {
  const [familyName, givenName] = everyone[i % everyone.length]!;
  return card(i, { familyName, givenName, language: spoken[i % spoken.length]!, secret: `puffin-harbor-${100 + i}` });
});
/** As a reader finds it: composed, without the marks that turn the direction, each blank one blank. */
const read = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/[\u200e\u200f\u202a-\u202e]/g, ' ')
    .replace(/\s+/g, ' ');

it('holds 200 cards of ten scripts and twelve languages: each letter, each code, each word whole', async () => {
  expect(list.flatMap(({ familyName, givenName }) => missingLetters(familyName + givenName))).toEqual([]);
  const { run, pages } = await printed(cards(list, { backs: 'long' }), 'A4');
  expect(pages).toHaveLength(50);
  const text = read(run('pdftotext', '-layout', 'print.pdf', '-'));
  const words = new Set(text.split(/[\s,]+/));
  // Where vowel signs change places they are told as they are seen: as many of each letter, in another order.
  const isReordered = /[\p{sc=Deva}\p{sc=Beng}]/u;
  const letters = (all: string) =>
    [...all]
      .filter((char) => isReordered.test(char))
      .sort()
      .join('');
  for (const word of everyone.flat().flatMap((name) => name.split(' ')))
    if (!isReordered.test(word)) expect([word, words.has(word)]).toEqual([word, true]);
  const written = list.map(({ familyName, givenName }) => familyName + givenName).join('');
  expect(letters(text)).toBe(letters(written + written));
  for (const { username, secret } of list)
    expect([username, words.has(username), words.has(secret)]).toEqual([username, true, true]);
  // Each language says its own: words that lie side by side in it.
  for (const language of spoken)
    for (const said of texts[language].secret.split(' '))
      expect([language, text.includes(said)]).toEqual([language, true]);
  const fonts = run('pdffonts', 'print.pdf').trim().split('\n').slice(2);
  expect(fonts.filter((line) => !/ yes +yes +yes /.test(line))).toEqual([]);
  // From whole pages as a cheap scanner sees them.
  const { folder } = await printed(cards(list), 'A4');
  const read150 = readCodes(folder, 'print.pdf', 200, 1000, 'qrcode', [150]);
  expect(read150.sort()).toEqual(list.map(({ link }) => link).sort());
});

it('says which letters no font has, instead of printing a hole', () => {
  // Balinese and an emoji: in none of the fonts.
  expect(missingLetters('Wren ᬩᬮᬶ 🦉')).toEqual([...'ᬩᬮᬶ🦉']);
  expect(missingLetters('مريم بن\u200cنور')).toEqual([]);
});

it('lays letters that run from right to left from the right, with numbers and addresses in their own order', async () => {
  const arabic = card(1, { familyName: 'الحسن', givenName: 'مريم', language: 'ar' });
  const { pages, run } = await printed(cards([arabic], { layout: 'letters', paper: 'Letter' }), 'Letter');
  // Told word by word, letters come as they are seen.
  const words = pages[0]!.map((word) => ({ ...word, text: [...read(word.text)].reverse().join('') }));
  const [first] = texts.ar.letter.title.split(' ');
  const last = 'الدخول';
  const at = (text: string | undefined) => words.find((word) => word.text.includes(text!))!;
  // The first word is the one farthest right, and ends at the margin of 20 mm.
  expect(at(first).xMm).toBeGreaterThan(at(last).xMm);
  expect(Math.abs(at(first).endMm - (215.9 - 20))).toBeLessThan(0.5);
  expect(read(run('pdftotext', '-raw', 'print.pdf', '-'))).toContain('127.0.0.1:8200/d/lantern');
  expect([isRtl('ar'), isRtl('ko')]).toEqual([true, false]);
  // Joined letters are narrower than those that stand alone; a hyphen or a letter of another script has no part in it.
  expect(measure('text', 'مريم')).toBeLessThan([...'مريم'].reduce((sum, char) => sum + measure('text', char), 0));
});

it('writes one letter a family, brothers and sisters together, with what the district asks to be signed', async () => {
  const home = [
    card(1, { familyName: 'Okafor', givenName: 'Ada', family: 'okafor', language: 'fr' }),
    card(2, { familyName: 'Ibarra', givenName: 'Luz', family: 'ibarra' }),
    card(3, { familyName: 'Okafor', givenName: 'Chidi', family: 'okafor', language: 'fr' }),
  ];
  const { run, pages, folder } = await printed(
    cards(home, { layout: 'letters', consent: { fr: 'Nous sommes d’accord avec le réseau.' } }),
    'A4',
  );
  expect(pages).toHaveLength(2);
  const page = (n: number) => read(run('pdftotext', '-raw', '-f', String(n), '-l', String(n), 'print.pdf', '-'));
  expect(page(1)).toMatch(/Okafor, Ada .*Okafor, Chidi /);
  expect(page(1)).toContain('Nous sommes d’accord avec le réseau.');
  expect(page(1)).toContain(texts.fr.letter.title);
  // English beside it, in the words of Sheaf where the district wrote none.
  expect(page(1)).toContain('I agree that my child uses');
  expect(page(2)).toContain('Ibarra, Luz');
  expect(page(2)).not.toContain(texts.fr.letter.title);
  expect(readCodes(folder, 'print.pdf', 3).sort()).toEqual(home.map(({ link }) => link).sort());
});
