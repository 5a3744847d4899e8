/**
 * The scan loop as a machine: what was scanned, made sense of by what was scanned before. It knows neither server nor
 * screen; who or what a text stands for is looked up outside. A scan that makes no sense says why and changes nothing.
 *
 *   give:  person, device, device of the next one …  (a device is given to whoever was scanned last, once)
 *   back:  device, device, …
 *   swap:  the broken one, then the spare that its holder gets instead
 *   count: cart, then every device in it; the cart again, or another one, ends the count
 */
import { say } from '#core/messages/say';
import type { Device, Loan, Step } from '#core/entities/index';
import { creates, ends, updates } from '#core/register/steps';
import { canBeGiven } from './stock';

export type Mode = 'give' | 'back' | 'swap' | 'count';

export interface ScanState {
  mode: Mode;
  /** Waits for a device: id and name. */
  person: { id: string; label: string } | null;
  /** Waits for its spare. */
  broken: { device: Device; loan: Loan } | null;
  cart: { id: string; name: string } | null;
  /** Ids of the devices that were counted in the cart. */
  counted: string[];
  /** The cart that was scanned while the count of another one is unfinished: scanned again, its own count begins. */
  asked?: string | undefined;
}
export const beginning: ScanState = { mode: 'give', person: null, broken: null, cart: null, counted: [] };

export type Scanned =
  | { kind: 'mode'; mode: Mode }
  /** With the tags of what they have. */
  | { kind: 'person'; id: string; label: string; here: boolean; has?: string[] }
  /** With who has it, and where it belongs. */
  | { kind: 'device'; device: Device; loan: Loan | null; holder: string | null; cart: string | null }
  /** `out`: somebody has it; `repair`: it is broken or being repaired. */
  | { kind: 'cart'; id: string; name: string; inside: { id: string; tag: string; out?: boolean; repair?: boolean }[] }
  | { kind: 'unknown'; text: string };

/** `noted`: understood, more must come; `wrong`: nothing was changed. Each has a sound and a shape of its own. */
export type Tone = 'noted' | 'taken' | 'returned' | 'counted' | 'wrong';
export interface Said {
  tone: Tone;
  text: string;
}
export interface Scan {
  state: ScanState;
  said: Said;
  /** To be applied at once, all of it or nothing; with whom it is about. */
  steps: (Step & { label: string; subject: string })[];
}
export interface ScanTools {
  /** yyyy-mm-dd */
  today: string;
  mint: () => string;
  /** Loans made in `give` are theirs (null) or end on a day. */
  due: string | null;
}

/** Texts that choose what is done, as on the sheet beside the scanner: the same in every language. */
export const modeCodes: Record<Mode, string> = { give: '+GIVE', back: '+BACK', swap: '+SWAP', count: '+COUNT' };
export const modeTexts: Record<string, Mode> = Object.fromEntries(
  Object.entries(modeCodes).map(([mode, code]) => [code, mode as Mode]),
);
const modeWords: Record<Mode, string> = {
  give: say('devices.checkingOutScanAPerson'),
  back: say('devices.returningScanEachDevice'),
  swap: say('devices.swappingScanTheBrokenDevice'),
  count: say('devices.checkingScanTheCartThen'),
};

export function scan(state: ScanState, what: Scanned, tools: ScanTools): Scan {
  const answer = (tone: Tone, text: string, next: ScanState = state, steps: Scan['steps'] = []): Scan => ({
    state: next,
    said: { tone, text },
    steps,
  });
  const wrong = (text: string) => answer('wrong', text);
  if (what.kind === 'unknown') return wrong(say('devices.matchesNothingOnRecord', { text: what.text }));
  if (what.kind === 'mode') return answer('noted', modeWords[what.mode], { ...beginning, mode: what.mode });
  switch (state.mode) {
    case 'give': {
      if (what.kind === 'cart') return wrong(say('devices.isACartScanA', { name: what.name }));
      if (what.kind === 'person') {
        const { id, label, has = [] } = what;
        if (!what.here) return wrong(say('devices.isNoLongerHere', { label }));
        const text =
          has.length > 0
            ? say('devices.hasADeviceAlready', { label, tags: has })
            : say('devices.nowScanTheDevice', { label });
        return answer('noted', text, { ...state, person: { id, label } });
      }
      const { person } = state;
      if (!person)
        return wrong(
          what.loan
            ? say('devices.isWith', { tag: what.device.tag, name: what.holder ?? say('devices.anotherPerson') })
            : say('devices.scanThePersonWhoGets', { tag: what.device.tag }),
        );
      const why = cannotGive(what, tools.today);
      if (why) return wrong(why);
      const step = lend(what.device, person, tools);
      return answer(
        'taken',
        say('devices.to3', { tag: what.device.tag, label: person.label }),
        { ...state, person: null },
        [step],
      );
    }
    case 'back': {
      if (what.kind !== 'device') return wrong(say('devices.scanTheDevicesThatCome'));
      if (!what.loan) return wrong(say('devices.isNotCheckedOut', { tag: what.device.tag }));
      const steps = [back(what, tools.today)];
      return answer(
        'returned',
        say('devices.scannedBack', {
          tag: what.device.tag,
          ...{ holder: what.holder, hasHolder: Boolean(what.holder), cart: what.cart, hasCart: Boolean(what.cart) },
        }),
        state,
        steps,
      );
    }
    case 'swap': {
      if (what.kind !== 'device') return wrong(say('devices.scanTheBrokenDeviceThen2'));
      const { device } = what;
      const { broken, person } = state;
      if (!broken || !person) {
        const { loan } = what;
        if (!loan) return wrong(say('devices.isNotCheckedOutSo', { tag: device.tag }));
        const holder = { id: loan.personId, label: what.holder ?? '' };
        return answer('noted', say('devices.ofNowScanTheSpare', { tag: device.tag, label: holder.label }), {
          ...state,
          broken: { device, loan },
          person: holder,
        });
      }
      if (device.id === broken.device.id) return wrong(say('devices.isTheBrokenDeviceScan', { tag: device.tag }));
      const why = cannotGive(what, tools.today);
      if (why) return wrong(why);
      const steps = [
        ...comesBroken(broken.device, broken.loan, person.label, tools.today),
        lend(device, person, { ...tools, due: broken.loan.due }),
      ];
      const text = say('devices.toInsteadOf', { tag: device.tag, label: person.label, broken: broken.device.tag });
      return answer('taken', text, { ...state, broken: null, person: null }, steps);
    }
    case 'count': {
      if (what.kind === 'person') return wrong(say('devices.scanTheCartThenThe'));
      if (what.kind === 'cart') {
        const { asked, ...now } = state;
        if (state.cart && state.cart.id !== what.id && asked !== what.id)
          return answer('wrong', say('devices.countIsUnfinished', { name: state.cart.name, other: what.name }), {
            ...now,
            asked: what.id,
          });
        if (state.cart?.id !== what.id)
          return answer('noted', say('devices.scanEachDeviceThenThe', { name: what.name }), {
            ...now,
            cart: { id: what.id, name: what.name },
            counted: [],
          });
        const absent = what.inside.filter(({ id }) => !state.counted.includes(id));
        const missing = absent.filter(({ out, repair }) => !out && !repair);
        const text = say('devices.cartChecked', {
          ...{ name: what.name, found: what.inside.length - absent.length, count: what.inside.length },
          out: absent.filter(({ out }) => out).length,
          repair: absent.filter(({ out, repair }) => repair && !out).length,
          ...{ n: missing.length, missing: missing.map(({ tag }) => tag) },
        });
        return answer(missing.length > 0 ? 'wrong' : 'counted', text, { ...now, cart: null, counted: [] });
      }
      const { device, cart } = what;
      if (!state.cart) return wrong(say('devices.scanTheCartFirstThen', { tag: device.tag }));
      if (state.counted.includes(device.id)) return wrong(say('devices.wasAlreadyScanned', { tag: device.tag }));
      const next = { ...state, asked: undefined, counted: [...state.counted, device.id] };
      if (device.cartId !== state.cart.id)
        return wrong(
          cart
            ? say('devices.belongsInto', { tag: device.tag, cart })
            : say('devices.belongsInNoCart', { tag: device.tag }),
        );
      return answer(
        'counted',
        say('devices.in', { tag: device.tag, count: next.counted.length, name: state.cart.name }),
        next,
      );
    }
  }
}

function cannotGive({ device, loan, holder }: Extract<Scanned, { kind: 'device' }>, today: string): string | null {
  if (loan)
    return say('devices.isWithReturnItFirst', { tag: device.tag, holder: holder ?? say('devices.anotherPerson') });
  if (canBeGiven(device, today)) return null;
  return device.condition === 'good' || device.condition === 'worn'
    ? say('devices.noLongerGetsUpdates', { tag: device.tag })
    : say('devices.cannotBeGiven', { tag: device.tag, condition: device.condition });
}
const lend = (
  device: Device,
  person: { id: string; label: string },
  { today, mint, due }: ScanTools,
): Scan['steps'][number] => ({
  ...creates(
    'loan',
    mint(),
    { deviceId: device.id, personId: person.id, kind: due === null ? 'own' : 'loan', begins: today, due, ends: null },
    `${device.tag}, ${device.model}`,
  ),
  label: person.label,
  subject: person.id,
});
const back = (
  { device, loan, holder }: Extract<Scanned, { kind: 'device' }>,
  today: string,
): Scan['steps'][number] => ({
  ...ends('loan', loan!.id, today, say('devices.wasReturned', { tag: device.tag })),
  label: holder ?? device.tag,
  subject: loan!.personId,
});
const comesBroken = (device: Device, loan: Loan, holder: string, today: string): Scan['steps'] => [
  {
    ...ends('loan', loan.id, today, say('devices.isBroken', { tag: device.tag })),
    label: holder,
    subject: loan.personId,
  },
  ...(device.condition === 'broken'
    ? []
    : [
        {
          ...updates(
            'device',
            device.id,
            { condition: device.condition },
            { condition: 'broken' },
            say('devices.swappedForASpare'),
          ),
          label: device.tag,
          subject: device.id,
        },
      ]),
];
