import { inEnglish } from '#core/messages/languages';
import fc from 'fast-check';
import { munkres } from 'munkres';
import { describe, expect, it } from 'vitest';
import type { Booking, Device, Loan } from '#core/entities/index';
import {
  assign,
  beginning,
  type Booked,
  canBeGiven,
  type CartState,
  cartTroubles,
  costOf,
  freeCarts,
  modelsOf,
  type Place,
  refresh,
  replaceOn,
  scan,
  type Scanned,
  type ScanState,
  type Stock,
  yearsUntil,
} from './index';

const stockOf: fc.Arbitrary<Stock[]> = fc.array(
  fc.record({
    model: fc.constantFrom('Puffin', 'Petrel', 'Whimbrel'),
    years: fc.integer({ min: 0, max: 5 }),
    free: fc.boolean(),
  }),
  { maxLength: 18 },
);
const question = stockOf.chain((stock) =>
  fc
    .array(
      fc.record({
        group: fc.constantFrom('9A', '9B', '9C'),
        years: fc.integer({ min: 1, max: 4 }),
        has: fc.integer({ min: -1, max: stock.length - 1 }),
      }),
      { maxLength: 14 },
    )
    .map((drawn) => {
      const kept = new Set<number>();
      const places = drawn.map((place): Place => {
        const mine = place.has >= 0 && !stock[place.has]!.free && !kept.has(place.has);
        if (mine) kept.add(place.has);
        return { ...place, has: mine ? place.has : -1 };
      });
      return { places, stock };
    }),
);

describe('the assignment of devices', () => {
  it('is the least costly one, as a reference library finds it over single people, on 500 random cases', () => {
    fc.assert(
      fc.property(question, ({ places, stock }) => {
        const models = modelsOf(places, stock);
        const made = assign(places, stock, models);
        const lacking = places.filter(({ has }) => has < 0);
        const free = stock.filter(({ free: isFree, years }) => isFree && years > 0);
        const mixing = places.length * 20 + 1;
        expect(made.moves).toBe(Math.min(lacking.length, free.length));
        if (made.moves > 0) {
          const cost = (place: Place, device: Stock) => costOf(place, device, models.get(place.group), mixing);
          // The library assigns all rows: there must not be more of them than columns.
          const matrix =
            lacking.length <= free.length
              ? lacking.map((place) => free.map((device) => cost(place, device)))
              : free.map((device) => lacking.map((place) => cost(place, device)));
          const least = munkres(matrix).reduce((sum, [row, column]) => sum + matrix[row]![column]!, 0);
          expect(made.mixed * mixing + made.shortYears).toBe(least);
        }
        // Everyone keeps what they have, and no device goes to two.
        places.forEach(({ has }, i) => has >= 0 && expect(made.device[i]).toBe(has));
        const given = [...made.device].filter((d, i) => d >= 0 && places[i]!.has < 0);
        expect(new Set(given).size).toBe(given.length);
        expect(given.every((d) => stock[d]!.free && stock[d]!.years > 0)).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  it('gives a class one model, and what lasts longest to those who stay longest', () => {
    const of = (group: string, years: number, count: number): Place[] =>
      Array.from({ length: count }, () => ({ group, years, has: -1 }));
    const some = (model: string, years: number, count: number): Stock[] =>
      Array.from({ length: count }, () => ({ model, years, free: true }));
    const places = [...of('9A', 4, 3), ...of('12A', 1, 3)];
    const stock = [...some('Puffin', 1, 3), ...some('Whimbrel', 6, 3)];
    const made = assign(places, stock, new Map());
    expect([...made.device].map((d) => stock[d]!.model)).toEqual([
      'Whimbrel',
      'Whimbrel',
      'Whimbrel',
      'Puffin',
      'Puffin',
      'Puffin',
    ]);
    expect(made).toMatchObject({ moves: 6, unmet: 0, shortYears: 0 });
    const classes = [...of('9A', 4, 3), ...of('9B', 4, 2)];
    const mixed = assign(classes, [...some('Puffin', 4, 2), ...some('Petrel', 4, 3)]);
    expect(mixed.mixed).toBe(0);
    // What each class shall have: the largest first, with the least to spare; else what there is most of.
    const three = [...of('9A', 4, 2), ...of('9B', 4, 3), ...of('9C', 4, 9)];
    const shelf = [...some('Puffin', 4, 5), ...some('Petrel', 4, 3), ...some('Whimbrel', 4, 6), ...some('Old', 0, 20)];
    expect([...modelsOf(three, shelf)].sort()).toEqual([
      ['9A', 'Puffin'],
      ['9B', 'Petrel'],
      ['9C', 'Whimbrel'],
    ]);
    // A class that has devices goes on with the model that most of it has.
    const begun = [...of('9A', 4, 2), { group: '9A', years: 4, has: 0 }, { group: '9A', years: 4, has: 1 }];
    const had: Stock[] = ['Petrel', 'Petrel'].map((model) => ({ model, years: 4, free: false }));
    expect([...modelsOf(begun, [...had, ...some('Puffin', 4, 9), ...some('Petrel', 4, 1)])]).toEqual([
      ['9A', 'Petrel'],
    ]);
  });

  it('counts a device of another model more than any years that are short', () => {
    const place = { group: '9A', years: 4, has: -1 };
    expect(costOf(place, { model: 'Puffin', years: 6, free: true }, 'Puffin', 100)).toBe(0);
    expect(costOf(place, { model: 'Puffin', years: 1, free: true }, 'Puffin', 100)).toBe(3);
    expect(costOf(place, { model: 'Petrel', years: 1, free: true }, 'Puffin', 100)).toBe(103);
    expect(costOf(place, { model: 'Petrel', years: 4, free: true }, undefined, 100)).toBe(0);
  });
});

const booking: fc.Arbitrary<Booked> = fc.record({
  id: fc.uuid(),
  cartId: fc.constantFrom('c1', 'c2', 'c3'),
  classId: fc.constantFrom('k1', 'k2'),
  weekday: fc.integer({ min: 1, max: 2 }),
  period: fc.constantFrom('1', '2'),
  begins: fc.constantFrom('2026-08-26', '2026-10-01'),
  ends: fc.constantFrom(null, '2026-09-15'),
  students: fc.integer({ min: 5, max: 26 }),
});
describe('carts', () => {
  const carts = ['c1', 'c2', 'c3'].map((id, i): CartState => ({
    id,
    schoolId: 's',
    name: id,
    slots: 24,
    room: null,
    ends: null,
    working: 12 + 6 * i,
  }));
  it('promised twice or too small are found, and what is proposed instead is free and large enough', () => {
    fc.assert(
      fc.property(fc.array(booking, { maxLength: 10 }), (bookings) => {
        const open = bookings.filter(({ begins, ends }) => ends === null || begins < ends);
        const troubles = cartTroubles(carts, open);
        // Day by day: on which day has a cart more than one class in a period?
        const days = ['2026-08-26', '2026-09-20', '2026-10-05'];
        const on = (b: Booking, day: string) => b.begins <= day && (b.ends === null || day < b.ends);
        for (const b of open) {
          const clashes = days.some(
            (day) =>
              on(b, day) &&
              open.some(
                (o) =>
                  o !== b && on(o, day) && o.cartId === b.cartId && o.weekday === b.weekday && o.period === b.period,
              ),
          );
          expect(troubles.some(({ kind, bookings: of }) => kind === 'twice' && of.includes(b))).toBe(clashes);
          const working = carts.find(({ id }) => id === b.cartId)!.working;
          expect(troubles.find(({ kind, bookings: of }) => kind === 'too few' && of.includes(b))?.missing ?? 0).toBe(
            Math.max(0, b.students - working),
          );
        }
        for (const { instead, weekday, period, bookings: of } of troubles)
          for (const id of instead) {
            const need = Math.min(...of.map(({ students }) => students));
            expect(carts.find((c) => c.id === id)!.working).toBeGreaterThanOrEqual(need);
            const first = of.find(({ students }) => students === need)!;
            expect(
              days.some(
                (day) =>
                  on(first, day) &&
                  open.some((o) => o.cartId === id && on(o, day) && o.weekday === weekday && o.period === period),
              ),
            ).toBe(false);
          }
      }),
    );
    expect(
      freeCarts(carts, [], {
        schoolId: 's',
        weekday: 1,
        period: '1',
        begins: '2026-08-26',
        ends: null,
        students: 13,
      }).map(({ id }) => id),
    ).toEqual(['c2', 'c3']);
  });
});

const device = (tag: string, more: Partial<Device> = {}): Device => ({
  id: `id ${tag}`,
  tag,
  serial: null,
  model: 'Puffin 11',
  schoolId: 's',
  boughtOn: null,
  warrantyEnds: null,
  updatesEnd: null,
  condition: 'good',
  cartId: null,
  slot: null,
  room: null,
  ...more,
});
const tools = { today: '2026-08-17', mint: () => 'new', due: null };
const shown = (of: Device, loan: Loan | null = null, holder: string | null = null): Scanned => ({
  kind: 'device',
  device: of,
  loan,
  holder,
  cart: null,
});
const loanOf = (of: Device, personId: string): Loan => ({
  id: `loan ${of.tag}`,
  deviceId: of.id,
  personId,
  kind: 'own',
  begins: '2025-08-20',
  due: null,
  ends: null,
});
const wren: Scanned = { kind: 'person', id: 'wren', label: 'Wren', here: true };

describe('the scan loop', () => {
  const run = (list: Scanned[], from: ScanState = beginning) => {
    let state = from;
    return list.map((what) => {
      const made = scan(state, what, tools);
      state = made.state;
      return {
        tone: made.said.tone,
        text: made.said.text,
        steps: made.steps.map(({ entity, op, after }) =>
          `${entity} ${op} ${'deviceId' in after ? (after.deviceId ?? '') : ''}`.trim(),
        ),
        state,
      };
    });
  };
  const mode = (name: 'give' | 'back' | 'swap' | 'count'): Scanned => ({ kind: 'mode', mode: name });

  it('gives a device to whoever was scanned before it, once', () => {
    const made = run([wren, shown(device('D1')), shown(device('D2'))]);
    expect(made.map(({ tone, steps }) => [tone, steps])).toEqual([
      ['noted', []],
      ['taken', ['loan create id D1']],
      ['wrong', []],
    ]);
    expect(inEnglish(made[2]!.text)).toContain('who gets D2');
  });

  it('says what somebody has already before a second device is given', () => {
    const [asked, given] = run([{ ...wren, has: ['D7', 'D8'] }, shown(device('D1'))]);
    expect(inEnglish(asked!.text)).toBe('Wren has D7 and D8 already. Scan a device only to give one more.');
    expect([asked!.tone, given!.tone]).toEqual(['noted', 'taken']);
  });

  it('takes back, and swaps a broken one for a spare in one plan', () => {
    const mine = device('D1');
    const made = run([
      mode('back'),
      shown(mine, loanOf(mine, 'wren'), 'Wren'),
      shown(mine),
      mode('swap'),
      shown(mine, loanOf(mine, 'wren'), 'Wren'),
      shown(mine, loanOf(mine, 'wren'), 'Wren'),
      shown(device('D2')),
    ]);
    expect(made.map(({ tone }) => tone)).toEqual(['noted', 'returned', 'wrong', 'noted', 'noted', 'wrong', 'taken']);
    expect(made.at(-1)!.steps).toEqual(['loan end', 'device update', 'loan create id D2']);
  });

  it('counts a cart and names what is missing', () => {
    const inside = ['D1', 'D2', 'D3'].map((tag) => device(tag, { cartId: 'c' }));
    const cart: Scanned = { kind: 'cart', id: 'c', name: 'Cart 1', inside: inside.map(({ id, tag }) => ({ id, tag })) };
    const made = run([
      mode('count'),
      cart,
      shown(inside[0]!),
      shown(inside[0]!),
      shown(device('D9')),
      shown(inside[2]!),
      cart,
    ]);
    expect(made.map(({ tone }) => tone)).toEqual(['noted', 'noted', 'counted', 'wrong', 'wrong', 'counted', 'wrong']);
    expect(inEnglish(made.at(-1)!.text)).toBe('Cart 1: 2 of 3 are there. Missing: D2');
  });

  it('tells what is out or in repair from what is missing', () => {
    const inside = [
      { id: 'id D1', tag: 'D1' },
      { id: 'id D2', tag: 'D2', out: true },
      { id: 'id D3', tag: 'D3', repair: true },
      { id: 'id D4', tag: 'D4', out: true, repair: true },
    ];
    const cart: Scanned = { kind: 'cart', id: 'c', name: 'Cart 1', inside };
    const [, , all, , none] = run([
      ...[mode('count'), cart, cart],
      ...[cart, { ...cart, inside: inside.filter(({ out, repair }) => out || repair) } as Scanned],
    ]);
    expect([all!.tone, inEnglish(all!.text)]).toEqual([
      'wrong',
      'Cart 1: 0 of 4 are there, 2 checked out, 1 broken or in repair. Missing: D1',
    ]);
    expect([none!.tone, inEnglish(none!.text)]).toEqual([
      'counted',
      'Cart 1: 0 of 3 are there, 2 checked out, 1 broken or in repair',
    ]);
  });

  it('asks before an unfinished count of another cart is given up', () => {
    const cart = (id: string): Scanned => ({ kind: 'cart', id, name: `Cart ${id}`, inside: [] });
    const d1 = device('D1', { cartId: 'a' });
    const made = run([
      mode('count'),
      cart('a'),
      shown(d1),
      cart('b'),
      shown(device('D2', { cartId: 'a' })),
      cart('b'),
      cart('b'),
    ]);
    expect(made.map(({ tone }) => tone)).toEqual(['noted', 'noted', 'counted', 'wrong', 'counted', 'wrong', 'noted']);
    expect(inEnglish(made[3]!.text)).toBe(
      'The count of Cart a is unfinished. Scan Cart a to finish it, or Cart b again to leave it.',
    );
    expect(made.at(-1)!.state).toMatchObject({ cart: { id: 'b' }, counted: [] });
  });

  it('never changes anything when a scan is wrong, and gives nothing that is taken, broken or out of updates', () => {
    const drawn: fc.Arbitrary<Scanned> = fc.oneof(
      fc.constantFrom(...(['give', 'back', 'swap', 'count'] as const)).map(mode),
      fc.constantFrom(wren, { ...wren, here: false } as Scanned, { kind: 'unknown', text: '?' } as Scanned),
      fc.constantFrom<Scanned>({ kind: 'cart', id: 'c', name: 'Cart', inside: [] }),
      fc
        .record({
          tag: fc.constantFrom('D1', 'D2'),
          condition: fc.constantFrom('good', 'worn', 'broken', 'repair', 'missing', 'retired'),
          old: fc.boolean(),
          out: fc.boolean(),
        })
        .map(({ tag, condition, old, out }) => {
          const of = device(tag, {
            condition: condition as Device['condition'],
            updatesEnd: old ? '2026-01-01' : null,
          });
          return shown(of, out ? loanOf(of, 'tomi') : null, out ? 'Tomi' : null);
        }),
    );
    fc.assert(
      fc.property(fc.array(drawn, { maxLength: 25 }), (list) => {
        let state = beginning;
        for (const what of list) {
          const made = scan(state, what, tools);
          if (made.said.tone === 'wrong') expect(made.steps).toEqual([]);
          if (made.said.tone === 'taken' && what.kind === 'device') {
            expect(what.loan).toBe(null);
            expect(canBeGiven(what.device, tools.today)).toBe(true);
          }
          state = made.state;
        }
      }),
    );
  });
});

it('tells when devices are to be replaced, by school year', () => {
  expect(replaceOn({ boughtOn: '2022-07-01', updatesEnd: '2026-06-01' }, 5)).toBe('2026-06-01');
  expect(replaceOn({ boughtOn: '2022-07-01', updatesEnd: '2029-06-01' }, 5)).toBe('2027-07-01');
  expect(replaceOn({ boughtOn: null, updatesEnd: null }, 5)).toBe(null);
  const at = (boughtOn: string, condition: Device['condition'] = 'good') => ({
    model: 'P',
    boughtOn,
    updatesEnd: null,
    condition,
  });
  const made = refresh([at('2018-01-01'), at('2021-10-01'), at('2022-07-01'), at('2022-07-01', 'retired')], {
    today: '2026-08-17',
    begins: '08-26',
    years: 5,
  });
  // The first is overdue, so it counts for the year that runs.
  expect(made).toEqual([
    { year: 2025, model: 'P', count: 1 },
    { year: 2026, model: 'P', count: 2 },
  ]);
  expect([
    yearsUntil('2026-08-17', '2027-08-16'),
    yearsUntil('2026-08-17', '2027-08-17'),
    yearsUntil('2026-08-17', '2020-01-01'),
  ]).toEqual([0, 1, 0]);
});
