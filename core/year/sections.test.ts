/** Sections against the exact optimum, found by trying every split of small grades. */
import { thrown } from '#core/messages/expect';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeds } from '#core/plan/arbitrary';
import { type Random, randomFrom } from '#core/random/index';
import { balance, scoreSplit, type SplitQuestion, splitSizes } from './sections';

function run(question: SplitQuestion, r: Random, effort?: number): number[] {
  const steps = balance(question, r, effort);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

function grade(r: Random, children: number, rooms: number): SplitQuestion {
  const of = (values: (string | null)[]) => Array.from({ length: children }, () => values[r.below(values.length)]!);
  const fixed = Array.from({ length: children }, () => (r.real() < 0.1 ? r.below(rooms) : -1));
  return {
    children,
    attributes: [of(['1', '2', '3']), of(['es', 'vi', null, null]), of(['yes', 'no', 'no', 'no'])],
    most: Array.from({ length: rooms }, () => (r.real() < 0.2 ? Math.ceil(children / rooms) + 2 : null)),
    wishes: Array.from({ length: r.below(5) }, () => ({
      a: r.below(children),
      b: r.below(children),
      together: r.real() < 0.5,
    })).filter(({ a, b }) => a !== b),
    fixed,
  };
}

/** The best total over all splits of the sizes that leave those who stay where they are. */
function exact(question: SplitQuestion): number {
  const room = splitSizes(question);
  const at: number[] = [];
  let best = Infinity;
  const put = (child: number): void => {
    if (child === question.children) {
      best = Math.min(best, scoreSplit(question, at).total);
      return;
    }
    for (let i = 0; i < room.length; i++) {
      const stays = question.fixed[child]!;
      if (room[i] === 0 || (stays >= 0 && stays !== i)) continue;
      room[i]!--;
      at[child] = i;
      put(child + 1);
      room[i]!++;
    }
  };
  put(0);
  return best;
}

it('splits are what they were when they were last looked at', () => {
  const told = [1, 2, 3, 4].map((seed) => {
    const r = randomFrom(seed);
    const question = grade(r, 20 + seed, 2 + (seed % 3));
    const at = run(question, r, 400);
    const { total, ...parts } = scoreSplit(question, at);
    return [splitSizes(question).join('+'), at.join(''), total.toFixed(4), JSON.stringify(parts)].join(' ');
  });
  expect(told).toMatchInlineSnapshot(`
    [
      "7+7+7 010002200221121211201 4.0000 {"uneven":[1.3333333333333333,1.3333333333333335,1.3333333333333335],"broken":[]}",
      "6+6+5+5 2132213130023011020301 2.8471 {"uneven":[2.1157024793388435,0.665289256198347,0.06611570247933876],"broken":[]}",
      "12+11 10101010011001011000101 1.9811 {"uneven":[0.3931947069943295,0.3100189035916824,1.2778827977315688],"broken":[]}",
      "8+8+8 012022011021221120120001 2.6667 {"uneven":[1.3333333333333335,1.3333333333333335,0],"broken":[]}",
    ]
  `);
});

describe('a grade split into classes', () => {
  it('is within 1% of the exact optimum on small grades', () => {
    let [same, all] = [0, 0];
    fc.assert(
      fc.property(seeds, (seed) => {
        const r = randomFrom(seed);
        const question = grade(r, 6 + r.below(4), 2 + r.below(2));
        const at = run(question, r, 2000);
        const best = exact(question);
        const { total } = scoreSplit(question, at);
        expect(total).toBeLessThanOrEqual(best * 1.01 + 1e-9);
        same += Number(total <= best + 1e-9);
        all++;
      }),
      { numRuns: 60 },
    );
    expect(same).toBe(all);
  });

  it('keeps sizes even, limits, and those who were put by hand, on grades of any size', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const r = randomFrom(seed);
        const question = grade(r, 20 + r.below(120), 2 + r.below(6));
        const at = run(question, r, 60);
        const sizes = question.most.map((_, room) => at.filter((one) => one === room).length);
        expect(sizes).toEqual(splitSizes(question));
        question.fixed.forEach((room, child) => room >= 0 && expect(at[child]).toBe(room));
        const held = question.most.map((_, room) => question.fixed.filter((one) => one === room).length);
        sizes.forEach((size, room) => {
          // A class has more than another by two or more only where its own stay there, or the other is at its limit.
          const larger = sizes.some((other, i) => other > size + 1 && other > held[i]!);
          expect(larger && size < (question.most[room] ?? Infinity)).toBe(false);
          expect(size <= Math.max(question.most[room] ?? Infinity, held[room]!)).toBe(true);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('takes twins as their family wishes, and says when the classes are too small', () => {
    const even = Array.from({ length: 24 }, (_, i) => (i % 2 ? 'a' : 'b'));
    const question: SplitQuestion = {
      children: 24,
      attributes: [even],
      most: [null, null],
      wishes: [
        { a: 0, b: 1, together: true },
        { a: 2, b: 3, together: false },
      ],
      fixed: even.map(() => -1),
    };
    const at = run(question, randomFrom(1));
    expect(scoreSplit(question, at)).toEqual({ total: 0, uneven: [0], broken: [] });
    expect(at[0]).toBe(at[1]);
    expect(at[2]).not.toBe(at[3]);
    expect(thrown(() => splitSizes({ ...question, most: [10, 10] }))).toContain('room for 20, but the grade has 24');
  });
});
