import { thrown } from '#core/messages/expect';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { groupsByLevel } from './levels';

it('groups by level: of one size, alike or mixed, everyone in one', () => {
  const band = fc.constantFrom(1, 2, 3, null);
  fc.assert(
    fc.property(fc.array(band, { minLength: 1, maxLength: 40 }), fc.integer({ min: 1, max: 8 }), (bands, count) => {
      const children = bands.map((one, i) => ({ id: String(i), label: `c${i}`, band: one }));
      if (children.length < count) {
        expect(thrown(() => groupsByLevel(children, 'alike', count))).toContain('too few');
        return;
      }
      for (const how of ['alike', 'mixed'] as const) {
        const groups = groupsByLevel(children, how, count);
        expect(
          groups
            .flat()
            .map(({ id }) => id)
            .sort(),
        ).toEqual(children.map(({ id }) => id).sort());
        const sizes = groups.map((group) => group.length);
        expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
        const of = (group: { band: number | null }[]) => group.map((one) => one.band ?? 2);
        if (how === 'alike')
          for (let i = 1; i < count; i++)
            expect(Math.max(...of(groups[i - 1]!))).toBeLessThanOrEqual(Math.min(...of(groups[i]!)));
        else
          for (const level of [1, 2, 3]) {
            const counts = groups.map((group) => of(group).filter((one) => one === level).length);
            expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
          }
      }
    }),
  );
});
