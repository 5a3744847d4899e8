/** What a browser fetches before a page stands, packed as the server sends it; what is loaded later is left out. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { table } from './table';

/** A file of the build, as Vite lists it (its manifest). */
interface Piece {
  file: string;
  imports?: string[];
  css?: string[];
  assets?: string[];
  isEntry?: boolean;
}
const root = resolve('dist/web');
const sent = (file: string): number => {
  const path = join(root, file);
  return statSync(existsSync(`${path}.br`) ? `${path}.br` : path).size;
};
const kilobytes = (bytes: number): string => `${(bytes / 1000).toFixed(0)} KB`;

/** The page's own modules, each with all that it needs at once; the most, in KB: what the page may weigh. */
const pages: [string, string[], number][] = [
  ['sign-in', ['sign/SignIn.vue'], 180],
  ['Today, without the charts', ['frame/Frame.vue', 'places/Today.vue', '../core/messages/en/rest.ts'], 450],
  ['a student’s own page', ['student/Mine.vue'], 180],
];

export function loads(): void {
  const manifest = JSON.parse(readFileSync(join(root, '.vite/manifest.json'), 'utf8')) as Record<string, Piece>;
  const entry = Object.keys(manifest).find((name) => manifest[name]!.isEntry)!;
  const rows = pages.map(([page, modules, most]) => {
    const pieces = new Set<string>();
    const files = new Set<string>();
    const need = (name: string): void => {
      if (pieces.has(name)) return;
      pieces.add(name);
      const { file, imports = [], css = [] } = manifest[name]!;
      for (const one of [file, ...css]) files.add(one);
      for (const one of imports) need(one);
    };
    for (const one of [entry, ...modules]) need(one);
    // The letters of the language in use; the others are fetched where they occur.
    const fonts = Object.values(manifest).find(({ assets }) => assets)?.assets ?? [];
    const latin = fonts.filter((file) => /next-latin-wght-normal/.test(file) && file.endsWith('.woff2'));
    const sum = [...files, ...latin].reduce((all, file) => all + sent(file), sent('index.html'));
    const heaviest = [...files].sort((a, b) => sent(b) - sent(a)).slice(0, 3);
    return [
      page,
      kilobytes(sum),
      `${most} KB`,
      `${(sum / 1000 / most).toFixed(2)} ×`,
      heaviest.map((file) => `${file.replace(/^assets\/|-[\w-]{8}\.\w+$/g, '')} ${kilobytes(sent(file))}`).join(', '),
    ];
  });
  table('First load, as it is sent', ['', 'is', 'may be', 'ratio', 'most of it'], rows);
}
