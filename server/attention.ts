/** What of licenses, devices and feeds waits for somebody: counted beside, so that Today's other lines do not wait for it. */
import { say } from '#core/messages/say';
import { may } from '#core/authority/index';
import { addDays } from '#core/time/index';
import { Op } from 'sequelize';
import type { Today } from './contract';
import { carts } from './devices/carts';
import { countWhere } from './devices/queries';
import type { Services, Viewer } from './services';

type Waits = Today['waits'];
type Asked = Pick<Services, 'db' | 'config' | 'licenses'>;

/** A renewal stands on Today so many days before the license ends. */
const renewalDays = 60;

/** `school`: of that school alone, where it is a school's; licenses and feeds are the district's. Most urgent first. */
export async function attention(services: Asked, viewer: Viewer, school?: string): Promise<Waits> {
  const found = await Promise.all([
    may(viewer, 'licenses.see') ? ofLicenses(services) : [],
    may(viewer, 'devices') ? ofDevices(services, viewer, school) : [],
    may(viewer, 'feeds.see') ? ofFeeds(services) : [],
  ]);
  return found.flat().sort((a, b) => b.urgency - a.urgency);
}

async function ofLicenses({ licenses, config }: Asked): Promise<Waits> {
  const today = config.today();
  const soon = addDays(today, renewalDays);
  return (await licenses.products()).flatMap(({ id, label, short, runsOut, supersededBy }) => [
    ...(short
      ? [
          {
            id: `short ${id}`,
            text: say('today.shortFrom', { label, n: short.count, from: short.from }),
            action: say('today.viewSeats'),
            to: `/licenses?product=${id}`,
            urgency: 75,
          },
        ]
      : []),
    // The newer edition is renewed instead.
    ...(runsOut !== null && runsOut >= today && runsOut <= soon && !supersededBy
      ? [
          {
            id: `ends ${id}`,
            text: say('today.licenseEnds', { label, ends: runsOut }),
            action: say('today.renew'),
            to: `/licenses?product=${id}`,
            urgency: 58,
          },
        ]
      : []),
  ]);
}

async function ofDevices({ db, config }: Asked, viewer: Viewer, school: string | undefined): Promise<Waits> {
  const today = config.today();
  const [{ troubles }, where] = await Promise.all([
    carts(db, viewer, today, school),
    countWhere(db, viewer, school ? { school } : {}, today),
  ]);
  const late = Number(where?.late ?? 0);
  return [
    ...troubles
      .filter(({ kind }) => kind === 'twice')
      .map(({ cartId, text }) => ({
        id: `cart ${cartId}`,
        text,
        action: say('today.viewCarts'),
        to: '/devices/carts',
        urgency: 65,
      })),
    ...(late > 0
      ? [
          {
            id: 'late',
            text: say('today.countDevicesAreOverdue', { n: late }),
            action: say('today.viewDevices'),
            to: '/devices?where=late',
            urgency: 55,
          },
        ]
      : []),
  ];
}

async function ofFeeds({ db }: Asked): Promise<Waits> {
  const failed = await db.models.feeds.findAll({
    attributes: ['id', 'name', 'lastError'],
    where: { active: 1, lastError: { [Op.ne]: null } },
    order: ['name'],
    raw: true,
  });
  return failed.map(({ id, name, lastError }) => ({
    id: `feed ${id}`,
    text: say('today.feedFailed', { name, why: lastError }),
    action: say('today.viewFeeds'),
    to: '/settings/feeds',
    urgency: 82,
  }));
}
