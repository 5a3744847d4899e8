/** Dates and other values of a plan's changes, in the person's language. */
import { expect, it } from 'vitest';
import { say } from '#core/messages/say';
import { keepPlace } from '@/place';
import { valueWords } from './values';

it('a date is written as everywhere, and what is none is told as it is', () => {
  keepPlace('America/New_York', '2026-08-17');
  expect(valueWords(true, '2026-08-26')).toBe('Aug 26');
  expect(valueWords(true, '2016-07-03')).toBe('Jul 3, 2016');
  expect(valueWords(true, say('plan.empty'))).not.toContain('plan.empty');
  expect(valueWords(false, '2016-07-03')).toBe('2016-07-03');
});
