/** Menus and heads: what they say, and their keys. */
import { mount, type VueWrapper } from '@vue/test-utils';
import { afterEach, beforeAll, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import Head from './Head.vue';
import More from './More.vue';

beforeAll(() => {
  vi.stubGlobal(
    'matchMedia',
    vi.fn(() => ({ matches: false, addListener: () => {}, removeListener: () => {} })),
  );
});
let shown: VueWrapper;
afterEach(() => {
  shown.unmount();
  document.body.innerHTML = '';
});
const press = (key: string) =>
  document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
const focused = () => document.activeElement?.textContent?.trim();

it('opens a menu at its first item, moves by arrows, runs one and goes back to its button', async () => {
  const ran: string[] = [];
  const item = (label: string, more = {}) => ({ label, run: () => void ran.push(label), ...more });
  const items = [item('Export'), item('Day', { group: 'Colors', current: true }), item('Night', { group: 'Colors' })];
  shown = mount(More, { props: { items, label: 'More' }, attachTo: document.body });
  const button = shown.get('button');
  expect(button.attributes()).toMatchObject({ 'aria-haspopup': 'menu', 'aria-expanded': 'false' });
  await button.trigger('click');
  await vi.waitFor(() => expect(focused()).toBe('Export'));
  expect(document.querySelector('[title="Colors"], .ant-dropdown-menu-item-group-title')?.textContent).toBe('Colors');
  press('ArrowDown');
  expect(focused()).toBe('Day');
  press('ArrowUp');
  press('ArrowUp');
  expect(focused()).toBe('Night');
  press('Enter');
  await nextTick();
  expect([ran, focused()]).toEqual([['Night'], 'More']);

  await button.trigger('click');
  await vi.waitFor(() => expect(focused()).toBe('Export'));
  press('Escape');
  await nextTick();
  expect([ran, focused(), shown.get('button').attributes('aria-expanded')]).toEqual([['Night'], 'More', 'false']);
});

it('has one heading with its count, and gives the page its title', () => {
  shown = mount(Head, { props: { title: 'People', count: '12 people' }, slots: { actions: '<button>New</button>' } });
  expect(shown.findAll('h1').map((one) => one.text())).toEqual(['People 12 people']);
  expect([document.title, shown.find('.back').exists(), shown.find('button').text()]).toEqual([
    'People · Sheaf',
    false,
    'New',
  ]);
});
