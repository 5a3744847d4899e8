import { inEnglish } from '#core/messages/languages';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  applyTo,
  type Change,
  type Fields,
  guard,
  invert,
  isSoAlready,
  keyOf,
  merge,
  MergeError,
  pack,
  type Plan,
  shareGuard,
  type State,
  summarise,
  unpack,
  without,
} from './index';
import { type EntityShape, randomPlan, seeds } from './arbitrary';
import { randomFrom } from '#core/random/index';

const shapes: EntityShape[] = [
  {
    entity: 'person',
    fresh: (r) => ({ name: r.text(), grade: r.below(13), ends: null }),
    alter: (r): Fields => (r.below(2) ? { name: r.text() } : { name: r.text(), grade: r.below(13) }),
    endField: 'ends',
    referredBy: [['enrollment', 'personId']],
  },
  {
    entity: 'enrollment',
    fresh: (r, pick) => {
      const personId = pick('person');
      return personId ? { personId, role: r.text(), ends: null } : null;
    },
    alter: (r) => ({ role: r.text() }),
    endField: 'ends',
  },
];

/** A state that grew by three random plans, the plan in question, and a generator for more. */
function world(seed: number) {
  const r = randomFrom(seed);
  let n = 0;
  const mint = () => `id${n++}`;
  let state: State = new Map();
  const next = () => randomPlan(state, shapes, 1 + r.below(20), r, mint);
  const go = (plan: Plan) => {
    const result = applyTo(state, plan);
    if (!('state' in result)) throw new Error(JSON.stringify(result.conflicts));
    state = result.state;
  };
  for (let i = 0; i < 3; i++) go(next());
  return { r, next, go, now: () => state };
}

/** Order of rows is no part of a state, nor is a table that has none. */
const normal = (state: State) =>
  [...state]
    .filter(([, table]) => table.size > 0)
    .map(([entity, table]) => [entity, [...table].sort(([a], [b]) => (a < b ? -1 : 1))])
    .sort();

const change = (c: Partial<Change> & Pick<Change, 'id' | 'op'>): Change => ({
  entity: 'person',
  before: {},
  after: {},
  reason: 'test',
  label: c.id,
  subject: c.id,
  ...c,
});

describe('a plan', () => {
  it('followed by its inverse leaves every table as it was', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { next, go, now } = world(seed);
        const before = normal(now());
        const plan = next();
        go(plan);
        go(invert(plan));
        expect(normal(now())).toEqual(before);
        expect(invert(invert(plan)).changes.map(keyOf)).toEqual(plan.changes.map(keyOf));
      }),
      { numRuns: 2000 },
    );
  });

  it('merged with the one that follows has the effect of both, and its inverse undoes both', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { next, go, now } = world(seed);
        const start = now();
        const first = next();
        go(first);
        const second = next();
        go(second);
        const both = merge(first, second);
        const result = applyTo(start, both);
        expect('state' in result && normal(result.state)).toEqual(normal(now()));
        const back = applyTo(now(), invert(both));
        expect('state' in back && normal(back.state)).toEqual(normal(start));
      }),
      { numRuns: 2000 },
    );
  });

  it('is not applied in part: a field changed in between is named and nothing moves', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { next, now } = world(seed);
        const plan = next();
        const victim = plan.changes.find((c) => c.op === 'update');
        fc.pre(victim !== undefined);
        const field = Object.keys(victim!.before)[0]!;
        const table = now().get(victim!.entity)!;
        table.set(victim!.id, { ...table.get(victim!.id), [field]: 'someone else was here' });
        const frozen = normal(now());
        const result = applyTo(now(), plan);
        expect('conflicts' in result && result.conflicts.map((c) => c.key)).toEqual([keyOf(victim!)]);
        expect(normal(now())).toEqual(frozen);
      }),
      { numRuns: 500 },
    );
  });

  it('refuses to merge what cannot follow', () => {
    const a: Plan = { changes: [change({ id: 'p', op: 'update', before: { grade: 1 }, after: { grade: 2 } })] };
    const b: Plan = { changes: [change({ id: 'p', op: 'update', before: { grade: 3 }, after: { grade: 4 } })] };
    expect(() => merge(a, b)).toThrow(MergeError);
  });
});

describe('a change that somebody else made since', () => {
  const change = (op: Change['op'], before: Fields, after: Fields): Change => ({
    ...{ entity: 'enrollment', id: 'e', op, before, after, reason: '', label: '', subject: 'p' },
  });
  const ends = change('end', { ends: null }, { ends: '2026-08-17' });
  const named = change('update', { name: 'A', grade: 1 }, { name: 'B' });
  it.each([
    ['was made whole', ends, { ends: '2026-08-17' }, true],
    ['was made on another day', ends, { ends: '2026-08-16' }, false],
    ['was not made', ends, { ends: null }, false],
    ['was made, beside what the plan relied on', named, { name: 'B', grade: 1 }, true],
    ['was made, and what the plan relied on is otherwise', named, { name: 'B', grade: 2 }, false],
    ['took a row away', change('purge', { name: 'A' }, {}), undefined, true],
    ['would have changed a row that is gone', ends, undefined, false],
    ['is of a row to be made, which is another one', change('create', {}, { name: 'A' }), { name: 'A' }, false],
  ] as const)('%s', (_, one, row, is) => {
    expect(isSoAlready(one as Change, row as Fields | undefined)).toBe(is);
  });
});

describe('packing', () => {
  it('gives the changes back as they were, whatever they hold and however they differ', () => {
    const value = fc.oneof(fc.string(), fc.integer(), fc.constant(null));
    const fields = fc.dictionary(fc.constantFrom('a', 'b', 'c'), value);
    const change = fc.record(
      {
        entity: fc.constantFrom('person', 'class'),
        id: fc.string(),
        op: fc.constantFrom('create' as const, 'update' as const),
        before: fields,
        after: fields,
        reason: fc.string(),
        label: fc.string(),
        subject: fc.string(),
        needs: fc.array(fc.string(), { maxLength: 2 }),
        evidence: fc.string(),
        origin: fc.record(
          { source: fc.constantFrom('x', 'y'), line: fc.integer({ min: 1 }) },
          { requiredKeys: ['source'] },
        ),
      },
      { requiredKeys: ['entity', 'id', 'op', 'before', 'after', 'reason', 'label', 'subject'] },
    );
    const plain = (x: unknown) => JSON.parse(JSON.stringify(x)) as unknown;
    fc.assert(
      fc.property(fc.array(change, { maxLength: 5 }), fc.boolean(), (changes, alike) => {
        const list = alike ? changes.map((c) => ({ ...changes[0]!, id: c.id, label: c.label })) : changes;
        expect(plain(unpack(pack(list)))).toEqual(plain(list));
      }),
    );
    const many = Array.from({ length: 100 }, (_, i) => ({
      entity: 'person',
      id: `${i}`,
      op: 'create' as const,
      before: {},
      after: { familyName: 'Moyo', givenName: 'Ada' },
      reason: 'new in the file',
      label: 'Moyo, Ada',
      subject: `${i}`,
    }));
    expect(pack(many).length).toBeLessThan(JSON.stringify(many).length / 2);
  });
});

describe('taking out', () => {
  it('takes with it what needs a row that is no longer made', () => {
    const plan: Plan = {
      changes: [
        change({ id: 'c', op: 'create', entity: 'class' }),
        change({ id: 'p', op: 'create' }),
        change({ id: 'e1', op: 'create', entity: 'enrollment', subject: 'p', needs: ['c', 'p'] }),
        change({ id: 'e2', op: 'create', entity: 'enrollment', subject: 'q', needs: ['c'] }),
      ],
    };
    expect(without(plan, { subjects: ['c'] }).changes.map((c) => c.id)).toEqual(['p']);
    expect(without(plan, { keys: ['person:p:create'] }).changes.map((c) => c.id)).toEqual(['c', 'e2']);
  });
});

describe('a guard', () => {
  const groups = new Map([['s', { name: 'Lantern Point', size: 40 }]]);
  const rule = shareGuard({
    code: 'leave',
    groups,
    most: 0.05,
    free: 1,
    what: 'intake.wouldLeave',
    groupOf: (c) => (c.op === 'end' ? 's' : null),
  });
  const leaving = (n: number): Plan => ({
    changes: Array.from({ length: n }, (_, i) => change({ id: `p${i}`, op: 'end' })),
  });

  it('lets the set share pass and holds one more, with the names', () => {
    expect(guard(leaving(2), [rule])).toEqual([]);
    const [held] = guard(leaving(3), [rule]);
    expect(held).toMatchObject({ code: 'leave:s', count: 3, names: ['p0', 'p1', 'p2'] });
    expect(inEnglish(held!.message)).toContain(
      '3 of 40 students would leave (8%). The most allowed without a review is 5%',
    );
  });
});

describe('a summary', () => {
  it('counts by kind, updates by the fields they set', () => {
    const changes = [
      change({ id: '1', op: 'create' }),
      change({ id: '2', op: 'create' }),
      change({ id: '3', op: 'create', entity: 'class' }),
      change({ id: '4', op: 'end', entity: 'enrollment' }),
      change({ id: '5', op: 'update', after: { grade: 1, name: 'a' } }),
    ];
    const summary = summarise(changes);
    expect(summary.total).toBe(5);
    expect(summary.kinds.at(-1)).toMatchObject({ kind: 'person.update:grade+name', count: 1 });
    expect(summarise([])).toEqual({ total: 0, kinds: [] });
  });
});
