/** Who shall have which seat: the proposal beside a solver that is given the same question over single people. */
import loadHighs from 'highs';
import {
  allocate,
  type Claim,
  dayOf,
  type Holder,
  needs,
  type Pool,
  type PoolSpan,
  propose,
} from '#core/licenses/index';
import type { Product, Rule } from '#core/entities/index';
import { pick, randomFrom } from '#core/random/index';
import { print, timed } from './table';

const window = { from: dayOf('2026-08-26'), to: dayOf('2027-06-22') };
const gradeCodes = Array.from({ length: 12 }, (_, i) => String(i + 1).padStart(2, '0'));

/** A made-up district: schools, people by grade, products with rules and licenses that begin and end in the year. */
function district(size: { people: number; products: number; licenses: number }) {
  const r = randomFrom(7);
  const schools = Array.from({ length: Math.max(4, Math.round(size.people / 600)) }, (_, i) => `school${i}`);
  const people = Array.from({ length: size.people }, (_, i): Holder => {
    const begins = r.below(12) === 0 ? window.from + r.below(250) : 0;
    const ends = r.below(12) === 0 ? window.from + 30 + r.below(250) : 1e6;
    return {
      id: String(i),
      role: 'student',
      stopped: r.below(60) === 0,
      places: [{ schoolId: pick(r, schools), grade: pick(r, gradeCodes), from: begins, to: ends }],
      classes: [],
    };
  });
  const products = Array.from({ length: size.products }, (_, i) => `product${i}`);
  const blank = { subject: null, classId: null, begins: null, ends: null };
  const rules = products.flatMap((productId): Rule[] =>
    Array.from({ length: 2 }, (_, i) => ({
      id: `${productId} ${i}`,
      productId,
      role: 'student',
      schoolId: r.below(3) === 0 ? pick(r, schools) : null,
      grade: pick(r, gradeCodes),
      urgency: 1 + r.below(3),
      ...blank,
    })),
  );
  const none = { publisher: null, edition: null, lowGrade: null, highGrade: null, subject: null, supersedes: null };
  const book = {
    rules,
    products: new Map(products.map((id): [string, Product] => [id, { id, name: id, ...none }])),
    classes: new Map(),
  };
  const each = Math.round(size.licenses / size.products);
  const per = Math.round(size.people / 12 / each);
  const pools = products.map(() =>
    Array.from({ length: each }, (_, i): PoolSpan => {
      const from = i % 3 === 0 ? window.from + r.below(120) : 0;
      return {
        licenseId: String(i),
        schoolId: i > 0 && r.below(3) === 0 ? pick(r, schools) : null,
        seats: per,
        from,
        to: r.below(4) === 0 ? window.to - r.below(90) : window.to + 90,
      };
    }),
  );
  return { people, products, book, pools };
}

/** One day of all products, as a linear program. */
async function solved(days: { pools: Pool[]; claims: Claim[] }[]): Promise<number> {
  const highs = await loadHighs();
  let met = 0;
  for (const { pools, claims } of days) {
    const arcs = claims.flatMap((c, i) =>
      pools.flatMap(({ schoolId }, p) => (schoolId === null || schoolId === c.schoolId ? [{ i, p, c }] : [])),
    );
    const name = ({ i, p }: { i: number; p: number }) => `x${i}_${p}`;
    const rows = [
      ...claims.map((_, i) => arcs.filter((a) => a.i === i)),
      ...pools.map((_, p) => arcs.filter((a) => a.p === p)),
    ].flatMap((list, row) => {
      const most = row < claims.length ? 1 : pools[row - claims.length]!.seats;
      return list.length > 0 ? [`r${row}: ${list.map(name).join(' + ')} <= ${most}`] : [];
    });
    const value = arcs.map((a) => `${a.c.urgency * 1000 - (a.p === a.c.held ? 0 : 1)} ${name(a)}`).join(' + ');
    const text = `Maximize\n obj: ${value}\nSubject To\n ${rows.join('\n ')}\nBounds\n ${arcs.map((a) => `0 <= ${name(a)} <= 1`).join('\n ')}\nEnd`;
    met += Math.round(highs.solve(text).ObjectiveValue / 1000);
  }
  return met;
}

export async function benchSeats(): Promise<void> {
  const small = district({ people: 2000, products: 12, licenses: 40 });
  const needed = needs(small.people, small.book, window);
  const days = small.products.map((id, i) => {
    const pools = small.pools[i]!.filter(({ from, to }) => from <= window.from && window.from < to);
    const claims = (needed.get(id) ?? [])
      .filter(({ from }) => from === window.from)
      .map(({ schoolId, urgency }): Claim => ({ schoolId, urgency, held: -1, uses: false, had: false }));
    return { pools, claims };
  });
  const exact = await timed(() => days.map(({ pools, claims }) => allocate(pools, claims)));
  const solver = await timed(() => solved(days));

  const large = district({ people: 100_000, products: 60, licenses: 200 });
  const year = await timed(() => {
    const all = needs(large.people, large.book, window);
    return large.products.map((id, i) =>
      propose({
        pools: large.pools[i]!,
        needs: all.get(id) ?? [],
        held: [],
        window,
        uses: () => false,
        stopped: (who) => large.people[who]!.stopped,
        sweep: false,
        schoolOf: (who) => large.people[who]!.places[0]!.schoolId,
      }),
    );
  });
  const given = year.result.reduce((sum, made) => sum + made.given.length, 0);
  print('Seats', [
    {
      what: '2,000 people, 12 products, 40 licenses, one day',
      seconds: exact.seconds,
      count: days.reduce((sum, { claims }) => sum + claims.length, 0),
      unit: 'needs',
      baseline: { what: 'HiGHS over single people', seconds: solver.seconds },
    },
    {
      what: `100,000 people, 60 products, 200 licenses, all days of change of a year: ${given.toLocaleString('en-US')} seats`,
      seconds: year.seconds,
      count: large.people.length,
      unit: 'people',
    },
  ]);
}
