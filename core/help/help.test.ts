import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { en } from '../messages/index';
import { guide, helpAt } from './index';

const say = (key: string): string => {
  const [room, name] = key.split('.') as [keyof typeof en, string];
  return (en[room] as Record<string, string>)[name]!;
};

it('finds the help of the place that an address belongs to', () => {
  expect(helpAt('/').path).toBe('/');
  expect(helpAt('/devices/scan').path).toBe('/devices');
  expect(helpAt('/nowhere').path).toBe('/');
});

it('is what docs/guide.md says', () => {
  // UPDATE=1 writes it anew.
  if (process.env.UPDATE || !existsSync('docs/guide.md')) writeFileSync('docs/guide.md', guide(say));
  expect(readFileSync('docs/guide.md', 'utf8')).toBe(guide(say));
});
