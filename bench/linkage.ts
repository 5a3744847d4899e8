/** Who is who: quality on FEBRL and on made-up schools a year on, beside exact matching; speed beside a library. */
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import munkres from 'munkres';
import referenceWinkler from 'talisman/metrics/jaro-winkler.js';
import { marginals } from '#core/identity/assign';
import { type Labelled, readFebrl } from '#core/identity/fixtures/febrl/read';
import { duplicates, type Known, link } from '#core/identity/index';
import { practice } from '#core/identity/practice';
import { jaroWinkler } from '#core/identity/similarity';
import { randomFrom, wordOf } from '#core/random/index';
import { best, print, table, timed } from './table';

const febrl = (name: string): Labelled[] =>
  readFebrl(readFileSync(resolve(`core/identity/fixtures/febrl/${name}.csv`), 'utf8'));

const scores = (hits: number, found: number, truth: number): string[] => {
  const [p, r] = [hits / Math.max(1, found), hits / truth];
  return [p, r, (2 * p * r) / (p + r)].map((x) => x.toFixed(4));
};
/** The plain way: name and birth date, or the number, the same to the letter. */
const exactKeys = ({ familyName, givenName, birthDate, number }: Known): string[] => [
  `${familyName}|${givenName}|${birthDate}`.toLowerCase(),
  ...(number ? [number] : []),
];

function exactPairs(a: Known[], b: Known[]): Set<string> {
  const byKey = new Map<string, number[]>();
  a.forEach((known, i) => exactKeys(known).forEach((key) => byKey.set(key, [...(byKey.get(key) ?? []), i])));
  const pairs = new Set<string>();
  b.forEach((known, j) => exactKeys(known).forEach((key) => byKey.get(key)?.forEach((i) => pairs.add(`${i}-${j}`))));
  return pairs;
}

export async function linkage(): Promise<void> {
  const rows: string[][] = [];
  const [a, b] = [febrl('dataset4a'), febrl('dataset4b')];
  const linked = link(
    a.map((r) => r.known),
    b.map((r) => r.known),
  );
  const right = (j: number) => a[linked.candidates[j]![0]!.existing]!.person === b[j]!.person;
  const even = b.map((_, j) => j).filter((j) => (linked.candidates[j]![0]?.probability ?? 0) > 0.5);
  const alone = b.map((_, j) => j).filter((j) => linked.decisions[j] === 'match');
  rows.push(['set 4, better than even', ...scores(even.filter(right).length, even.length, 5000)]);
  rows.push(['set 4, merged by itself', ...scores(alone.filter(right).length, alone.length, 5000)]);
  const exact = [
    ...exactPairs(
      a.map((r) => r.known),
      b.map((r) => r.known),
    ),
  ].map((pair) => pair.split('-').map(Number));
  rows.push([
    'set 4, exact (reference)',
    ...scores(exact.filter(([i, j]) => a[i!]!.person === b[j!]!.person).length, exact.length, 5000),
  ]);
  for (const n of [1, 2, 3]) {
    const people = febrl(`dataset${n}`);
    const sizes = new Map<string, number>();
    for (const { person } of people) sizes.set(person, (sizes.get(person) ?? 0) + 1);
    const truth = [...sizes.values()].reduce((sum, size) => sum + (size * (size - 1)) / 2, 0);
    const same = ([i, j]: [number, number]) => people[i]!.person === people[j]!.person;
    const found = duplicates(people.map((r) => r.known)).map(({ one, two }) => [one, two] as [number, number]);
    rows.push([`set ${n}, better than even`, ...scores(found.filter(same).length, found.length, truth)]);
    const known = people.map((r) => r.known);
    const plain = [...exactPairs(known, known)]
      .map((pair) => pair.split('-').map(Number) as [number, number])
      .filter(([i, j]) => i < j);
    rows.push([`set ${n}, exact (reference)`, ...scores(plain.filter(same).length, plain.length, truth)]);
  }
  table('FEBRL: true pairs found', ['', 'precision', 'recall', 'F1'], rows);

  const years: string[][] = [];
  for (const [numbers, mistakes] of [
    [0.97, 0.01],
    [0.6, 0.08],
    [0, 0.08],
  ] as const)
    for (const [children, seed, variety, givens, names] of [
      [2000, 21, 8, 700, ''],
      [10_000, 22, 8, 700, ''],
      [10_000, 23, 2, 60, ', few names in fashion'],
    ] as const) {
      const { existing, incoming, truth, traps } = practice({ seed, children, numbers, mistakes, variety, givens });
      const { seconds, result } = await timed(() => link(existing, incoming));
      const matched = incoming.map((_, j) => j).filter((j) => result.decisions[j] === 'match');
      const hits = matched.filter((j) => result.candidates[j]![0]!.existing === truth[j]).length;
      const known = truth.filter((i) => i >= 0).length;
      const plain = [...exactPairs(existing, incoming)].map((pair) => pair.split('-').map(Number));
      years.push([
        `${children.toLocaleString('en-US')} children, ${numbers * 100}% numbers, ${mistakes * 100}% mistakes${names}`,
        scores(hits, matched.length, known)[2]!,
        (((matched.length - hits) / incoming.length) * 1000).toFixed(2),
        String(matched.filter((j) => traps.get(j)?.includes(result.candidates[j]![0]!.existing)).length),
        `${((result.decisions.filter((d) => d === 'review').length / incoming.length) * 100).toFixed(2)}%`,
        `${seconds.toFixed(2)} s`,
        scores(plain.filter(([i, j]) => truth[j!] === i).length, plain.length, known)[2]!,
      ]);
    }
  table(
    'A year on, made-up schools',
    ['', 'F1', 'wrong in 1,000', 'twins, recycled', 'asked', 'time', 'exact F1'],
    years,
  );
}

export async function linkageSpeed(): Promise<void> {
  const words = Array.from({ length: 2000 }, (_, i) => wordOf(i * 77).toLowerCase());
  const all = (compare: (a: string, b: string) => number) => () => {
    let sum = 0;
    for (let i = 0; i < 1_000_000; i++) sum += compare(words[i % 2000]!, words[(i * 7919) % 2000]!);
    return sum;
  };
  const ours = await best(3, all(jaroWinkler));
  const library = await best(2, all(referenceWinkler));
  print('Jaro–Winkler', [
    {
      what: '1,000,000 pairs',
      seconds: ours.seconds,
      count: 1_000_000,
      unit: 'pairs',
      baseline: { what: 'talisman', seconds: library.seconds },
    },
  ]);

  const size = 1000;
  const random = randomFrom(4);
  const odds = Float64Array.from({ length: size * size }, (_, e) =>
    e % (size + 1) === 0 ? 12 : -4 + random.real() * 4,
  );
  const cells = {
    left: new Int32Array(size * size).map((_, e) => Math.floor(e / size)),
    right: new Int32Array(size * size).map((_, e) => e % size),
  };
  const spread = await best(2, () => marginals({ leftCount: size, rightCount: size, ...cells, logOdds: odds }));
  const costs = Array.from({ length: size }, (_, i) =>
    Array.from({ length: size }, (_, j) => 12 - odds[i * size + j]!),
  );
  const solver = await timed(() => munkres(costs));
  print('One to one', [
    {
      what: 'probabilities of 1,000 × 1,000',
      seconds: spread.seconds,
      count: size * size,
      unit: 'pairs',
      baseline: { what: 'munkres, the best assignment alone', seconds: solver.seconds },
    },
  ]);

  const { existing, incoming } = practice({ seed: 5, children: 100_000, numbers: 0.6, mistakes: 0.08 });
  const small = practice({ seed: 6, children: 10_000, numbers: 0.6, mistakes: 0.08 });
  const ten = await timed(() => link(small.existing, small.incoming));
  const hundred = await timed(() => link(existing, incoming));
  print('Matching, one core', [
    { what: '10,000 against 10,000', seconds: ten.seconds, count: 10_000, unit: 'rows' },
    {
      what: '100,000 against 100,000',
      seconds: hundred.seconds,
      count: 100_000,
      unit: 'rows',
      baseline: { what: 'ten of the small ones', seconds: ten.seconds * 10 },
    },
  ]);
  console.log(`  ${Math.round(process.resourceUsage().maxRSS / 1024)} MB at the peak`);
}
