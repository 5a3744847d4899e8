/**
 * Login cards as a PDF with embedded fonts. Text is set in Atkinson Hyperlegible; a letter that it lacks is taken
 * from DejaVu Sans, letter by letter, so that a name is never printed with a hole.
 */
import { pictures, picturesOf } from '#core/accounts/index';
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';
import { card, cutMarks, papers, type Paper, parts, pointsPerMm, sheets, slots } from '#core/cards/index';

export interface CardContent {
  name: string;
  /** Class, grade and school in one line. */
  place: string;
  username: string;
  secret: string;
  /** What the QR holds: an address that signs the child in. */
  link: string;
  foot: string;
}

const locate = createRequire(import.meta.url);
const fontFiles = {
  text: '@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf',
  strong: '@expo-google-fonts/atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf',
  code: '@expo-google-fonts/atkinson-hyperlegible-mono/500Medium/AtkinsonHyperlegibleMono_500Medium.ttf',
  other: 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf',
  otherStrong: 'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf',
} as const;
type Face = keyof typeof fontFiles;

interface Glyphs {
  hasGlyphForCodePoint(codePoint: number): boolean;
}

const pt = (mm: number): number => mm * pointsPerMm;

/** Draws all cards. `progress` is told after each sheet; in between other work may go on. */
export async function cardsPdf(
  cards: CardContent[],
  paper: Paper,
  progress: (done: number) => Promise<void> = async () => {},
): Promise<Buffer> {
  const { widthMm, heightMm } = papers[paper];
  const doc = new PDFDocument({
    size: [pt(widthMm), pt(heightMm)],
    margin: 0,
    autoFirstPage: false,
    info: { Title: 'Login cards', Creator: 'Sheaf' },
  });
  const pieces: Buffer[] = [];
  const ended = new Promise<void>((done, failed) =>
    doc
      .on('data', (piece: Buffer) => pieces.push(piece))
      .on('end', done)
      .on('error', failed),
  );
  const type = new Typesetter(doc);
  for (const sheet of sheets(cards.length)) {
    doc.addPage();
    drawMarks(doc, paper);
    const places = slots(paper);
    sheet.forEach((index, slot) => drawCard(doc, type, cards[index]!, places[slot]!.xMm, places[slot]!.yMm));
    await progress(sheet.at(-1)! + 1);
  }
  doc.end();
  await ended;
  return Buffer.concat(pieces);
}

function drawMarks(doc: PDFKit.PDFDocument, paper: Paper): void {
  doc.lineWidth(0.4).strokeColor('#1F2A2E');
  for (const { x1Mm, y1Mm, x2Mm, y2Mm } of cutMarks(paper)) doc.moveTo(pt(x1Mm), pt(y1Mm)).lineTo(pt(x2Mm), pt(y2Mm));
  doc.stroke();
}

function drawCard(doc: PDFKit.PDFDocument, type: Typesetter, content: CardContent, x: number, y: number): void {
  const at = (part: { xMm: number; yMm: number }) => [x + part.xMm, y + part.yMm] as const;
  type.fit('strong', content.name, ...at(parts.name), parts.name.widthMm, parts.name.sizes, '#1F2A2E');
  type.fit('text', content.place, ...at(parts.place), parts.place.widthMm, parts.place.sizes, '#5B6A70');
  doc
    .lineWidth(0.6)
    .strokeColor('#DDD6C6')
    .moveTo(pt(x + 5), pt(y + 21.5))
    .lineTo(pt(x + card.widthMm - 5), pt(y + 21.5))
    .stroke();
  type.fit(
    'text',
    'username',
    x + parts.username.xMm,
    y + parts.username.yMm - 4,
    parts.username.widthMm,
    [7.5, 7.5],
    '#5B6A70',
  );
  type.fitCode(content.username, ...at(parts.username), parts.username.widthMm, parts.username.sizes);
  type.fit(
    'text',
    'secret',
    x + parts.secret.xMm,
    y + parts.secret.yMm - 4,
    parts.secret.widthMm,
    [7.5, 7.5],
    '#5B6A70',
  );
  drawSecret(doc, type, content.secret, ...at(parts.secret));
  type.fit('text', content.foot, ...at(parts.foot), parts.foot.widthMm, parts.foot.sizes, '#5B6A70');
  drawQr(doc, content.link, x + parts.code.xMm, y + parts.code.yMm, parts.code.widthMm);
}

/** Pictures in their order with their names beside them, or the words. */
function drawSecret(doc: PDFKit.PDFDocument, type: Typesetter, secret: string, xMm: number, yMm: number): void {
  const names = picturesOf(secret);
  const { widthMm, sizes } = parts.secret;
  if (!names) {
    type.fitCode(secret, xMm, yMm, widthMm, sizes);
    return;
  }
  const sizeMm = 7;
  const stepMm = 8.4;
  names.forEach((name, i) => {
    doc
      .save()
      .translate(pt(xMm + i * stepMm), pt(yMm - 0.6))
      .scale(pt(sizeMm) / 24)
      .lineWidth(1.8)
      .lineJoin('round')
      .lineCap('round')
      .path(pictures[name]!)
      .stroke('#1F2A2E')
      .restore();
  });
  const besideMm = names.length * stepMm + 1;
  type.fitCode(secret, xMm + besideMm, yMm, widthMm - besideMm, sizes);
}

/** The mask pattern is given: the standard has an encoder choose the best one, readers take any; it is three times as fast. */
function drawQr(doc: PDFKit.PDFDocument, text: string, xMm: number, yMm: number, sizeMm: number): void {
  const { size, data } = QRCode.create(text, { errorCorrectionLevel: 'M', maskPattern: 2 }).modules;
  const module = pt(sizeMm) / size;
  for (let row = 0; row < size; row++) {
    for (let column = 0; column < size;) {
      if (!data[row * size + column]) {
        column++;
        continue;
      }
      let end = column;
      while (end < size && data[row * size + end]) end++;
      // A hair of overlap, so that no light line shows between rows.
      doc.rect(pt(xMm) + column * module, pt(yMm) + row * module, (end - column) * module, module * 1.01);
      column = end;
    }
  }
  doc.fill('#000000');
}

/** So many lines of about the same length, broken after a hyphen where there is one near. */
function lines(text: string, count: number): string[] {
  if (count === 1) return [text];
  const aim = Math.ceil(text.length / count);
  const breaks = [...text.matchAll(/-/g)].map(({ index }) => index + 1).filter((at) => Math.abs(at - aim) <= aim / 3);
  const at = breaks.sort((a, b) => Math.abs(a - aim) - Math.abs(b - aim))[0] ?? aim;
  return [text.slice(0, at), ...lines(text.slice(at), count - 1)];
}

class Typesetter {
  private readonly glyphs = new Map<Face, Glyphs>();
  constructor(private readonly doc: PDFKit.PDFDocument) {
    for (const [face, file] of Object.entries(fontFiles) as [Face, string][]) {
      doc.registerFont(face, locate.resolve(file));
      doc.font(face);
      this.glyphs.set(face, (doc as unknown as { _font: { font: Glyphs } })._font.font);
    }
  }

  /** One line at the largest size that fits; below the smallest it is cut with an ellipsis. */
  fit(
    face: Face,
    text: string,
    xMm: number,
    yMm: number,
    widthMm: number,
    [largest, smallest]: readonly [number, number],
    color: string,
  ): void {
    const { doc } = this;
    let runs = this.runs(face, text.normalize('NFC'));
    let size = largest;
    while (size > smallest && this.width(runs, size) > pt(widthMm)) size -= 0.5;
    for (let shown = [...text].length - 1; this.width(runs, size) > pt(widthMm) && shown > 1; shown--) {
      runs = this.runs(face, `${[...text].slice(0, shown).join('')}…`);
    }
    let x = pt(xMm);
    for (const run of runs) {
      doc.font(run.face).fontSize(size).fillColor(color).text(run.text, x, pt(yMm), { lineBreak: false });
      x += doc.widthOfString(run.text);
    }
  }

  /** What is typed again must be there whole: on one line at a good size, else on two, else on three. */
  fitCode(text: string, xMm: number, yMm: number, widthMm: number, sizes: readonly [number, number]): void {
    const good = 9.5;
    for (const [count, from, to] of [
      [1, sizes[0], good],
      [2, 11, good - 2],
      [3, 8, sizes[1]],
    ] as const) {
      const split = lines(text, count);
      const fits = (size: number) => split.every((line) => this.width(this.runs('code', line), size) <= pt(widthMm));
      let size: number = from;
      while (size > to && !fits(size)) size -= 0.5;
      if (!fits(size) && count < 3) continue;
      const stepMm = (size * 1.15) / pointsPerMm;
      split.forEach((line, i) => this.fit('code', line, xMm, yMm + i * stepMm, widthMm, [size, size], '#1F2A2E'));
      return;
    }
  }

  private runs(face: Face, text: string): { face: Face; text: string }[] {
    const runs: { face: Face; text: string }[] = [];
    for (const char of text) {
      const use = this.glyphs.get(face)!.hasGlyphForCodePoint(char.codePointAt(0)!)
        ? face
        : face === 'strong'
          ? 'otherStrong'
          : 'other';
      const last = runs.at(-1);
      if (last?.face === use) last.text += char;
      else runs.push({ face: use, text: char });
    }
    return runs;
  }

  private width(runs: { face: Face; text: string }[], size: number): number {
    return runs.reduce((sum, run) => sum + this.doc.font(run.face).fontSize(size).widthOfString(run.text), 0);
  }
}
