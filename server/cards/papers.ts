/** What is printed without secrets, at once: labels of devices, posters, the page that tests a printer. */
import { theirRows } from '#core/authority/index';
import {
  codeSheets,
  deviceLabelSheets,
  type Layout,
  type Paper,
  type Sheet,
  testSheet,
  posterSheet,
} from '#core/cards/index';
import { Fault, notFound, type Services, type Viewer } from '../api/context';
import type { DeviceFilter } from '../api/contract';
import { devicePage } from '../devices/list';
import { codeOf } from '../joining/codes';

const most = 5000;

async function made(sheets: Iterable<Sheet>, paper: Paper, title: string): Promise<Buffer> {
  const { pdfOf } = await import('./pdf');
  return pdfOf(sheets, paper, title, () => new Promise((next) => setImmediate(next)));
}
const measured = async () => (await import('./type')).measure;

export async function deviceLabels(
  { db, config }: Services,
  viewer: Viewer,
  filter: DeviceFilter,
  order: { paper: Paper; skip: number; code: 'bars' | 'qr' },
): Promise<Buffer> {
  const { rows, next } = await devicePage(db, viewer, filter, { limit: most, today: config.today() });
  if (rows.length === 0) throw new Fault(404, 'No device is shown, so there is no label to print.');
  if (next !== null)
    throw new Fault(422, `These are more than ${most} labels. Narrow the list first, by school or by model.`);
  const labels = rows.map(({ tag, model, school, cart, slot, room }) => ({
    tag,
    model,
    school,
    place: cart ? `${cart}${slot ? `, ${slot}` : ''}` : room,
  }));
  return made(deviceLabelSheets(labels, order, await measured()), order.paper, 'Labels of devices');
}

export async function poster(services: Services, viewer: Viewer, codeId: string, paper: Paper): Promise<Buffer> {
  const code = await codeOf(services, viewer, codeId);
  const where = code.url.replace(/^https?:\/\//, '').replace(/\/j\/.*$/, '/join');
  const content = {
    title: code.className ?? code.school,
    code: code.code,
    link: code.url,
    where,
    note: `${code.school}. Open until ${code.closesAt.slice(0, 10)}.`,
  };
  return made([posterSheet(content, paper, await measured())], paper, content.title);
}

/** For a school's own sign-in address. */
export async function doorPoster({ db, config }: Services, door: string, paper: Paper): Promise<Buffer> {
  const school = await db.one<{ name: string }>('SELECT name FROM schools WHERE door = :door', { door });
  if (!school) throw notFound('This address');
  const link = `${config.url}/d/${door}`;
  const content = { title: school.name, code: null, link, where: link.replace(/^https?:\/\//, ''), note: '' };
  return made([posterSheet(content, paper, await measured())], paper, content.title);
}

/** What a scanner is pointed at beside the devices: what is to be done, and the carts of a school. */
export async function scanSheet(
  { db }: Services,
  viewer: Viewer,
  school: string | null,
  paper: Paper,
): Promise<Buffer> {
  const modes = Object.entries({ '+GIVE': 'Give', '+BACK': 'Take back', '+SWAP': 'Swap', '+COUNT': 'Count a cart' });
  const carts = await db.select<{ name: string }>(
    `SELECT name FROM carts WHERE ends IS NULL AND ${theirRows(viewer, 'atSchool', 'carts')} ${school ? 'AND schoolId = :school' : ''} ORDER BY LENGTH(name), name`,
    { school },
  );
  const codes = [
    ...modes.map(([text, label]) => ({ text, label })),
    ...carts.map(({ name }) => ({ text: name, label: name })),
  ];
  const printable = codes.filter(({ text }) => /^[\x20-\x7e]+$/.test(text));
  return made(codeSheets(printable, paper, await measured()), paper, 'Codes to scan');
}

export const testPage = async (layout: Layout, paper: Paper): Promise<Buffer> =>
  made([testSheet(layout, paper, await measured())], paper, 'Test page');
