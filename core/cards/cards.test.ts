import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  backOf,
  type CardContent,
  cardSheets,
  codeSheets,
  cutMarks,
  deviceLabelSheets,
  type Edge,
  english,
  fitCode,
  impose,
  type Item,
  type Language,
  languages,
  type Layout,
  layouts,
  type Measure,
  type Paper,
  papers,
  parts,
  pieces,
  posterSheet,
  rowsOf,
  sheetCount,
  slots,
  testSheet,
  texts,
  widthOf,
} from './index';
import { sampleCard, sampleOrder } from './samples';

const each = Object.keys(papers) as Paper[];
const cut = ['cards', 'badges', 'strips', 'labels'] as const;
/** Letters of a width that no real letter exceeds by much; a letter of the mono face is 0.6 wide. */
const measure: Measure = (face, text) => [...text].length * (face === 'code' ? 0.6 : 0.55);

const card = (i: number, more: Partial<CardContent> = {}): CardContent =>
  sampleCard(i, {
    familyName: `Anstruther ${i}`,
    className: `3${'ABC'[Math.floor(i / 25) % 3]}`,
    username: `wanstruther${i}`,
    link: `http://127.0.0.1:8200/c/${i}`,
    ...more,
  });
const order = sampleOrder;

describe('a grid', () => {
  it('stands in the middle of its paper, pieces edge to edge, and is of the sizes that the standards name', () => {
    // Published: ISO 216 and ANSI/ASME Y14.1; ISO/IEC 7810 ID-1.
    expect(papers).toEqual({ A4: { widthMm: 210, heightMm: 297 }, Letter: { widthMm: 215.9, heightMm: 279.4 } });
    expect(pieces.badges).toMatchObject({ widthMm: 85.6, heightMm: 53.98 });
    expect(each.map((paper) => slots(pieces.cards, paper).length)).toEqual([8, 8]);
    for (const paper of each) {
      for (const layout of cut) {
        const piece = pieces[layout];
        const places = slots(piece, paper);
        const right = Math.max(...places.map((p) => p.xMm + p.widthMm));
        const bottom = Math.max(...places.map((p) => p.yMm + p.heightMm));
        const [left, top] = [Math.min(...places.map((p) => p.xMm)), Math.min(...places.map((p) => p.yMm))];
        expect(left).toBeCloseTo(papers[paper].widthMm - right, 9);
        expect(top).toBeCloseTo(papers[paper].heightMm - bottom, 9);
        // Printers cannot reach the outer edge: common practice, 5 mm.
        expect([layout, paper, Math.min(left, top) >= 5]).toEqual([layout, paper, true]);
        for (const [i, a] of places.entries())
          for (const b of places.slice(i + 1)) {
            const apart = (x: number, y: number) => x >= y - 1e-9;
            expect(
              apart(b.xMm, a.xMm + a.widthMm + piece.gapMm) ||
                apart(a.xMm, b.xMm + b.widthMm + piece.gapMm) ||
                apart(b.yMm, a.yMm + a.heightMm + piece.gapMm) ||
                apart(a.yMm, b.yMm + b.heightMm + piece.gapMm),
            ).toBe(true);
          }
      }
    }
  });

  it('has a cut mark at both ends of every cut, on the paper and on no piece; labels have none', () => {
    for (const paper of each)
      for (const layout of cut) {
        const places = slots(pieces[layout], paper);
        const marks = cutMarks(pieces[layout], paper);
        if (layout === 'labels') {
          expect(marks).toEqual([]);
          continue;
        }
        const cuts = (sides: number[]) => new Set(sides.map((side) => side.toFixed(6)));
        const cutsX = cuts(places.flatMap((p) => [p.xMm, p.xMm + p.widthMm]));
        const cutsY = cuts(places.flatMap((p) => [p.yMm, p.yMm + p.heightMm]));
        expect(marks).toHaveLength(2 * (cutsX.size + cutsY.size));
        for (const { x1Mm, y1Mm, x2Mm, y2Mm } of marks) {
          const upright = x1Mm === x2Mm;
          expect((upright ? cutsX : cutsY).has((upright ? x1Mm : y1Mm).toFixed(6))).toBe(true);
          for (const [x, y] of [
            [x1Mm, y1Mm],
            [x2Mm, y2Mm],
          ] as const) {
            expect(x >= 0 && y >= 0 && x <= papers[paper].widthMm && y <= papers[paper].heightMm).toBe(true);
            expect(places.some((p) => x > p.xMm && x < p.xMm + p.widthMm && y > p.yMm && y < p.yMm + p.heightMm)).toBe(
              false,
            );
          }
        }
      }
  });
});

describe('cutting', () => {
  it('through the pile and laying stack upon stack gives the order of the cards, for any number of them', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 700 }), fc.constantFrom(1, 2, 8, 10, 24), (count, places) => {
        const sheets = impose(count, places, { stacked: true });
        // As it is done: the pile is cut, and there is one stack for each place, its first sheet on top.
        const stacks = Array.from({ length: places }, (_, place) => sheets.map((sheet) => sheet[place]!));
        expect(stacks.flat().filter((index) => index !== null)).toEqual(Array.from({ length: count }, (_, i) => i));
      }),
    );
  });

  it('sheet by sheet takes every card once and in order, and leaves used labels free', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 200 }), fc.integer({ min: 0, max: 23 }), (count, skip) => {
        const sheets = impose(count, 24, { stacked: false, skip });
        expect(
          sheets
            .flat()
            .slice(0, skip)
            .every((index) => index === null),
        ).toBe(true);
        expect(sheets.flat().filter((index) => index !== null)).toEqual(Array.from({ length: count }, (_, i) => i));
      }),
    );
  });
});

describe('backs', () => {
  it('meet their fronts when the paper is turned over either edge', () => {
    for (const paper of each)
      for (const layout of ['cards', 'badges'] as const)
        for (const edge of ['long', 'short'] as Edge[]) {
          const places = slots(pieces[layout], paper);
          const { widthMm, heightMm } = papers[paper];
          places.forEach((front, place) => {
            const behind = backOf(place, pieces[layout].columns, places.length, edge);
            const back = places[behind.place]!;
            // What is at (x, y) of the front is behind (W − x, y) of a back turned over the long edge, (x, H − y) over the short one.
            const through =
              edge === 'long'
                ? { xMm: widthMm - front.xMm - front.widthMm, yMm: front.yMm }
                : { xMm: front.xMm, yMm: heightMm - front.yMm - front.heightMm };
            expect(back.xMm).toBeCloseTo(through.xMm, 9);
            expect(back.yMm).toBeCloseTo(through.yMm, 9);
            expect(behind.turned).toBe(edge === 'short');
          });
        }
    const sheets = [...cardSheets(11, card, order({ backs: 'long' }), measure)];
    expect(sheets).toHaveLength(4);
    expect(sheets.map(({ of }) => of.length)).toEqual([8, 8, 3, 3]);
  });
});

/** Items as boxes in their piece's own measure. */
interface Box {
  x: number;
  y: number;
  right: number;
  bottom: number;
}
const overlap = (a: Box, b: Box): boolean =>
  a.x < b.right - 0.05 && b.x < a.right - 0.05 && a.y < b.bottom - 0.05 && b.y < a.bottom - 0.05;
function boxOf(item: Item): Box | null {
  switch (item.kind) {
    case 'text': {
      const heightMm = (item.sizePt * 25.4) / 72;
      return {
        x: item.xMm,
        y: item.baseMm - heightMm * 0.75,
        right: item.xMm + widthOf(measure, item.face, item.text, item.sizePt),
        bottom: item.baseMm + heightMm * 0.2,
      };
    }
    case 'qr':
    case 'picture':
      return { x: item.xMm, y: item.yMm, right: item.xMm + item.sizeMm, bottom: item.yMm + item.sizeMm };
    case 'bars':
    case 'box':
      return { x: item.xMm, y: item.yMm, right: item.xMm + item.widthMm, bottom: item.yMm + item.heightMm };
    default:
      return null;
  }
}

describe('a piece', () => {
  const long: Partial<CardContent> = {
    familyName: 'Ó Maoilchiaráin-Þorvaldsdóttir-Przybyszewska-Wolfeschlegelstein',
    givenName: 'Wilhelmina-Constantia Maria van der Hoogenboom-Featherstonehaugh',
    className: 'Mathematics for those who come late',
    school: 'Evening School of the Isles and of All Who Sail',
    username: 'w'.repeat(64),
    secret: 'saffron-mountain-trumpet-harvest',
  };
  const contents: Partial<CardContent>[] = [
    {},
    long,
    { ...long, large: true },
    { secret: 'umbrella-ladder-candle', large: true },
    ...(Object.keys(languages) as Language[]).map((language) => ({ language, ...long })),
  ];

  it('keeps everything on itself, with room for the scissors, and nothing over another thing', () => {
    for (const layout of cut) {
      for (const content of contents) {
        const sheets = [...cardSheets(1, (i) => card(i, content), order({ layout, backs: 'long' }), measure)];
        for (const { items } of sheets) {
          const placed = items.find((item) => item.kind === 'at')!;
          const boxes = placed.items.flatMap((item) => (boxOf(item) ? [{ item, box: boxOf(item)! }] : []));
          for (const { item, box } of boxes)
            expect([
              layout,
              item,
              box.x >= 3 && box.y >= 2 && box.right <= placed.widthMm - 2.9 && box.bottom <= placed.heightMm - 2,
            ]).toEqual([layout, item, true]);
          for (const [i, a] of boxes.entries())
            for (const b of boxes.slice(i + 1)) {
              expect([layout, a.item, b.item, overlap(a.box, b.box)]).toEqual([layout, a.item, b.item, false]);
            }
        }
      }
    }
    // Published: ISO/IEC 18004 asks for a quiet zone of four modules; version 4, of 33, holds an address of 62 bytes.
    for (const [layout, { code, username, secret, ruleMm }] of Object.entries(parts)) {
      const module = code.sizeMm / 33;
      const piece = pieces[layout as 'cards'];
      const beside = Math.min(
        piece.widthMm - code.xMm - code.sizeMm,
        code.xMm - Math.max(username.xMm + username.widthMm, secret.xMm + secret.widthMm),
        code.yMm - (ruleMm ?? 0),
        piece.heightMm - code.yMm - code.sizeMm,
      );
      expect([layout, beside >= 4 * module]).toEqual([layout, true]);
    }
  });

  it('holds what is typed again whole, and speaks the family’s language beside English', () => {
    const said = (content: Partial<CardContent>, side: number) =>
      [...cardSheets(1, (i) => card(i, content), order({ backs: 'long' }), measure)]
        [side]!.items.flatMap((item) => (item.kind === 'at' ? item.items : []))
        .flatMap((item) => (item.kind === 'text' ? [item.text] : []));
    expect(said(long, 0).join('')).toContain('saffron-mountain-trumpet-harvest');
    expect(said(long, 0).join('')).toContain('w'.repeat(64));
    for (const language of Object.keys(languages) as Language[]) {
      const [ours, theirs] = [english.username, texts[language].username];
      expect(said({ language }, 0)).toContain(ours === theirs ? ours : `${ours} · ${theirs}`);
      expect(said({ language }, 0).join()).toContain(texts[language].grade.replace('{grade}', '3'));
      const back = said({ language }, 1).join(' ');
      // Lines end between words, also of a language that writes no blanks.
      const bare = (text: string) => text.replaceAll(' ', '');
      for (const part of [english.keep, texts[language].keep, texts[language].lost])
        expect(bare(back)).toContain(bare(part));
      expect(back).toContain('127.0.0.1:8200/d/lantern');
    }
    expect(said({ large: true }, 0)[0]).toBe('Wren');
  });
});

it('lists stand class by class, a page or more for each, everyone once', () => {
  const people = Array.from({ length: 95 }, (_, i) => card(i, { className: i < 60 ? '3A' : '3B' }));
  const pages = [...cardSheets(people.length, (i) => people[i]!, order({ layout: 'list' }), measure)];
  expect(pages.flatMap(({ of }) => of)).toEqual(people.map((_, i) => i));
  for (const { of } of pages) expect(new Set(of.map((i) => people[i]!.className)).size).toBe(1);
});

it('lists keep every word and picture in its own place', () => {
  const secrets = ['puffin-harbor-42', 'umbrella-ladder-candle', 'saffron-mountain-trumpet-harvest'];
  const people = Array.from({ length: 24 }, (_, i) =>
    card(i, {
      secret: secrets[i % 3]!,
      username: i % 2 ? 'w'.repeat(64) : `wren${i}`,
      familyName: 'Hoogenboom'.repeat(4),
    }),
  );
  for (const paper of each)
    for (const { items } of cardSheets(people.length, (i) => people[i]!, order({ layout: 'list', paper }), measure)) {
      const boxes = items.flatMap((item) => (boxOf(item) ? [{ item, box: boxOf(item)! }] : []));
      expect(items.filter(({ kind }) => kind === 'picture').length).toBeGreaterThan(0);
      for (const [i, a] of boxes.entries()) {
        expect([a.item, a.box.x >= 10 && a.box.right <= papers[paper].widthMm - 10]).toEqual([a.item, true]);
        for (const b of boxes.slice(i + 1)) {
          expect([paper, a.item, b.item, overlap(a.box, b.box)]).toEqual([paper, a.item, b.item, false]);
        }
      }
    }
});

it('labels of devices carry their tag as a code; the test page has rulers of 100 mm', () => {
  const device = { tag: 'D00417', model: 'Puffin 11', school: 'Skerry Middle', place: 'Cart SKM 1, 4' };
  for (const code of ['bars', 'qr'] as const) {
    const [sheet] = [...deviceLabelSheets([device], { paper: 'A4', skip: 5, code }, measure)];
    const placed = sheet!.items[0]!;
    expect(placed).toMatchObject({ kind: 'at', ...slots(pieces.labels, 'A4')[5] });
    expect(placed.kind === 'at' && placed.items.some((item) => item.kind === code && item.text === 'D00417')).toBe(
      true,
    );
  }
  for (const layout of layouts as readonly Layout[]) {
    const lines = testSheet(layout, 'Letter', measure).items.filter((item) => item.kind === 'line');
    expect(lines.some((l) => Math.abs(l.x2Mm - l.x1Mm - 100) < 1e-9 && l.y1Mm === l.y2Mm)).toBe(true);
    expect(lines.some((l) => Math.abs(l.y2Mm - l.y1Mm - 100) < 1e-9 && l.x1Mm === l.x2Mm)).toBe(true);
  }
  expect(rowsOf(pieces.badges, 'A4')).toBe(5);
});

/** One item a line, to a hundredth of a millimeter. */
function plate(items: Item[], within = ''): string[] {
  return items.flatMap((item): string[] => {
    const said = Object.entries(item).map(([key, value]: [string, unknown]) =>
      key === 'items' || key === 'kind'
        ? ''
        : `${key}=${typeof value === 'number' ? Number(value.toFixed(2)) : JSON.stringify(value).slice(0, 120)}`,
    );
    const line = `${within}${item.kind} ${said.filter(Boolean).join(' ')}`;
    return item.kind === 'at' ? [line, ...plate(item.items, `${within}  `)] : [line];
  });
}

it('sheets are what they were when they were last looked at on paper', async () => {
  const out: string[] = [];
  const show = (title: string, sheets: Iterable<{ items: Item[]; of: number[] }>) => {
    for (const { items, of } of sheets) out.push(`# ${title}: ${of.join(' ')}`, ...plate(items), '');
  };
  const contents: Partial<CardContent>[] = [
    {},
    { secret: 'umbrella-ladder-candle', large: true, language: 'es', grade: null },
    { familyName: 'Hoogenboom'.repeat(6), username: 'w'.repeat(64), className: null, school: null, language: 'uk' },
    { secret: 'saffron-mountain-trumpet-harvest', username: 'anstruther-wren-of-the-outer-isles' },
  ];
  const content = (i: number) => card(i, contents[i % contents.length]);
  for (const layout of cut) show(layout, cardSheets(4, content, order({ layout, backs: 'short' }), measure));
  const listed = ['3A', '3A', null, '3B'];
  show(
    'list',
    cardSheets(4, (i) => card(i, { ...contents[i], className: listed[i]! }), order({ layout: 'list' }), measure),
  );
  const device = { tag: 'D00417', model: 'Puffin 11', school: 'Skerry Middle', place: 'Cart SKM 1, 4' };
  for (const code of ['bars', 'qr'] as const)
    show(code, deviceLabelSheets([device, { ...device, place: null }], { paper: 'Letter', skip: 23, code }, measure));
  const poster = { title: 'Tide watchers', link: 'http://127.0.0.1:8200/j/1', where: '127.0.0.1:8200', note: 'Open' };
  for (const code of ['K7M-3QD', null]) show('poster', [posterSheet({ ...poster, code }, 'A4', measure)]);
  const codes = Array.from({ length: 15 }, (_, i) => ({ text: `GIVE${i}`, label: `Give ${i}` }));
  show('codes', codeSheets(codes, 'A4', measure));
  show('test page', [testSheet('strips', 'A4', measure)]);
  await expect(out.join('\n')).toMatchFileSnapshot('./plates.txt');
});

it('takes as many sheets as it says beforehand', () => {
  for (const layout of cut)
    for (const [count, skip] of [
      [0, 0],
      [1, 0],
      [23, 1],
      [24, 1],
      [120, 7],
    ] as const) {
      const skipped = layout === 'labels' ? skip : 0;
      const made = [...cardSheets(count, card, order({ layout, skip: skipped }), measure)];
      expect([layout, count, made.length]).toEqual([
        layout,
        count,
        sheetCount(count, { layout, paper: 'A4', skip: skipped }),
      ]);
    }
  expect(sheetCount(9, { layout: 'list', paper: 'A4', skip: 0 })).toBe(0);
});

it('never breaks what is typed inside of a word, while a line holds the word at a size that can be read', () => {
  const word = fc.stringMatching(/^[a-z]{1,14}$/);
  const spots = Object.values(parts).flatMap(({ username, secret }) => [username, secret]);
  fc.assert(
    fc.property(fc.array(word, { minLength: 1, maxLength: 4 }), fc.nat(spots.length - 1), (words, at) => {
      const text = words.join('-');
      const lines = fitCode(measure, text, spots[at]!).flatMap((item) => (item.kind === 'text' ? item.text : []));
      expect(lines.join('')).toBe(text);
      for (const line of lines.slice(0, -1)) expect(line.endsWith('-')).toBe(true);
    }),
  );
});
