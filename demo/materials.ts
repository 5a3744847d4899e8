/**
 * What the made-up products offer, what of it is set, and how it was used before summer. Planted: children who never
 * opened what they hold a seat of, some who hurry through, levels in two skills.
 */
import { addDays, momentOf } from '#core/time/index';
import { demoZone } from './place';
import { slug } from './product';
import { makes } from '#core/register/steps';
import type { Change } from '#core/plan/index';
import type { Material, MaterialKind, Product, Row, SetWork } from '#core/entities/index';
import { randomFrom } from '#core/random/index';

/** The moment at which the district's clocks show this hour. */
const hour = (day: string, time: string): string => momentOf(demoZone, `${day}T${time}`);

export interface Used {
  days: { productId: string; personId: string; day: string; times: number; seconds: number }[];
  results: { materialId: string; personId: string; at: string; permille: number; seconds: number }[];
  levels: { productId: string; personId: string; skill: string; band: number; seenOn: string }[];
  missed: {
    productId: string;
    personId: string;
    word: string;
    times: number;
    missedAt: string;
    knownAt: string | null;
  }[];
}
export interface MaterialsInput {
  seed: number;
  mint: () => string;
  /** By name; of two editions the newer one. */
  products: ReadonlyMap<string, Product>;
  /** When somebody last used a product. */
  uses: readonly { personId: string; productId: string; usedOn: string }[];
  /** A day so many days from today, and a class by its school's code and name. */
  at: (days: number) => string;
  classAt: (code: string, name: string) => string;
  /** Where the products open what they offer. */
  offeredAt: string;
}

type Offer = [title: string, kind: MaterialKind, minutes: number, needs?: string];
const offers: Record<string, Offer[]> = {
  'Skerrymark Arithmetic': [
    ['Counting by tides', 'lesson', 25],
    ['Adding on the number pier', 'practice', 15],
    ['Sharing a catch', 'lesson', 30],
    ['Fractions of a fathom', 'practice', 20],
    ['Check: whole numbers', 'test', 30],
  ],
  'Wrackline Readers': [
    ['The lamp at Gannet Head', 'book', 20],
    ['Nine nets', 'book', 20],
    ['A letter in a bottle', 'book', 25],
    ['Read aloud: harbor words', 'practice', 10, 'headphones'],
    ['What happened first', 'practice', 15],
    ['Check: retelling', 'test', 20],
  ],
  'Kelpline Algebra': [
    ['Unknowns on the quay', 'lesson', 35],
    ['Balancing loads', 'practice', 20],
    ['Lines and bearings', 'lesson', 35, 'a ruler'],
    ['Slopes', 'practice', 20],
    ['Check: equations', 'test', 40],
  ],
  'Ebbstone Science': [
    ['Why tides run late', 'lesson', 30],
    ['Salt, sand and soap', 'lesson', 40, 'a kitchen scale'],
    ['Check: matter', 'test', 30],
  ],
  'Halyard Grammar': [
    ['Commas at sea', 'practice', 15],
    ['Reported speech', 'lesson', 25],
  ],
  'Isobar Atlas': [['Reading a weather map', 'lesson', 25]],
  'Driftwood Art Box': [['Drawing a shoreline', 'lesson', 40, 'charcoal']],
  'Binnacle Practice Tests': [
    ['Practice test 1', 'test', 90],
    ['Practice test 2', 'test', 90],
  ],
};
/** Of which use is told, with the skill that their last test is about. */
const told: Record<string, string> = { 'Wrackline Readers': 'Retelling', 'Kelpline Algebra': 'Equations' };
/** Words of common English with spellings that children stumble over. */
const hardWords: Record<string, string[]> = {
  'Wrackline Readers': ['island', 'though', 'knee', 'laugh', 'enough', 'answer', 'guess', 'wrist', 'climb', 'listen'],
};

export function makeMaterials({ seed, mint, products, uses, at, classAt, offeredAt }: MaterialsInput): {
  changes: Change[];
  used: Used;
} {
  const r = randomFrom(seed);
  const changes: Change[] = [];
  const add = <E extends 'material' | 'work'>(entity: E, row: Row<E> & { title: string }): Row<E> => {
    changes.push({ ...makes(entity, row, 'opening register'), label: row.title, subject: row.id });
    return row;
  };
  const of = new Map<string, Material[]>();
  for (const [name, list] of Object.entries(offers)) {
    const product = products.get(name)!;
    const { id: productId, lowGrade, highGrade, subject } = product;
    of.set(
      productId,
      list.map(([title, kind, minutes, needs = null]) =>
        add('material', {
          ...{ id: mint(), productId, title, kind, lowGrade, highGrade, subject, minutes, needs },
          address: `${offeredAt}/${slug(name)}/${slug(title)}`,
        }),
      ),
    );
  }
  const set = (
    material: Material,
    code: string,
    name: string,
    from: number,
    to: number | null,
    more: Partial<SetWork> = {},
  ) =>
    add('work', {
      ...{
        id: mint(),
        classId: classAt(code, name),
        materialId: material.id,
        title: material.title,
        whom: 'class',
        groupId: null,
      },
      ...{ opensAt: hour(at(from), '08:00'), dueAt: null, closesAt: to === null ? null : hour(at(to), '15:00') },
      ...{ minutes: null, entryWord: null, paused: 0, answers: 'done', ends: null, ...more },
    });
  const readers = of.get(products.get('Wrackline Readers')!.id)!;
  const algebra = of.get(products.get('Kelpline Algebra')!.id)!;
  set(readers[2]!, 'LAN', '3A', -40, 12, { dueAt: hour(at(5), '15:00') });
  set(readers[1]!, 'LAN', 'KA', 10, 24);
  set(algebra[0]!, 'SKM', '6A', 10, 17);
  set(algebra[0]!, 'SKM', '6B', 10, 17);
  set(algebra[4]!, 'SKM', '7A', 12, 12, { minutes: 40, entryWord: 'curlew', answers: 'closed' });

  const used: Used = { days: [], results: [], levels: [], missed: [] };
  for (const [name, skill] of Object.entries(told)) {
    const productId = products.get(name)!.id;
    const materials = of.get(productId)!;
    for (const { personId, usedOn } of uses.filter((use) => use.productId === productId && use.usedOn > at(-100))) {
      const back = (days: number) => addDays(usedOn, -days);
      const eager = 1 + r.below(3);
      const hurried = r.below(18) === 0;
      for (let day = 0; day < 56; day += 1 + r.below(9 - eager * 2)) {
        if ([0, 6].includes(new Date(back(day)).getUTCDay()) && day > 0) continue;
        used.days.push({
          productId,
          personId,
          day: back(day),
          times: 1 + r.below(2),
          seconds: 60 * (8 + r.below(10 * eager + 6)),
        });
      }
      materials.slice(0, 3 + r.below(materials.length - 2)).forEach(({ id, minutes }, i) => {
        const seconds = Math.round(minutes! * 60 * (hurried ? 0.12 + r.below(10) / 100 : 0.6 + r.below(80) / 100));
        const permille = hurried ? 150 + r.below(300) : 450 + r.below(551);
        used.results.push({ materialId: id, personId, at: hour(back(3 + 7 * i), '09:00'), permille, seconds });
      });
      if (r.below(8) > 0) used.levels.push({ productId, personId, skill, band: 1 + r.below(3), seenOn: back(2) });
      for (const word of hardWords[name] ?? [])
        if (r.below(6) === 0) {
          const missedAt = hour(back(2 + r.below(12)), '09:20');
          const knownAt = r.below(3) === 0 ? hour(back(1), '09:25') : null;
          used.missed.push({ productId, personId, word, times: 1 + r.below(3), missedAt, knownAt });
        }
    }
  }
  return { changes, used };
}
