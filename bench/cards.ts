/** 10,000 login cards in one go, beside pdfkit alone drawing the same pages: the same lines at the same places, one font, no fitting. */
import { resolve } from 'node:path';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';
import { type CardContent, cardSheets, type Paper, papers, pointsPerMm, type SheetOrder } from '#core/cards/index';
import { pdfOf } from '#server/cards/pdf';
import { measure } from '#server/cards/type';
import { print, timed } from './table';

const count = 10_000;
const order: SheetOrder = { layout: 'cards', paper: 'A4', backs: null, stacked: true, skip: 0 };
const content = (i: number): CardContent => ({
  familyName: `Żółkiewski-Nguyễn ${i}`,
  givenName: 'Thảo',
  className: '3B',
  grade: '3',
  school: 'Lantern Point',
  username: `tzolkiewski${i}`,
  secret: 'puffin-harbor-42',
  link: `http://127.0.0.1:8200/c/0123456789ABCDEFGHJK${String(i).padStart(6, '0')}`,
  foot: 'Scan the code to sign in. Printed 2026-08-17.',
  large: false,
  language: null,
  where: '127.0.0.1:8200/sign-in',
});
const pt = (mm: number) => mm * pointsPerMm;

async function bare(paper: Paper): Promise<number> {
  const { widthMm, heightMm } = papers[paper];
  const doc = new PDFDocument({ size: [pt(widthMm), pt(heightMm)], margin: 0, autoFirstPage: false });
  let bytes = 0;
  doc.on('data', (piece: Buffer) => (bytes += piece.length));
  doc.font(
    resolve(
      'node_modules/@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf',
    ),
  );
  for (const { items } of cardSheets(count, content, order, (_, text) => text.length * 0.5)) {
    doc.addPage();
    for (const placed of items) {
      if (placed.kind !== 'at') continue;
      for (const item of placed.items) {
        const x = pt(placed.xMm);
        const y = pt(placed.yMm);
        if (item.kind === 'text')
          doc
            .fontSize(item.sizePt)
            .text(item.text, x + pt(item.xMm), y + pt(item.baseMm) - item.sizePt, { lineBreak: false });
        if (item.kind !== 'qr') continue;
        const { size, data } = QRCode.create(item.text, { errorCorrectionLevel: 'M', maskPattern: 2 }).modules;
        const module = pt(item.sizeMm) / size;
        for (let k = 0; k < size * size; k++)
          if (data[k])
            doc.rect(
              x + pt(item.xMm) + (k % size) * module,
              y + pt(item.yMm) + Math.floor(k / size) * module,
              module,
              module,
            );
        doc.fill();
      }
    }
  }
  await new Promise<void>((done) => {
    doc.on('end', done);
    doc.end();
  });
  return bytes;
}

export async function benchCards(): Promise<void> {
  let steps = 0;
  const drawn = await timed(() =>
    pdfOf(cardSheets(count, content, order, measure), order.paper, 'Bench', () => {
      steps++;
      return new Promise((next) => setImmediate(next));
    }),
  );
  // The most that the process has used so far: nothing was drawn before.
  const memory = process.resourceUsage().maxRSS / 1024;
  const alone = await timed(() => bare(order.paper));
  const mb = (bytes: number) => `${(bytes / 1024 / 1024).toFixed(0)} MB`;
  print(
    `10,000 login cards: ${steps} states of progress, a file of ${mb(drawn.result.length)} (pdfkit alone ${mb(alone.result)}), at most ${memory.toFixed(0)} MB of memory`,
    [
      {
        what: '10,000 cards as a PDF',
        seconds: drawn.seconds,
        count,
        unit: 'cards',
        baseline: { what: 'pdfkit alone', seconds: alone.seconds },
      },
    ],
  );
}
