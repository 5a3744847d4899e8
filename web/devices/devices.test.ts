/** Carts slot by slot, and codes that a scanner reads. */
import { expect, it } from 'vitest';
import { modeCodes, modeTexts } from '#core/devices/index';
import type { CartRow } from '../../server/contract';
import { slotsOf, stateOf, type Place } from './slots';

const place = (slot: number, more: Partial<Place> = {}) =>
  ({ slot, tag: `D${slot}`, out: false, condition: 'good', ...more }) as Place;
const cart = (slots: number, places: Place[]) => ({ slots, places }) as CartRow;

it('shows every slot of a cart, and what stands beyond its last one', () => {
  const shown = slotsOf(cart(3, [place(2), place(5)]));
  expect(shown.map(({ slot, place: one }) => [slot, one?.tag ?? null])).toEqual([
    ...[
      [1, null],
      [2, 'D2'],
      [3, null],
      [4, null],
      [5, 'D5'],
    ],
  ]);
  expect(slotsOf(cart(0, []))).toEqual([]);
});

it('tells what is out, broken and there apart', () => {
  expect(stateOf(null)).toBe('empty');
  expect(stateOf(place(1))).toBe('in');
  expect(stateOf(place(1, { condition: 'worn' }))).toBe('in');
  expect(stateOf(place(1, { condition: 'repair' }))).toBe('broken');
  expect(stateOf(place(1, { condition: 'repair', out: true }))).toBe('out');
});

it('has a code for each thing to do, which the server knows', () => {
  for (const [mode, code] of Object.entries(modeCodes)) expect(modeTexts[code]).toBe(mode);
});
