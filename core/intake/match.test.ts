/** Lists longer than is learned from: what is the same to the letter is taken out first, and nothing is the worse for it. */
import { sampleRow } from '#core/register/samples';
import { describe, expect, it } from 'vitest';
import { practice } from '#core/identity/practice';
import type { TypedRow } from '#core/tabular/index';
import { type OnRecord, rowKeyOf } from './known';
import { matchRows } from './match';

const { existing, incoming, truth, traps } = practice({ seed: 11, children: 9000, numbers: 0.97, mistakes: 0.02 });
const record = existing.map(({ number, grade, school, className, ...known }, i): OnRecord => ({
  person: {
    ...known,
    id: `p${i}`,
    role: 'student',
    number: number || null,
    middleName: known.middleName || null,
    email: known.email || null,
    guardianEmail: known.guardianEmail || null,
    status: 'active',
    mergedInto: null,
  },
  grade,
  school,
  className,
}));
const rows = incoming.map((known, j): TypedRow => ({
  ...sampleRow,
  ...known,
  line: j + 2,
  grade: known.grade as TypedRow['grade'],
  schoolName: known.school,
  role: null,
  birthAsWritten: null,
}));
const toTheLetter = rows.flatMap((row, j) => {
  const was = existing[truth[j]!];
  return was &&
    row.number !== '' &&
    row.number === was.number &&
    row.familyName === was.familyName &&
    row.givenName === was.givenName &&
    row.birthDate !== null &&
    row.birthDate === was.birthDate
    ? j
    : [];
});

describe('a list of thousands', () => {
  it('has nobody for somebody else, whoever is the same to the letter for themselves, and asks about few', () => {
    expect(rows.length).toBeGreaterThan(8000);
    expect(toTheLetter.length).toBeGreaterThan(5000);
    const { known, fresh, waiting } = matchRows(record, rows, new Map());
    expect(known.size + fresh.length + waiting.length).toBe(rows.length);
    expect(new Set(known.values()).size).toBe(known.size);
    const wrong = [...known].filter(([line, id]) => id !== `p${truth[line - 2]}`);
    // Rarer than 1 in 10,000 rows.
    expect(wrong).toEqual([]);
    for (const [j, others] of traps) for (const i of others) expect(known.get(j + 2)).not.toBe(`p${i}`);
    expect(toTheLetter.filter((j) => !known.has(j + 2))).toEqual([]);
    expect(waiting.length).toBeLessThan(rows.length / 100);
    const made = new Set(fresh.map(({ line }) => line));
    const missed = rows.filter((_, j) => truth[j]! >= 0 && made.has(j + 2));
    expect(missed.length).toBeLessThan(rows.length / 1000);
  });

  it('is bound by what people decided, and leaves rows alone that a problem stops', () => {
    // Late ones, beyond those that are learned from.
    const [denied, stopped, other] = toTheLetter.slice(-3) as [number, number, number];
    const decided = [{ rowKey: rowKeyOf(rows[denied]!), personId: `p${truth[denied]}`, same: false }];
    const { known, waiting } = matchRows(record, rows, new Map([[stopped + 2, 'No school.']]), decided);
    expect(known.get(denied + 2)).not.toBe(`p${truth[denied]}`);
    expect(known.has(stopped + 2)).toBe(false);
    expect(waiting.find(({ line }) => line === stopped + 2)).toMatchObject({
      code: 'problem',
      candidates: expect.arrayContaining([`p${truth[stopped]}`]) as string[],
    });
    expect(known.get(other + 2)).toBe(`p${truth[other]}`);
  });
});
