/** Single changes of devices, loans, carts and bookings: each a plan that applies at once. And lists of devices, as plans. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { inScope, isEverywhere, isTheirs } from '#core/authority/index';
import { planInventory, readHeadings } from '#core/devices/index';
import type { Change } from '#core/plan/index';
import { type Booking, type Cart, type Columns, conditions, type Device, type Step } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { creates, ends, updates } from '#core/register/steps';
import { decode, guessDelimiter, isZip, type RawRecord, readWorkbook, Refusal, split } from '#core/tabular/index';
import { Fault, notFound } from '../faults';
import type { Services, Viewer } from '../services';
import type { Body, InventoryOrder, InventoryPreview } from '../contract';
import type { Db } from '../db/connection';
import { person } from '../people/sheet';
import { applyNow } from '../plans/now';
import { savePlan } from '../plans/store';
import { mint } from '../plans/mint';
import { deviceOf } from './list';

type Done = Promise<{ planId: string; id: string }>;

async function now(
  { db }: Pick<Services, 'db'>,
  viewer: Viewer,
  title: string,
  schoolId: string,
  steps: (Step & { label: string; subject: string })[],
): Done {
  const plan = { changes: steps satisfies Change[] };
  const { planId } = await applyNow(db, { kind: 'edit', title, schoolId, createdBy: viewer.personId, plan });
  return { planId, id: steps[0]!.id };
}

export async function editDevice(
  services: Services,
  viewer: Viewer,
  id: string,
  { field, before, after }: Body<'POST /api/devices/:id/edit'>,
): Done {
  const { db, config } = services;
  const device = await deviceOf(db, viewer, id, config.today());
  if ((field === 'tag' || field === 'model' || field === 'condition') && !after)
    throw new Fault('invalid', say('devices.aDeviceNeedsA', { field }));
  if (field === 'condition' && !(conditions as readonly unknown[]).includes(after))
    throw new Fault('invalid', say('devices.thereIsNoSuchCondition', { list: conditions.join(', ') }));
  if (field === 'tag') {
    const same = await db.models.device.findOne({
      attributes: ['id'],
      where: { tag: String(after), id: { [Op.ne]: id } },
      raw: true,
    });
    if (same) throw new Fault('conflict', say('devices.anotherDeviceHasTheTag', { tag: after }));
  }
  if (field === 'cartId' && after !== null) {
    const cart = await cartOf(db, viewer, String(after));
    if (cart.schoolId !== device.schoolId)
      throw new Fault('invalid', say('devices.isNotAtTheSame', { name: cart.name, tag: device.tag }));
  }
  if (field === 'slot' && after !== null) await freeSlot(db, viewer, device, Number(after));
  // A slot is one of its cart.
  const leaves = field === 'cartId' && device.slot !== null;
  const step = updates(
    'device',
    id,
    { [field]: before, ...(leaves ? { slot: device.slot } : {}) },
    { [field]: after, ...(leaves ? { slot: null } : {}) },
    say('classes.editedByHand'),
  );
  return now(services, viewer, say('devices.editDevice', { tag: device.tag }), device.schoolId, [
    { ...step, label: device.tag, subject: device.personId ?? id },
  ]);
}

export async function lend(
  services: Services,
  viewer: Viewer,
  id: string,
  { personId, kind, due }: Body<'POST /api/devices/:id/lend'>,
): Done {
  const { db, config } = services;
  const today = config.today();
  const device = await deviceOf(db, viewer, id, today);
  const who = await person(db, viewer, personId);
  if (device.personId)
    throw new Fault('conflict', say('devices.isWithReturnItFirst2', { tag: device.tag, holder: device.holder }));
  if (who.status !== 'active') throw new Fault('invalid', say('devices.isNoLongerHere2', { name: personLabel(who) }));
  if (kind === 'loan' && (due === null || due < today)) throw new Fault('invalid', say('devices.dueChooseADueDate'));
  const after: Columns<'loan'> = {
    deviceId: id,
    personId,
    kind,
    begins: today,
    due: kind === 'own' ? null : due,
    ends: null,
  };
  return now(services, viewer, say('devices.to4', { tag: device.tag, name: personLabel(who) }), device.schoolId, [
    { ...creates('loan', mint(), after, `${device.tag}, ${device.model}`), label: personLabel(who), subject: personId },
  ]);
}

export async function takeBack(services: Services, viewer: Viewer, id: string): Done {
  const { db, config } = services;
  const device = await deviceOf(db, viewer, id, config.today());
  const loan = await db.models.loan.findOne({
    attributes: ['id', 'personId'],
    where: { deviceId: id, ends: null },
    raw: true,
  });
  if (!loan) throw new Fault('conflict', say('devices.isNotCheckedOut2', { tag: device.tag }));
  return now(services, viewer, say('devices.returnedBy', { tag: device.tag, holder: device.holder }), device.schoolId, [
    {
      ...ends('loan', loan.id, config.today(), say('devices.wasReturned', { tag: device.tag })),
      label: device.holder!,
      subject: loan.personId,
    },
  ]);
}

/** Throws Fault unless the device's cart has that slot and nothing in it. */
async function freeSlot(db: Db, viewer: Viewer, { id, tag, cartId }: Device, slot: number): Promise<void> {
  if (cartId === null) throw new Fault('invalid', say('devices.isNotInACart', { tag }));
  const cart = await cartOf(db, viewer, cartId);
  if (slot > cart.slots) throw new Fault('invalid', say('devices.hasSlots', { name: cart.name, slots: cart.slots }));
  const there = await db.models.device.findOne({
    attributes: ['tag'],
    where: { cartId, slot, id: { [Op.ne]: id } },
    raw: true,
  });
  if (there) throw new Fault('conflict', say('devices.isInSlotOf', { tag: there.tag, slot, name: cart.name }));
}

async function cartOf(db: Db, viewer: Viewer, id: string): Promise<Cart> {
  const cart = await db.models.cart.findOne({ where: { id, ends: null }, raw: true });
  if (!cart || !inScope(viewer, cart.schoolId)) throw notFound(say('api.thisCart'));
  return cart;
}

export async function addCart(services: Services, viewer: Viewer, body: Body<'POST /api/carts'>): Done {
  if (!inScope(viewer, body.schoolId)) throw new Fault('not-allowed', say('devices.thisSchoolIsNotYours'));
  const same = await services.db.models.cart.findOne({
    attributes: ['id'],
    where: { name: body.name, ends: null },
    raw: true,
  });
  if (same) throw new Fault('conflict', say('devices.alreadyExists', { name: body.name }));
  return now(services, viewer, say('devices.newCart2', { name: body.name }), body.schoolId, [
    { ...creates('cart', mint(), { ...body, ends: null }, say('devices.newCart3')), label: body.name, subject: mint() },
  ]);
}

export async function book(services: Services, viewer: Viewer, body: Body<'POST /api/bookings'>): Done {
  const { db } = services;
  const cart = await cartOf(db, viewer, body.cartId);
  const found = await db.models.class.findOne({ where: { id: body.classId, ends: null }, raw: true });
  if (!found || !isTheirs(viewer, 'classes', found)) throw notFound(say('api.thisClass'));
  if (found.schoolId !== cart.schoolId)
    throw new Fault('invalid', say('devices.isNotAtTheSame2', { name: cart.name, class: found.name }));
  return now(services, viewer, say('devices.for', { name: cart.name, class: found.name }), cart.schoolId, [
    {
      ...creates(
        'booking',
        mint(),
        { ...body, ends: null },
        say('devices.for', { name: cart.name, class: found.name }),
      ),
      label: cart.name,
      subject: found.id,
    },
  ]);
}

async function bookingOf(db: Db, viewer: Viewer, id: string): Promise<{ booking: Booking; cart: Cart }> {
  const booking = await db.models.booking.findOne({ where: { id, ends: null }, raw: true });
  if (!booking) throw notFound(say('api.thisBooking'));
  const cart = await cartOf(db, viewer, booking.cartId);
  if (!isTheirs(viewer, 'classes', { id: booking.classId, schoolId: cart.schoolId }))
    throw notFound(say('api.thisBooking'));
  return { booking, cart };
}

export async function moveBooking(services: Services, viewer: Viewer, id: string, cartId: string): Done {
  const { booking, cart } = await bookingOf(services.db, viewer, id);
  const to = await cartOf(services.db, viewer, cartId);
  return now(services, viewer, say('devices.insteadOf', { name: to.name, cart: cart.name }), cart.schoolId, [
    {
      ...updates('booking', id, { cartId: cart.id }, { cartId }, say('devices.insteadOf2', { name: cart.name })),
      label: to.name,
      subject: booking.classId,
    },
  ]);
}

export async function endBooking(services: Services, viewer: Viewer, id: string): Done {
  const { booking, cart } = await bookingOf(services.db, viewer, id);
  return now(services, viewer, say('devices.isFreeAgain', { name: cart.name }), cart.schoolId, [
    {
      ...ends('booking', id, services.config.today(), say('devices.bookingEnded')),
      label: cart.name,
      subject: booking.classId,
    },
  ]);
}

/** The file's records: text in any encoding, or the first filled sheet of a workbook. Throws Refusal. */
async function recordsOf({ file, text }: InventoryOrder): Promise<RawRecord[]> {
  if (file === null) return split(text, guessDelimiter(text).delimiter);
  const bytes = new Uint8Array(Buffer.from(file.base64, 'base64'));
  if (isZip(bytes)) return (await readWorkbook(bytes)).find(({ records }) => records.length > 0)?.records ?? [];
  const decoded = decode(bytes).text;
  return split(decoded, guessDelimiter(decoded).delimiter);
}

async function inventory({ db }: Services, viewer: Viewer, order: InventoryOrder) {
  const records = await recordsOf(order).catch((error: unknown) => {
    throw error instanceof Refusal ? new Fault('invalid', error.message) : error;
  });
  const reading = readHeadings(records, order.picked);
  if (reading.header < 0) throw new Fault('invalid', say('devices.noLineHasHeadingsSuch'));
  const [devices, schools, carts] = await Promise.all([
    db.models.device.findAll({ raw: true }),
    db.models.school.findAll({ raw: true }),
    db.models.cart.findAll({ where: { ends: null }, raw: true }),
  ]);
  const mine = isEverywhere(viewer) ? null : new Set(viewer.schoolIds);
  return {
    records,
    reading,
    made: planInventory(records, reading, { devices, schools, carts, schoolId: order.schoolId, mine, mint }),
  };
}

export async function previewInventory(
  services: Services,
  viewer: Viewer,
  order: InventoryOrder,
): Promise<InventoryPreview> {
  const { records, reading, made } = await inventory(services, viewer, order);
  const { fresh, changed, same, problems } = made;
  return {
    headings: reading.headings,
    columns: reading.columns,
    rows: records.slice(reading.header + 1, reading.header + 13),
    total: records.length - reading.header - 1,
    fresh,
    changed,
    same,
    problems: problems.slice(0, 100),
    problemCount: problems.length,
  };
}

export async function planDevices(
  services: Services,
  viewer: Viewer,
  order: InventoryOrder,
): Promise<{ planId: string }> {
  const { made } = await inventory(services, viewer, order);
  if (made.changes.length === 0) throw new Fault('invalid', say('devices.theListMatchesWhatIs'));
  const { db } = services;
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      kind: 'inventory',
      title: say('devices.devicesFrom', { name: order.file?.name ?? say('devices.aPastedList') }),
      schoolId: order.schoolId,
      createdBy: viewer.personId,
      plan: { changes: made.changes },
      waiting: made.problems
        .slice(0, 2000)
        .map(({ line, message }) => ({ line, message: say('devices.line2', { line, message }) })),
    }),
  );
  return { planId };
}
