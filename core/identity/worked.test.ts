/**
 * Worked examples of who is who: how single values compare, which pairs meet, what is made of a whole list, and whom a
 * claim resembles, told in `worked.txt`. Whoever changes what is said there looks at each line that changes.
 */
import { expect, it } from 'vitest';
import { block } from './block';
import { Comparer } from './compare';
import { field, fieldNames, levels } from './fields';
import { duplicates, type Evidence, type Known, link, resembling } from './index';
import { prepare, shared } from './people';
import { practice } from './practice';

const nobody: Known = {
  ...{ number: '', givenName: '', middleName: '', familyName: '', birthDate: null, grade: null },
  ...{ school: '', className: '', email: '', guardianEmail: '' },
};
const out: string[] = [];
const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');
const told = (evidence: Evidence[]) =>
  evidence.map(({ what, level, bits }) => `${what}${level ? ` ${level}` : ''} ${bits.toFixed(1)}`).join(', ');
/** The fields of which two people say something, with the level of each. */
function compared(one: Partial<Known>, two: Partial<Known>, others: Partial<Known>[] = []): string {
  const words = shared(one.others?.length ?? 0);
  const [a, b] = [[one, ...others], [two]].map((list) =>
    prepare(
      list.map((known) => ({ ...nobody, ...known })),
      words,
    ),
  );
  const levelsOf = new Uint8Array(fieldNames.length + (one.others?.length ?? 0));
  new Comparer(a!, b!, words).compare(0, 0, levelsOf);
  const said = fieldNames.flatMap((name) =>
    levelsOf[field[name]]! > 0 ? `${name} ${levels[name][levelsOf[field[name]]!]}` : [],
  );
  for (const level of levelsOf.subarray(fieldNames.length)) said.push(`other ${level}`);
  return said.join(', ') || 'nothing';
}
const meet = (one: Partial<Known>, two: Partial<Known>): boolean => {
  const words = shared(one.others?.length ?? 0);
  const [a, b] = [one, two].map((known) => prepare([{ ...nobody, ...known }], words));
  let met = 0;
  block(a!, b!, words, () => met++);
  return met === 1;
};

it('people compare, meet and are told apart as these are', async () => {
  const values = (
    name: 'number' | 'birthDate' | 'grade' | 'email' | 'guardianEmail' | 'familyName' | 'givenName',
    pairs: string[],
  ) =>
    show(
      name,
      pairs.map((pair) => {
        const [x, y] = pair.split(' | ');
        return `${pair}: ${compared({ [name]: x }, { [name]: y })}`;
      }),
    );
  values('number', [
    '004117 | 4117',
    '4117 | 4118',
    '417 | 418',
    'A-4117 | a4117',
    '4117 | 9382',
    '0 | 00',
    '4117 | 41170',
    '4117 | 1417',
  ]);
  values('birthDate', [
    '2016-03-04 | 2016-03-04',
    '2016-03-04 | 2016-04-03',
    '2016-03-04 | 2016-03-05',
    '2016-03-04 | 2016-03-40',
    '2016-03-04 | 2017-03-04',
    '2016-03-04 | 2016-08-04',
    '2016-03-04 | 2016-11-29',
    '2016-03-14 | 2011-12-14',
    '2016-10-14 | 2019-10-25',
    '2016-03-04 | 1980-11-29',
  ]);
  values('grade', ['03 | 03', '03 | 04', '03 | 05', '04 | 03', 'KG | 01', '12 | 13', 'xx | 03']);
  values('email', ['a@x.example | A@x.example ', 'a@x.example | b@x.example', 'ann@x.example | bob@y.example']);
  values('guardianEmail', ['a@x.example | a@x.example', 'a@x.example | b@x.example', 'ann@x.example | bob@y.example']);
  values('familyName', [
    'Abara | ABARA',
    'van der Berg | Berg',
    'García López | García',
    'García López | López Díaz',
    'de la Cruz | Delacruz',
    'Anstruther | Anstruter',
    'Moyo | Mayo',
    'Moyo | Okafor',
    'Ng | Ngo',
    'O’Hara | Ohara',
    'Li Wu | Wu Li',
    'van | von',
  ]);
  values('givenName', [
    'Ann | ANN',
    'Bill | William',
    'Tom | Thomas',
    'T. | Thomas',
    'T | Sam',
    'Anna Maria | Maria',
    'Katherine | Katharine',
    'Ada | Lin',
    'Jo | Joanna',
    'Zoé | Zoe',
    'Ma | Mary',
    'An | Anton',
  ]);
  show('names together', [
    `middle used as given: ${compared({ givenName: 'Ada', middleName: 'Lin' }, { givenName: 'Lin' })}`,
    `given in the middle: ${compared({ givenName: 'Lin' }, { givenName: 'Ada', middleName: 'Lin' })}`,
    `short form in the middle: ${compared({ givenName: 'Ada', middleName: 'William' }, { givenName: 'Bill' })}`,
    `short form in the middle, arriving: ${compared({ givenName: 'Bill' }, { givenName: 'Ada', middleName: 'William' })}`,
    `no form at all: ${compared({ givenName: 'Ada', middleName: 'Ida' }, { givenName: 'Bill', middleName: 'Kim' })}`,
    `middle names: ${compared({ givenName: 'A', middleName: 'Lin' }, { givenName: 'A', middleName: 'Lin' })}`,
    `a middle initial: ${compared({ givenName: 'A', middleName: 'Lin' }, { givenName: 'A', middleName: 'L' })}`,
    `nearly: ${compared({ givenName: 'A', middleName: 'Katherine' }, { givenName: 'A', middleName: 'Katharine' })}`,
    `others: ${compared({ givenName: 'A', middleName: 'Lin' }, { givenName: 'A', middleName: 'Ida' })}`,
    `exchanged: ${compared({ givenName: 'Ada', middleName: 'Lin' }, { givenName: 'Lin', middleName: 'Ada' })}`,
    `swapped: ${compared({ givenName: 'Okafor', familyName: 'Lin' }, { givenName: 'Lin', familyName: 'Okafor' })}`,
    `swapped, nearly: ${compared({ givenName: 'Okafor', familyName: 'Lin' }, { givenName: 'Lin', familyName: 'Okafer' })}`,
    `swapped in part: ${compared({ givenName: 'Okafor Ada', familyName: 'Lin' }, { givenName: 'Lin', familyName: 'Okafor' })}`,
    `swapped, one is lacking: ${compared({ givenName: 'Okafor' }, { familyName: 'Okafor', givenName: '' })}`,
    `not swapped: ${compared({ givenName: 'Okafor', familyName: 'Lin' }, { givenName: 'Lin', familyName: 'Moyo' })}`,
    `other facts: ${compared({ others: ['1 Quay St', 'Port'] }, { others: ['1 quay st', 'Harbor'] })}`,
    `other facts, nearly: ${compared({ others: ['1 Quay Street', ''] }, { others: ['1 Quay Stret', 'x'] })}`,
  ]);
  const crowd = (count: number, value: Partial<Known>) => Array.from({ length: count }, () => value);
  const many = (own: number, name: 'familyName' | 'givenName' | 'guardianEmail', value: string) => [
    ...crowd(own, { [name]: value }),
    ...Array.from({ length: 3000 }, (_, i) => ({ [name]: `x${i}` })),
  ];
  show('how frequent a value is', [
    ...[1, 2, 10, 30].map(
      (own) =>
        `family name of ${own + 1} in 3,000: ${compared({ familyName: 'Moyo' }, { familyName: 'Moyo' }, many(own, 'familyName', 'Moyo'))}`,
    ),
    ...[1, 10, 30].map(
      (own) =>
        `given name of ${own + 1} in 3,000: ${compared({ givenName: 'Ada' }, { givenName: 'Ada' }, many(own, 'givenName', 'Ada'))}`,
    ),
    ...[5, 6, 7, 8, 9].map(
      (own) =>
        `address of ${own + 2}: ${compared({ guardianEmail: 'g@x.example' }, { guardianEmail: 'g@x.example' }, crowd(own, { guardianEmail: 'g@x.example' }))}`,
    ),
  ]);
  const [one, two]: [Partial<Known>, Partial<Known>] = [
    { givenName: 'Ada', familyName: 'van der Moyo', birthDate: '2016-03-04', grade: '03' },
    { givenName: 'Lin', familyName: 'Okafor', birthDate: '2015-11-29', grade: '05' },
  ];
  const meets = (title: string, a: Partial<Known>, b: Partial<Known>) =>
    `${title}: ${meet({ ...one, ...a }, { ...two, ...b }) ? 'meet' : 'pass by'}`;
  show('which pairs meet', [
    meets('nothing in common', {}, {}),
    meets('number', { number: '0041' }, { number: '41' }),
    meets('e-mail', { email: 'a@x.example' }, { email: 'a@x.example' }),
    meets('guardian', { guardianEmail: 'a@x.example' }, { guardianEmail: 'a@x.example' }),
    meets('birth date', {}, { birthDate: '2016-03-04' }),
    meets('both names', {}, { givenName: 'Ada', familyName: 'Moyo' }),
    meets('both names the other way round', {}, { givenName: 'Moyo', familyName: 'Ada' }),
    meets('given name, day and month swapped', {}, { givenName: 'Ada', birthDate: '2016-04-03' }),
    meets('family name, day and month swapped', {}, { familyName: 'Moyo', birthDate: '2016-04-03' }),
    meets('day and month swapped alone', {}, { birthDate: '2016-04-03' }),
    meets('given name and month', {}, { givenName: 'Ada', birthDate: '2016-03-29' }),
    meets('given name and another month', {}, { givenName: 'Ada', birthDate: '2016-05-29' }),
    meets('given name, day and month', {}, { givenName: 'Ada', birthDate: '2011-03-04' }),
    meets('last family name, day and month', {}, { familyName: 'Li Moyo', birthDate: '2011-03-04' }),
    meets('given and middle name', { middleName: 'Kim' }, { givenName: 'Ada', middleName: 'Kim' }),
    meets('family name and year', {}, { familyName: 'Moyo', birthDate: '2016-11-29' }),
    meets('last family name and year', {}, { familyName: 'Li Moyo', birthDate: '2016-11-29' }),
    meets('family name and another year', {}, { familyName: 'Moyo' }),
    meets('sound, initial and year', {}, { givenName: 'Abe', familyName: 'Mayo', birthDate: '2016-11-29' }),
    meets('sound, initial and grade', {}, { givenName: 'Abe', familyName: 'Mayo', grade: '03' }),
    meets('sound, initial and the next grade', {}, { givenName: 'Abe', familyName: 'Mayo', grade: '04' }),
    meets('sound, initial and the grade before', {}, { givenName: 'Abe', familyName: 'Mayo', grade: '02' }),
    meets('sound, another initial, grade', {}, { givenName: 'Bea', familyName: 'Mayo', grade: '03' }),
    meets('family name and the next grade', {}, { familyName: 'Moyo', grade: '04' }),
    meets('family name and the same grade', {}, { familyName: 'Moyo', grade: '03' }),
    meets('another fact and the given name', { others: ['a', 'b'] }, { others: ['a', 'c'], givenName: 'Ada' }),
    meets('another fact and the family name', { others: ['a', 'b'] }, { others: ['c', 'b'], familyName: 'Moyo' }),
    meets('two other facts', { others: ['a', 'b'] }, { others: ['a', 'b'] }),
    meets('one other fact', { others: ['a', 'b'] }, { others: ['a', 'c'] }),
    `names lacking: ${meet({ birthDate: '2016-03-04' }, { birthDate: '2016-03-05' }) ? 'meet' : 'pass by'}`,
  ]);
  const claims = (claim: Parameters<typeof resembling>[0]) =>
    resembling(claim, [
      { familyName: 'Moyo', givenName: 'Ada', number: '004117', birthDate: '2016-03-04' },
      { familyName: 'Moyo', givenName: 'Ida', number: '004118', birthDate: '2016-03-04' },
      { familyName: 'Mayo', givenName: 'William', number: '417', birthDate: '2015-03-04' },
      { familyName: 'Okafor', givenName: 'Lin', number: null, birthDate: null },
    ]).map(
      ({ person, fields, isSure }) =>
        `  ${person.givenName} ${person.familyName}${isSure ? ', surely' : ''}: ${Object.entries(fields)
          .map(([name, like]) => `${name} ${like}`)
          .join(', ')}`,
    );
  show(
    'whom a claim resembles',
    [
      { familyName: 'Moyo', givenName: 'Ada', number: '4117', birthDate: null },
      { familyName: 'MOYO', givenName: 'ada', number: null, birthDate: '2016-03-04' },
      { familyName: 'Moyo', givenName: 'Ada', number: '4118', birthDate: null },
      { familyName: 'Moyo', givenName: 'Ada', number: null, birthDate: '2016-04-03' },
      { familyName: 'Mayo', givenName: 'Bill', number: '418', birthDate: '2015-03-05' },
      { familyName: 'Okafor', givenName: 'Lin', number: '1', birthDate: '2016-01-01' },
      { familyName: 'Reef', givenName: 'Orla', number: '004117', birthDate: '2016-03-04' },
      { familyName: 'Moyo', givenName: 'Zed', number: '004117', birthDate: '2016-03-04' },
    ].flatMap((claim) => [Object.values(claim).join(' '), ...claims(claim)]),
  );
  const { existing: register, incoming: rows } = practice({ seed: 5, children: 260, numbers: 0.6, mistakes: 0.06 });
  const linked = link(register, rows);
  show('a list', [
    `${register.length} on record, ${rows.length} rows, ${linked.compared} pairs compared`,
    ...rows.slice(0, 150).map((row, i) => {
      const [best] = linked.candidates[i]!;
      return `${row.number} ${row.givenName} ${row.familyName} ${row.birthDate}: ${linked.decisions[i]}${best ? ` ${best.existing} ${best.probability.toFixed(3)} of ${linked.candidates[i]!.length}${best.never ? ` ${best.never}` : ''}: ${told(best.evidence())}` : ''}`;
    }),
  ]);
  const second = practice({ seed: 9, children: 320, numbers: 0.15, mistakes: 0.14, givens: 60, variety: 8 });
  const unsure = link(second.existing, second.incoming);
  show(
    'a list with few numbers and many slips',
    unsure.decisions.map(
      (decision, i) =>
        `${i} ${decision} ${unsure.candidates[i]!.map((c) => `${c.existing} ${c.probability.toFixed(3)}${c.never ? ` ${c.never}` : ''}`).join(', ')}`,
    ),
  );
  const twice = [...register.slice(0, 150), ...rows.slice(0, 60)];
  show(
    'twice in one list',
    duplicates(twice)
      .slice(0, 30)
      .map((d) => `${d.one} ${d.two} ${d.probability.toFixed(3)} ${d.never ?? ''}: ${told(d.evidence())}`),
  );
  await expect(out.join('\n')).toMatchFileSnapshot('./worked.txt');
});
