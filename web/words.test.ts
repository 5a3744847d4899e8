/** Pages of the first load say only what is in it, though they share modules with others. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { expect, it, vi } from 'vitest';
import { first } from '#core/messages/en/first';
import { rest } from '#core/messages/en/rest';
import { router } from './router';

/** Files that a file reads at once; what is imported by a call is read later. */
function importsOf(file: string): string[] {
  const source = readFileSync(file, 'utf8');
  return [...source.matchAll(/^import (?!type)[^;]*?from '([^']+)';|^import '([^']+)';/gm)].flatMap(
    ([, from, bare]) => {
      const path = from ?? bare!;
      const at = path.startsWith('@/')
        ? join('web', path.slice(2))
        : path.startsWith('.')
          ? join(dirname(file), path)
          : null;
      return at === null ? [] : [at, `${at}.ts`].filter((one) => existsSync(one) && /\.(ts|vue)$/.test(one));
    },
  );
}
function reached(from: string[]): Set<string> {
  const found = new Set<string>();
  const walk = (file: string): void => {
    if (found.has(file)) return;
    found.add(file);
    importsOf(file).forEach(walk);
  };
  from.forEach(walk);
  return found;
}
/** The modules of pages that are marked as first ones, as the router's own text names them. */
const pages = [
  ...readFileSync('web/router.ts', 'utf8').matchAll(/import\('\.\/([^']+)'\), meta: (open|\{[^}]*first[^}]*\})/g),
].map(([, file]) => join('web', file!));

it('says nothing of the rest on a page of the first load', () => {
  expect(pages).toHaveLength(router.getRoutes().filter(({ meta }) => meta.first).length);
  const rooms = new Set<string>();
  for (const file of reached(['web/main.ts', ...pages]))
    for (const [, room] of readFileSync(file, 'utf8').matchAll(/\bt\(\s*'([a-z]+)\./g)) rooms.add(`${room} (${file})`);
  expect([...rooms].filter((one) => !(one.split(' ')[0]! in first))).toEqual([]);
  expect(rooms.size).toBeGreaterThan(10);
});

it('has what the server says beyond the first pages by the time it is read', async () => {
  // A page of its own, on which nothing more than the first words was loaded.
  vi.resetModules();
  const words = await import('./words');
  const { say } = await import('#core/messages/say');
  const answer = JSON.stringify({ error: say('staff.thisInvitationNoLongerWorks') });
  const early = words.readAnswer<{ error: string }>(answer).error;
  await words.wordsFor(answer);
  const late = words.readAnswer<{ error: string }>(answer).error;
  expect([early, late]).toEqual(['staff.thisInvitationNoLongerWorks', rest.staff.thisInvitationNoLongerWorks]);
});

it('has every room once', () => {
  expect(Object.keys(first).filter((room) => room in rest)).toEqual([]);
});
