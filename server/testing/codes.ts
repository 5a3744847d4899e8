/** The codes on a PDF's pages, read by zbar from pages that poppler drew: at more than one size, as a reader is held nearer or farther. */
import { execFileSync } from 'node:child_process';
import { readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';

/** `expected` ends the reading early; codes come once each. */
export function readCodes(
  folder: string,
  pdf: string,
  expected: number,
  lastPage = 1000,
  symbology = 'qrcode',
  sizes: readonly number[] = [150, 200, 110, 300],
): string[] {
  const found = new Set<string>();
  for (const dpi of sizes) {
    execFileSync('pdftoppm', ['-r', String(dpi), '-l', String(lastPage), '-png', pdf, 'code'], { cwd: folder });
    for (const page of readdirSync(folder).filter((name) => /^code.*\.png$/.test(name))) {
      try {
        const text = execFileSync('zbarimg', ['-q', '--raw', '-Sdisable', `-S${symbology}.enable`, page], {
          cwd: folder,
          stdio: ['ignore', 'pipe', 'ignore'],
        });
        for (const code of text.toString().trim().split('\n')) found.add(code);
      } catch {
        // Status 4: no code on this page at this size.
      }
      rmSync(join(folder, page));
    }
    if (found.size >= expected) break;
  }
  return [...found];
}
