/**
 * A list of devices, as a supplier or an older inventory gives it: which column is what, and the plan that brings
 * what is on record up to it. A device is known by its tag, else by its serial number. Empty cells change nothing; a row
 * whose school is not on record is left out.
 */
import { say } from '#core/messages/say';
import type { Change } from '#core/plan/index';
import { type Cart, type Columns, conditions, type Device, type School } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates, updates } from '#core/register/steps';
import { fold } from '#core/names/index';
import { schoolFinder } from '#core/names/schools';
import { guessDateOrder, readDate, sureOrder } from '#core/tabular/values';
import type { RawRecord } from '#core/tabular/split';

export const deviceFields = [
  'tag',
  'serial',
  'model',
  'school',
  'boughtOn',
  'warrantyEnds',
  'updatesEnd',
  'condition',
  'cart',
  'slot',
  'room',
] as const;
export type DeviceField = (typeof deviceFields)[number];

/** Headings as lists have them, common practice; folded. */
const headings: Record<DeviceField, string[]> = {
  tag: ['tag', 'asset tag', 'asset', 'asset number', 'inventory number', 'label', 'barcode'],
  serial: ['serial', 'serial number', 'serial no', 'sn', 's n'],
  model: ['model', 'device', 'type', 'product', 'description'],
  school: ['school', 'site', 'location', 'building'],
  boughtOn: ['bought', 'bought on', 'purchase date', 'purchased', 'date bought', 'acquired'],
  warrantyEnds: ['warranty', 'warranty ends', 'warranty until', 'warranty end'],
  updatesEnd: ['updates', 'end of updates', 'updates until', 'updates end', 'support ends', 'end of support'],
  condition: ['condition', 'state', 'status'],
  cart: ['cart', 'trolley', 'cabinet'],
  slot: ['slot', 'position', 'bay'],
  room: ['room'],
};
const dates = ['boughtOn', 'warrantyEnds', 'updatesEnd'] as const;

export interface InventoryReading {
  /** Index of the record with the headings; -1: none was found. */
  header: number;
  headings: string[];
  columns: (DeviceField | null)[];
}

/** The row among the first ten with the most known headings; `picked` says otherwise of single columns. */
export function readHeadings(
  records: readonly RawRecord[],
  picked: Readonly<Record<number, DeviceField | null>> = {},
): InventoryReading {
  const plain = (text: string) =>
    fold(text)
      .replace(/[^a-z0-9]+/g, ' ')
      .trim();
  const fieldOf = (text: string): DeviceField | null =>
    deviceFields.find((field) => headings[field].includes(plain(text))) ?? null;
  let [header, most] = [-1, 1];
  records.slice(0, 10).forEach(({ cells }, i) => {
    const known = new Set(cells.map(fieldOf).filter(Boolean)).size;
    if (known > most) [header, most] = [i, known];
  });
  const titles = header < 0 ? [] : records[header]!.cells;
  const width = Math.max(0, ...records.slice(0, 200).map(({ cells }) => cells.length));
  const seen = new Set<DeviceField>();
  const columns = Array.from({ length: width }, (_, i): DeviceField | null => {
    const field = i in picked ? picked[i]! : fieldOf(titles[i] ?? '');
    if (field === null || seen.has(field)) return null;
    seen.add(field);
    return field;
  });
  return { header, headings: Array.from({ length: width }, (_, i) => titles[i]?.trim() ?? ''), columns };
}

export interface InventoryProblem {
  line: number;
  message: string;
}
export interface InventoryPlan {
  changes: Change[];
  fresh: number;
  changed: number;
  same: number;
  problems: InventoryProblem[];
}
export interface InventoryAround {
  devices: readonly Device[];
  schools: readonly School[];
  carts: readonly Cart[];
  /** Where the list names no school. */
  schoolId: string | null;
  /** Schools to which the list may speak; null: all. */
  mine: ReadonlySet<string> | null;
  mint: () => string;
}

export function planInventory(
  records: readonly RawRecord[],
  reading: InventoryReading,
  around: InventoryAround,
): InventoryPlan {
  const rows = records.slice(reading.header + 1);
  const at = (field: DeviceField) => reading.columns.indexOf(field);
  const cellsOf = (field: DeviceField) => rows.map(({ cells }) => cells[at(field)] ?? '');
  // A column that could be read either way is as the others of the list are.
  const usual = guessDateOrder(dates.flatMap(cellsOf)).order;
  const orders = Object.fromEntries(
    dates.map((field) => {
      const { order, confidence } = guessDateOrder(cellsOf(field));
      return [field, confidence < sureOrder ? usual : order];
    }),
  );
  const byTag = new Map(around.devices.map((device) => [device.tag.toUpperCase(), device]));
  const bySerial = new Map(
    around.devices.flatMap((device) => (device.serial ? [[device.serial.toUpperCase(), device]] : [])),
  );
  const schools = schoolFinder(around.schools);
  const carts = new Map(around.carts.map((cart) => [fold(cart.name), cart]));
  const made: InventoryPlan = { changes: [], fresh: 0, changed: 0, same: 0, problems: [] };
  const seen = new Set<string>();
  for (const { line, cells } of rows) {
    const cell = (field: DeviceField): string => (at(field) < 0 ? '' : (cells[at(field)]?.trim() ?? ''));
    const problem = (message: string) => made.problems.push({ line, message });
    const [tag, serial] = [cell('tag'), cell('serial')];
    const known = byTag.get(tag.toUpperCase()) ?? bySerial.get(serial.toUpperCase());
    const key = known?.id ?? tag.toUpperCase();
    if (!known && tag === '') problem(say('devices.itHasNoTagAnd'));
    else if (seen.has(key)) problem(say('devices.isInTheListTwice', { tag: tag || serial }));
    else {
      seen.add(key);
      const facts: Partial<Columns<'device'>> = {};
      const wrong = fill(facts, cell, { orders, schools, carts, around });
      for (const message of wrong) problem(message);
      // A school that is not on record is not the one of the whole list: the row is left out.
      if (cell('school') && facts.schoolId === undefined) continue;
      const schoolId = (facts.schoolId ?? known?.schoolId ?? around.schoolId) as string | null;
      if (schoolId === null) problem(say('devices.itHasNoSchoolChoose'));
      else if (around.mine && !around.mine.has(schoolId)) problem(say('devices.itIsAtASchool'));
      else if (known) {
        const fields = (Object.keys(facts) as (keyof Columns<'device'>)[]).filter(
          (field) => facts[field] !== known[field],
        );
        if (fields.length === 0) made.same++;
        else {
          made.changed++;
          const only = (from: Partial<Columns<'device'>>): Partial<Columns<'device'>> =>
            Object.fromEntries(fields.map((field) => [field, from[field]]));
          made.changes.push({
            ...updates('device', known.id, only(known), only(facts), say('devices.fromTheList')),
            label: known.tag,
            subject: known.id,
            origin: { source: say('devices.theList'), line },
          });
        }
      } else if (!facts.model) problem(say('devices.hasNoModel', { tag }));
      else {
        made.fresh++;
        const id = around.mint();
        const { serial = null, boughtOn = null, warrantyEnds = null, updatesEnd = null } = facts;
        const { model, condition = 'good', cartId = null, slot = null, room = null } = facts;
        const bought = { boughtOn, warrantyEnds, updatesEnd };
        const after = { tag, serial, model, schoolId, ...bought, condition, cartId, slot, room };
        made.changes.push({
          ...creates('device', id, after, say('devices.newInTheList')),
          label: tag,
          subject: id,
          origin: { source: say('devices.theList'), line },
        });
      }
    }
  }
  made.changes = ordered(made.changes).changes;
  return made;
}

/** Puts in what the row says; returns what of it cannot be read. */
function fill(
  facts: Partial<Columns<'device'>>,
  cell: (field: DeviceField) => string,
  known: {
    orders: Record<string, Parameters<typeof readDate>[1]>;
    schools: ReturnType<typeof schoolFinder<InventoryAround['schools'][number]>>;
    carts: ReadonlyMap<string, Cart>;
    around: InventoryAround;
  },
): string[] {
  const wrong: string[] = [];
  for (const field of ['serial', 'model', 'room'] as const) if (cell(field)) facts[field] = cell(field);
  for (const field of dates) {
    if (!cell(field)) continue;
    const date = readDate(cell(field), known.orders[field]!);
    if (date === null) wrong.push(say('devices.isNotAValidDate', { text: cell(field) }));
    else facts[field] = date;
  }
  if (cell('school')) {
    const id = known.schools.find(cell('school'))?.id;
    if (id === undefined) wrong.push(say('devices.thereIsNoSchoolNamed', { text: cell('school') }));
    else facts.schoolId = id;
  }
  if (cell('condition')) {
    const word = fold(cell('condition'));
    const condition = conditions.find((one) => one === word);
    if (condition) facts.condition = condition;
    else wrong.push(say('devices.isNotAValidCondition', { text: cell('condition'), list: conditions.join(', ') }));
  }
  if (cell('cart')) {
    const cart = known.carts.get(fold(cell('cart')));
    if (cart) facts.cartId = cart.id;
    else wrong.push(say('devices.thereIsNoCartNamed', { text: cell('cart') }));
  }
  if (cell('slot')) {
    const slot = Number(cell('slot'));
    if (Number.isInteger(slot) && slot > 0) facts.slot = slot;
    else wrong.push(say('devices.isNotAValidSlot', { text: cell('slot') }));
  }
  return wrong;
}
