/** What stands where on each kind of piece. Measures are from the piece's own top left corner. */
import { pictures, picturesOf } from '#core/accounts/pictures';
import { fit, fitCode, type Item, type Measure, paragraph, type Spot } from './items';
import { type Layout, type Piece, pieces } from './layout';
import { english, howTo, isRtl, type Language, languages, texts } from './texts';

export interface CardContent {
  familyName: string;
  givenName: string;
  /** Class, grade and school. */
  className: string | null;
  grade: string | null;
  school: string | null;
  username: string;
  secret: string;
  /** What the QR holds: an address that signs the child in. */
  link: string;
  /** One line, or one for each language. */
  foot: readonly string[];
  /** Whose letters home go together: the same for brothers and sisters. */
  family: string;
  /** The given name large, for those who begin to read. */
  large: boolean;
  /** The family's, beside English; null: English alone. */
  language: Language | null;
  /** Where one signs in, without its protocol. */
  where: string;
}

interface Parts {
  name: Spot;
  place: Spot;
  ruleMm: number | null;
  username: Spot;
  secret: Spot;
  foot: Spot | null;
  code: { xMm: number; yMm: number; sizeMm: number };
}
const labelUp = 4.6;

export const parts: Record<'cards' | 'badges' | 'strips', Parts> = {
  cards: {
    name: { xMm: 5, baseMm: 11, widthMm: 80, sizes: [16, 8] },
    place: { xMm: 5, baseMm: 17.5, widthMm: 80, sizes: [9.5, 6.5] },
    ruleMm: 21.5,
    username: { xMm: 5, baseMm: 32, widthMm: 44, sizes: [14, 6.5] },
    secret: { xMm: 5, baseMm: 46, widthMm: 44, sizes: [14, 6.5] },
    foot: { xMm: 5, baseMm: 59.6, widthMm: 46, sizes: [7, 5] },
    code: { xMm: 53, yMm: 26, sizeMm: 32 },
  },
  badges: {
    name: { xMm: 5, baseMm: 9.5, widthMm: 75.6, sizes: [13.5, 7.5] },
    place: { xMm: 5, baseMm: 14.8, widthMm: 75.6, sizes: [8.5, 6] },
    ruleMm: 17.8,
    username: { xMm: 5, baseMm: 27, widthMm: 44, sizes: [12, 6] },
    secret: { xMm: 5, baseMm: 39, widthMm: 44, sizes: [12, 6] },
    foot: { xMm: 5, baseMm: 49.4, widthMm: 46, sizes: [6.5, 4.5] },
    code: { xMm: 53, yMm: 21.4, sizeMm: 28 },
  },
  strips: {
    name: { xMm: 5, baseMm: 11, widthMm: 60, sizes: [14, 7.5] },
    place: { xMm: 5, baseMm: 18, widthMm: 60, sizes: [8.5, 6] },
    ruleMm: null,
    username: { xMm: 69, baseMm: 14, widthMm: 45, sizes: [13, 6.5] },
    secret: { xMm: 117, baseMm: 14, widthMm: 44, sizes: [13, 6.5] },
    foot: { xMm: 69, baseMm: 22.5, widthMm: 92, sizes: [7, 6] },
    code: { xMm: 165.5, yMm: 3, sizeMm: 20 },
  },
};

const line = (x1Mm: number, y1Mm: number, x2Mm: number, y2Mm: number, widthPt = 0.6): Item => ({
  kind: 'line',
  x1Mm,
  y1Mm,
  x2Mm,
  y2Mm,
  widthPt,
  tint: 'line',
});
const joined = (...words: (string | null | false | undefined)[]): string => words.filter(Boolean).join(' · ');

/** Class, grade and school; a grade that is called the same in both languages is said once. */
export function cardPlace({ className, grade, school, language }: CardContent): string {
  const voices = [english, ...(language ? [texts[language]] : [])];
  const grades = grade ? voices.map((text) => text.grade.replace('{grade}', grade)) : [];
  return joined(className, [...new Set(grades)].join(' / '), school);
}

/** A login card, a badge or a strip. */
export function drawCard(layout: 'cards' | 'badges' | 'strips', content: CardContent, measure: Measure): Item[] {
  const at = parts[layout];
  const { widthMm } = pieces[layout];
  const own = content.language && texts[content.language];
  const place = cardPlace(content);
  const name = `${content.familyName}, ${content.givenName}`;
  const items: Item[] = content.large
    ? [
        fit(measure, 'strong', content.givenName, { ...at.name, sizes: [at.name.sizes[0] * 1.6, at.name.sizes[1]] }),
        fit(measure, 'text', joined(content.familyName, place), at.place, 'quiet'),
      ]
    : [fit(measure, 'strong', name, at.name), fit(measure, 'text', place, at.place, 'quiet')];
  if (at.ruleMm !== null) items.push(line(5, at.ruleMm, widthMm - 5, at.ruleMm));
  const label = (spot: Spot, ours: string, theirs: string | undefined) =>
    fit(
      measure,
      'text',
      joined(ours, theirs !== ours && theirs),
      { ...spot, baseMm: spot.baseMm - labelUp - 0.6, sizes: [7.5, 5.5] },
      'quiet',
    );
  items.push(
    label(at.username, english.username, own?.username),
    ...fitCode(measure, content.username, at.username),
    label(at.secret, english.secret, own?.secret),
    ...drawSecret(content.secret, at.secret, measure),
  );
  const { foot } = at;
  // A strip has room beside, a card below.
  if (foot) {
    const lines = layout === 'strips' ? [joined(...content.foot)] : content.foot;
    lines.forEach((text, i) => {
      const upMm = (lines.length - 1) * 1.2;
      items.push(fit(measure, 'text', text, { ...foot, baseMm: foot.baseMm - upMm + i * 2.8 }, 'quiet'));
    });
  }
  items.push({ kind: 'qr', text: content.link, ...at.code });
  return items;
}

/** Pictures in their order with their names beside them, or the words. */
export function drawSecret(secret: string, spot: Spot, measure: Measure): Item[] {
  const names = picturesOf(secret);
  if (!names) return fitCode(measure, secret, spot);
  const sizeMm = 7;
  const stepMm = 8.4;
  const drawn = names.map((name, i): Item => ({
    kind: 'picture',
    path: pictures[name]!,
    xMm: spot.xMm + i * stepMm,
    yMm: spot.baseMm - 4.6,
    sizeMm,
  }));
  const besideMm = names.length * stepMm + 1;
  return [
    ...drawn,
    ...fitCode(measure, secret, { ...spot, xMm: spot.xMm + besideMm, widthMm: spot.widthMm - besideMm }),
  ];
}

/** The back of a card or badge: how to sign in, in English and in the language of the family. */
export function drawBack({ widthMm, heightMm }: Piece, content: CardContent, measure: Measure): Item[] {
  const own = content.language && texts[content.language];
  const half = own ? (heightMm - 20) / 2 : heightMm - 20;
  const box = (top: number) => ({
    xMm: 5,
    topMm: top,
    widthMm: widthMm - 10,
    heightMm: half,
    sizes: [9, 5.5] as const,
  });
  const spot = { xMm: 5, baseMm: 9, widthMm: widthMm - 10, sizes: [10, 6.5] as const };
  return [
    fit(measure, 'strong', joined(`${content.familyName}, ${content.givenName}`, content.className), spot),
    line(5, 12, widthMm - 5, 12),
    ...paragraph(measure, `${howTo(english, 'en', content.where)} ${english.keep} ${english.lost}`, box(14)),
    ...(own && content.language
      ? [
          line(5, 15.5 + half, widthMm - 5, 15.5 + half, 0.3),
          ...paragraph(
            measure,
            `${languages[content.language]}: ${howTo(own, content.language, content.where)} ${own.keep} ${own.lost}`,
            {
              ...box(16.5 + half),
              isRtl: isRtl(content.language),
            },
          ),
        ]
      : []),
  ];
}

/** A label for a folder, a shelf, a place at a table: no secret on it. */
export function drawLabel(
  content: Pick<CardContent, 'familyName' | 'givenName' | 'className' | 'school' | 'username'>,
  measure: Measure,
): Item[] {
  const { widthMm } = pieces.labels;
  const spot = (baseMm: number, sizes: readonly [number, number]): Spot => ({
    xMm: 4,
    baseMm,
    widthMm: widthMm - 8,
    sizes,
  });
  return [
    fit(measure, 'strong', content.givenName, spot(11, [16, 8])),
    fit(measure, 'text', content.familyName, spot(17.5, [11, 7])),
    fit(measure, 'text', joined(content.className, content.school), spot(23.5, [8, 6]), 'quiet'),
    fit(measure, 'code', content.username, spot(29, [9, 6])),
  ];
}

export interface DeviceLabel {
  tag: string;
  model: string;
  school: string;
  place: string | null;
}
/** A device's label: its tag as letters and as a code that scanners read. */
export function drawDeviceLabel(device: DeviceLabel, code: 'bars' | 'qr', measure: Measure): Item[] {
  const { widthMm } = pieces.labels;
  const below = joined(device.model, device.school, device.place);
  if (code === 'qr')
    return [
      { kind: 'qr', text: device.tag, xMm: 4, yMm: 5, sizeMm: 23 },
      fit(measure, 'code', device.tag, { xMm: 31, baseMm: 13, widthMm: widthMm - 35, sizes: [16, 7] }),
      fit(measure, 'text', device.model, { xMm: 31, baseMm: 19.5, widthMm: widthMm - 35, sizes: [8, 6] }),
      fit(
        measure,
        'text',
        joined(device.school, device.place),
        { xMm: 31, baseMm: 24.5, widthMm: widthMm - 35, sizes: [7, 5.5] },
        'quiet',
      ),
    ];
  return [
    { kind: 'bars', text: device.tag, xMm: 6, yMm: 4, widthMm: widthMm - 12, heightMm: 14 },
    fit(measure, 'code', device.tag, { xMm: 4, baseMm: 23.5, widthMm: widthMm - 8, sizes: [12, 7] }),
    fit(measure, 'text', below, { xMm: 4, baseMm: 28.5, widthMm: widthMm - 8, sizes: [7.5, 5.5] }, 'quiet'),
  ];
}

/** Whether a layout has a back to print. */
export const hasBack = (layout: Layout): layout is 'cards' | 'badges' => layout === 'cards' || layout === 'badges';
