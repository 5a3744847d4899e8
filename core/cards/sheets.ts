/** Whole pages: pieces in their places with cut marks, lists for the binder, posters, and a page to test the printer with. */
import { picturesOf, pictures } from '#core/accounts/pictures';
import { type CardContent, drawBack, drawCard, drawDeviceLabel, drawLabel, type DeviceLabel, hasBack } from './draw';
import { backOf, type Edge, impose } from './impose';
import { fit, type Item, type Measure, widthOf } from './items';
import { type Consent, drawLetter, families } from './letters';
import { cutMarks, hasPieces, type Layout, type Paper, papers, pieces, type Piece, slots } from './layout';
import { english, type Language } from './texts';

export interface Sheet {
  items: Item[];
  /** Indices of what stands on it. */
  of: number[];
}
export interface SheetOrder {
  layout: Layout;
  paper: Paper;
  /** Backs for a printer that turns the paper over this edge; null: none. */
  backs: Edge | null;
  /** In an order in which the stacks lie after cutting through the pile. */
  stacked: boolean;
  /** Labels that are used up on the first sheet. */
  skip: number;
  /** What letters home ask a family to sign. */
  consent?: Consent;
}

/** How many sheets so many cards take; those of a list depend on its classes, those of letters on the families. */
export const sheetCount = (
  count: number,
  { layout, paper, skip }: Pick<SheetOrder, 'layout' | 'paper' | 'skip'>,
): number => (hasPieces(layout) ? Math.ceil((count + skip) / slots(pieces[layout], paper).length) : 0);

/** Sheet after sheet, each front followed by its back. `content` is asked for each card once a side, when its sheet is drawn. */
export function* cardSheets(
  count: number,
  content: (index: number) => CardContent,
  order: SheetOrder,
  measure: Measure,
): Generator<Sheet> {
  const { layout, paper, backs } = order;
  if (layout === 'list') {
    yield* listSheets(
      Array.from({ length: count }, (_, i) => content(i)),
      paper,
      measure,
    );
    return;
  }
  if (layout === 'letters') {
    for (const of of families(count, (index) => content(index).family))
      yield { items: drawLetter(of.map(content), order.consent ?? {}, paper, measure), of };
    return;
  }
  const piece = pieces[layout];
  const places = slots(piece, paper);
  const marks = marksOf(piece, paper);
  for (const sheet of impose(count, places.length, order)) {
    const of = sheet.filter((index) => index !== null);
    const front = sheet.flatMap((index, place): Item[] => {
      if (index === null) return [];
      const one = content(index);
      const items = layout === 'labels' ? drawLabel(one, measure) : drawCard(layout, one, measure);
      return [{ kind: 'at', ...places[place]!, turned: false, items }];
    });
    yield { items: [...marks, ...front], of };
    if (backs === null || !hasBack(layout)) continue;
    const back = sheet.flatMap((index, place): Item[] => {
      if (index === null) return [];
      const behind = backOf(place, piece.columns, places.length, backs);
      return [
        {
          kind: 'at',
          ...places[behind.place]!,
          turned: behind.turned,
          items: drawBack(piece, content(index), measure),
        },
      ];
    });
    yield { items: [...marks, ...back], of };
  }
}

const marksOf = (piece: Piece, paper: Paper): Item[] =>
  cutMarks(piece, paper).map((mark) => ({ kind: 'line', ...mark, widthPt: 0.4, tint: 'ink' }));

export function* deviceLabelSheets(
  devices: readonly DeviceLabel[],
  { paper, skip, code }: { paper: Paper; skip: number; code: 'bars' | 'qr' },
  measure: Measure,
): Generator<Sheet> {
  const places = slots(pieces.labels, paper);
  for (const sheet of impose(devices.length, places.length, { stacked: false, skip })) {
    const items = sheet.flatMap((index, place): Item[] =>
      index === null
        ? []
        : [{ kind: 'at', ...places[place]!, turned: false, items: drawDeviceLabel(devices[index]!, code, measure) }],
    );
    yield { items, of: sheet.filter((index) => index !== null) };
  }
}

const listRowMm = 8;
const listTopMm = 30;
/** The columns of a list: where they begin and how wide they are. */
const listColumns = (paper: Paper) => {
  const { widthMm } = papers[paper];
  const right = widthMm - 15;
  return { name: [15, 66], username: [84, 46], secret: [133, right - 133 - 8], tick: [right - 5, 5] } as const;
};

/** A page or more for each class: name, username and secret, and a box to tick. Neighbors of one class stand together. */
export function* listSheets(cards: readonly CardContent[], paper: Paper, measure: Measure): Generator<Sheet> {
  const { heightMm } = papers[paper];
  const rows = Math.floor((heightMm - listTopMm - 15) / listRowMm);
  for (let at = 0; at < cards.length;) {
    const { className, school } = cards[at]!;
    let end = at;
    while (
      end < cards.length &&
      cards[end]!.className === className &&
      cards[end]!.school === school &&
      end - at < rows
    )
      end++;
    const of = Array.from({ length: end - at }, (_, i) => at + i);
    const title = [className ?? 'In no class', school].filter(Boolean).join(' · ');
    const columns = listColumns(paper);
    const head = (text: string, [x, width]: readonly [number, number]): Item =>
      fit(measure, 'text', text, { xMm: x, baseMm: listTopMm - 3, widthMm: width, sizes: [8, 6] }, 'quiet');
    const items: Item[] = [
      fit(measure, 'strong', title, { xMm: 15, baseMm: 19, widthMm: papers[paper].widthMm - 30, sizes: [16, 9] }),
      head('name', columns.name),
      head(english.username, columns.username),
      head(english.secret, columns.secret),
      {
        kind: 'line',
        x1Mm: 15,
        y1Mm: listTopMm,
        x2Mm: papers[paper].widthMm - 15,
        y2Mm: listTopMm,
        widthPt: 0.8,
        tint: 'ink',
      },
    ];
    of.forEach((index, row) =>
      items.push(...listRow(cards[index]!, listTopMm + (row + 1) * listRowMm, columns, paper, measure)),
    );
    yield { items, of };
    at = end;
  }
}

function listRow(
  one: CardContent,
  bottom: number,
  columns: ReturnType<typeof listColumns>,
  paper: Paper,
  measure: Measure,
): Item[] {
  const baseMm = bottom - 2.6;
  const spot = ([xMm, widthMm]: readonly [number, number], largest: number) => ({
    xMm,
    baseMm,
    widthMm: widthMm - 2,
    sizes: [largest, 5.5] as const,
  });
  const drawn = (picturesOf(one.secret) ?? []).map((name, i): Item => ({
    kind: 'picture',
    path: pictures[name]!,
    xMm: columns.secret[0] + i * 5.4,
    yMm: bottom - 6.4,
    sizeMm: 4.8,
  }));
  const secret =
    drawn.length > 0
      ? ([columns.secret[0] + drawn.length * 5.4 + 1, columns.secret[1] - drawn.length * 5.4 - 1] as const)
      : columns.secret;
  return [
    fit(measure, 'text', `${one.familyName}, ${one.givenName}`, spot(columns.name, 10.5)),
    fit(measure, 'code', one.username, spot(columns.username, 10)),
    ...drawn,
    fit(measure, 'code', one.secret, spot(secret, drawn.length > 0 ? 8 : 10)),
    { kind: 'box', xMm: columns.tick[0], yMm: bottom - 6, widthMm: 4, heightMm: 4, tint: 'quiet' },
    {
      kind: 'line',
      x1Mm: 15,
      y1Mm: bottom,
      x2Mm: papers[paper].widthMm - 15,
      y2Mm: bottom,
      widthPt: 0.3,
      tint: 'line',
    },
  ];
}

export interface PosterContent {
  /** The class, or the school. */
  title: string;
  /** null: there is only an address. */
  code: string | null;
  link: string;
  where: string;
  note: string;
}
/** A poster for the wall: the code as large as it can be, a QR, and how to use them in several languages. */
export function posterSheet(content: PosterContent, paper: Paper, measure: Measure): Sheet {
  const { widthMm, heightMm } = papers[paper];
  const wide = { xMm: 20, widthMm: widthMm - 40 };
  const centered = (item: Item): Item =>
    item.kind === 'text' ? { ...item, xMm: (widthMm - widthOf(measure, item.face, item.text, item.sizePt)) / 2 } : item;
  const qrMm = 90;
  const qrTop = content.code === null ? 70 : 105;
  const says: Record<'en' | Extract<Language, 'es' | 'fr' | 'pt' | 'pl' | 'uk'>, string> = {
    en: content.code === null ? 'Sign in here' : 'Join with this code',
    es: content.code === null ? 'Entra aquí' : 'Únete con este código',
    fr: content.code === null ? 'Connecte-toi ici' : 'Rejoins avec ce code',
    pt: content.code === null ? 'Entre aqui' : 'Entre com este código',
    pl: content.code === null ? 'Zaloguj się tutaj' : 'Dołącz z tym kodem',
    uk: content.code === null ? 'Увійди тут' : 'Приєднайся за цим кодом',
  };
  const items: Item[] = [
    centered(fit(measure, 'strong', content.title, { ...wide, baseMm: 42, sizes: [44, 16] })),
    ...(content.code === null
      ? []
      : [centered(fit(measure, 'code', content.code, { ...wide, baseMm: 84, sizes: [72, 20] }))]),
    { kind: 'qr', text: content.link, xMm: (widthMm - qrMm) / 2, yMm: qrTop, sizeMm: qrMm },
    centered(fit(measure, 'code', content.where, { ...wide, baseMm: qrTop + qrMm + 14, sizes: [22, 9] })),
    ...Object.values(says).map((text, i) =>
      centered(
        fit(
          measure,
          i === 0 ? 'strong' : 'text',
          text,
          { ...wide, baseMm: qrTop + qrMm + 28 + i * 7, sizes: [14, 9] },
          i === 0 ? 'ink' : 'quiet',
        ),
      ),
    ),
    centered(fit(measure, 'text', content.note, { ...wide, baseMm: heightMm - 12, sizes: [9, 6] }, 'quiet')),
  ];
  return { items, of: [0] };
}

/** Rulers of 100 mm, and the outline of a piece where it will stand: shows whether the printer shrinks or shifts. */
export function testSheet(layout: Layout, paper: Paper, measure: Measure): Sheet {
  const { widthMm, heightMm } = papers[paper];
  const [x, y] = [(widthMm - 100) / 2, heightMm / 2 - 50];
  const line = (x1Mm: number, y1Mm: number, x2Mm: number, y2Mm: number, widthPt = 0.4): Item => ({
    kind: 'line',
    x1Mm,
    y1Mm,
    x2Mm,
    y2Mm,
    widthPt,
    tint: 'ink',
  });
  const items: Item[] = [line(x, y, x + 100, y), line(x, y, x, y + 100)];
  for (let mm = 0; mm <= 100; mm++) {
    const long = mm % 10 === 0 ? 5 : mm % 5 === 0 ? 3.5 : 2;
    items.push(line(x + mm, y, x + mm, y + long, 0.3), line(x, y + mm, x + long, y + mm, 0.3));
    if (mm % 10 !== 0 || mm === 0) continue;
    const spot = { widthMm: 8, sizes: [8, 8] as const };
    items.push(
      fit(measure, 'text', String(mm), { ...spot, xMm: x + mm - 2, baseMm: y + 9 }),
      fit(measure, 'text', String(mm), { ...spot, xMm: x + 6.5, baseMm: y + mm + 1 }),
    );
  }
  const say = (text: string, baseMm: number, large = false): Item =>
    fit(measure, large ? 'strong' : 'text', text, { xMm: x + 16, baseMm, widthMm: 90, sizes: [large ? 13 : 9.5, 7] });
  items.push(
    say('Test page', y + 22, true),
    say('Lay a ruler on both scales: each must be 100 mm long.', y + 30),
    say('If it is shorter, print without fitting to the page: at 100%.', y + 36),
    say('The corners show where the cards will stand.', y + 42),
    say('Printed on both sides, hold it against the light: they must meet.', y + 48),
  );
  if (hasPieces(layout)) {
    const piece = pieces[layout];
    items.push(...marksOf(piece, paper));
    for (const { xMm, yMm } of slots(piece, paper)) {
      for (const [dx, dy] of [
        [0, 0],
        [piece.widthMm, 0],
        [0, piece.heightMm],
        [piece.widthMm, piece.heightMm],
      ] as const) {
        const [sx, sy] = [dx === 0 ? 1 : -1, dy === 0 ? 1 : -1];
        items.push(
          line(xMm + dx, yMm + dy, xMm + dx + sx * 4, yMm + dy),
          line(xMm + dx, yMm + dy, xMm + dx, yMm + dy + sy * 4),
        );
      }
    }
  }
  return { items, of: [] };
}

/** Codes to be scanned at a desk: what is to be done, and which cart. Two in a row, wide enough for any scanner. */
export function* codeSheets(
  codes: readonly { text: string; label: string }[],
  paper: Paper,
  measure: Measure,
): Generator<Sheet> {
  const { widthMm, heightMm } = papers[paper];
  const [width, height] = [(widthMm - 40) / 2, 38];
  const rows = Math.floor((heightMm - 30) / height);
  for (const sheet of impose(codes.length, rows * 2, { stacked: false })) {
    const items = sheet.flatMap((index, place): Item[] => {
      if (index === null) return [];
      const { text, label } = codes[index]!;
      const inside: Item[] = [
        fit(measure, 'strong', label, { xMm: 4, baseMm: 8, widthMm: width - 8, sizes: [13, 7] }),
        { kind: 'bars', text, xMm: 4, yMm: 11, widthMm: width - 8, heightMm: 15 },
        fit(measure, 'code', text, { xMm: 4, baseMm: 31, widthMm: width - 8, sizes: [9, 6] }, 'quiet'),
      ];
      const at = { xMm: 15 + (place % 2) * (width + 10), yMm: 15 + Math.floor(place / 2) * height };
      return [{ kind: 'at', ...at, widthMm: width, heightMm: height, turned: false, items: inside }];
    });
    yield { items, of: sheet.filter((index) => index !== null) };
  }
}
