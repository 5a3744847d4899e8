/**
 * What people of the isles hold: nine made-up products with licenses, rules and seats, 24 carts and 1,300 devices.
 * Planted: a license 23 seats short from the second week, when a trial ends; an old edition still handed out; a class
 * that has less than its grade; seats of people who need none; devices late; a cart booked twice.
 */
import { addDays } from '#core/time/index';
import { makes } from '#core/register/steps';
import type { Change } from '#core/plan/index';
import type { Booking, Cart, Device, Entity, License, Loan, Product, Row, Rule, School } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { anyone, termFields } from '#core/licenses/index';
import { randomFrom, shuffled } from '#core/random/index';
import type { DemoStudent } from './student';

export interface HoldingsInput {
  today: string;
  seed: number;
  mint: () => string;
  schools: Record<string, School>;
  students: readonly DemoStudent[];
  /** Id of a class by its school's code and its name. */
  classAt: (code: string, name: string) => string;
}
export interface Holdings {
  changes: Change[];
  /** When somebody last used a product. */
  uses: { personId: string; productId: string; usedOn: string }[];
  /** By name; of two editions the newer one. */
  products: Map<string, Product>;
}

/** Days from today to the day school opens, and to the end of the year. */
const opens = 9;
const closes = opens + 300;
/** How many seats are lacking from the second week on. */
export const planted = { short: 23, trialEnds: opens + 11, late: 12 };

export function makeHoldings(input: HoldingsInput): Holdings {
  return new HoldingsMaker(input).make();
}

class HoldingsMaker {
  private readonly r;
  private readonly result: Holdings = { changes: [], uses: [], products: new Map() };
  private tags = 0;

  constructor(private readonly input: HoldingsInput) {
    this.r = randomFrom(input.seed);
  }

  make(): Holdings {
    this.products();
    this.carts();
    this.oneToOne();
    return this.result;
  }

  private add<E extends Entity>(entity: E, row: Row<E>, label: string, subject = row.id): Row<E> {
    this.result.changes.push({ ...makes(entity, row, 'opening register'), label, subject });
    return row;
  }

  private at = (days: number): string => addDays(this.input.today, days);
  private of = (codes: string, grades: string): DemoStudent[] =>
    this.input.students.filter(
      ({ schoolId, grade }) =>
        codes.split(' ').some((code) => this.input.schools[code]!.id === schoolId) && grades.split(' ').includes(grade),
    );

  private product(name: string, publisher: string, edition: string | null, more: Partial<Product>): Product {
    const blank = { lowGrade: null, highGrade: null, subject: null, supersedes: null };
    const made = this.add('product', { id: this.input.mint(), name, publisher, edition, ...blank, ...more }, name);
    this.result.products.set(name, made);
    return made;
  }
  private license(of: Product, seats: number | null, more: Partial<License> = {}): License {
    const usual = { schoolId: null, begins: this.at(-320), ends: this.at(closes), trial: 0 };
    const costCents = seats === null ? 184_000 : seats * 640;
    const orderNumber = `SI-${1040 + this.result.changes.length}`;
    const row = { id: this.input.mint(), productId: of.id, seats, ...usual, costCents, orderNumber, ...more };
    return this.add('license', row, of.name, of.id);
  }
  private rule(of: Product, more: Partial<Rule>): void {
    const blank = { schoolId: null, grade: null, subject: null, classId: null, begins: null, ends: null };
    const row: Rule = { id: this.input.mint(), productId: of.id, role: 'student', urgency: 2, ...blank, ...more };
    this.add('rule', row, of.name, of.id);
  }
  /** Gives seats; whoever has one used it in June, unless `usedOn` says otherwise. */
  private seat(license: License, who: readonly DemoStudent[], usedOn: number | null = -62): void {
    for (const one of who) {
      const row = { id: this.input.mint(), personId: one.id, licenseId: license.id, begins: this.at(-40), ends: null };
      this.add('seat', row, personLabel(one), one.id);
      if (usedOn === null) continue;
      const use = { personId: one.id, productId: license.productId, usedOn: this.at(usedOn - this.r.below(9)) };
      this.result.uses.push(use);
    }
  }

  private products(): void {
    const { schools } = this.input;
    const primary = 'KG 01 02 03 04 05';
    const old = this.product('Skerrymark Arithmetic', 'Brine & Ledger Press', 'first edition', {
      lowGrade: 'KG',
      highGrade: '05',
      subject: 'Mathematics',
    });
    const arithmetic = this.product('Skerrymark Arithmetic', 'Brine & Ledger Press', 'second edition', {
      lowGrade: 'KG',
      highGrade: '05',
      subject: 'Mathematics',
      supersedes: old.id,
    });
    const readers = this.product('Wrackline Readers', 'Gannet House', null, {
      lowGrade: 'KG',
      highGrade: '05',
      subject: 'English',
    });
    const algebra = this.product('Kelpline Algebra', 'Brine & Ledger Press', null, {
      lowGrade: '06',
      highGrade: '09',
      subject: 'Mathematics',
    });
    const science = this.product('Ebbstone Science', 'Gannet House', null, {
      lowGrade: '06',
      highGrade: '12',
      subject: 'Science',
    });
    const grammar = this.product('Halyard Grammar', 'Fulmar Editions', 'third edition', {
      lowGrade: '06',
      highGrade: '12',
      subject: 'English',
    });
    const atlas = this.product('Isobar Atlas', 'Fulmar Editions', null, {});
    const art = this.product('Driftwood Art Box', 'Tern & Daughters', null, { subject: 'Art' });
    const exams = this.product('Binnacle Practice Tests', 'Tern & Daughters', null, {
      lowGrade: '11',
      highGrade: '12',
    });

    // The first edition is still what Thornhope's children get.
    this.seat(this.license(old, 140, { schoolId: schools.THO!.id }), this.of('THO', primary));
    this.rule(old, { schoolId: schools.THO!.id });
    const young = this.of('LAN GUL MAR', primary);
    this.seat(this.license(arithmetic, young.length + 40), young);
    const youngAt = ['LAN', 'GUL', 'MAR'].map((code) => schools[code]!.id);
    this.rule(arithmetic, { ...termFields({ ...anyone(), schools: youngAt }), urgency: 3 });

    // Second grade at Gull Sound has two classes, and only one of them the readers.
    const readersOf = this.of('LAN', primary).concat(
      this.of('GUL', '02').filter(({ className }) => className === '2A'),
    );
    this.seat(this.license(readers, readersOf.length + 25), readersOf);
    this.rule(readers, { schoolId: schools.LAN!.id });
    this.rule(readers, { classId: this.input.classAt('GUL', '2A') });

    this.shortOfAlgebra(algebra);

    const middle = this.of('SKM', '06 07 08');
    const high = this.of('OIH', '09 10 11 12');
    this.rule(science, { subject: 'Science', urgency: 3 });
    this.seat(this.license(science, middle.length, { schoolId: schools.SKM!.id }), middle);
    this.seat(this.license(science, high.length + 12, { schoolId: schools.OIH!.id }), high);
    // Seats are there, but the new sixth grade has none yet.
    this.rule(grammar, { subject: 'English' });
    this.seat(this.license(grammar, middle.length + high.length + 30), [
      ...middle.filter(({ grade }) => grade !== '06'),
      ...high,
    ]);
    this.rule(atlas, { urgency: 1 });
    this.seat(this.license(atlas, null), this.input.students);
    this.rule(art, { schoolId: schools.MAR!.id, urgency: 1, ends: this.at(60) });
    const arts = this.of('MAR', `${primary} 06 07 08`);
    this.seat(
      this.license(art, arts.length + 10, {
        schoolId: schools.MAR!.id,
        trial: 1,
        costCents: 0,
        begins: this.at(-30),
        ends: this.at(60),
      }),
      arts,
      null,
    );
    this.rule(exams, { grade: '12', urgency: 3 });
    this.rule(exams, { grade: '11' });
    const seniors = this.of('OIH EVE', '11 12');
    this.seat(
      this.license(exams, seniors.length + 20, { begins: this.at(-10), ends: this.at(closes + 30) }),
      seniors,
      null,
    );
  }

  /** The district's seats are 23 fewer than are needed; a trial covers that until it ends. */
  private shortOfAlgebra(algebra: Product): void {
    const { schools } = this.input;
    const entitled = shuffled(this.r, this.of('SKM MAR', '06 07 08'));
    for (const code of ['SKM', 'MAR']) this.rule(algebra, { schoolId: schools[code]!.id, urgency: 3 });
    const license = this.license(algebra, entitled.length - planted.short);
    const trial = this.license(algebra, 40, {
      trial: 1,
      costCents: 0,
      begins: this.at(-20),
      ends: this.at(planted.trialEnds),
    });
    // Fourteen went on to grade 9 with their seats.
    const moved = shuffled(this.r, this.of('OIH', '09')).slice(0, 14);
    this.seat(license, moved, -190);
    const holders = entitled.slice(0, entitled.length - planted.short - moved.length);
    this.seat(license, holders);
    this.seat(trial, entitled.slice(holders.length, holders.length + 26), null);
  }

  private device(more: Partial<Device> & Pick<Device, 'model' | 'schoolId' | 'boughtOn' | 'updatesEnd'>): Device {
    const tag = `D${String(++this.tags).padStart(5, '0')}`;
    const serial = `SN${(this.r.below(36 ** 6) + 36 ** 6).toString(36).toUpperCase()}`;
    const blank = { condition: 'good' as const, cartId: null, slot: null, room: null };
    const warrantyEnds = addDays(more.boughtOn!, 3 * 365);
    return this.add('device', { id: this.input.mint(), tag, serial, warrantyEnds, ...blank, ...more }, tag);
  }
  /** Models with how long ago they were bought and how long they still get updates, in years. */
  private readonly models = {
    puffin: { model: 'Puffin 11', boughtOn: -4.2, updatesEnd: 0.9 },
    puffin2: { model: 'Puffin 12', boughtOn: -2.1, updatesEnd: 3.4 },
    petrel: { model: 'Petrel 13', boughtOn: -1.1, updatesEnd: 5.2 },
    whimbrel: { model: 'Whimbrel 13', boughtOn: -0.1, updatesEnd: 7 },
  };
  private model(name: keyof HoldingsMaker['models']): Pick<Device, 'model' | 'boughtOn' | 'updatesEnd'> {
    const { model, boughtOn, updatesEnd } = this.models[name];
    const on = (years: number) => `${this.at(Math.round(years * 365)).slice(0, 7)}-01`;
    return { model, boughtOn: on(boughtOn), updatesEnd: on(updatesEnd) };
  }

  private carts(): void {
    const { schools, mint, classAt } = this.input;
    const each: [code: string, carts: number, model: keyof HoldingsMaker['models']][] = [
      ['LAN', 6, 'puffin2'],
      ['GUL', 4, 'puffin2'],
      ['THO', 2, 'puffin'],
      ['MAR', 5, 'puffin'],
      ['SKM', 7, 'petrel'],
    ];
    for (const [code, count, model] of each) {
      const school = schools[code]!;
      const made = Array.from({ length: count }, (_, i): Cart => {
        const name = `Cart ${code} ${i + 1}`;
        const cart: Cart = {
          id: mint(),
          schoolId: school.id,
          name,
          slots: code === 'SKM' ? 28 : 24,
          room: `${100 + 4 * i}`,
          ends: null,
        };
        this.add('cart', cart, name);
        const filled = code === 'SKM' ? 28 : 18 + this.r.below(4);
        for (let slot = 1; slot <= filled; slot++) {
          const condition = this.r.below(40) === 0 ? 'repair' : 'good';
          this.device({ ...this.model(model), schoolId: school.id, cartId: cart.id, slot, condition });
        }
        return cart;
      });
      if (code === 'SKM') this.bookings(made, classAt);
    }
  }

  private bookings(carts: Cart[], classAt: HoldingsInput['classAt']): void {
    const book = (cart: Cart, name: string, weekday: number, period: string) => {
      const row: Booking = {
        id: this.input.mint(),
        cartId: cart.id,
        classId: classAt('SKM', name),
        weekday,
        period,
        begins: this.at(opens),
        ends: null,
      };
      this.add('booking', row, cart.name, cart.id);
    };
    const [one, two, three, four] = carts as [Cart, Cart, Cart, Cart];
    book(one, 'Science 6A', 1, '2');
    book(one, 'Science 6B', 1, '3');
    book(one, 'History 6C', 3, '2');
    book(two, 'Mathematics 7A', 1, '2');
    book(two, 'Mathematics 7B', 2, '2');
    // Twice in one period.
    book(three, 'Science 7A', 2, '2');
    book(three, 'English 7C', 2, '2');
    book(four, 'Art 8A', 4, '1');
  }

  /** Outer Isles High: everyone has one, but the ninth grade gets theirs now, out of what came back and what was bought. */
  private oneToOne(): void {
    const school = this.input.schools.OIH!;
    const base = { schoolId: school.id };
    const own = (one: DemoStudent, device: Device) =>
      this.loan({ deviceId: device.id, personId: one.id, kind: 'own', begins: this.at(-380), due: null }, one);
    for (const [grade, model] of [
      ['10', 'petrel'],
      ['11', 'puffin2'],
      ['12', 'puffin2'],
    ] as const)
      for (const one of this.of('OIH', grade)) own(one, this.device({ ...this.model(model), ...base }));
    // Back from last year's leavers, some of them worn; and new ones in their boxes.
    for (let i = 0; i < 96; i++) {
      const condition = i < 7 ? 'repair' : i < 11 ? 'broken' : i < 30 ? 'worn' : 'good';
      this.device({ ...this.model('puffin2'), ...base, condition });
    }
    for (let i = 0; i < 165; i++) this.device({ ...this.model('whimbrel'), ...base });
    // Lent out in spring until the end of June, and not back.
    const spares = Array.from({ length: 40 }, () =>
      this.device({ ...this.model('puffin'), schoolId: this.input.schools.SKM!.id }),
    );
    const borrowers = shuffled(this.r, this.of('SKM', '07 08')).slice(0, planted.late);
    borrowers.forEach((one, i) =>
      this.loan(
        { deviceId: spares[i]!.id, personId: one.id, kind: 'loan', begins: this.at(-120), due: this.at(-48 - (i % 3)) },
        one,
      ),
    );
  }

  private loan(facts: Omit<Loan, 'id' | 'ends'>, one: DemoStudent): void {
    this.add('loan', { id: this.input.mint(), ...facts, ends: null }, personLabel(one), one.id);
  }
}
