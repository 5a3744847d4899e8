/** Sorting of lists whose rows are all here. */
import { beforeEach, expect, it } from 'vitest';
import { nextTick } from 'vue';
import { type Col, sortsLeft } from './columns';
import { useSorting } from './sorting';

const columns: Col[] = [
  { key: 'name', label: 'Name', width: '1fr', by: 'value' },
  { key: 'grade', label: 'Grade', width: '1fr', by: 'grade' },
  { key: 'size', label: 'Size', width: '1fr', by: 'value' },
  { key: 'note', label: 'Note', width: '1fr' },
];
const rows = [
  { name: 'Class 10', grade: '01', size: 9 },
  { name: 'Class 9', grade: 'KG', size: 24 },
  { name: 'Élan', grade: '01', size: 100 },
  { name: 'Elder', grade: null, size: 24 },
];
const list = () =>
  useSorting(
    'classes',
    () => rows,
    () => columns,
  );
const names = ({ lines }: ReturnType<typeof list>) => lines.value.map(({ name }) => name);
beforeEach(() => sortsLeft.clear());

it('leaves the rows as they came until a column is chosen, and after one that it cannot sort by', () => {
  const sheet = list();
  expect(names(sheet)).toEqual(rows.map(({ name }) => name));
  sheet.sortBy('note', false);
  expect(names(sheet)).toEqual(rows.map(({ name }) => name));
});

it('sorts names as people read them, numbers by size, grades from youngest to oldest', () => {
  const sheet = list();
  sheet.sortBy('name', false);
  expect(names(sheet)).toEqual(
    ['Class 9', 'Class 10', 'Élan', 'Elder'].sort(new Intl.Collator('en', { numeric: true }).compare),
  );
  sheet.sortBy('size', false);
  expect(names(sheet)).toEqual(['Class 10', 'Class 9', 'Elder', 'Élan']);
  sheet.sortBy('grade', false);
  expect(names(sheet)).toEqual(['Elder', 'Class 9', 'Class 10', 'Élan']);
});

it('turns round when asked again, and sorts by several with the first one counting first', () => {
  const sheet = list();
  sheet.sortBy('size', false);
  sheet.sortBy('size', false);
  expect(names(sheet)[0]).toBe('Élan');
  expect(sheet.sorted('size')).toEqual({ place: 0, desc: true });
  sheet.sortBy('name', true);
  expect(sheet.sorted('name')).toEqual({ place: 1, desc: false });
  expect(names(sheet)).toEqual(['Élan', 'Class 9', 'Elder', 'Class 10']);
  sheet.sortBy('name', true);
  expect(names(sheet)).toEqual(['Élan', 'Elder', 'Class 9', 'Class 10']);
});

it('is as it was left when the list is opened again', async () => {
  list().sortBy('size', false);
  await nextTick();
  expect(list().sorted('size')).toEqual({ place: 0, desc: false });
});
