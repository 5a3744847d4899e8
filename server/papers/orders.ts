/** What is printed without secrets, at once: labels of devices, posters, the page that tests a printer. */
import { say, spoken } from '#core/messages/say';
import { clock } from '../clock';
import { theirRows } from '#core/authority/index';
import type { Layout, Paper } from '#core/cards/index';
import { Fault, notFound } from '../faults';
import { speechFor } from '../preferences';
import type { Services, Viewer } from '../services';
import type { DeviceFilter } from '../contract';
import { devicePage } from '../devices/list';
import { codeOf } from '../joining/codes';
import { col, fn } from 'sequelize';
import { joined } from '../db/joined';

const most = 5000;

export async function deviceLabels(
  { db, config, papers }: Services,
  viewer: Viewer,
  filter: DeviceFilter,
  order: { paper: Paper; skip: number; code: 'bars' | 'qr' },
): Promise<Uint8Array> {
  const { rows, next } = await devicePage(db, viewer, filter, { limit: most, today: config.today() });
  if (rows.length === 0) throw new Fault('missing', say('handouts.thereAreNoDevicesTo'));
  if (next !== null) throw new Fault('invalid', say('handouts.thereAreMoreThanLabels', { most }));
  const labels = rows.map(({ tag, model, school, cart, slot, room }) => ({
    tag,
    model,
    school,
    place: cart ? `${cart}${slot ? `, ${slot}` : ''}` : room,
  }));
  return papers.draw({ kind: 'labels', labels, order });
}

export async function poster(services: Services, viewer: Viewer, codeId: string, paper: Paper): Promise<Uint8Array> {
  const code = await codeOf(services, viewer, codeId);
  const where = code.url.replace(/^https?:\/\//, '').replace(/\/j\/.*$/, '/join');
  const content = {
    title: code.className ?? code.school,
    code: code.code,
    link: code.url,
    where,
    note: spoken(
      say('handouts.openUntil', { school: code.school, day: clock.dayOf(code.closesAt) }),
      await speechFor(services.db, viewer.personId),
    ),
  };
  return services.papers.draw({ kind: 'poster', content, paper });
}

/** For a school's own sign-in address. */
export async function doorPoster({ db, config, papers }: Services, door: string, paper: Paper): Promise<Uint8Array> {
  const school = await db.models.school.findOne({ attributes: ['name'], where: { door }, raw: true });
  if (!school) throw notFound(say('api.thisAddress'));
  const link = `${config.url}/d/${door}`;
  const content = { title: school.name, code: null, link, where: link.replace(/^https?:\/\//, ''), note: '' };
  return papers.draw({ kind: 'poster', content, paper });
}

/** What a scanner is pointed at beside the devices: what is to be done, and the carts of a school. */
export async function scanSheet(
  { db, papers }: Services,
  viewer: Viewer,
  school: string | null,
  paper: Paper,
): Promise<Uint8Array> {
  const speech = await speechFor(db, viewer.personId);
  const modes = Object.entries({
    '+GIVE': say('devices.checkOut'),
    '+BACK': say('devices.return2'),
    '+SWAP': say('devices.swap'),
    '+COUNT': say('devices.checkACart'),
  });
  const carts = await joined(db, 'cart', {
    fields: ['name'],
    where: { ends: null, ...(school ? { schoolId: school } : {}) },
    within: [theirRows(viewer, 'atSchool', 'cart')],
    order: [fn('LENGTH', col('cart.name')), 'name'],
  });
  const codes = [
    ...modes.map(([text, label]) => ({ text, label: spoken(label, speech) })),
    ...carts.map(({ name }) => ({ text: name, label: name })),
  ];
  const printable = codes.filter(({ text }) => /^[\x20-\x7e]+$/.test(text));
  return papers.draw({ kind: 'codes', codes: printable, paper });
}

export const testPage = ({ papers }: Services, layout: Layout, paper: Paper): Promise<Uint8Array> =>
  papers.draw({ kind: 'test', layout, paper });
