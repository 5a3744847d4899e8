/** Ranges and edits of a file's cells, as spreadsheets have them, on a draft. */
import { expect, it } from 'vitest';
import { ref } from 'vue';
import type { Column } from '#core/tabular/index';
import type { Draft, IntakeRow } from '../../server/contract';
import { useEdits } from './edits';
import { useRange } from './range';

const columns = ref<Column[]>(
  ['number', 'fullName', 'className'].map((field, index): Column => ({
    index,
    header: field,
    field: field as Column['field'],
    confidence: 1,
  })),
);
const lines = [
  ['1', 'Ada Fox', '3A'],
  ['2', 'Bo Gold', ''],
  ['3', 'Cy Holt', ''],
  ['4', 'Di Ives', '3B'],
];
const rows = lines.map((cells, index): IntakeRow => ({
  ...{ line: index + 2, cells, repaired: {}, problems: [], state: 'new', note: '', isRepeated: false },
}));
function sheet() {
  const draft = ref<Draft>({ hints: {}, repairs: {}, leftOut: [], schoolId: null, complete: false });
  const total = ref(rows.length);
  const edits = useEdits({
    draft,
    change: (edit) => edit(draft.value),
    total,
    columns,
    between: (top, bottom) => Promise.resolve(rows.slice(top, bottom + 1)),
  });
  const range = useRange(total, columns, () => undefined);
  const shown = () => rows.map((row) => columns.value.map(({ index }) => edits.shown(row, index)).join('|'));
  return { draft, edits, shown, ...range };
}
const press = (key: string, more: Partial<KeyboardEvent> = {}) => ({ key, ...more }) as KeyboardEvent;

it('a range reaches from where it was begun, and ends at the sheet’s edge', () => {
  const { at, range, isRange, isIn, moveTo, led, widen } = sheet();
  moveTo(1, 1);
  expect(isRange.value).toBe(false);
  moveTo(...led(press('ArrowDown'), 10)!, true);
  moveTo(...led(press('ArrowRight', { ctrlKey: true }), 10)!, true);
  expect(range.value).toEqual({ top: 1, bottom: 2, left: 1, right: 2 });
  expect([isIn(2, 2), isIn(3, 2), isIn(1, 0)]).toEqual([true, false, false]);
  moveTo(...led(press('PageUp'), 10)!, true);
  expect(range.value).toEqual({ top: 0, bottom: 1, left: 1, right: 2 });
  moveTo(...led(press('End', { ctrlKey: true }), 10)!);
  expect([at.row, at.column, isRange.value]).toEqual([3, 2, false]);
  widen('columns');
  expect(range.value).toEqual({ top: 0, bottom: 3, left: 2, right: 2 });
  widen('all');
  expect(range.value).toEqual({ top: 0, bottom: 3, left: 0, right: 2 });
  expect(led(press('x'), 10)).toBeNull();
});

it('cells are pasted, filled down and cleared, and what comes to the file’s own value is no correction', async () => {
  const { draft, edits, shown } = sheet();
  const all = { top: 0, bottom: 2, left: 2, right: 2 };
  await edits.fillDown(all);
  expect(shown()).toEqual(['1|Ada Fox|3A', '2|Bo Gold|3A', '3|Cy Holt|3A', '4|Di Ives|3B']);
  expect(draft.value.repairs).toEqual({ 3: { 2: '3A' }, 4: { 2: '3A' } });
  // Of one cell: what stands above it.
  await edits.fillDown({ top: 3, bottom: 3, left: 2, right: 2 });
  expect(shown()[3]).toBe('4|Di Ives|3A');
  expect(edits.former(rows[3]!, 2)).toBe('3B');
  expect(await edits.paste('x\t\ny\t\n', { top: 3, bottom: 3, left: 1, right: 1 })).toBe(2);
  expect(shown()[3]).toBe('4|x|');
  await edits.clear({ top: 1, bottom: 2, left: 2, right: 2 });
  expect(await edits.paste('Di Ives\t3B\n', { top: 3, bottom: 3, left: 1, right: 2 })).toBe(0);
  expect(draft.value.repairs).toEqual({});
  expect(edits.copied(rows.slice(0, 2), { top: 0, bottom: 1, left: 1, right: 2 })).toBe('Ada Fox\t3A\nBo Gold\t\n');
});

it('one value fills a whole column, a corrected cell comes before it, and the file’s own values come back', () => {
  const { draft, edits, shown } = sheet();
  edits.put([{ row: rows[0]!, column: 2, text: '9Z' }]);
  edits.fillColumn(2, '4C');
  expect(shown().map((line) => line.split('|')[2])).toEqual(['4C', '4C', '4C', '4C']);
  edits.put([{ row: rows[1]!, column: 2, text: '4D' }]);
  expect([shown()[1], edits.former(rows[1]!, 2)]).toEqual(['2|Bo Gold|4D', '']);
  edits.put([{ row: rows[1]!, column: 2, text: '4C' }]);
  expect(draft.value.repairs).toEqual({});
  edits.fillColumn(2, null);
  expect(shown()).toEqual(lines.map((cells) => cells.join('|')));
  edits.toggle('apart', 3);
  edits.toggle('apart', 4);
  edits.toggle('apart', 3);
  expect(draft.value.apart).toEqual([4]);
});
