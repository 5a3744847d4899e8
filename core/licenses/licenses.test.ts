import fc from 'fast-check';
import loadHighs, { type Highs } from 'highs';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Product, Rule } from '#core/entities/index';
import {
  allocate,
  anyone,
  busiest,
  type Claim,
  course,
  dayOf,
  entitledBy,
  heldBeyond,
  type Held,
  type Holder,
  needs,
  type Need,
  partial,
  type Pool,
  priceOf,
  promoted,
  propose,
  type Question,
  type RuleTerms,
  termFields,
  termsOf,
  worst,
} from './index';
import { sampleSchool } from '#core/register/samples';

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

const schools = ['a', 'b', 'c'];
const pool: fc.Arbitrary<Pool> = fc.record({
  seats: fc.oneof(
    { weight: 9, arbitrary: fc.integer({ min: 0, max: 9 }) },
    { weight: 1, arbitrary: fc.constant(Infinity) },
  ),
  schoolId: fc.option(fc.constantFrom(...schools), { nil: null }),
});
/** Holders never more than there are seats: the rest of what was drawn holds none. */
const day = fc.array(pool, { minLength: 1, maxLength: 4 }).chain((pools) =>
  fc
    .array(
      fc.record({
        schoolId: fc.constantFrom(...schools),
        urgency: fc.integer({ min: 0, max: 3 }),
        held: fc.integer({ min: -1, max: pools.length - 1 }),
        uses: fc.boolean(),
        had: fc.boolean(),
      }),
      { maxLength: 24 },
    )
    .map((drawn) => {
      const left = pools.map(({ seats }) => seats);
      const claims = drawn.map((claim): Claim => {
        const held = claim.held >= 0 && left[claim.held]!-- > 0 ? claim.held : -1;
        return { ...claim, held, uses: claim.uses && held >= 0, had: claim.had && held < 0 };
      });
      return { pools, claims: claims.filter(({ urgency, held }) => urgency > 0 || held >= 0) };
    }),
);

/** The same question as a linear program over single people: first the needs by urgency, then the fewest moves. */
function solved(pools: readonly Pool[], claims: readonly Claim[]): { met: number; moves: number } {
  const may = (c: Claim, p: number) =>
    c.uses
      ? p === c.held
      : (pools[p]!.schoolId === null || pools[p]!.schoolId === c.schoolId) && (c.urgency > 0 || p === c.held);
  const arcs = claims.flatMap((c, i) => pools.flatMap((_, p) => (may(c, p) ? [{ i, p, name: `x${i}_${p}` }] : [])));
  if (arcs.length === 0) return { met: 0, moves: claims.filter(({ held }) => held >= 0).length };
  const sum = (terms: string[]) => terms.join(' + ') || '0 x0_0';
  const rows: string[] = [];
  claims.forEach((c, i) => {
    const mine = arcs.filter((a) => a.i === i).map(({ name }) => name);
    if (mine.length > 0) rows.push(`p${i}: ${sum(mine)} ${c.uses ? '=' : '<='} 1`);
  });
  pools.forEach(({ seats }, p) => {
    const mine = arcs.filter((a) => a.p === p).map(({ name }) => name);
    if (mine.length > 0 && seats !== Infinity) rows.push(`c${p}: ${sum(mine)} <= ${seats}`);
  });
  const solve = (sense: string, objective: string, more: string[]) =>
    highs.solve(
      `${sense}\n obj: ${objective}\nSubject To\n ${[...rows, ...more].join('\n ')}\nBounds\n ${arcs.map(({ name }) => `0 <= ${name} <= 1`).join('\n ')}\nEnd`,
    );
  const weight = (u: number) => (u === 0 ? 0 : 1000 ** (u - 1));
  const value = sum(arcs.map(({ i, name }) => `${weight(claims[i]!.urgency)} ${name}`));
  const met = Math.round(solve('Maximize', value, []).ObjectiveValue);
  // A seat that is kept is no move; one given is one, and one taken is one.
  const cost = sum(arcs.map(({ i, p, name }) => `${p === claims[i]!.held ? -1 : 1} ${name}`));
  const least = Math.round(solve('Minimize', cost, [`met: ${value} >= ${met}`]).ObjectiveValue);
  return { met, moves: least + claims.filter(({ held }) => held >= 0).length };
}

describe('the seats of one day', () => {
  it('are the optimum that a solver finds, on 500 random cases', () => {
    fc.assert(
      fc.property(day, ({ pools, claims }) => {
        const made = allocate(pools, claims);
        const met = claims.reduce(
          (all, { urgency }, i) => all + (made.pools[i]! >= 0 && urgency > 0 ? 1000 ** (urgency - 1) : 0),
          0,
        );
        expect({ met, moves: made.moves }).toEqual(solved(pools, claims));
        expect(made.unmet).toBe(claims.filter(({ urgency }, i) => urgency > 0 && made.pools[i]! < 0).length);
        claims.forEach(({ uses, held }, i) => uses && expect(made.pools[i]).toBe(held));
      }),
      { numRuns: 500 },
    );
  });

  it('are the school’s own first, then the district’s; who had one goes first; one at hand moves to make room', () => {
    const claim = (more: Partial<Claim>): Claim => ({
      schoolId: 'a',
      urgency: 2,
      held: -1,
      uses: false,
      had: false,
      ...more,
    });
    const pools: Pool[] = [
      { seats: 2, schoolId: null },
      { seats: 2, schoolId: 'a' },
    ];
    const made = allocate(pools, [claim({}), claim({}), claim({ schoolId: 'b' }), claim({ schoolId: 'b' })]);
    expect([...made.pools]).toEqual([1, 1, 0, 0]);
    expect([...allocate([{ seats: 1, schoolId: null }], [claim({}), claim({ had: true })]).pools]).toEqual([-1, 0]);
    // One of school a sits on a district seat: they move to their own school's, so that school b is served as well.
    const full = [claim({ held: 0 }), claim({ held: 0, uses: true }), claim({ schoolId: 'b' })];
    expect(allocate(pools, full)).toEqual({ pools: Int32Array.of(1, 0, 0), unmet: 0, moves: 3 });
  });
});

const span = fc
  .tuple(fc.integer({ min: 0, max: 30 }), fc.integer({ min: 1, max: 30 }))
  .map(([from, length]) => ({ from, to: from + length }));
const year: fc.Arbitrary<Question> = fc
  .record({
    pools: fc.array(
      fc.tuple(span, fc.integer({ min: 0, max: 6 }), fc.option(fc.constantFrom(...schools), { nil: null })),
      { minLength: 1, maxLength: 4 },
    ),
    needs: fc.array(fc.tuple(span, fc.integer({ min: 1, max: 3 }), fc.constantFrom(...schools)), { maxLength: 14 }),
    held: fc.array(fc.tuple(fc.integer({ min: 0, max: 19 }), fc.nat(3), span), { maxLength: 10 }),
    uses: fc.uniqueArray(fc.integer({ min: 0, max: 19 }), { maxLength: 10 }),
    stopped: fc.uniqueArray(fc.integer({ min: 14, max: 19 }), { maxLength: 4 }),
    sweep: fc.boolean(),
  })
  .map((drawn) => {
    const pools = drawn.pools.map(([at, seats, schoolId], i) => ({ ...at, seats, schoolId, licenseId: `L${i}` }));
    const question: Question = {
      pools,
      needs: drawn.needs.map(([at, urgency, schoolId], who): Need => ({ ...at, who, urgency, schoolId })),
      held: [],
      window: { from: 5, to: 60 },
      uses: (who) => drawn.uses.includes(who),
      stopped: (who) => drawn.stopped.includes(who),
      sweep: drawn.sweep,
      schoolOf: (who) => schools[who % 3]!,
    };
    const held: Held[] = [];
    for (const [who, at, when] of drawn.held) {
      const seat = { seatId: `S${held.length}`, who, pool: at % pools.length, ...when };
      const same = held.filter((h) => h.pool === seat.pool).length;
      if (held.every((h) => h.who !== who) && same < pools[seat.pool]!.seats) held.push(seat);
    }
    return { ...question, held };
  });

describe('the seats of a year', () => {
  it('held beyond what a license was cut to are counted by it, and only taken from who does not use them', () => {
    fc.assert(
      fc.property(year, fc.integer({ min: 0, max: 3 }), (drawn, cut) => {
        // Each license has so many seats fewer than when they were given.
        const pools = drawn.pools.map((pool) => ({ ...pool, seats: Math.max(0, pool.seats - cut) }));
        const question = { ...drawn, pools };
        const day = question.window.from;
        const on = ({ from, to }: { from: number; to: number }) => from <= day && day < to;
        const beyond = (held: readonly { from: number; to: number; pool: number }[]) =>
          pools.map((pool, p) => (on(pool) ? held.filter((h) => h.pool === p && on(h)).length - pool.seats : 0));
        const sum = (list: number[]) => list.reduce((all, n) => all + Math.max(0, n), 0);
        expect(heldBeyond(question, day)).toBe(sum(beyond(question.held)));
        expect(heldBeyond(drawn, day)).toBe(0);
        const made = propose(question);
        for (const { held, why } of made.taken)
          expect(question.uses(held.who) && !question.stopped(held.who) && why !== 'moves').toBe(false);
        // What stays beyond is held by people who use it.
        const taken = new Map(made.taken.map((t) => [t.held.seatId, t.at]));
        const left = question.held.filter((h) => on(h) && (taken.get(h.seatId) ?? Infinity) > day);
        beyond(left).forEach((n, p) => {
          if (n > 0)
            expect(
              left.filter((h) => h.pool === p).every(({ who }) => question.uses(who) && !question.stopped(who)),
            ).toBe(true);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('never are more than there are, never two of one person, and never taken from who uses them', () => {
    fc.assert(
      fc.property(year, (question) => {
        const { pools, window } = question;
        const made = propose(question);
        const taken = new Map(made.taken.map((t) => [t.held.seatId, t]));
        const after = [
          ...question.held.map((h) => ({ ...h, to: Math.min(h.to, taken.get(h.seatId)?.at ?? h.to) })),
          ...made.given,
        ];
        for (let d = window.from; d < window.to; d++) {
          const now = after.filter(
            ({ from, to, pool: p }) => from <= d && d < to && pools[p]!.from <= d && d < pools[p]!.to,
          );
          pools.forEach(({ seats }, p) => expect(now.filter((s) => s.pool === p).length).toBeLessThanOrEqual(seats));
          expect(new Set(now.map(({ who }) => who)).size).toBe(now.length);
          const seated = new Set(now.map(({ who }) => who));
          const lacking = question.needs.filter((n) => n.from <= d && d < n.to && !seated.has(n.who));
          const short = made.short.filter(({ from, to }) => from <= d && d < to);
          expect([short.length, short[0]?.count ?? 0]).toEqual([Math.min(1, lacking.length), lacking.length]);
          expect(Object.fromEntries(short[0]?.bySchool ?? [])).toEqual(
            Object.fromEntries(
              schools
                .map((id) => [id, lacking.filter((n) => n.schoolId === id).length] as const)
                .filter(([, n]) => n > 0),
            ),
          );
        }
        for (const { held, why } of made.taken)
          expect(question.uses(held.who) && !question.stopped(held.who) && why !== 'moves').toBe(false);
        const isThat = (seat: object, id: string) => 'seatId' in seat && seat.seatId === id;
        const isTaken = (seat: object) => made.taken.some(({ held }) => isThat(seat, held.seatId));
        const needOn = (who: number, d: number) => question.needs.some((n) => n.who === who && n.from <= d && d < n.to);
        const seats = after.map((h) => ({
          ...h,
          from: Math.max(h.from, pools[h.pool]!.from),
          to: Math.min(h.to, pools[h.pool]!.to),
        }));
        for (const { who, from, to, pool: p, instead } of made.given) {
          expect(needOn(who, from)).toBe(true);
          expect(from >= window.from && to <= pools[p]!.to).toBe(true);
          // Whoever had another one until that day has this one instead; what ended before today is past.
          const had = seats.filter((h) => h.who === who && h.to === from);
          expect(instead).toBe(had.some((h) => isTaken(h) || (h.from < h.to && h.to > window.from)));
        }
        for (const { held, at, why } of made.taken) {
          const others = seats.filter((s) => s.who === held.who && !isThat(s, held.seatId));
          // One that ends that very day may count for either.
          if (others.some(({ to }) => to === at)) continue;
          // Another one in its place, or one that they have already when it would begin.
          const other = others.some(({ from, to }) => (from === at && to > at) || (from < at && at < to));
          const without = question.stopped(held.who) ? 'stopped' : 'not entitled';
          expect(why).toBe(other ? 'moves' : needOn(held.who, at) ? 'more urgent' : without);
        }
        if (question.sweep)
          for (const { who, from, to } of after.filter(
            (s) =>
              s.from <= window.from &&
              s.to > window.from &&
              pools[s.pool]!.from <= window.from &&
              pools[s.pool]!.to > window.from,
          ))
            expect([
              who,
              from <= to &&
                (question.needs.some((n) => n.who === who && n.from <= window.from && window.from < n.to) ||
                  question.uses(who)),
            ]).toEqual([who, true]);
        // What was proposed and applied leaves nothing more to propose.
        const again = propose({
          ...question,
          held: after.map((s, i) => ({ ...s, seatId: `N${i}` })),
        });
        expect([again.given, again.taken]).toEqual([[], []]);
      }),
      { numRuns: 600 },
    );
  });

  it('stand as a course of steps, the largest as by brute force', () => {
    fc.assert(
      fc.property(fc.array(span, { minLength: 1, maxLength: 30 }), (spans) => {
        const at = (d: number) => spans.filter(({ from, to }) => from <= d && d < to).length;
        expect(busiest(spans).count).toBe(Math.max(...Array.from({ length: 70 }, (_, d) => at(d))));
        expect(at(busiest(spans).day)).toBe(busiest(spans).count);
      }),
    );
    fc.assert(
      fc.property(year, (question) => {
        const steps = course(question);
        for (let d = question.window.from; d < question.window.to; d++) {
          const step = steps.filter(({ from }) => from <= d).at(-1)!;
          const now = <T extends { from: number; to: number }>(list: readonly T[]) =>
            list.filter(({ from, to }) => from <= d && d < to);
          expect(step.needed).toBe(now(question.needs).length);
          expect(step.owned).toBe(now(question.pools).reduce((sum, { seats }) => sum + seats, 0));
        }
      }),
    );
  });
});

const product = (id: string, more: Partial<Product> = {}): Product => ({
  id,
  name: id,
  publisher: null,
  edition: null,
  lowGrade: null,
  highGrade: null,
  subject: null,
  supersedes: null,
  ...more,
});
const rule = (productId: string, more: Partial<Rule> = {}): Rule => ({
  id: productId,
  productId,
  role: 'student',
  schoolId: null,
  grade: null,
  subject: null,
  classId: null,
  urgency: 2,
  begins: null,
  ends: null,
  ...more,
});

describe('who is entitled', () => {
  const [begin, end] = [dayOf('2026-08-26'), dayOf('2027-06-22')];
  const at = (schoolId: string, grade: string, from = 0, to = 1e6) => ({ schoolId, grade, from, to });
  const people: Holder[] = [
    {
      id: 'wren',
      role: 'student',
      stopped: false,
      places: [at('a', '03')],
      classes: [{ classId: 'math', role: 'student', from: 0, to: 1e6 }],
    },
    {
      id: 'tomi',
      role: 'student',
      stopped: false,
      places: [at('a', '03', 0, begin + 30), at('b', '04', begin + 30)],
      classes: [],
    },
    { id: 'held', role: 'student', stopped: true, places: [at('a', '03')], classes: [] },
    {
      id: 'teacher',
      role: 'staff',
      stopped: false,
      places: [{ ...at('a', '03'), grade: null }],
      classes: [{ classId: 'math', role: 'teacher', from: 0, to: 1e6 }],
    },
  ];
  const book = (rules: Rule[]) => ({
    rules,
    products: new Map([product('p', { lowGrade: '03', highGrade: '04' }), product('any')].map((p) => [p.id, p])),
    classes: new Map([['math', { schoolId: 'a', grade: '03', subject: 'Mathematics', from: begin, to: begin + 100 }]]),
  });
  const who = (rules: Rule[], id: string) =>
    (needs(people, book(rules), { from: begin, to: end }).get(id) ?? []).map(({ who: n, from, to, urgency }) => [
      people[n]!.id,
      from - begin,
      to - begin,
      urgency,
    ]);
  const whole = end - begin;

  it('follows school, grade, subject, class, role and dates; holds count for nothing', () => {
    expect(who([rule('p')], 'p')).toEqual([
      ['wren', 0, whole, 2],
      ['tomi', 0, 30, 2],
      ['tomi', 30, whole, 2],
    ]);
    expect(who([rule('p', { grade: '04' })], 'p')).toEqual([['tomi', 30, whole, 2]]);
    expect(who([rule('p', { schoolId: 'a', begins: '2026-09-05', ends: '2026-09-10' })], 'p')).toEqual([
      ['wren', 10, 15, 2],
      ['tomi', 10, 15, 2],
    ]);
    expect(who([rule('p', { subject: 'Mathematics' })], 'p')).toEqual([['wren', 0, 100, 2]]);
    expect(who([rule('any', { role: 'teacher', grade: '03' })], 'any')).toEqual([['teacher', 0, 100, 2]]);
    expect(
      who([rule('any', { role: 'teacher', classId: 'math' }), rule('any', { classId: 'math', urgency: 3 })], 'any'),
    ).toEqual([
      ['wren', 0, 100, 3],
      ['teacher', 0, 100, 2],
    ]);
    expect(who([rule('p', { grade: '05' })], 'p')).toEqual([]);
  });

  it('takes several of each, leaves exceptions out, and reads terms back as they were said', () => {
    const of = (more: Partial<RuleTerms>, except: Partial<RuleTerms['except']> = {}) =>
      rule('any', termFields({ ...anyone(), ...more, except: { ...anyone().except, ...except } }));
    expect(who([of({ grades: ['03', '04'], schools: ['a', 'b'] })], 'any').map(([id]) => id)).toEqual([
      ...['wren', 'tomi', 'tomi'],
    ]);
    expect(who([of({}, { schools: ['b'] })], 'any')).toEqual([
      ['wren', 0, whole, 2],
      ['tomi', 0, 30, 2],
    ]);
    expect(who([of({ schools: ['b', 'c'] })], 'any')).toEqual([['tomi', 30, whole, 2]]);
    // Whoever is in the class is left out for as long as they are.
    expect(who([of({ grades: ['03'] }, { classes: ['math'] })], 'any')).toEqual([['tomi', 0, 30, 2]]);
    expect(who([of({ classes: ['math', 'other'], subjects: ['Mathematics', 'Art'] })], 'any')).toEqual([
      ['wren', 0, 100, 2],
    ]);
    expect(
      who([rule('any', { role: 'teacher', ...termFields({ ...anyone(), grades: ['03', '05'] }) })], 'any'),
    ).toEqual([['teacher', 0, 100, 2]]);
    const some = fc.uniqueArray(fc.constantFrom('a', 'b', 'c'), { maxLength: 3 });
    const lists = { schools: some, grades: some, classes: some };
    fc.assert(
      fc.property(fc.record({ ...lists, subjects: some, except: fc.record(lists) }), (terms) => {
        const sorted = (t: object): unknown =>
          Object.fromEntries(
            Object.entries(t).map(([k, v]) => [k, Array.isArray(v) ? [...v].sort() : sorted(v as object)]),
          );
        expect(sorted(termsOf(termFields(terms)))).toEqual(sorted(terms));
      }),
    );
  });

  it('ends the need of an older edition for those, and as long, as a newer one is for them', () => {
    const editions = [product('one'), product('two', { supersedes: 'one' }), product('three', { supersedes: 'two' })];
    const of = (rules: Rule[]) => ({ ...book(rules), products: new Map(editions.map((p) => [p.id, p])) });
    const ids = (rules: Rule[], id: string) =>
      (needs(people, of(rules), { from: begin, to: end }).get(id) ?? []).map(({ who: n, from, to }) => [
        people[n]!.id,
        from - begin,
        to - begin,
      ]);
    const rules = [rule('one'), rule('two', { grade: '03', begins: '2026-09-05' })];
    expect(ids(rules, 'one')).toEqual([
      ['wren', 0, 10],
      ['tomi', 0, 10],
      ['tomi', 30, whole],
    ]);
    expect(ids(rules, 'two')).toEqual([
      ['wren', 10, whole],
      ['tomi', 10, 30],
    ]);
    // One edition further, and with none of the middle one in between.
    expect(ids([rule('one'), rule('three', { schoolId: 'a' })], 'one')).toEqual([['tomi', 30, whole]]);
    const why = (day: number) =>
      [...entitledBy(people[0]!, of(rules), day)].map(([id, { rules: by, insteadId }]) => [id, by.length, insteadId]);
    expect(why(begin)).toEqual([['one', 1, null]]);
    expect(why(begin + 10)).toEqual([
      ['one', 1, 'two'],
      ['two', 1, null],
    ]);
  });

  it('keeps to the grades for which a product is made, open on either side', () => {
    const made = (more: Partial<Product>) => {
      const grades = ['KG', '02', '03', '04', null];
      const holders = grades.map((grade, i): Holder => ({
        ...{ id: `g${i}`, role: 'student', stopped: false, classes: [] },
        places: [{ schoolId: 'a', grade, from: 0, to: 1e6 }],
      }));
      const found = needs(
        holders,
        { ...book([rule('q')]), products: new Map([['q', product('q', more)]]) },
        { from: begin, to: end },
      );
      return (found.get('q') ?? []).map(({ who: n }) => grades[n]);
    };
    expect(made({})).toEqual(['KG', '02', '03', '04', null]);
    expect(made({ lowGrade: '03' })).toEqual(['03', '04']);
    expect(made({ highGrade: '02' })).toEqual(['KG', '02']);
    expect(made({ lowGrade: '02', highGrade: '03' })).toEqual(['02', '03']);
  });

  it('says by which rules somebody is entitled on a day', () => {
    const rules = [rule('p', { grade: '03' }), rule('p', { subject: 'Mathematics' }), rule('any', { grade: '04' })];
    const on = (id: string, day: number) =>
      [
        ...entitledBy(
          people.find((one) => one.id === id)!,
          book(rules),
          day,
        ),
      ].map(([product, by]) => [product, by.rules.map((one) => rules.indexOf(one))]);
    expect(on('wren', begin)).toEqual([['p', [0, 1]]]);
    // Mathematics is over.
    expect(on('wren', begin + 100)).toEqual([['p', [0]]]);
    expect(on('tomi', begin + 30)).toEqual([['any', [2]]]);
    expect(on('held', begin)).toEqual([]);
  });

  it('counts the more urgent rule where two fit', () => {
    expect(
      who([rule('p', { grade: '03' }), rule('p', { subject: 'Mathematics', urgency: 3 })], 'p').filter(
        ([id]) => id === 'wren',
      ),
    ).toEqual([
      ['wren', 0, 100, 3],
      ['wren', 100, whole, 2],
    ]);
  });
});

it('foresees next year: up a grade or where the map sends them, away, staying, and as many who begin', () => {
  const school = (id: string, lowGrade: string, highGrade: string) => sampleSchool(id, { lowGrade, highGrade });
  const next = { from: 400, to: 700 };
  const holder = (id: string, schoolId: string | null, grade: string | null, more: Partial<Holder> = {}): Holder => ({
    ...{ id, role: 'student', stopped: false, classes: [{ classId: 'c', role: 'student', from: 0, to: 9 }] },
    places:
      schoolId === null
        ? []
        : [
            { schoolId: 'before', grade: '01', from: 0, to: 5 },
            { schoolId, grade, from: 5, to: 99 },
          ],
    ...more,
  });
  const people = [
    holder('mapped', 'low', '05'),
    holder('up', 'low', '02'),
    holder('first', 'low', 'KG'),
    holder('gone', 'high', '08'),
    holder('stays', 'high', '07'),
    holder('last', 'high', '12'),
    holder('ungraded', 'low', null),
    holder('stopped', 'low', '03', { stopped: true }),
    holder('nowhere', null, null),
    holder('teacher', 'high', null, { role: 'staff' }),
  ];
  const made = promoted(people, [school('high', '06', '12'), school('low', 'KG', '05')], next, (_, grade) =>
    grade === '05' ? { schoolId: 'high', grade: '06' } : grade === '08' ? 'leaves' : grade === '07' ? 'stays' : null,
  );
  expect(made.map(({ id, places }) => [id, ...places.map((p) => [p.schoolId, p.grade])])).toEqual([
    ['mapped', ['high', '06']],
    ['up', ['', '03']],
    ['first', ['', '01']],
    ['first+', ['low', 'KG']],
    ['stays', ['high', '07']],
    ['ungraded', ['', null]],
    ['teacher', ['high', null]],
  ]);
  for (const { places } of made) expect(places).toMatchObject([next]);
  // Whoever begins is in no class yet; the others are thought to be in those of this year.
  expect(made.filter(({ classes }) => classes.length === 0).map(({ id }) => id)).toEqual(['first+']);
});

it('names classes that have less than most of their grade, the worst day, and a price', () => {
  const one = (classId: string, entitled: number, grade = '03') => ({
    classId,
    schoolId: 'a',
    grade,
    students: 20,
    entitled,
  });
  expect(
    partial([one('3A', 20), one('3B', 20), one('3C', 4), one('4A', 0, '04')]).map(({ classId, missing }) => [
      classId,
      missing,
    ]),
  ).toEqual([['3C', 16]]);
  const short = [3, 23, 12].map((count, i) => ({ from: i, to: i + 1, count, bySchool: new Map<string, number>() }));
  expect(worst(short)?.count).toBe(23);
  const license = {
    id: '',
    productId: '',
    schoolId: null,
    begins: '2026-08-01',
    ends: '2027-08-01',
    orderNumber: null,
  };
  expect(
    priceOf(12, [
      { ...license, seats: 300, costCents: 240_000, trial: 0 },
      { ...license, seats: 40, costCents: 0, trial: 1 },
    ]),
  ).toBe(9600);
  expect(priceOf(12, [])).toBe(null);
  const paid = { ...license, seats: 10, costCents: 101, trial: 0 };
  expect(priceOf(3, [paid])).toBe(31);
  // What was tried out, cost nothing or has no seats tells no price; the latest that was paid for does.
  for (const odd of [{ trial: 1 }, { costCents: 0 }, { costCents: null }, { seats: 0 }, { seats: null }])
    expect(
      priceOf(3, [
        { ...paid, ...odd },
        { ...paid, begins: '2020-08-01', costCents: 200 },
      ]),
    ).toBe(60);
  expect(priceOf(3, [{ ...paid, begins: '2025-08-01', costCents: 500 }, paid])).toBe(31);
});
