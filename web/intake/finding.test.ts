/** Ways to a row of a file that is here only in part. */
import { afterEach, expect, it, vi } from 'vitest';
import { ref } from 'vue';
import type { IntakeRow } from '../../server/contract';
import { useFinding } from './finding';
import { pageSize } from './rows';

/** Lines 2, 5, 8 … : a file with empty lines in between; every 400th row has a problem. */
const all = Array.from({ length: 1000 }, (_, index) => ({
  ...{ line: 2 + index * 3, cells: [], repaired: {}, state: 'new', note: '', isRepeated: false },
  problems: index % 400 === 399 ? [{ code: 'odd-date', column: 3, message: '' }] : [],
})) as unknown as IntakeRow[];

function sheet() {
  const pages = new Set<number>();
  const total = ref(0);
  const cursor = { row: 0, column: 0 };
  const finding = useFinding({
    id: 'one',
    total,
    only: () => null,
    here: () => cursor.row,
    rowAt: (index) => (pages.has(Math.floor(index / pageSize)) ? all[index] : undefined),
    load: (page) => {
      if (page < 0) throw new Error('there is no such page');
      total.value = all.length;
      return Promise.resolve(void pages.add(page));
    },
    settled: () => Promise.resolve(),
    isOut: () => false,
    reach: (index, row) => Object.assign(cursor, { row: index, column: row?.problems[0]?.column ?? cursor.column }),
  });
  return { cursor, pages, ...finding };
}
const answers = (answer: unknown) => {
  const fetched = vi.fn((_url: string) => Promise.resolve(new Response(JSON.stringify(answer))));
  vi.stubGlobal('fetch', fetched);
  return fetched;
};
afterEach(() => vi.unstubAllGlobals());

it('goes to the row of a line though lines are missing in between, loading the pages on the way', async () => {
  const { cursor, pages, toLine } = sheet();
  await toLine(2 + 3 * 777);
  expect(cursor.row).toBe(777);
  expect(pages.has(Math.floor(777 / pageSize))).toBe(true);
});

it('goes to the next row where a line is empty, and to the last one beyond the end', async () => {
  for (const [line, index] of [
    [2, 0],
    [3, 1],
    [2 + 3 * 500 - 1, 500],
    [99_999, 999],
  ] as const) {
    const { cursor, toLine } = sheet();
    await toLine(line);
    expect([line, cursor.row]).toEqual([line, index]);
  }
});

it('asks the server for the next problem where rows are not here, and stands on the cell that is wrong', async () => {
  const asked = answers({ index: 399, row: all[399] });
  const { cursor, pages, toProblem } = sheet();
  pages.add(0);
  await toProblem(1);
  expect(cursor).toEqual({ row: 399, column: 3 });
  expect(asked.mock.calls[0]![0]).toContain('line=2');
});

it('finds without asking what is here, and stays where there is none', async () => {
  const asked = answers(null);
  const one = sheet();
  one.pages.add(0).add(1);
  one.cursor.row = 390;
  await one.toProblem(1);
  expect([one.cursor.row, asked.mock.calls.length]).toEqual([399, 0]);
  await one.toProblem(1);
  expect([one.cursor.row, asked.mock.calls.length]).toEqual([399, 1]);
});
