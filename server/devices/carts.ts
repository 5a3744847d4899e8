/** Carts slot by slot, with who has them when, and what does not go together. */
import { theirRows } from '#core/authority/index';
import { type Booked, type CartState, cartTroubles } from '#core/devices/index';
import { groupBy } from '#core/plan/index';
import type { Cart, DeviceCondition } from '#core/entities/index';
import type { Viewer } from '../services';
import type { CartRow, Carts } from '../contract';
import type { Db } from '../db/connection';

export const weekdays = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri'];

export async function carts(db: Db, viewer: Viewer, today: string, school?: string): Promise<Carts> {
  const params = { school: school ?? null, today };
  const where = `c.ends IS NULL AND ${theirRows(viewer, 'atSchool', 'c')} ${school ? 'AND c.schoolId = :school' : ''}`;
  const [rows, places, bookings] = await Promise.all([
    db.select<Cart & { school: string }>(
      `SELECT c.*, s.name AS school FROM carts c JOIN schools s ON s.id = c.schoolId WHERE ${where} ORDER BY s.name, LENGTH(c.name), c.name`,
      params,
    ),
    db.select<{
      cartId: string;
      slot: number;
      deviceId: string;
      tag: string;
      condition: DeviceCondition;
      isOut: number;
    }>(
      `SELECT d.cartId, COALESCE(d.slot, 0) AS slot, d.id AS deviceId, d.tag, d.\`condition\`, l.id IS NOT NULL AS isOut FROM devices d JOIN carts c ON c.id = d.cartId
         LEFT JOIN loans l ON l.deviceId = d.id AND l.ends IS NULL WHERE ${where} ORDER BY d.cartId, d.slot`,
      params,
    ),
    db.select<Booked & { class: string; n: number }>(
      `SELECT b.id, b.cartId, b.classId, b.weekday, b.period, b.begins, b.ends, k.name AS class,
         (SELECT COUNT(*) FROM enrollments e WHERE e.classId = k.id AND e.ends IS NULL AND e.role = 'student') AS students
       FROM bookings b JOIN carts c ON c.id = b.cartId JOIN classes k ON k.id = b.classId AND k.ends IS NULL
       WHERE ${where} AND (b.ends IS NULL OR b.ends > :today) ORDER BY b.weekday, b.period, k.name`,
      params,
    ),
  ]);
  const inside = groupBy(places, ({ cartId }) => cartId);
  const booked = groupBy(bookings, ({ cartId }) => cartId);
  const list = rows.map((cart): CartRow => {
    const here = inside.get(cart.id) ?? [];
    const working = here.filter(({ condition, isOut }) => (condition === 'good' || condition === 'worn') && !isOut);
    return {
      ...cart,
      working: working.length,
      places: here.map(({ slot, deviceId, tag, condition, isOut }) => ({
        slot,
        deviceId,
        tag,
        condition,
        out: isOut === 1,
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
          ? `${cart} is promised to ${classes} at once, ${when}`
          : `${cart} has ${trouble.missing} devices too few for ${classes}, ${when}`,
      bookingIds: of.map(({ id }) => id),
    };
  });
  return { carts: list, troubles };
}
