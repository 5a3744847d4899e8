import { expect, it } from 'vitest';
import { KeptCounts } from './kept';

it('keeps what was slow and asked for last, counts once for all who ask at once, and outlives a count that fails', async () => {
  let counted = 0;
  const count = () => Promise.resolve(++counted);
  const kept = new KeptCounts<number>({ slow: 0, fresh: 60_000, most: 2 });
  const get = async (key: string) => (await kept.get(key, count)).value;
  expect(await Promise.all([get('a'), get('a'), get('b')])).toEqual([1, 1, 2]);
  expect([await get('a'), await get('c'), await get('a'), await get('b')]).toEqual([1, 3, 1, 4]);

  const quick = new KeptCounts<number>({ slow: 60_000, fresh: 60_000, most: 2 });
  expect([(await quick.get('a', count)).value, (await quick.get('a', count)).value]).toEqual([5, 6]);

  const stale = new KeptCounts<number>({ slow: 0, fresh: -1, most: 2 });
  const failing = () => Promise.reject(new Error('the database is away'));
  await expect(stale.get('a', failing)).rejects.toThrow('away');
  expect(await stale.get('a', count)).toMatchObject({ value: 7, anew: false });
  const settled = () => new Promise((next) => setTimeout(next, 10));
  expect(await stale.get('a', failing)).toMatchObject({ value: 7, anew: true });
  await settled();
  expect(await stale.get('a', count)).toMatchObject({ value: 7, anew: true });
  await settled();
  expect(await stale.get('a', count)).toMatchObject({ value: 8, anew: true });
});
