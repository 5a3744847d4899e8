/** Cards printed for a test, and what an independent reader of PDFs says of them. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type CardContent, cardSheets, type Paper, type Sheet, type SheetOrder } from '#core/cards/index';
import { sampleOrder } from '#core/cards/samples';
import { pdfOf } from '../cards/pdf';
import { measure } from '../cards/type';

export { sampleCard as card } from '#core/cards/samples';

const mm = (points: string) => (Number(points) * 25.4) / 72;

export async function printed(sheets: Iterable<Sheet>, paper: Paper) {
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-pdf-'));
  writeFileSync(join(folder, 'print.pdf'), await pdfOf(sheets, paper, 'Test'));
  const run = (command: string, ...args: string[]) =>
    execFileSync(command, args, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 64e6 }).toString();
  /** Words with the edges of their boxes in millimetres, page by page. */
  const pages = run('pdftotext', '-bbox', 'print.pdf', '-')
    .split('<page ')
    .slice(1)
    .map((page) =>
      [...page.matchAll(/<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</g)].map(
        ([, x0, y0, x1, y1, text]) => ({
          text: text!.replaceAll('&apos;', "'").replaceAll('&amp;', '&'),
          xMm: mm(x0!),
          yMm: mm(y0!),
          endMm: mm(x1!),
          bottomMm: mm(y1!),
        }),
      ),
    );
  return { folder, run, pages, text: run('pdftotext', '-layout', 'print.pdf', '-') };
}
export const cards = (list: CardContent[], more: Partial<SheetOrder> = {}) =>
  cardSheets(list.length, (i) => list[i]!, sampleOrder(more), measure);
