/** Worked examples of names, usernames, passwords and codes, told in `worked.txt`. */
import { asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import {
  defaultBands,
  guessedInADay,
  makeSecret,
  normalSecret,
  patternError,
  picturesOf,
  recipeFor,
  recipeName,
  recipes,
  strengthBits,
  UsernameGiver,
  usernameOf,
} from '#core/accounts/index';
import { Clashes } from '#core/accounts/username';
import { checkOf, guessed, isWhole, lengthFor, makeCode, offends, readCode, spelled } from '#core/codes/index';
import { randomFrom } from '#core/random/index';
import { fold, isShouted, splitName, squash, tidy, undoMisdecoding, unshout } from './index';
import { areForms, isGivenName } from './nicknames';

it('names, usernames, passwords and codes are as these', async () => {
  const out: string[] = [];
  const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
  const names = [
    'Anstruther, Wren',
    'van der Meer, Jan Willem',
    'Jan Willem van der Meer',
    'María de la Peña',
    'Wren',
    '',
    ' Wren  Ada   Moyo ',
    'Van Gogh',
    'Al Amin Said',
    ', Wren',
    'Moyo,',
    'Moyo, Ada, Ida',
    'Jan de',
    'St John Rivers',
    'Ana DE LA Cruz',
  ];
  show(
    'parts of names',
    names.map((text) => `“${text}”: ${Object.values(splitName(text)).join(' | ')}`),
  );
  const texts = [
    'O’Brien-Šmíd',
    'ABARA',
    'ABARA-LINDÉN',
    "o'neil",
    "O'NEIL",
    'A',
    'AB',
    'Ab',
    '123',
    '  two   spaces\u00a0here ',
    'BjÃ¶rk',
    'Ã',
    'Ã¶',
    'MÃ¼ller â‚¬',
    'plain',
    'Ä\u0087',
    'É€',
    'e\u0301',
    'McKAY',
  ];
  show(
    'texts',
    texts.map(
      (text) =>
        `“${text}”: folded ${fold(text)}, squashed ${squash(text)}, tidy “${tidy(text)}”, shouted ${isShouted(text)}, “${unshout(text)}”, mended ${undoMisdecoding(text)}`,
    ),
  );
  show(
    'forms of names',
    ['bill william', 'will bill', 'bill anna', 'xx yy', 'bill xx', 'liz beth', 'bob rob'].map(
      (pair) => `${pair}: ${areForms(...(pair.split(' ') as [string, string]))}`,
    ),
  );
  show(
    'given names',
    ['william', 'bill', 'moyo', ''].map((name) => `${name}: ${isGivenName(name)}`),
  );
  const facts = { givenName: 'Wren Ada', middleName: 'Ida', familyName: "O'Neil-Šmíd", number: '004117' };
  const patterns = [
    '{given:1}{family}',
    '{given}.{family}',
    '{family:3}{number:-2}',
    '{middle:1}{given}',
    '{middle}',
    'x',
    '{given}{',
    '{grade}{given}',
    '{Given}',
    '{given}!',
    '-{given}-',
    '.{number}.',
    '{given:0}',
    '{number:2}',
    'A{given}',
  ];
  show(
    'usernames',
    patterns.map((pattern) => `${pattern}: ${usernameOf(pattern, facts)}, ${patternError(pattern) ?? 'right'}`),
  );
  const giver = new UsernameGiver(
    '{given:1}{family}',
    new Map([
      ['wmoyo', 'old'],
      ['wmoyo3', 'third'],
    ]),
  );
  const one = (familyName: string, key: string, pattern?: string) => giver.give({ ...facts, familyName }, key, pattern);
  show('usernames given one after the other', [
    one('Moyo', 'a'),
    one('Moyo', 'b'),
    one('Moyo', 'old'),
    one('Moyo', 'third'),
    one('Moyo', 'c'),
    one('Moyo', 'a'),
    one('M'.repeat(80), 'd'),
    one('M'.repeat(80), 'e'),
    one('Moyo', 'f', '{family}'),
    one('Moyo', 'g', '{family}'),
  ]);
  const clashes = new Clashes('{family}');
  for (const familyName of ['A', 'A', 'B', 'C', 'C', 'C']) clashes.add({ ...facts, familyName });
  show('clashes', [String(clashes.count)]);
  show('recipes', [
    ...Object.entries(recipes).map(
      ([name, recipe]) =>
        `${name}: ${recipeName(recipe)}, ${strengthBits(recipe).toFixed(3)} bits, ${makeSecret(recipe, randomFrom(7).below)}, ${guessedInADay(recipe, 100).toExponential(3)}`,
    ),
    recipeName({ words: 5, digits: 1 }),
    String(guessedInADay({ words: 0, digits: 0 }, 5)),
    ...[null, 'KG', '02', '03', '05', '08', '09', 'UG', 'xx'].map(
      (grade) => `grade ${grade}: ${recipeName(recipeFor(grade))}`,
    ),
    recipeName(recipeFor('03', defaultBands.slice(0, 1))),
    ...['sun-moon-star', 'sun', 'sun-moon', 'sun-wren', ''].map(
      (secret) => `${secret}: ${picturesOf(secret)?.join(' ') ?? 'words'}`,
    ),
    normalSecret(' Puffin–HARBOR 42! '),
  ]);
  const below = randomFrom(3).below;
  show('codes', [
    ...[6, 7, 8, 9, 10, 12, 13, 15].map((length) => spelled(makeCode(length, below))),
    ...['', 'c7f', 'C7F-HJ2', 'c7fhj2', '  c7f hj2mnp ', 'CÖF', 'O', 'A7FHJ2', 'I23467', 'ZGBU23', 'C'.repeat(16)].map(
      (typed) => `“${typed}”: ${JSON.stringify(readCode(typed))}`,
    ),
    ...['22222', '23467', 'CDFHJ'].map(
      (body) => `${body}${checkOf(body)} ${isWhole(body + checkOf(body))} ${isWhole(`${body}2`)}`,
    ),
    ...['2', '22222', '2222222222222222'].map((code) => `${code} ${isWhole(code)}`),
    ...['FCK234', 'C69D', 'CDF', 'D88', 'TWT', 'W4NK'].map((code) => `${code} ${offends(code)}`),
    ...[
      [5, 100, 1000],
      [8, 1, 1],
      [5, 7e6, 10],
    ].map(([drawn, live, tries]) => `${drawn} ${live} ${tries}: ${guessed(drawn!, live!, tries!).toExponential(4)}`),
    ...[
      [1, 1],
      [10, 100],
      [5000, 1000],
      [1e6, 1e6],
      [1e9, 1e9],
    ].map(([live, tries]) => `${live} ${tries}: ${lengthFor(live!, tries!)}`),
    String(lengthFor(5000, 1000, 0.5)),
  ]);
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});
