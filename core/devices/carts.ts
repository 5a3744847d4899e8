/** Carts and periods: which cart is promised twice, which class has too few devices, which cart is free instead. */
import type { Booking, Cart } from '#core/entities/index';

/** Open bookings, with how many devices the class needs. */
export interface Booked extends Booking {
  students: number;
}
export interface CartState extends Cart {
  /** Devices in it that work. */
  working: number;
}
export interface CartTrouble {
  kind: 'twice' | 'too few';
  cartId: string;
  weekday: number;
  period: string;
  bookings: Booked[];
  /** Devices that are missing; for carts promised twice 0. */
  missing: number;
  /** Free in that period and large enough for the smallest class concerned, the smallest first. */
  instead: string[];
}

const meet = (a: Booking, b: Booking): boolean =>
  a.weekday === b.weekday && a.period === b.period && a.begins < (b.ends ?? '9999') && b.begins < (a.ends ?? '9999');

/** Free carts of the school with enough devices for so many, the smallest first. `except`: bookings that do not count. */
export function freeCarts(
  carts: readonly CartState[],
  bookings: readonly Booking[],
  wanted: { schoolId: string; weekday: number; period: string; begins: string; ends: string | null; students: number },
): CartState[] {
  const when = { ...wanted, id: '', cartId: '', classId: '' };
  return carts
    .filter(
      ({ id, schoolId, ends, working }) =>
        schoolId === wanted.schoolId &&
        ends === null &&
        working >= wanted.students &&
        !bookings.some((b) => b.cartId === id && meet(b, when)),
    )
    .sort((a, b) => a.working - b.working || a.name.localeCompare(b.name, 'en'));
}

export function cartTroubles(carts: readonly CartState[], bookings: readonly Booked[]): CartTrouble[] {
  const byId = new Map(carts.map((cart) => [cart.id, cart]));
  const found: CartTrouble[] = [];
  const instead = (cart: CartState, of: Booked) =>
    freeCarts(carts, bookings, { ...of, schoolId: cart.schoolId }).map(({ id }) => id);
  const seen = new Set<string>();
  for (const booking of bookings) {
    const cart = byId.get(booking.cartId);
    if (!cart) continue;
    const { cartId, weekday, period } = booking;
    const others = bookings.filter((b) => b.id !== booking.id && b.cartId === cartId && meet(b, booking));
    if (others.length > 0 && !seen.has(booking.id)) {
      const all = [booking, ...others];
      for (const { id } of all) seen.add(id);
      const smallest = all.reduce((a, b) => (b.students < a.students ? b : a));
      found.push({
        kind: 'twice',
        cartId,
        weekday,
        period,
        bookings: all,
        missing: 0,
        instead: instead(cart, smallest),
      });
    }
    const missing = booking.students - cart.working;
    if (missing > 0)
      found.push({
        kind: 'too few',
        cartId,
        weekday,
        period,
        bookings: [booking],
        missing,
        instead: instead(cart, booking),
      });
  }
  return found;
}
