/** One child on two rows: taken once where that is sure, asked about where it could be, and never made a second child. */
import { inEnglish } from '#core/messages/languages';
import { practice } from '#core/identity/practice';
import { randomFrom, shuffled } from '#core/random/index';
import { sampleRow } from '#core/register/samples';
import type { Known } from '#core/identity/index';
import type { TypedRow } from '#core/tabular/index';
import { describe, expect, it } from 'vitest';
import type { OnRecord } from './known';
import { matchRows } from './match';
import { repeatsIn } from './repeats';

const rowOf = (known: Known, line: number): TypedRow => ({
  ...{ ...sampleRow, ...known, line, schoolName: known.school, role: null, birthAsWritten: null },
  grade: known.grade as TypedRow['grade'],
});
const schoolOf = (row: TypedRow) => row.schoolName;
const find = (rows: TypedRow[], apart: number[] = []) => repeatsIn(rows, schoolOf, new Map(), new Set(apart));
const outcome = (rows: TypedRow[], apart?: number[]) => {
  const { once, differing, alike } = find(rows, apart);
  const of = (list: typeof once) => list.map((one) => [one.line, one.of]);
  return { once: of(once), differing: of(differing), alike: of(alike) };
};
const none = { once: [], differing: [], alike: [] };

describe('in practice', () => {
  /** What a hurried hand does to a row that it writes a second time. */
  const slips: Record<string, (row: Known) => Known> = {
    'to the letter': (row) => row,
    'without its number': (row) => ({ ...row, number: '' }),
    'with day and month swapped, or the day before': (row) => {
      const [y, m, d] = (row.birthDate ?? '2015-02-02').split('-') as [string, string, string];
      const before = `${y}-${m}-${String(Math.max(1, Number(d) - 1)).padStart(2, '0')}`;
      return { ...row, birthDate: Number(d) <= 12 ? `${y}-${d}-${m}` : before };
    },
    'with a letter left out': (row) => ({ ...row, givenName: row.givenName.slice(0, 2) + row.givenName.slice(3) }),
  };
  it.each([
    [0.97, 2000],
    [0, 2000],
    [0.5, 600],
  ])('with %f of the numbers, %i children: no second child, nobody lost, few asked', (numbers, children) => {
    const { existing, incoming, truth } = practice({ seed: 11, children, numbers, mistakes: 0.03 });
    const record = existing.map(({ number, grade, school, className, ...known }, i): OnRecord => ({
      person: {
        ...{ ...sampleRow, ...known, id: `p${i}`, role: 'student', number: number || null },
        ...{ middleName: null, preferredName: null, email: null, status: 'active', mergedInto: null },
        guardianEmail: known.guardianEmail || null,
      },
      ...{ grade, school, className },
    }));
    const first = incoming.map((known, j) => rowOf(known, j + 2));
    // Nobody stands in the list twice, though twins, siblings and namesakes do.
    expect(outcome(first)).toEqual(none);
    const kinds = Object.values(slips);
    const again = shuffled(
      randomFrom(3),
      incoming.map((_, j) => j),
    ).slice(0, 120);
    const repeats = again.map((j, k) => rowOf(kinds[k % kinds.length]!(incoming[j]!), incoming.length + k + 2));
    const { rows, once, differing, alike } = find([...first, ...repeats]);
    const taken = new Map([...once, ...differing].map((one) => [one.line, one.of]));
    const { known, fresh, waiting } = matchRows(record, rows, new Map(), [], schoolOf, null, new Set(), alike);
    const made = new Set(fresh.map(({ line }) => line));
    const asked = new Set(waiting.map(({ line }) => line));
    again.forEach((j, k) => {
      const { line } = repeats[k]!;
      // It is the row above, or asked about; and what the row above is it stays.
      if (taken.has(line)) expect(taken.get(line)).toBe(j + 2);
      else expect([line, asked.has(line), made.has(line), known.has(line)]).toEqual([line, true, false, false]);
      expect([j, asked.has(j + 2) || (truth[j]! < 0 ? made.has(j + 2) : known.get(j + 2) === `p${truth[j]}`)]).toEqual([
        ...[j, true],
      ]);
    });
    expect(once.every(({ line }) => line > incoming.length + 1)).toBe(true);
    // Repeats to the letter, and those without their number, are half of them.
    expect(once.length).toBeGreaterThanOrEqual(56);
    expect(asked.size).toBeLessThan(again.length);
  });
});

describe('by example', () => {
  const child: Known = {
    ...{ number: '', givenName: 'Orla', middleName: '', familyName: 'Cove', birthDate: '2017-04-14', grade: '03' },
    ...{ school: 'North', className: '3A', email: '', guardianEmail: 'cove@x.example' },
  };
  const others = Array.from({ length: 20 }, (_, i): Known => ({
    ...child,
    ...{ givenName: `Given${'abcdefghijklmnopqrstuvwxyz'[i]}`, familyName: `Fam${'zyxwvutsrqponmlkjihgfedcba'[i]}ily` },
    ...{ birthDate: `2017-${String(1 + (i % 12)).padStart(2, '0')}-${10 + i}`, guardianEmail: `home${i}@x.example` },
  }));
  const list = (...more: Partial<Known>[]) => [
    ...others.map((known, i) => rowOf(known, i + 100)),
    ...more.map((known, i) => rowOf({ ...child, ...known }, i + 2)),
  ];

  it('takes a child once, with what only the second row says', () => {
    const rows = list({ guardianEmail: '' }, { number: '000007' });
    expect(outcome(rows)).toEqual({ ...none, once: [[3, 2]] });
    expect(find(rows).rows.find(({ line }) => line === 2)).toMatchObject({
      ...{ number: '000007', guardianEmail: 'cove@x.example' },
    });
    expect(inEnglish(find(rows).once[0]!.message)).toBe('The same person as line 2. It is imported once.');
  });

  it('asks where the rows say different things, names them, and is told that they are two', () => {
    const rows = list({}, { className: '3B' });
    expect(outcome(rows)).toEqual({ ...none, differing: [[3, 2]] });
    expect(inEnglish(find(rows).differing[0]!.message)).toContain('with another class: 3B here, 3A there');
    expect(outcome(rows, [3])).toEqual(none);
    expect(find(rows, [3]).rows).toHaveLength(rows.length);
  });

  it('leaves twins two, and children with numbers of their own', () => {
    expect(outcome(list({}, { givenName: 'Odhran' }))).toEqual(none);
    expect(outcome(list({ number: '000007' }, { number: '000008', birthDate: '2017-09-30' }))).toEqual(none);
    // Of one name and one day, each with a number: one of the numbers may be wrong.
    expect(outcome(list({ number: '000007' }, { number: '000008' })).once).toEqual([]);
  });

  it('names each row once, also where it is like one row and surely another', () => {
    const { rows, once, differing, alike } = find(list({ givenName: 'Orlla' }, {}, {}, { className: '3B' }));
    const told = [...once, ...differing, ...alike].map(({ line }) => line);
    expect(new Set(told).size).toBe(told.length);
    const left = new Set(rows.map(({ line }) => line));
    expect([...once, ...differing].filter(({ line }) => left.has(line))).toEqual([]);
    expect(alike.filter(({ line }) => !left.has(line))).toEqual([]);
  });

  it('asks about three rows of a child once each, by the first', () => {
    expect(outcome(list({}, {}, {}))).toEqual({
      ...none,
      once: [
        [3, 2],
        [4, 2],
      ],
    });
  });
});
