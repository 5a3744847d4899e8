/** The built web application, as files. */
import { createReadStream, existsSync, statSync } from 'node:fs';
import { extname, resolve, sep } from 'node:path';
import { Readable } from 'node:stream';
import type { App } from './border';

const types: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.woff2': 'font/woff2',
  '.woff': 'font/woff',
  '.png': 'image/png',
  '.json': 'application/json',
  '.map': 'application/json',
};

/** How files are packed at the build, the smallest first. */
const packings = [
  { coding: 'br', ending: '.br' },
  { coding: 'gzip', ending: '.gz' },
];
/** Whether the header of a request names a coding, and does not refuse it. Source: RFC 9110, 12.5.3. */
const takes = (header: string, coding: string): boolean =>
  header.split(',').some((one) => {
    const [name, quality = ''] = one.split(';').map((part) => part.trim().toLowerCase());
    return name === coding && !/^q=0(\.0*)?$/.test(quality);
  });

/** A path that cannot be decoded names no file. */
function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return '/';
  }
}

/** Files of the build, which are named by their content and kept for a year; any other path is the application's own. */
export function serveWeb(app: App, root: string): void {
  app.get('*', (c) => {
    const path = resolve(root, `.${decoded(new URL(c.req.url).pathname)}`);
    const isFile = path.startsWith(root + sep) && existsSync(path) && statSync(path).isFile();
    const file = isFile ? path : resolve(root, 'index.html');
    const cache = isFile && file.includes(`${sep}assets${sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache';
    const taken = c.req.header('Accept-Encoding') ?? '';
    const packed = packings.find(({ coding, ending }) => takes(taken, coding) && existsSync(file + ending));
    return c.body(Readable.toWeb(createReadStream(file + (packed?.ending ?? ''))) as ReadableStream, 200, {
      'Content-Type': types[extname(file)] ?? 'application/octet-stream',
      'Cache-Control': cache,
      Vary: 'Accept-Encoding',
      ...(packed ? { 'Content-Encoding': packed.coding } : {}),
    });
  });
}
