import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addUp,
  bandOf,
  hurries,
  objective,
  recordOf,
  secondsOf,
  type Statement,
  type UseRecord,
  verbIri,
  weekOf,
  weeksBetween,
} from './index';

const now = '2026-10-05T10:00:00.000Z';

/** ADL, Experience API 1.0.3, part two, appendix A: the completion statement (from memory). */
const completion: Statement = {
  actor: { mbox: 'mailto:example.learner@adlnet.gov', objectType: 'Agent' },
  verb: { id: 'http://adlnet.gov/expapi/verbs/attempted' },
  object: {
    id: 'http://example.adlnet.gov/xapi/example/simpleCBT',
    definition: { name: { 'en-US': 'simple CBT course' } },
  },
  result: { score: { scaled: 0.95 }, completion: true },
};

describe('statements', () => {
  it('reads skills and words from objectives, interactions and extensions, whatever IRIs a product gives them', () => {
    const told = (more: Partial<Statement>): Pick<UseRecord, 'levels' | 'words'> => {
      const { levels, words } = recordOf({ ...completion, result: undefined, ...more }, now);
      return { levels, words };
    };
    const about = (extensions: Record<string, unknown>, type?: string) => ({
      id: 'https://products.example/task/7',
      definition: { type, name: { en: 'island' }, extensions },
    });
    // Of the object, with the statement's points; of the context, with their own; one that says nothing of a level is left.
    expect(
      told({
        object: about({
          'https://products.example/xapi/competencies': ['Blending', { id: 'https://c.example/Rhyme%20words' }],
        }),
        context: {
          extensions: {
            'https://other.example/ext#Skill': [
              { name: { 'en-US': 'Counting  on' }, raw: 2, max: 10 },
              { name: 'Blending', success: true },
            ],
          },
          contextActivities: { grouping: [{ id: 'urn:s:1', definition: { type: objective, name: { en: 'Vowels' } } }] },
        },
        result: { score: { scaled: 0.5 } },
      }),
    ).toEqual({
      levels: [
        { skill: 'Vowels', band: 2 },
        { skill: 'Blending', band: 3 },
        { skill: 'Rhyme words', band: 2 },
        { skill: 'Counting on', band: 1 },
      ],
      words: [],
    });
    expect(told({ object: about({ 'https://products.example/competency': 'Blending' }) }).levels).toEqual([]);
    // Words: asked for by the object, or by an interaction's own name; missed ones in the result.
    const interaction = 'http://adlnet.gov/expapi/activities/cmi.interaction';
    expect(told({ object: about({}, interaction), result: { success: false } }).words).toEqual([
      { word: 'island', known: false },
    ]);
    expect(
      told({ object: about({ 'https://p.example/word': 'though' }, interaction), result: { success: true } }).words,
    ).toEqual([{ word: 'though', known: true }]);
    expect(
      told({
        object: about({}),
        result: { success: true, extensions: { 'https://p.example/words_missed': ['laugh', 'knee', ''] } },
      }).words,
    ).toEqual([
      { word: 'laugh', known: false },
      { word: 'knee', known: false },
    ]);
    // Whatever a product puts there, nothing is refused for it.
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (one, other) => {
        const made = told({
          object: about({ 'x:/skill': one, 'x:/word': other }),
          context: { extensions: { competency: other } },
          result: { success: false, extensions: { missed: one } },
        });
        for (const name of [...made.levels.map(({ skill }) => skill), ...made.words.map(({ word }) => word)]) {
          expect(name.length).toBeGreaterThan(0);
          expect(name.length).toBeLessThanOrEqual(120);
        }
      }),
    );
  });

  it('reads the example of the specification, durations of ISO 8601, and levels', () => {
    expect(recordOf(completion, now)).toEqual({
      who: 'example.learner@adlnet.gov',
      at: now,
      seconds: 0,
      address: 'http://example.adlnet.gov/xapi/example/simpleCBT',
      finished: true,
      share: 0.95,
      levels: [],
      words: [],
    });
    // ISO 8601, 5.5.2.2, and the durations in the specification's own examples (from memory).
    expect(['PT1234S', 'P1DT12H36M0.5S', 'PT1H0M0.1S', 'P2W', 'PT16559.14S'].map(secondsOf)).toEqual([
      1234, 131_760.5, 3600.1, 1_209_600, 16_559.14,
    ]);
    expect(['P', 'PT', '12M', 'P1Y', 'P2M', '', 'PT5'].map(secondsOf)).toEqual([
      null,
      null,
      null,
      null,
      null,
      null,
      null,
    ]);
    const skill: Statement = {
      actor: { account: { name: 'tabara' } },
      verb: { id: verbIri('scored') },
      object: { id: 'urn:skill:fractions', definition: { type: objective, name: { en: 'Fractions' } } },
      result: { score: { raw: 2, min: 1, max: 3 } },
      timestamp: '2026-10-05T11:00:00+02:00',
    };
    expect(recordOf(skill, now)).toMatchObject({
      who: 'tabara',
      at: '2026-10-05T09:00:00.000Z',
      address: null,
      finished: false,
      levels: [{ skill: 'Fractions', band: 2 }],
    });
    expect(() => recordOf({ ...skill, actor: {} }, now)).toThrow('actor');
    expect(() => recordOf({ ...skill, result: { duration: '5 min' } }, now)).toThrow('PT12M30S');
    expect([0, 0.33, 0.34, 0.5, 0.66, 0.67, 1].map(bandOf)).toEqual([1, 1, 2, 2, 2, 3, 3]);
  });

  it('says that somebody hurries from three on, when it is half of what they finished', () => {
    const said = [1, 2, 3, 4, 5, 6, 7].map((timed) => [0, 1, 2, 3, 4].filter((quick) => hurries(timed, quick)));
    expect(said).toEqual([[], [], [2, 3, 4], [2, 3, 4], [3, 4], [3, 4], [4]]);
  });

  it('puts each day into the one week that holds it', () => {
    expect(weekOf('2026-08-17')).toBe('2026-08-17');
    expect(weekOf('2026-08-23')).toBe('2026-08-17');
    const day = fc.integer({ min: 0, max: 4000 }).map((n) => new Date(n * 86_400_000).toISOString().slice(0, 10));
    fc.assert(
      fc.property(day, day, (a, b) => {
        const [from, to] = [a, b].sort() as [string, string];
        const weeks = weeksBetween(from, to);
        for (const one of [from, to]) expect(weeks).toContain(weekOf(one));
        expect(weeks.every((week) => new Date(week).getUTCDay() === 1)).toBe(true);
        expect(new Set(weeks).size).toBe(weeks.length);
      }),
    );
  });

  it('adds up as counting day by day does, whatever people, products and classes there are', () => {
    const [weeks, people] = [3, ['p0', 'p1', 'p2', 'p3', 'p4']];
    const told = fc.record({
      personId: fc.constantFrom(...people, 'somebody else'),
      productId: fc.constantFrom('a', 'b'),
      week: fc.integer({ min: 0, max: weeks - 1 }),
      seconds: fc.constantFrom(0, 60, 125),
    });
    const within = fc.uniqueArray(fc.constantFrom<string>('k', 'l', 'm'), { maxLength: 2 });
    fc.assert(
      fc.property(
        fc.array(told, { maxLength: 30 }),
        fc.array(within, { minLength: 5, maxLength: 5 }),
        (days, units) => {
          const rows = new Map<string, { personId: string; productId: string; seconds: (number | null)[] }>();
          for (const { personId, productId, week, seconds } of days) {
            const key = `${personId} ${productId}`;
            const row = rows.get(key) ?? { personId, productId, seconds: [null, null, null] };
            row.seconds[week] = (row.seconds[week] ?? 0) + seconds;
            rows.set(key, row);
          }
          const who = new Map(people.map((id, i) => [id, units[i]!]));
          const sums = addUp({ who, used: [...rows.values()], held: new Map(), paced: new Map(), weeks });
          const own = days.filter(({ personId }) => who.has(personId));
          const total = (list: typeof days) => list.reduce((sum, { seconds }) => sum + seconds, 0);
          const heads = (list: typeof days) => new Set(list.map(({ personId }) => personId)).size;
          for (let week = 0; week < weeks; week++) {
            const then = own.filter((day) => day.week === week);
            expect(sums.byWeek[week]).toEqual({ seconds: total(then), people: heads(then) });
            for (const [id, unit] of sums.units)
              expect(unit.weeks[week]).toBe(total(then.filter(({ personId }) => who.get(personId)!.includes(id))));
            for (const [id, product] of sums.byProduct)
              expect(product[week]).toBe(total(then.filter(({ productId }) => productId === id)));
          }
          expect(sums.counts).toEqual({ never: 0, idle: 0, hurries: 0, used: heads(own), all: who.size });
          for (const [id, unit] of sums.units) {
            const members = people.filter((one) => who.get(one)!.includes(id));
            expect([unit.students, unit.used]).toEqual([
              members.length,
              heads(own.filter(({ personId }) => members.includes(personId))),
            ]);
          }
        },
      ),
    );
  });
});
