/**
 * The scan loop at the server. Scans come numbered, in order, and perhaps more than once, as a lost connection is
 * sent over again: each is booked in one transaction with how far its station is, so none counts twice or out of turn.
 */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { theirRows } from '#core/authority/index';
import { beginning, modeTexts, scan, type Scanned, type ScanState } from '#core/devices/index';
import type { Device } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { Fault } from '../faults';
import type { Services, Viewer } from '../services';
import type { ScanAnswer, ScanBatch } from '../contract';
import { hashToken } from '../auth/seal';
import { nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { applyNow } from '../plans/now';
import { mint } from '../plans/mint';
import { joined, joinedOne } from '../db/joined';

type SaidLine = ScanAnswer['said'][number];
/** Answers that a station is given again when it asks again. */
const kept = 400;

export async function takeScans({ db, config }: Services, viewer: Viewer, batch: ScanBatch): Promise<ScanAnswer> {
  const { station, scans } = batch;
  await db.models.scanStations.bulkCreate(
    [{ id: station, ownerId: viewer.personId, state: JSON.stringify(beginning), seq: 0, said: '[]', at: nowIso() }],
    { ignoreDuplicates: true },
  );
  const row = await db.models.scanStations.findOne({
    attributes: ['ownerId', 'state', 'seq', 'said'],
    where: { id: station },
    raw: true,
  });
  if (row?.ownerId !== viewer.personId) throw new Fault('not-allowed', say('devices.anotherPersonIsScanningHere'));
  let state = JSON.parse(row.state) as ScanState;
  let { seq } = row;
  let said = JSON.parse(row.said) as SaidLine[];
  for (const { seq: n, text, due } of scans) {
    if (n <= seq) continue;
    if (n !== seq + 1) throw new Fault('conflict', say('devices.scanIsMissingArrivedSend', { seq: seq + 1, n }));
    const made = scan(state, await lookUp(db, viewer, text), { today: config.today(), mint, due });
    said = [...said, { seq: n, ...made.said }].slice(-kept);
    const advance = async (tx: Tx) => {
      const [moved] = await db.models.scanStations.update(
        { state: JSON.stringify(made.state), seq: n, said: JSON.stringify(said), at: nowIso() },
        { where: { id: station, seq: n - 1 }, transaction: tx },
      );
      // Sent twice at once: the other one has booked it.
      if (moved === 0) throw new Fault('conflict', say('devices.scanIsAlreadyBeingSaved', { n }));
    };
    if (made.steps.length === 0) await db.transaction(advance);
    else {
      const title = say('devices.scan2', { text: made.said.text });
      const changes = made.steps.map((step) => ({ ...step, origin: { source: 'scanner' } }));
      await applyNow(db, { kind: 'scan', title, createdBy: viewer.personId, plan: { changes } }, async (tx) =>
        advance(tx),
      );
    }
    ({ state } = made);
    seq = n;
  }
  const asked = new Set(scans.map((one) => one.seq));
  return { seq, mode: state.mode, said: said.filter((line) => asked.has(line.seq)) };
}

/** What a scanned text stands for: a mode, a cart, a device by tag or serial number, a person by number, username or login card. */
async function lookUp(db: Db, viewer: Viewer, scanned: string): Promise<Scanned> {
  const text = scanned.trim();
  const mode = modeTexts[text.toUpperCase()];
  if (mode) return { kind: 'mode', mode };
  if (!/^[\x20-\x7e]{1,200}$/.test(text)) return { kind: 'unknown', text: text.slice(0, 40) };
  const shouted = text.toUpperCase();
  const device = await joinedOne(db, 'device', {
    where: { [Op.or]: [{ tag: shouted }, { serial: shouted }] },
    within: [theirRows(viewer, 'atSchool', 'device')],
  });
  if (device) return deviceFound(db, device);
  const cart = await joinedOne(db, 'cart', {
    where: { name: text, ends: null },
    within: [theirRows(viewer, 'atSchool', 'cart')],
  });
  if (cart) {
    const inside = await joined(db, 'device', {
      fields: ['id', 'tag', 'condition'],
      of: { loanId: 'openLoan.id' },
      where: { cartId: cart.id, condition: { [Op.notIn]: ['missing', 'retired'] } },
      order: ['slot', 'tag'],
    });
    const found = inside.map(({ id, tag, condition, loanId }) => ({
      ...{ id, tag, out: loanId !== null, repair: condition === 'broken' || condition === 'repair' },
    }));
    return { kind: 'cart', id: cart.id, name: cart.name, inside: found };
  }
  const within = [theirRows(viewer, 'people', 'person')];
  const token = text.match(/\/c[/#]([0-9A-Z]{26})$/)?.[1];
  const found = token
    ? await joinedOne(db, 'person', {
        whose: { 'allPrintedCards.tokenHash': hashToken(token), 'allPrintedCards.voidedAt': null },
        must: ['allPrintedCards'],
        within,
      })
    : ((await joinedOne(db, 'person', { where: { number: text, status: { [Op.ne]: 'merged' } }, within })) ??
      (await joinedOne(db, 'person', {
        where: { status: { [Op.ne]: 'merged' } },
        whose: { 'allAccount.username': text.toLowerCase() },
        must: ['allAccount'],
        within,
      })));
  if (!found) return { kind: 'unknown', text };
  const loans = await joined(db, 'loan', {
    of: { tag: 'device.tag' },
    where: { personId: found.id, ends: null },
  });
  const has = loans.map(({ tag }) => tag).sort();
  return { kind: 'person', id: found.id, label: personLabel(found), here: found.status === 'active', has };
}

async function deviceFound(db: Db, device: Device): Promise<Scanned> {
  const loan = await joinedOne(db, 'loan', {
    of: { familyName: 'person.familyName', givenName: 'person.givenName', number: 'person.number' },
    where: { deviceId: device.id, ends: null },
  });
  const cart = device.cartId
    ? await db.models.cart.findOne({ attributes: ['name'], where: { id: device.cartId }, raw: true })
    : null;
  const { id, tag, serial, model, schoolId, boughtOn, warrantyEnds, updatesEnd, condition, cartId, slot, room } =
    device;
  return {
    kind: 'device',
    device: { id, tag, serial, model, schoolId, boughtOn, warrantyEnds, updatesEnd, condition, cartId, slot, room },
    loan: loan && {
      id: loan.id,
      deviceId: loan.deviceId,
      personId: loan.personId,
      kind: loan.kind,
      begins: loan.begins,
      due: loan.due,
      ends: loan.ends,
    },
    holder: loan && personLabel(loan),
    cart: cart && (slot === null ? cart.name : say('devices.cartSlot', { name: cart.name, slot })),
  };
}
