import { inEnglish } from '#core/messages/languages';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { applyTo, type State } from '#core/plan/index';
import { addDays } from '#core/time/index';
import { type Calendar, calendarProblems, type KeptCalendar, planCalendar, type Span } from './index';

const year = { name: '2026–27', begins: '2026-08-26', ends: '2027-06-22' };
const good: Calendar = {
  zone: 'America/New_York',
  year,
  terms: [
    { name: 'Fall', begins: '2026-08-26', ends: '2027-01-22' },
    { name: 'Spring', begins: '2027-01-25', ends: '2027-06-22' },
  ],
  daysOff: [
    { name: 'Winter break', begins: '2026-12-21', ends: '2027-01-01' },
    { name: 'Teacher workday', begins: '2026-10-12', ends: '2026-10-12' },
    { name: 'Teacher workday', begins: '2027-03-15', ends: '2027-03-15' },
  ],
};

it('says of each mistake where it is', () => {
  expect(calendarProblems(good)).toEqual([]);
  const [fall, spring] = good.terms as [Span, Span];
  for (const [change, said] of [
    [{ zone: 'Moon/Base' }, '“Moon/Base” is not a time zone'],
    [{ year: { ...year, ends: '2026-08-26' }, terms: [], daysOff: [] }, 'ends before it begins'],
    [{ year: { ...year, ends: '2028-08-26' } }, 'longer than 550 days'],
    [{ terms: [{ ...fall, name: ' ' }] }, 'The term in row 1 has no name'],
    [{ terms: [fall, { ...spring, ends: '2027-06-23' }] }, '“Spring” is outside the school year'],
    [{ terms: [spring, { ...fall, ends: '2027-01-25' }] }, '“Fall” and “Spring” overlap'],
    [{ terms: [fall, { ...spring, name: 'fall' }] }, 'Two terms are named “fall”'],
    [{ daysOff: [{ name: 'Snow', begins: '2027-02-02', ends: '2027-02-01' }] }, '“Snow” ends before it begins'],
  ] as const)
    expect(inEnglish(calendarProblems({ ...good, ...(change as Partial<Calendar>) }).join(' '))).toContain(said);
});

const id = (n: number) => `id${n}`;
const kept = (calendar: Calendar): KeptCalendar => ({
  district: { id: 'd', name: 'Skerry Isles', zone: calendar.zone },
  year: { id: 'y', ...calendar.year },
  terms: calendar.terms.map((span, i) => ({ id: id(i), yearId: 'y', ...span })),
  daysOff: calendar.daysOff.map((span, i) => ({ id: id(100 + i), yearId: 'y', ...span })),
});

it('a day that moves is a change of its own row, not another row', () => {
  let n = 500;
  const [first, second, third] = good.daysOff as [Span, Span, Span];
  const asked = {
    ...good,
    zone: 'America/Chicago',
    daysOff: [{ ...first, ends: '2027-01-04' }, third, { name: 'Snow', begins: '2027-02-02', ends: '2027-02-02' }],
  };
  expect(
    planCalendar(kept(good), asked, () => id(n++)).map(({ entity, id, op, before, after }) => [
      entity,
      id,
      op,
      before,
      after,
    ]),
  ).toEqual([
    ['dayOff', 'id500', 'create', {}, { yearId: 'y', name: 'Snow', begins: '2027-02-02', ends: '2027-02-02' }],
    ['district', 'd', 'update', { zone: 'America/New_York' }, { zone: 'America/Chicago' }],
    ['dayOff', 'id100', 'update', { ends: '2027-01-01' }, { ends: '2027-01-04' }],
    ['dayOff', 'id101', 'purge', { yearId: 'y', ...second }, {}],
  ]);
});

const spans = fc.array(
  fc.record({ name: fc.constantFrom('A', 'B', 'C', 'D'), day: fc.integer({ min: 0, max: 40 }), length: fc.nat(3) }),
  { maxLength: 5 },
);
const calendars = fc
  .record({ zone: fc.constantFrom('UTC', 'Asia/Tokyo'), terms: spans, daysOff: spans })
  .map(({ zone, terms, daysOff }): Calendar => {
    const of = (all: typeof terms): Span[] =>
      all.map(({ name, day, length }) => {
        const begins = addDays(year.begins, day);
        return { name, begins, ends: addDays(begins, length) };
      });
    return { zone, year, terms: of(terms), daysOff: of(daysOff) };
  });

it('makes of any calendar any other, and of the same nothing', () => {
  fc.assert(
    fc.property(calendars, calendars, (from, to) => {
      let n = 500;
      const was = kept(from);
      const changes = planCalendar(was, to, () => id(n++));
      const table = (rows: readonly { id: string }[]) => new Map(rows.map(({ id, ...row }) => [id, row]));
      const state: State = new Map([
        ['district', table([was.district])],
        ['year', table([was.year])],
        ['term', table(was.terms)],
        ['dayOff', table(was.daysOff)],
      ]);
      const applied = applyTo(state, { changes });
      if (!('state' in applied)) throw new Error(JSON.stringify(applied.conflicts));
      const said = (rows: Iterable<object>) =>
        [...(rows as Iterable<Span>)].map(({ name, begins, ends }) => `${begins} ${ends} ${name}`).sort();
      expect(said(applied.state.get('term')!.values())).toEqual(said(to.terms));
      expect(said(applied.state.get('dayOff')!.values())).toEqual(said(to.daysOff));
      expect(applied.state.get('district')!.get('d')).toMatchObject({ zone: to.zone });
      if (JSON.stringify(from) !== JSON.stringify(to)) return;
      expect(changes).toEqual([]);
    }),
  );
});
