/** Carts slot by slot, with who has them when, and what does not go together. */
import { say } from '#core/messages/say';
import { col, fn } from 'sequelize';
import { theirRows } from '#core/authority/index';
import { type Booked, type CartState, cartTroubles } from '#core/devices/index';
import { groupBy } from '#core/plan/index';
import type { Viewer } from '../services';
import type { CartRow, Carts } from '../contract';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';
import { bookingsNow } from './queries';

export const weekdays = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri'];

export async function carts(db: Db, viewer: Viewer, today: string, school?: string): Promise<Carts> {
  const within = [theirRows(viewer, 'atSchool', 'cart')];
  const at = school ? { schoolId: school } : {};
  const [rows, places, bookings] = await Promise.all([
    joined(db, 'cart', {
      of: { school: 'school.name' },
      where: { ends: null, ...at },
      within,
      order: ['school.name', fn('LENGTH', col('cart.name')), 'name'],
    }),
    joined(db, 'device', {
      fields: ['slot', 'tag', 'condition'],
      of: { deviceId: 'id', cartId: 'cart.id', loanId: 'openLoan.id' },
      whose: { 'cart.ends': null, ...(school ? { 'cart.schoolId': school } : {}) },
      must: ['cart'],
      within,
      order: ['cartId', 'slot'],
    }),
    bookingsNow(db, viewer, today, school ?? null),
  ]);
  const inside = groupBy(places, ({ cartId }) => cartId);
  const booked = groupBy(bookings, ({ cartId }) => cartId);
  const list = rows.map((cart): CartRow => {
    const here = inside.get(cart.id) ?? [];
    const working = here.filter(({ condition, loanId }) => (condition === 'good' || condition === 'worn') && !loanId);
    return {
      ...cart,
      working: working.length,
      places: here.map(({ slot, deviceId, tag, condition, loanId }) => ({
        ...{ slot: slot ?? 0, deviceId, tag, condition, out: loanId !== null },
      })),
      bookings: booked.get(cart.id) ?? [],
    };
  });
  const names = new Map(list.map(({ id, name }) => [id, name]));
  const found = cartTroubles(list as CartState[], bookings).sort((a, b) => b.kind.localeCompare(a.kind));
  const troubles = found.map(({ bookings: of, ...trouble }) => {
    const classes = (of as (Booked & { class: string })[]).map((b) => b.class).join(' and ');
    const when = `${weekdays[trouble.weekday]} ${trouble.period}`;
    const cart = names.get(trouble.cartId)!;
    return {
      ...trouble,
      cart,
      text:
        trouble.kind === 'twice'
          ? say('devices.isBookedByAtThe', { cart, classes, when })
          : say('devices.hasDevicesTooFewFor', { cart, missing: trouble.missing, classes, when }),
      bookingIds: of.map(({ id }) => id),
    };
  });
  return { carts: list, troubles };
}
