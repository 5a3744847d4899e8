/** The days on which licenses end, as an iCalendar feed (RFC 5545) that a calendar asks for again and again. */
import ical from 'ical-generator';
import { notFound } from '../faults';
import { calendarMac, sameText } from '../auth/seal';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { productLabel } from './state';
import { Op } from 'sequelize';
import { joined } from '../db/joined';

/** Calendars sign in nowhere: whoever has the address can read it, and nobody can guess it. */
const tokenOf = (config: Pick<Config, 'key'>, districtId: string): string =>
  calendarMac(config.key, `calendar ${districtId}`).slice(0, 40);

export async function calendarUrl(db: Db, config: Config): Promise<string | null> {
  const here = await district(db);
  return here && `${config.url}/api/calendar/${tokenOf(config, here.id)}`;
}

/** Throws Fault missing where the token is not the feed's. */
export async function calendar(db: Db, config: Config, token: string): Promise<string> {
  const here = await district(db);
  if (!here || !sameText(token, tokenOf(config, here.id))) throw notFound('This calendar');
  const rows = await joined(db, 'license', {
    of: { name: 'product.name', edition: 'product.edition', school: 'school.name' },
    where: { ends: { [Op.gt]: config.today() } },
    order: ['ends'],
  });
  const feed = ical({ name: `${here.name}: licenses`, prodId: { company: 'Sheaf', product: 'licenses' } });
  for (const { id, ends, school, seats, orderNumber, ...product } of rows)
    feed.createEvent({
      id: `${id}@sheaf`,
      start: new Date(`${ends}T00:00:00Z`),
      stamp: new Date(`${config.today()}T00:00:00Z`),
      allDay: true,
      timezone: 'UTC',
      summary: `${productLabel(product)}: the license of ${school ?? 'the district'} ends`,
      description: `${seats === null ? 'site-wide' : `${seats} seats`}${orderNumber ? `, order ${orderNumber}` : ''}`,
    });
  return feed.toString();
}
