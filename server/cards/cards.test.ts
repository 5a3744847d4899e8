/** What is printed, measured by independent readers: poppler for text, places and fonts, zbar for the codes. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { deviceLabelSheets, type Item, parts, pieces, posterSheet, slots, testSheet, widthOf } from '#core/cards/index';
import { readCodes } from '../testing/codes';
import { card, cards, printed } from '../testing/printed';
import { measure } from './type';

it('is tagged for those who do not see it, in the order in which it is read, with its title and language', async () => {
  const { folder, run } = await printed(cards([card(1), card(2)], { backs: 'long' }), 'A4');
  const info = run('pdfinfo', 'print.pdf');
  expect(info).toMatch(/Title: +Test\n/);
  expect(info).toMatch(/Tagged: +yes\n/);
  // Published: ISO 32000-1, 14.8.4 (standard structure types) and 14.9.2 (natural language).
  const told = run('pdfinfo', '-struct-text', 'print.pdf');
  const tags = told.match(/^ *(Document|Sect|P|Figure)/gm)!.map((tag) => tag.trim());
  expect([tags[0], tags.filter((tag) => tag === 'Sect').length, tags.filter((tag) => tag === 'Figure').length]).toEqual(
    [...['Document', 2, 2]],
  );
  const words = [...told.matchAll(/^ *"(.+)"$/gm)].map(([, text]) => text);
  expect(words.slice(0, 7)).toEqual([
    ...['Xname1, Wren', '3B · grade 3 · Lantern Point', 'username', 'user1', 'password', 'puffin-harbor-42'],
    'Scan the code to sign in.',
  ]);
  expect(words.indexOf('Xname2, Wren')).toBe(7);
  const raw = readFileSync(join(folder, 'print.pdf'), 'latin1');
  expect([raw.includes('/Lang (en-US)'), raw.includes('/DisplayDocTitle true')]).toEqual([true, true]);
});

describe('what is printed', () => {
  it('has names in any Latin script right, with fonts that are embedded', async () => {
    const names = [
      'Żółkiewski, Łukasz',
      'Nguyễn Thị, Thảo',
      'Dvořáčková, Žofie',
      'Þorvaldsdóttir, Ísgerður',
      'Őszi, Ágnes',
      'Țăranu, Ștefan',
      'Ħabib, Ġorġ',
      'Ọlábísí, Ṣadé',
      'Ñandú, Íñigo',
      'Großkopf, Jürgen',
      'Đorđević, Ljubiša',
      'Kalniņš, Jānis',
      'Ėglė, Ąžuolas',
      'Öztürk, Işıl',
      'Ŵyn, Siân',
      "O'Neill, Seán",
    ];
    const list = names.map((name, i) => {
      const [familyName, givenName] = name.split(', ') as [string, string];
      return card(i, { familyName, givenName, language: i % 2 ? 'uk' : 'pl' });
    });
    const { text, run } = await printed(cards(list, { backs: 'long' }), 'A4');
    for (const name of names) expect([name, text.normalize('NFC').includes(name)]).toEqual([name, true]);
    expect(text.normalize('NFC')).toContain('Бережи цю картку');
    expect(text.normalize('NFC')).toContain('Pilnuj tej karty');
    const fonts = run('pdffonts', 'print.pdf').trim().split('\n').slice(2);
    expect(fonts.length).toBeGreaterThanOrEqual(3);
    // Columns: emb, sub, uni.
    expect(fonts.filter((line) => !/ yes +yes +yes /.test(line))).toEqual([]);
  });

  it('stands where the layout says to 0.2 mm, in every layout and on both papers, fronts and backs', async () => {
    const list = Array.from({ length: 9 }, (_, i) => card(i));
    for (const paper of ['A4', 'Letter'] as const)
      for (const layout of ['cards', 'badges', 'strips', 'labels', 'list'] as const) {
        const sheets = [...cards(list, { layout, paper, backs: 'short' })];
        const { pages } = await printed(sheets, paper);
        expect(pages).toHaveLength(sheets.length);
        let seen = 0;
        sheets.forEach(({ items }, page) => {
          for (const { item, xMm, yMm } of placed(items)) {
            // A word that stands on the page once can be told where it is.
            const [first] = item.text.split(' ');
            const same = pages[page]!.filter(({ text }) => text === first);
            if (
              same.length !== 1 ||
              placed(items).filter((other) => other.item.text.split(' ').includes(first!)).length !== 1
            )
              continue;
            seen++;
            expect([layout, first, Math.abs(same[0]!.xMm - xMm) < 0.2]).toEqual([layout, first, true]);
            // Boxes of words reach from the ascent to the descent of the font; the baseline is in between.
            expect([layout, first, same[0]!.yMm < yMm && yMm < same[0]!.bottomMm]).toEqual([layout, first, true]);
            if (first === item.text) {
              const endMm = xMm + widthOf(measure, item.face, item.text, item.sizePt);
              expect([layout, first, Math.abs(same[0]!.endMm - endMm) < 0.2]).toEqual([layout, first, true]);
            }
          }
        });
        expect([layout, seen > 8]).toEqual([layout, true]);
      }
  });

  it('keeps a very long name on its card, and a long username and secret whole', async () => {
    const long = card(1, {
      familyName: 'Ó Maoilchiaráin-Þorvaldsdóttir-Przybyszewska-Wolfeschlegelstein',
      givenName: 'Wilhelmina-Constantia Maria van der Hoogenboom-Featherstonehaugh',
      username: 'w'.repeat(64),
      secret: 'saffron-mountain-trumpet-harvest',
    });
    const { pages } = await printed(cards([long, card(2)]), 'A4');
    const [first] = slots(pieces.cards, 'A4');
    const own = pages[0]!.filter(({ xMm }) => xMm < first!.xMm + first!.widthMm - 1);
    expect(own.length).toBeGreaterThan(5);
    for (const word of own)
      expect([word.text, word.endMm < first!.xMm + first!.widthMm - 3]).toEqual([word.text, true]);
    const mine = own.map(({ text }) => text).join('');
    expect(mine).toContain('saffron-mountain-trumpet-harvest');
    expect(mine).toContain('w'.repeat(64));
    const code = first!.xMm + parts.cards.code.xMm;
    expect(own.filter(({ text }) => text.startsWith('www')).every(({ endMm }) => endMm < code)).toBe(true);
  });

  it('holds codes that a reader reads, each the one of its card, in every layout', async () => {
    for (const layout of ['cards', 'badges', 'strips'] as const) {
      const list = Array.from({ length: 8 }, (_, i) => card(i));
      const { folder } = await printed(cards(list, { layout, paper: 'Letter' }), 'Letter');
      expect(readCodes(folder, 'print.pdf', 8).sort()).toEqual(list.map(({ link }) => link));
    }
  });

  it('labels devices with bars or a QR that a reader reads, and posters with theirs', async () => {
    const devices = ['D00417', 'AB-12345-C', '0012345678'].map((tag) => ({
      tag,
      model: 'Puffin 11',
      school: 'Skerry Middle',
      place: null,
    }));
    for (const code of ['bars', 'qr'] as const) {
      const { folder } = await printed(deviceLabelSheets(devices, { paper: 'A4', skip: 4, code }, measure), 'A4');
      // Code 128: published, ISO/IEC 15417; read by an independent decoder.
      const symbology = code === 'bars' ? 'code128' : 'qrcode';
      expect(readCodes(folder, 'print.pdf', 3, 1000, symbology).sort()).toEqual(devices.map(({ tag }) => tag).sort());
    }
    const content = {
      title: 'Mathematics 7A',
      code: 'C7F-HJ2-MNP',
      link: 'http://127.0.0.1:8200/j/C7FHJ2MNP',
      where: '127.0.0.1:8200/join',
      note: '',
    };
    const { folder, text } = await printed([posterSheet(content, 'Letter', measure)], 'Letter');
    expect(readCodes(folder, 'print.pdf', 1)).toEqual([content.link]);
    for (const said of ['Mathematics 7A', 'C7F-HJ2-MNP', 'Únete con este código', 'Приєднайся'])
      expect(text.normalize('NFC')).toContain(said);
  });

  it('has rulers of 100 mm on its test page, as an independent renderer draws them', async () => {
    const { folder, run } = await printed([testSheet('cards', 'A4', measure)], 'A4');
    const dpi = 254;
    run('pdftoppm', '-r', String(dpi), '-gray', 'print.pdf', 'page');
    const { width, height, pixels } = readPgm(join(folder, 'page-1.pgm'));
    /** The longest dark run of a row of pixels, in millimetres. */
    const longest = (along: number, count: number, step: number) => {
      let [most, run_] = [0, 0];
      for (let i = 0; i < count; i++) {
        run_ = pixels[along + i * step]! < 128 ? run_ + 1 : 0;
        most = Math.max(most, run_);
      }
      return (most * 25.4) / dpi;
    };
    const across = Math.max(...Array.from({ length: height }, (_, y) => longest(y * width, width, 1)));
    const down = Math.max(...Array.from({ length: width }, (_, x) => longest(x, height, width)));
    expect(Math.abs(across - 100)).toBeLessThan(0.3);
    expect(Math.abs(down - 100)).toBeLessThan(0.3);
  });
});

/** Texts with where they stand on the page. Those that are turned are left out: their words read backwards. */
function placed(
  items: readonly Item[],
  xMm = 0,
  yMm = 0,
): { item: Extract<Item, { kind: 'text' }>; xMm: number; yMm: number }[] {
  return items.flatMap((item) =>
    item.kind === 'at'
      ? item.turned
        ? []
        : placed(item.items, xMm + item.xMm, yMm + item.yMm)
      : item.kind === 'text'
        ? [{ item, xMm: xMm + item.xMm, yMm: yMm + item.baseMm }]
        : [],
  );
}

/** A gray picture as poppler writes it: P5, width, height, the largest value, then a byte a pixel. */
function readPgm(file: string): { width: number; height: number; pixels: Buffer } {
  const bytes = readFileSync(file);
  const head = bytes
    .subarray(0, 40)
    .toString('latin1')
    .match(/^P5\s+(\d+)\s+(\d+)\s+255\s/)!;
  return { width: Number(head[1]), height: Number(head[2]), pixels: bytes.subarray(head[0].length) };
}
