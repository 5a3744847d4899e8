/**
 * What stands on a page: an item is a line of text at a baseline, a line, a box, a picture, a QR or bars. Text is
 * fitted by whoever knows how wide letters are.
 */
export type Face = 'text' | 'strong' | 'code';
export type Tint = 'ink' | 'quiet' | 'line';
export type Item =
  /** `isRtl`: it runs from right to left whatever it begins with; else its first letter says. */
  | {
      kind: 'text';
      text: string;
      face: Face;
      tint: Tint;
      xMm: number;
      baseMm: number;
      sizePt: number;
      isRtl?: boolean;
    }
  | { kind: 'line'; x1Mm: number; y1Mm: number; x2Mm: number; y2Mm: number; widthPt: number; tint: Tint }
  | { kind: 'box'; xMm: number; yMm: number; widthMm: number; heightMm: number; tint: Tint }
  /** A drawing on a field of 24 by 24, in strokes. */
  | { kind: 'picture'; path: string; xMm: number; yMm: number; sizeMm: number }
  | { kind: 'qr'; text: string; xMm: number; yMm: number; sizeMm: number }
  /** Code 128 of the text. */
  | { kind: 'bars'; text: string; xMm: number; yMm: number; widthMm: number; heightMm: number }
  /** Items that stand at a place, in the place's own measure; turned upside down within it, or not. */
  | { kind: 'at'; xMm: number; yMm: number; widthMm: number; heightMm: number; turned: boolean; items: Item[] };

/** Width of a text at a size of one point, in points. */
export type Measure = (face: Face, text: string) => number;
const pointsToMm = 25.4 / 72;

export const widthOf = (measure: Measure, face: Face, text: string, sizePt: number): number =>
  measure(face, text) * sizePt * pointsToMm;

export interface Spot {
  xMm: number;
  baseMm: number;
  widthMm: number;
  /** Largest and smallest size in points. */
  sizes: readonly [number, number];
}

/** One line at the largest size that fits; where the smallest is too large it is cut with an ellipsis. */
export function fit(measure: Measure, face: Face, text: string, spot: Spot, tint: Tint = 'ink'): Item {
  const { xMm, baseMm, widthMm } = spot;
  const [largest, smallest] = spot.sizes;
  const most = (line: string) => widthMm / Math.max(1e-9, measure(face, line) * pointsToMm);
  const sizePt = Math.max(smallest, Math.min(largest, Math.floor(most(text) * 4) / 4));
  const letters = [...text];
  let line = text;
  for (let shown = letters.length - 1; widthOf(measure, face, line, sizePt) > widthMm + 1e-9 && shown > 0; shown--)
    line = `${letters.slice(0, shown).join('').trimEnd()}…`;
  return { kind: 'text', text: line, face, tint, xMm, baseMm, sizePt };
}

/**
 * What is typed again must be there whole: on one line at a good size, else on two, else on three. Lines end between
 * words alone, so that nobody types a blank in one; a word that no line holds at a size that can be read is broken.
 */
export function fitCode(measure: Measure, text: string, spot: Spot): Item[] {
  const { xMm, baseMm, widthMm, sizes } = spot;
  const good = 9.5;
  const smallest = 4;
  const sizeOf = (lines: readonly string[], most: number) => {
    const widest = Math.max(...lines.map((line) => measure('code', line) * pointsToMm));
    return Math.min(most, Math.floor((widthMm / widest) * 4) / 4);
  };
  const ways = (
    [
      [1, sizes[0], Math.min(good, sizes[0])],
      [2, 11, good - 2],
      [3, Math.min(8, sizes[0] * 0.6), sizes[1]],
    ] as const
  ).map(([count, most, least]) => {
    const lines = broken(text, count);
    return { lines, most, least, sizePt: sizeOf(lines, most) };
  });
  const whole = ways.find(({ sizePt, least }) => sizePt >= least) ?? ways.sort((x, y) => y.sizePt - x.sizePt)[0]!;
  const { lines, sizePt } =
    whole.sizePt >= smallest ? whole : { lines: cut(text, 3), sizePt: Math.max(smallest, sizeOf(cut(text, 3), 8)) };
  const step = sizePt * 1.15 * pointsToMm;
  // The first line is a little higher where there are more, so that the block stays where one line would be.
  const up = (lines.length - 1) * step * 0.35;
  return lines.map((line, i) => ({
    kind: 'text',
    text: line,
    face: 'code',
    tint: 'ink',
    xMm,
    baseMm: baseMm - up + i * step,
    sizePt,
  }));
}

/** At most so many lines of about the same length, each but the last ended by what parts words. */
function broken(text: string, count: number): string[] {
  if (count === 1) return [text];
  const aim = Math.ceil(text.length / count);
  const breaks = [...text.matchAll(/[-._@](?=.)/g)].map(({ index }) => index + 1);
  const at = breaks.sort((a, b) => Math.abs(a - aim) - Math.abs(b - aim))[0];
  return at === undefined ? [text] : [text.slice(0, at), ...broken(text.slice(at), count - 1)];
}
/** So many lines of the same length. */
function cut(text: string, count: number): string[] {
  const length = Math.ceil(text.length / count);
  return Array.from({ length: count }, (_, i) => text.slice(i * length, (i + 1) * length)).filter(Boolean);
}

/**
 * Where a line may end: after a blank, and between the words of a script that writes none (Unicode, UAX 29). What closes
 * or goes on stays with its word; a blank belongs to the word before it.
 */
function pieces(text: string): string[] {
  if (!/[\p{sc=Han}\p{sc=Hira}\p{sc=Kana}]/u.test(text)) return text.split(/(?<= )/);
  const list: string[] = [];
  for (const { segment } of new Intl.Segmenter('zh', { granularity: 'word' }).segment(text)) {
    const stays = !/[\p{sc=Han}\p{sc=Hira}\p{sc=Kana}]/u.test(`${list.at(-1) ?? ''}${segment}`);
    if (list.length > 0 && (/^[\p{P}\s]/u.test(segment) || (stays && !list.at(-1)!.endsWith(' '))))
      list[list.length - 1] += segment;
    else list.push(segment);
  }
  return list;
}

export interface TextBox {
  xMm: number;
  topMm: number;
  widthMm: number;
  heightMm: number;
  sizes: readonly [number, number];
  /** Lines run from right to left, and begin at the right edge. */
  isRtl?: boolean;
}
const lineStep = 1.25;
/** Text over several lines, broken between words; the size shrinks until all of it has its place. */
export function paragraph(
  measure: Measure,
  text: string,
  box: TextBox,
  tint: Tint = 'ink',
  face: Face = 'text',
): Item[] {
  const words = pieces(text);
  const { xMm, widthMm } = box;
  for (let sizePt = box.sizes[0]; ; sizePt -= 0.25) {
    const wide = (line: string) => widthOf(measure, face, line.trimEnd(), sizePt);
    const lines: string[] = [];
    for (const word of words) {
      const longer = `${lines.at(-1) ?? ''}${word}`;
      if (lines.length > 0 && wide(longer) <= widthMm) lines[lines.length - 1] = longer;
      else lines.push(word);
    }
    const step = sizePt * lineStep * pointsToMm;
    if (lines.length * step > box.heightMm && sizePt > box.sizes[1]) continue;
    return lines.map((line, i): Item => ({
      kind: 'text',
      text: line.trimEnd(),
      face,
      tint,
      xMm: box.isRtl ? xMm + widthMm - wide(line) : xMm,
      baseMm: box.topMm + (i + 0.8) * step,
      sizePt,
      ...(box.isRtl ? { isRtl: true } : {}),
    }));
  }
}
/** Where such a paragraph ends, in millimetres from the top. */
export const bottomOf = (items: readonly Item[]): number =>
  Math.max(0, ...items.map((item) => (item.kind === 'text' ? item.baseMm + item.sizePt * 0.3 * pointsToMm : 0)));
