/** Worked examples: scans one after the other, lists of devices, and what must be replaced, told in `worked.txt`. */
import { asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import { planLines } from '#core/plan/lines';
import type { Device, Loan } from '#core/entities/index';
import {
  beginning,
  canBeGiven,
  planInventory,
  readHeadings,
  refresh,
  replaceOn,
  scan,
  type Scanned,
  yearsUntil,
} from './index';
import { modeTexts } from './scan';
import { sampleSchool } from '#core/register/samples';

const out: string[] = [];
const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
const device = (tag: string, more: Partial<Device> = {}): Device => ({
  ...{ id: `d-${tag}`, tag, serial: `S-${tag}`, model: 'Puffin', schoolId: 'north', boughtOn: '2024-08-01' },
  ...{ warrantyEnds: null, updatesEnd: '2029-06-01', condition: 'good', cartId: null, slot: null, room: null },
  ...more,
});
const loan = (tag: string, personId: string, due: string | null = null): Loan => ({
  ...{ id: `l-${tag}`, deviceId: `d-${tag}`, personId, kind: 'own', begins: '2026-08-01', due, ends: null },
});
const of = (
  one: Device,
  lent: Loan | null = null,
  holder: string | null = null,
  cart: string | null = null,
): Scanned => ({
  ...{ kind: 'device', device: one, loan: lent, holder, cart },
});
const person = (id: string, here = true): Scanned => ({ kind: 'person', id, label: `Child ${id}`, here });
const cart = (id: string): Scanned => ({
  ...{ kind: 'cart', id, name: `Cart ${id}` },
  inside: ['A1', 'A2'].map((tag) => ({ id: `d-${tag}`, tag })),
});

it('scans, lists and replacements are as these', async () => {
  const run = (title: string, scans: Scanned[], due: string | null = null) => {
    let state = beginning;
    let n = 0;
    show(
      title,
      scans.map((what) => {
        const made = scan(state, what, { today: '2026-09-01', mint: () => `new${n++}`, due });
        state = made.state;
        const steps = made.steps.map(
          (s) =>
            `${s.op} ${s.entity} ${s.id} ${JSON.stringify(s.before)} ${JSON.stringify(s.after)} (${s.reason}) ${s.label} ${s.subject}`,
        );
        return [
          `${made.said.tone}: ${made.said.text}`,
          ...steps,
          JSON.stringify({ ...state, broken: state.broken?.device.tag ?? null }),
        ].join('\n  ');
      }),
    );
  };
  const mode = (text: string): Scanned => ({ kind: 'mode', mode: modeTexts[text]! });
  const lent = of(device('L1'), loan('L1', 'p9', '2026-12-01'), 'Child p9', 'Cart A');
  run('giving', [
    ...[
      { kind: 'unknown', text: 'ZZ' } as Scanned,
      cart('c1'),
      of(device('A1')),
      lent,
      person('p1', false),
      person('p1'),
      lent,
    ],
    ...[
      of(device('A2', { condition: 'repair' })),
      of(device('A2', { condition: 'broken' })),
      of(device('A3', { updatesEnd: '2026-09-01' })),
    ],
    ...[of(device('A4', { updatesEnd: null, condition: 'worn' })), of(device('A5'))],
  ]);
  run('lending until a day', [mode('+GIVE'), person('p1'), of(device('A1'))], '2026-10-01');
  run('taking back', [mode('+BACK'), person('p1'), of(device('A1')), lent, of(device('L2'), loan('L2', 'p8'), null)]);
  run('swapping', [
    ...[mode('+SWAP'), person('p1'), of(device('A1')), lent, of(device('L1'), loan('L1', 'p9'), 'Child p9')],
    ...[of(device('L3'), loan('L3', 'p7'), 'Child p7'), of(device('A2', { condition: 'retired' })), of(device('A5'))],
    ...[of(device('L4', { condition: 'broken' }), loan('L4', 'p6'), 'Child p6'), of(device('A6'))],
  ]);
  const inside = (tag: string) => of(device(tag, { cartId: 'c1' }), null, null, 'Cart c1');
  run('counting', [
    ...[
      mode('+COUNT'),
      person('p1'),
      inside('A1'),
      cart('c1'),
      inside('A1'),
      inside('A1'),
      of(device('B1', { cartId: 'c2' }), null, null, 'Cart c2'),
    ],
    ...[of(device('B2')), cart('c1'), cart('c1'), inside('A1'), inside('A2'), cart('c1'), cart('c1'), cart('c2')],
  ]);

  const records = (...rows: string[]) => rows.map((row, i) => ({ line: i + 1, cells: row.split(';') }));
  const around = {
    devices: [
      device('A1', { cartId: 'c1', slot: 3 }),
      device('A2', { serial: null }),
      device('A3', { schoolId: 'south' }),
    ],
    schools: [sampleSchool('north', { name: 'North' }), sampleSchool('south', { name: 'South' })],
    carts: [{ id: 'c1', schoolId: 'north', name: 'Cart 1', slots: 24, room: null, ends: null }],
    ...{ schoolId: null as string | null, mine: null as ReadonlySet<string> | null },
  };
  const list = (title: string, rows: ReturnType<typeof records>, more: Partial<typeof around> = {}, picked = {}) => {
    let n = 0;
    const reading = readHeadings(rows, picked);
    const made = planInventory(rows, reading, { ...around, ...more, mint: () => `new${n++}` });
    show(title, [
      JSON.stringify(reading),
      ...planLines(made.changes, () => undefined),
      ...made.problems.map(({ line, message }) => `line ${line}: ${message}`),
      `${made.fresh} fresh, ${made.changed} changed, ${made.same} same`,
    ]);
  };
  list(
    'a list of devices',
    records(
      'Devices from the isles',
      'Asset-Tag;Serial No.;Model;Site;Purchased;Warranty until;End of support;Status;Trolley;Bay;Room;Model',
      'a1;S-A1;Puffin;North;01/08/2024;;;good;cart 1;3;;x',
      'A2;S9;Petrel;South;13/08/2024;01/02/2027;01.06.2030;worn;Cart 9;0;R4;x',
      ';s-a3;;;;;;;;;;',
      'N1;N-1;Puffin;north;31/02/2024;;;shiny;;two;;',
      'N2;N-2;Puffin;West;;;;;;;;',
      'N3;;;North;;;;;;;;',
      ';;;;;;;;;;;',
      'n1;;Puffin;North;;;;;;;;',
      'N4;;Puffin;;;;;;Cart 1;7;;',
    ),
  );
  list('for one school', records('tag;model', 'N1;Puffin', 'A3;Petrel'), { schoolId: 'north' });
  list(
    'for one school, with rows of one that is not there',
    records('tag;model;school', 'N1;Puffin;West', 'A3;Petrel;West'),
    {
      schoolId: 'north',
    },
  );
  list('by somebody of one school', records('tag;model;school', 'N1;Puffin;South', 'N2;Puffin;North', 'A3;Petrel;'), {
    mine: new Set(['north']),
  });
  list('without headings, told', records('N1;Puffin', 'N2;Petrel'), { schoolId: 'north' }, { 0: 'tag', 1: 'model' });
  list(
    'with a heading told otherwise',
    records('tag;type;other', 'N1;x;Puffin'),
    { schoolId: 'north' },
    { 1: null, 2: 'model' },
  );
  list('nothing', []);

  show('fit to be given, and for how long', [
    ...['good', 'worn', 'repair', 'broken', 'missing', 'retired'].map(
      (condition) =>
        `${condition}: ${canBeGiven({ condition: condition as Device['condition'], updatesEnd: null }, '2026-09-01')}`,
    ),
    ...['2026-08-31', '2026-09-01', '2026-09-02'].map(
      (updatesEnd) => `updates until ${updatesEnd}: ${canBeGiven({ condition: 'good', updatesEnd }, '2026-09-01')}`,
    ),
    ...[null, '2026-01-01', '2027-08-31', '2027-09-01', '2029-10-01'].map(
      (until) => `years until ${until}: ${yearsUntil('2026-09-01', until)}`,
    ),
    ...(
      [
        [null, null],
        ['2024-08-01', null],
        [null, '2027-01-01'],
        ['2024-08-01', '2027-01-01'],
        ['2020-08-01', '2027-01-01'],
      ] as const
    ).map(
      ([boughtOn, updatesEnd]) =>
        `bought ${boughtOn}, updates until ${updatesEnd}: ${replaceOn({ boughtOn, updatesEnd }, 5)}`,
    ),
    ...refresh(
      [
        ...[
          device('1'),
          device('2', { boughtOn: '2019-08-01' }),
          device('3', { model: 'Auk', boughtOn: '2021-12-01' }),
          device('4', { condition: 'retired' }),
        ],
        ...[
          device('5', { condition: 'missing' }),
          device('6', { boughtOn: null, updatesEnd: null }),
          device('7', { boughtOn: '2022-07-31', updatesEnd: null }),
          device('8', { boughtOn: '2022-08-01', updatesEnd: null }),
        ],
      ],
      { today: '2026-09-01', begins: '08-01', years: 5 },
    ).map(({ year, model, count }) => `to be replaced in ${year}: ${count} ${model}`),
  ]);
  await expect(asRead(out.join('\n'))).toMatchFileSnapshot('./worked.txt');
});
