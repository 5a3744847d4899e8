/** What fields hold, show and give back, also where there is nothing; and what they tell assistive technology. */
import { mount, type VueWrapper } from '@vue/test-utils';
import { SelectOption } from 'ant-design-vue';
import { afterEach, beforeAll, expect, it, vi } from 'vitest';
import { h, nextTick } from 'vue';
import Choice from './Choice.vue';
import DayInput from './DayInput.vue';
import Figures from './Figures.vue';
import FileInput from './FileInput.vue';
import NumberInput from './NumberInput.vue';
import TextInput from './TextInput.vue';

beforeAll(() => {
  // What jsdom lacks and the components ask for.
  vi.stubGlobal(
    'matchMedia',
    vi.fn(() => ({ matches: false, addListener: () => {}, removeListener: () => {} })),
  );
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
});
let field: VueWrapper;
afterEach(() => field.unmount());

/** The components ask a key's number. */
async function enter({ element }: { element: Element }): Promise<void> {
  const event = new KeyboardEvent('keydown', { key: 'Enter', bubbles: true });
  for (const name of ['which', 'keyCode']) Object.defineProperty(event, name, { value: 13 });
  element.dispatchEvent(event);
  await nextTick();
}
const schools = () => [
  h(SelectOption, { value: null }, () => 'all schools'),
  h(SelectOption, { value: 'GUL' }, () => 'Gull Sound'),
  h(SelectOption, { value: 'ETI' }, () => ['Étienne', ' Point']),
];
const offered = () =>
  [...document.querySelectorAll('.ant-select-item-option-content')].map(({ textContent }) => textContent);

it('a choice shows what stands for none, is narrowed by typing without accents, and gives back what is chosen', async () => {
  const chosen: unknown[] = [];
  field = mount(Choice, {
    attachTo: document.body,
    attrs: { 'aria-label': 'School' },
    props: { value: null, 'onUpdate:value': (value: unknown) => void chosen.push(value) },
    slots: { default: schools },
  });
  await nextTick();
  expect(field.find('.ant-select-selection-item').text()).toBe('all schools');
  const input = field.find('input[role=combobox]');
  expect(input.attributes()).toMatchObject({ 'aria-label': 'School', 'aria-expanded': 'false' });
  // Closed, it names no list that is not on the page.
  expect(input.attributes('aria-controls')).toBeUndefined();
  await input.setValue('etien');
  await vi.waitFor(() => expect(offered()).toEqual(['Étienne Point']));
  expect(input.attributes('aria-expanded')).toBe('true');
  await enter(input);
  expect(chosen).toEqual(['ETI']);
});

it('a line of text may be none, and keeps to its length', async () => {
  const typed: unknown[] = [];
  field = mount(TextInput, {
    props: { value: null, maxlength: '80', 'onUpdate:value': (value: unknown) => void typed.push(value) },
  });
  const input = field.find('input');
  expect(input.element.value).toBe('');
  expect(input.attributes('maxlength')).toBe('80');
  await input.setValue('Tide');
  expect(typed.at(-1)).toBe('Tide');
});

it('a number may be none, and is none again when it is taken out', async () => {
  const typed: unknown[] = [];
  field = mount(NumberInput, {
    props: { value: '', 'onUpdate:value': (value: unknown) => void typed.push(value) },
  });
  const input = field.find('input');
  expect(input.element.value).toBe('');
  await input.setValue('24');
  expect(typed.at(-1)).toBe(24);
  await field.setProps({ value: 24 });
  await input.setValue('');
  await input.trigger('blur');
  expect(typed.at(-1)).toBeNull();
});

it('a day is shown in words, read as it is typed in several ways, and no text where there is none', async () => {
  const typed: unknown[] = [];
  field = mount(DayInput, {
    attachTo: document.body,
    props: { value: '2026-08-17', 'onUpdate:value': (value: unknown) => void typed.push(value) },
  });
  const input = field.find('input');
  expect(input.element.value).toBe('Aug 17, 2026');
  for (const words of ['2026-09-06', '10/2/2026']) {
    await input.trigger('focus');
    await input.trigger('keydown', { key: words[0] });
    await input.setValue(words);
    await enter(input);
  }
  expect(typed).toEqual(['2026-09-06', '2026-10-02']);
  // What cannot be read stays, is marked, and holds its form; nothing is given back.
  await input.setValue('13/45/2026');
  await enter(input);
  await vi.waitFor(() => expect(field.text()).toContain('This is not a date'));
  expect([input.element.validity.valid, input.element.value, typed.length]).toEqual([false, '13/45/2026', 2]);
  await input.setValue('9/8/26');
  await enter(input);
  expect([input.element.validity.valid, typed.at(-1)]).toEqual([true, '2026-09-08']);
  await field.setProps({ value: '' });
  expect(input.element.value).toBe('');
});

it('a moment has the hour that is usual there when a day alone is typed', async () => {
  const typed: unknown[] = [];
  field = mount(DayInput, {
    attachTo: document.body,
    props: { value: '', at: '15:00', 'onUpdate:value': (value: unknown) => void typed.push(value) },
  });
  const input = field.find('input');
  for (const words of ['9/10/2026', 'Sep 10, 2026 8:30 am', '2026-09-10 14:05']) {
    await input.setValue(words);
    await enter(input);
  }
  expect(typed).toEqual(['2026-09-10T15:00', '2026-09-10T08:30', '2026-09-10T14:05']);
});

it('what is lazy is given back on Enter and on leaving, once, and only if it changed', async () => {
  const typed: unknown[] = [];
  const told = (value: unknown) => void typed.push(value);
  field = mount(TextInput, { props: { value: 'Tide', lazy: true, 'onUpdate:value': told } });
  const input = field.find('input');
  await input.trigger('blur');
  await input.setValue(' Reef ');
  expect(typed).toEqual([]);
  await enter(input);
  await field.setProps({ value: 'Reef' });
  await input.trigger('blur');
  expect(typed).toEqual(['Reef']);
  field.unmount();
  field = mount(NumberInput, { props: { value: 4, lazy: true, 'onUpdate:value': told } });
  const number = field.find('input');
  await number.setValue('5');
  expect(typed).toEqual(['Reef']);
  await number.trigger('blur');
  expect(typed).toEqual(['Reef', 5]);
});

it('a file button gives back what is chosen, and sends nothing by itself', async () => {
  const files: File[] = [];
  field = mount(FileInput, {
    attachTo: document.body,
    props: { label: 'Choose file', accept: '.csv', onFile: (file: File) => void files.push(file) },
  });
  expect(field.find('button').text()).toBe('Choose file');
  const file = new File(['a,b'], 'list.csv', { type: 'text/csv' });
  const input = field.find('input[type=file]');
  Object.defineProperty(input.element, 'files', { value: [file] });
  await input.trigger('change');
  await vi.waitFor(() => expect(files.map(({ name }) => name)).toEqual(['list.csv']));
});

it('a table of figures names its rows and columns, and says what is where there are none', async () => {
  const chosen: unknown[] = [];
  const columns = [
    { key: 'name', title: 'School', heading: true },
    {
      key: 'seats',
      title: 'Seats',
      number: true,
      cellClass: ({ seats }: { seats: number }) => (seats < 0 ? 'rust' : ''),
    },
    { key: 'act', title: 'Edit', untitled: true },
  ];
  const rows = [
    { name: 'Gull Sound', seats: -2 },
    { name: 'Étienne Point', seats: 8 },
  ];
  field = mount(Figures<(typeof rows)[number]>, {
    props: {
      columns,
      rows,
      rowKey: ({ name }: { name: string }) => name,
      onChoose: (row: unknown) => chosen.push(row),
    },
    slots: { act: ({ row }: { row: { name: string } }) => `Edit ${row.name}`, empty: 'No schools yet' },
  });
  expect(field.findAll('th[scope=col]').map((head) => head.text())).toEqual(['School', 'Seats', 'Edit']);
  expect(field.findAll('th[scope=row]').map((head) => head.text())).toEqual(['Gull Sound', 'Étienne Point']);
  expect(field.find('td').text()).toBe('-2');
  expect(field.find('td').classes()).toContain('rust');
  expect(field.text()).toContain('Edit Gull Sound');
  await field.find('tbody tr').trigger('click');
  expect(chosen).toEqual([rows[0]]);
  await field.setProps({ rows: [] });
  expect(field.text()).toContain('No schools yet');
});
