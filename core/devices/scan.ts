/**
 * The scan loop as a machine: what was scanned, made sense of by what was scanned before. It knows neither server nor
 * screen; who or what a text stands for is looked up outside. A scan that makes no sense says why and changes nothing.
 *
 *   give:  person, device, device of the next one …  (a device is given to whoever was scanned last, once)
 *   back:  device, device, …
 *   swap:  the broken one, then the spare that its holder gets instead
 *   count: cart, then every device in it; the cart again, or another one, ends the count
 */
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
}
export const beginning: ScanState = { mode: 'give', person: null, broken: null, cart: null, counted: [] };

export type Scanned =
  | { kind: 'mode'; mode: Mode }
  | { kind: 'person'; id: string; label: string; here: boolean }
  /** With who has it, and where it belongs. */
  | { kind: 'device'; device: Device; loan: Loan | null; holder: string | null; cart: string | null }
  | { kind: 'cart'; id: string; name: string; inside: { id: string; tag: string }[] }
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

/** Texts that choose what is done, as on the sheet beside the scanner. */
export const modeTexts: Record<string, Mode> = { '+GIVE': 'give', '+BACK': 'back', '+SWAP': 'swap', '+COUNT': 'count' };
const modeWords: Record<Mode, string> = {
  give: 'Giving: scan who, then the device',
  back: 'Taking back: scan each device',
  swap: 'Swapping: scan the broken one, then its spare',
  count: 'Counting: scan the cart, then each device in it',
};

export function scan(state: ScanState, what: Scanned, tools: ScanTools): Scan {
  const say = (tone: Tone, text: string, next: ScanState = state, steps: Scan['steps'] = []): Scan => ({
    state: next,
    said: { tone, text },
    steps,
  });
  const wrong = (text: string) => say('wrong', text);
  if (what.kind === 'unknown') return wrong(`${what.text} is nobody and nothing on record`);
  if (what.kind === 'mode') return say('noted', modeWords[what.mode], { ...beginning, mode: what.mode });
  switch (state.mode) {
    case 'give': {
      if (what.kind === 'cart') return wrong(`${what.name} is a cart. Scan a person, then their device`);
      if (what.kind === 'person') {
        const { id, label } = what;
        return what.here
          ? say('noted', `${label}: now the device`, { ...state, person: { id, label } })
          : wrong(`${label} is no longer here`);
      }
      const { person } = state;
      if (!person)
        return wrong(
          what.loan
            ? `${what.device.tag} is with ${what.holder ?? 'somebody'}`
            : `Scan who gets ${what.device.tag} first`,
        );
      const why = cannotGive(what, tools.today);
      if (why) return wrong(why);
      const step = lend(what.device, person, tools);
      return say('taken', `${what.device.tag} to ${person.label}`, { ...state, person: null }, [step]);
    }
    case 'back': {
      if (what.kind !== 'device') return wrong('Scan the devices that come back');
      if (!what.loan) return wrong(`${what.device.tag} is with nobody`);
      const steps = [back(what, tools.today)];
      return say(
        'returned',
        `${what.device.tag}${what.holder ? ` from ${what.holder}` : ' is back'}${what.cart ? `, into ${what.cart}` : ''}`,
        state,
        steps,
      );
    }
    case 'swap': {
      if (what.kind !== 'device') return wrong('Scan the broken device, then its spare');
      const { device } = what;
      const { broken, person } = state;
      if (!broken || !person) {
        const { loan } = what;
        if (!loan) return wrong(`${device.tag} is with nobody, so nobody needs a spare for it`);
        const holder = { id: loan.personId, label: what.holder ?? '' };
        return say('noted', `${device.tag} of ${holder.label}: now the spare`, {
          ...state,
          broken: { device, loan },
          person: holder,
        });
      }
      if (device.id === broken.device.id) return wrong(`${device.tag} is the broken one. Scan its spare`);
      const why = cannotGive(what, tools.today);
      if (why) return wrong(why);
      const steps = [
        ...comesBroken(broken.device, broken.loan, person.label, tools.today),
        lend(device, person, { ...tools, due: broken.loan.due }),
      ];
      const text = `${device.tag} to ${person.label} instead of ${broken.device.tag}`;
      return say('taken', text, { ...state, broken: null, person: null }, steps);
    }
    case 'count': {
      if (what.kind === 'person') return wrong('Scan the cart, then the devices in it');
      if (what.kind === 'cart') {
        const same = state.cart?.id === what.id;
        if (!same)
          return say('noted', `${what.name}: scan each device, then the cart again`, {
            ...state,
            cart: { id: what.id, name: what.name },
            counted: [],
          });
        const missing = what.inside.filter(({ id }) => !state.counted.includes(id));
        const found = what.inside.length - missing.length;
        const text = `${what.name}: ${found} of ${what.inside.length} are there${missing.length > 0 ? `; missing ${missing.map(({ tag }) => tag).join(', ')}` : ''}`;
        return say(missing.length > 0 ? 'wrong' : 'counted', text, { ...state, cart: null, counted: [] });
      }
      const { device, cart } = what;
      if (!state.cart) return wrong(`Scan the cart first, then ${device.tag}`);
      if (state.counted.includes(device.id)) return wrong(`${device.tag} was counted already`);
      const next = { ...state, counted: [...state.counted, device.id] };
      if (device.cartId !== state.cart.id)
        return wrong(`${device.tag} belongs ${cart ? `into ${cart}` : 'into no cart'}`);
      return say('counted', `${device.tag}, ${next.counted.length} in ${state.cart.name}`, next);
    }
  }
}

function cannotGive({ device, loan, holder }: Extract<Scanned, { kind: 'device' }>, today: string): string | null {
  if (loan) return `${device.tag} is with ${holder ?? 'somebody'}. Take it back first`;
  if (canBeGiven(device, today)) return null;
  return device.condition === 'good' || device.condition === 'worn'
    ? `${device.tag} gets no updates any more`
    : `${device.tag} is ${device.condition === 'repair' ? 'in repair' : device.condition}`;
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
  ...ends('loan', loan!.id, today, `${device.tag} came back`),
  label: holder ?? device.tag,
  subject: loan!.personId,
});
const comesBroken = (device: Device, loan: Loan, holder: string, today: string): Scan['steps'] => [
  { ...ends('loan', loan.id, today, `${device.tag} is broken`), label: holder, subject: loan.personId },
  ...(device.condition === 'broken'
    ? []
    : [
        {
          ...updates(
            'device',
            device.id,
            { condition: device.condition },
            { condition: 'broken' },
            'swapped for a spare',
          ),
          label: device.tag,
          subject: device.id,
        },
      ]),
];
