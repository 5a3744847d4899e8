/**
 * Sheets as a PDF with embedded fonts: each item drawn where it says, sheet by sheet, so that none is kept. It is tagged
 * (ISO 32000, 14.8): each text is a paragraph, codes are figures with a text of their own, lines and pictures are
 * no content: what a picture shows stands beside it in words.
 */
import bwip from 'bwip-js/node';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';
import { type Item, type Paper, papers, pointsPerMm, type Sheet, type Tint } from '#core/cards/index';
import { registerFonts, runs } from './type';

const pt = (mm: number): number => mm * pointsPerMm;
const tints: Record<Tint, string> = { ink: '#1F2A2E', quiet: '#5B6A70', line: '#DDD6C6' };

/**
 * The mask pattern is given: the standard has an encoder choose the best one, readers take any; it is three times as
 * fast. So is saying where the address ends and the code's own capitals begin, which are written more densely.
 */
function codeOf(text: string): QRCode.QRCode {
  const [, head = '', tail = ''] = /^(.*?)([0-9A-Z]{16,})?$/s.exec(text)!;
  const segments: QRCode.QRCodeSegment[] = [];
  if (head) segments.push({ mode: 'byte', data: new TextEncoder().encode(head) });
  if (tail) segments.push({ mode: 'alphanumeric', data: tail });
  return QRCode.create(segments, { errorCorrectionLevel: 'M', maskPattern: 2 });
}

/** `progress` is told the cards of each sheet; in between other work may go on. */
export async function pdfOf(
  sheets: Iterable<Sheet>,
  paper: Paper,
  title: string,
  progress: (sheet: Sheet) => Promise<void> = async () => {},
): Promise<Buffer> {
  const { widthMm, heightMm } = papers[paper];
  const doc = new PDFDocument({
    size: [pt(widthMm), pt(heightMm)],
    margin: 0,
    autoFirstPage: false,
    info: { Title: title, Creator: 'Sheaf' },
    ...{ pdfVersion: '1.5', lang: 'en-US', tagged: true, displayTitle: true },
  });
  const pieces: Buffer[] = [];
  const ended = new Promise<void>((done, failed) =>
    doc
      // Copied, since a compressed piece holds on to the whole room that it was compressed in.
      .on('data', (piece: Buffer) => pieces.push(Buffer.from(piece)))
      .on('end', done)
      .on('error', failed),
  );
  registerFonts(doc);
  const pen = new Pen(doc);
  let drawn = 0;
  for (const sheet of sheets) {
    doc.addPage();
    pen.page(sheet.items);
    if (++drawn % 40 === 0) forgetWords(doc);
    await progress(sheet);
  }
  pen.end();
  doc.end();
  await ended;
  return Buffer.concat(pieces);
}

/** pdfkit keeps how each word is set for as long as the document lasts; most of a card's words come once. */
function forgetWords(doc: PDFKit.PDFDocument): void {
  const fonts = (doc as unknown as { _fontFamilies: Record<string, { layoutCache?: object }> })._fontFamilies;
  for (const font of Object.values(fonts))
    if (font.layoutCache) font.layoutCache = Object.create(null) as Record<string, never>;
}

type Element = ReturnType<PDFKit.PDFDocument['struct']>;

class Pen {
  private readonly root: Element;
  constructor(private readonly doc: PDFKit.PDFDocument) {
    this.root = doc.struct('Document');
    doc.addStructure(this.root);
  }

  page(items: readonly Item[]): void {
    const page = this.doc.struct('Sect');
    this.root.add(page);
    this.piece(page, items, 0, 0);
    page.end();
  }
  end(): void {
    this.root.end();
  }

  /** What belongs together is read as one. */
  private piece(page: Element, items: readonly Item[], xMm: number, yMm: number): void {
    const { doc } = this;
    const drawn = items.filter((item) => item.kind === 'line' || item.kind === 'box' || item.kind === 'picture');
    if (drawn.length > 0) {
      doc.markContent('Artifact', { type: 'Layout' });
      for (const item of drawn) this.one(item, xMm, yMm);
      doc.endMarkedContent();
    }
    for (const item of items) {
      if (item.kind === 'text') {
        const words = doc.markStructureContent('P');
        this.one(item, xMm, yMm);
        doc.endMarkedContent();
        // Where letters stand in another order than they are read, it is said in words.
        const isWoven = runs(item.face, item.text, item.isRtl).some((run) => run.isWoven);
        page.add(doc.struct('P', isWoven ? { actual: item.text } : {}, words));
      } else if (item.kind === 'qr' || item.kind === 'bars') {
        const code = doc.markStructureContent('Figure');
        this.one(item, xMm, yMm);
        doc.endMarkedContent();
        // What a QR holds may open a door, so it is not told in words.
        page.add(doc.struct('Figure', { alt: item.kind === 'qr' ? 'QR code' : `Barcode ${item.text}` }, code));
      } else if (item.kind === 'at') {
        if (!item.turned) this.piece(page, item.items, xMm + item.xMm, yMm + item.yMm);
        else {
          doc
            .save()
            .translate(pt(xMm + item.xMm + item.widthMm), pt(yMm + item.yMm + item.heightMm))
            .rotate(180);
          this.piece(page, item.items, 0, 0);
          doc.restore();
        }
      }
    }
  }

  private one(item: Exclude<Item, { kind: 'at' }>, xMm: number, yMm: number): void {
    const { doc } = this;
    switch (item.kind) {
      case 'text': {
        let x = pt(xMm + item.xMm);
        for (const { font, text, width, isWoven } of runs(item.face, item.text, item.isRtl)) {
          doc
            .font(font)
            .fontSize(item.sizePt)
            .fillColor(tints[item.tint])
            .text(text, x, pt(yMm + item.baseMm), {
              lineBreak: false,
              baseline: 'alphabetic',
              ...(isWoven ? { features: [] } : {}),
            });
          x += width * item.sizePt;
        }
        return;
      }
      case 'line':
        doc
          .lineWidth(item.widthPt)
          .strokeColor(tints[item.tint])
          .moveTo(pt(xMm + item.x1Mm), pt(yMm + item.y1Mm))
          .lineTo(pt(xMm + item.x2Mm), pt(yMm + item.y2Mm))
          .stroke();
        return;
      case 'box':
        doc
          .lineWidth(0.6)
          .rect(pt(xMm + item.xMm), pt(yMm + item.yMm), pt(item.widthMm), pt(item.heightMm))
          .stroke(tints[item.tint]);
        return;
      case 'picture':
        doc
          .save()
          .translate(pt(xMm + item.xMm), pt(yMm + item.yMm))
          .scale(pt(item.sizeMm) / 24)
          .lineWidth(1.8)
          .lineJoin('round')
          .lineCap('round')
          .path(item.path)
          .stroke(tints.ink)
          .restore();
        return;
      case 'qr':
        this.qr(item.text, pt(xMm + item.xMm), pt(yMm + item.yMm), pt(item.sizeMm));
        return;
      case 'bars':
        this.bars(item.text, pt(xMm + item.xMm), pt(yMm + item.yMm), pt(item.widthMm), pt(item.heightMm));
    }
  }

  /**
   * In units of a module, as one piece of the page: runs of dark ones, with a hair of overlap so that no light line
   * shows between rows.
   */
  private qr(text: string, x: number, y: number, sizePt: number): void {
    const { size, data } = codeOf(text).modules;
    const module = sizePt / size;
    let runs = '';
    for (let row = 0; row < size; row++) {
      for (let column = 0; column < size;) {
        if (!data[row * size + column]) {
          column++;
          continue;
        }
        let end = column;
        while (end < size && data[row * size + end]) end++;
        runs += `${column} ${row} ${end - column} 1.01 re\n`;
        column = end;
      }
    }
    const unit = module.toFixed(5);
    this.doc.fillColor('#000000');
    this.doc.addContent(`q ${unit} 0 0 ${unit} ${x.toFixed(4)} ${y.toFixed(4)} cm\n${runs}f\nQ`);
  }

  private bars(text: string, x: number, y: number, widthPt: number, heightPt: number): void {
    const [{ sbs }] = bwip.raw({ bcid: 'code128', text }) as unknown as [{ sbs: number[] }];
    const modules = sbs.reduce((sum, width) => sum + width, 0);
    // As wide as the place allows, up to half a millimetre a module, in its middle.
    const module = Math.min(widthPt / modules, pt(0.5));
    let at = x + (widthPt - module * modules) / 2;
    sbs.forEach((width, i) => {
      if (i % 2 === 0) this.doc.rect(at, y, width * module, heightPt);
      at += width * module;
    });
    this.doc.fill('#000000');
  }
}
