/** The slots of a cart, as its picture and its list show them. */
import type { CartRow } from '../../server/contract';
import { t } from '@/words';

export type Place = CartRow['places'][number];
/** 'in': there and fit for use. */
export type SlotState = 'empty' | 'out' | 'in' | 'broken';

/** Every slot of the cart, what is in none at the end. */
export function slotsOf(cart: CartRow): { slot: number; place: Place | null }[] {
  const by = new Map(cart.places.map((place) => [place.slot, place]));
  const last = Math.max(cart.slots, ...cart.places.map(({ slot }) => slot));
  return Array.from({ length: last }, (_, i) => ({ slot: i + 1, place: by.get(i + 1) ?? null }));
}
export function stateOf(place: Place | null): SlotState {
  if (!place) return 'empty';
  if (place.out) return 'out';
  return ['good', 'worn'].includes(place.condition) ? 'in' : 'broken';
}
export const stateWords: Record<SlotState, string> = {
  empty: t('devices.empty'),
  out: t('devices.withAHolder'),
  in: t('devices.inTheCart2'),
  broken: t('devices.brokenOrInRepair'),
};
