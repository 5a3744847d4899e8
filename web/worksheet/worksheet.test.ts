/** Where the cursor of a worksheet stands while answers come and go. */
import { mount } from '@vue/test-utils';
import { afterEach, expect, it } from 'vitest';
import { createPinia } from 'pinia';
import { nextTick } from 'vue';
import Worksheet, { type WorksheetHandle } from './Worksheet.vue';

const rows = (...ids: string[]) => ids.map((id) => ({ id }));
const columns = [{ key: 'id', label: 'Id', width: '1fr' }];
const open = (first: { id: string }[]) => {
  const sheet = mount(Worksheet, {
    attachTo: document.body,
    global: { plugins: [createPinia()] },
    props: {
      rows: first,
      columns,
      label: 'Classes',
      focused: null as string | null,
      'onUpdate:focused': (focused: string | null) => sheet.setProps({ focused }),
    },
  });
  opened.push(sheet);
  return {
    sheet,
    handle: sheet.vm as unknown as WorksheetHandle,
    cursor: () => sheet.props('focused'),
    answer: async (...ids: string[]) => {
      await sheet.setProps({ rows: rows(...ids) });
      await nextTick();
    },
  };
};
const opened: { unmount: () => void }[] = [];
afterEach(() => {
  for (const sheet of opened.splice(0)) sheet.unmount();
  document.body.innerHTML = '';
});

it('stands on the first row when the rows come after the focus, also when another control has it by then', async () => {
  const { handle, cursor, answer } = open([]);
  handle.focus();
  const button = document.body.appendChild(document.createElement('button'));
  button.focus();
  await answer('a', 'b');
  expect(cursor()).toBe('a');
  expect(document.activeElement).toBe(button);
});

it('stays on its row wherever that goes, and on its line when the row is gone', async () => {
  const { handle, sheet, cursor, answer } = open(rows('a', 'b', 'c'));
  handle.focus();
  await nextTick();
  expect(cursor()).toBe('a');
  await sheet.get('[role=grid]').trigger('keydown', { key: 'ArrowDown' });
  expect(cursor()).toBe('b');
  await answer('x', 'y', 'z', 'b');
  expect(cursor()).toBe('b');
  await answer('x', 'y', 'z', 'w');
  expect(cursor()).toBe('w');
  await answer('x');
  expect(cursor()).toBe('x');
  await answer();
  await answer('n', 'm');
  expect(cursor()).toBe('n');
});

it('takes no row in a place that did not put it here', async () => {
  const { cursor, answer } = open([]);
  await answer('a');
  expect(cursor()).toBe(null);
});

it('sorts by a column, by several with Shift, and as it was left when it comes back', async () => {
  const classes = [
    { id: 'a', grade: '01', students: 9 },
    { id: 'b', grade: 'KG', students: 24 },
    { id: 'c', grade: '01', students: 24 },
  ];
  const sorted = [
    { key: 'grade', label: 'Grade', width: '1fr', by: 'grade' as const },
    { key: 'students', label: 'Students', width: '1fr', by: 'value' as const },
  ];
  const show = () => {
    const sheet = mount(Worksheet, {
      attachTo: document.body,
      global: { plugins: [createPinia()] },
      props: {
        ...{ rows: classes, columns: sorted, label: 'Sorted classes', focused: null as string | null },
        'onUpdate:focused': (focused: string | null) => sheet.setProps({ focused }),
      },
    });
    opened.push(sheet);
    return sheet;
  };
  const ends = async (sheet: ReturnType<typeof show>) => {
    const at: (string | null | undefined)[] = [];
    for (const key of ['Home', 'End']) {
      await sheet.get('[role=grid]').trigger('keydown', { key });
      at.push(sheet.props('focused'));
    }
    return at;
  };
  const sheet = show();
  const [grade, students] = sheet.findAll('[role=columnheader] button');
  expect(await ends(sheet)).toEqual(['a', 'c']);
  await grade!.trigger('click');
  expect(await ends(sheet)).toEqual(['b', 'c']);
  await students!.trigger('click', { shiftKey: true });
  await students!.trigger('click', { shiftKey: true });
  // Grade, then the most students first.
  expect(await ends(sheet)).toEqual(['b', 'a']);
  expect(sheet.findAll('[role=columnheader]').map((head) => head.attributes('aria-sort'))).toEqual([
    'ascending',
    undefined,
  ]);
  sheet.unmount();
  opened.pop();
  expect(await ends(show())).toEqual(['b', 'a']);
});
