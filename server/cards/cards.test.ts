/** The printed sheet, measured by independent readers: poppler for text, places and fonts, zbar for the codes. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { parts, slots } from '#core/cards/index';
import { readCodes } from '../testing/codes';
import { cardsPdf, type CardContent } from './pdf';

const card = (name: string, i: number): CardContent => ({
  name,
  place: '3B · grade 3 · Lantern Point',
  username: `user${i}`,
  secret: 'puffin-harbor-42',
  link: `http://127.0.0.1:8200/c/0123456789ABCDEFGHJKMNPQ${String(i).padStart(2, '0')}`,
  foot: 'Scan the code to sign in.',
});

async function printed(cards: CardContent[], paper: 'A4' | 'Letter') {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-pdf-'));
  writeFileSync(join(folder, 'cards.pdf'), await cardsPdf(cards, paper));
  const run = (command: string, ...args: string[]) =>
    execFileSync(command, args, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'] }).toString();
  /** Words with the left and top edges of their boxes in millimetres. */
  const words = [
    ...run('pdftotext', '-bbox', 'cards.pdf', '-').matchAll(
      /<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</g,
    ),
  ].map(([, x0, y0, x1, , text]) => ({
    text: text!.replaceAll('&apos;', "'").replaceAll('&amp;', '&'),
    xMm: (Number(x0) * 25.4) / 72,
    yMm: (Number(y0) * 25.4) / 72,
    endMm: (Number(x1) * 25.4) / 72,
  }));
  return { folder, run, words, text: run('pdftotext', '-layout', 'cards.pdf', '-') };
}

describe('login cards', () => {
  it('print names in any Latin script right, with fonts that are embedded', async () => {
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
    const { text, run } = await printed(names.map(card), 'A4');
    for (const name of names) expect([name, text.normalize('NFC').includes(name)]).toEqual([name, true]);
    const fonts = run('pdffonts', 'cards.pdf').trim().split('\n').slice(2);
    expect(fonts.length).toBeGreaterThanOrEqual(3);
    // Columns: emb, sub, uni.
    expect(fonts.filter((line) => !/ yes +yes +yes /.test(line))).toEqual([]);
  });

  it('stand where the layout says, to half a millimetre, on both papers', async () => {
    for (const paper of ['A4', 'Letter'] as const) {
      const { words } = await printed(
        Array.from({ length: 11 }, (_, i) => card(`Xname${i}, Wren`, i)),
        paper,
      );
      const places = slots(paper);
      for (let i = 0; i < 8; i++) {
        const username = words.find(({ text }) => text === `user${i}`)!;
        expect(Math.abs(username.xMm - places[i]!.xMm - parts.username.xMm)).toBeLessThan(0.5);
        const name = words.find(({ text }) => text === `Xname${i},`)!;
        expect(Math.abs(name.xMm - places[i]!.xMm - parts.name.xMm)).toBeLessThan(0.5);
        // A line's box begins at its ascent, a little above the letters.
        expect(name.yMm - places[i]!.yMm).toBeGreaterThan(parts.name.yMm - 2);
        expect(name.yMm - places[i]!.yMm).toBeLessThan(parts.name.yMm + parts.name.heightMm);
      }
    }
  });

  it('keep a very long name on its card, and a long username and secret whole', async () => {
    const long = {
      ...card(
        'Ó Maoilchiaráin-Þorvaldsdóttir-Przybyszewska-Wolfeschlegelstein, Wilhelmina-Constantia Maria van der Hoogenboom-Featherstonehaugh',
        1,
      ),
      username: 'w'.repeat(64),
      secret: 'saffron-mountain-trumpet-harvest',
    };
    const { words } = await printed([long, card('Next, One', 2)], 'A4');
    const [first] = slots('A4');
    const neighbor = words.find(({ text }) => text === 'Next,')!.xMm;
    const own = words.filter(({ xMm, text }) => xMm < first!.xMm + first!.widthMm && text !== 'Next,');
    expect(own.length).toBeGreaterThan(5);
    for (const word of own)
      expect([word.text, word.endMm < Math.min(first!.xMm + first!.widthMm - 3, neighbor)]).toEqual([word.text, true]);
    // What is typed again is there whole, on two lines where it must be.
    const mine = own.map(({ text }) => text).join('');
    expect(mine).toContain('saffron-mountain-trumpet-harvest');
    expect(mine).toContain('w'.repeat(64));
    // Codes stay clear of a long username.
    const code = first!.xMm + parts.code.xMm;
    expect(own.filter(({ text }) => text.startsWith('www')).every(({ endMm }) => endMm < code)).toBe(true);
  });

  it('hold codes that a reader reads, each the one of its card, in the order of the sheet', async () => {
    const { folder } = await printed(
      Array.from({ length: 8 }, (_, i) => card(`N${i}, W`, i)),
      'Letter',
    );
    const found = readCodes(folder, 'cards.pdf', 8);
    expect(found.sort()).toEqual(Array.from({ length: 8 }, (_, i) => card('', i).link));
  });
});
