/** Which language somebody gets who chose none. */
import { expect, it } from 'vitest';
import { languageFor } from './index';

it.each([
  [['es-MX', 'en-US'], 'es-US'],
  [['fr', 'es'], 'es-US'],
  [['EN-gb'], 'en-US'],
  [['vi', 'tl'], 'en-US'],
  [[], 'en-US'],
] as const)('of %j takes %s', (wanted, got) => expect(languageFor(wanted)).toBe(got));
