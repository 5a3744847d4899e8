/** A change that is a plan of its own: told with Undo, and the page asks again, whether it was made or not. */
import { VueQueryPlugin } from '@tanstack/vue-query';
import { flushPromises, mount } from '@vue/test-utils';
import { createPinia } from 'pinia';
import { expect, it, vi } from 'vitest';
import { createMemoryHistory, createRouter } from 'vue-router';
import { useWork } from '@/stores/work';
import { useChange } from './change';

function page() {
  const after = vi.fn();
  const router = createRouter({ history: createMemoryHistory(), routes: [] });
  const made = {} as { change: ReturnType<typeof useChange>; work: ReturnType<typeof useWork> };
  const setup = () => {
    Object.assign(made, { change: useChange(after), work: useWork() });
    return () => null;
  };
  mount({ setup }, { global: { plugins: [createPinia(), VueQueryPlugin, router] } });
  return { after, ...made };
}

it('is told with Undo, which asks again as well', async () => {
  const { after, change, work } = page();
  const undo = vi.spyOn(work, 'undo').mockResolvedValue();
  const made = { planId: 'p', sentence: 'Added.' };
  expect(
    await change(
      () => Promise.resolve(made),
      ({ sentence }) => sentence,
    ),
  ).toEqual(made);
  expect([work.notice?.text, after.mock.calls]).toEqual(['Added.', [[]]]);
  work.notice!.action!.run();
  await flushPromises();
  expect([undo.mock.calls, after.mock.calls]).toEqual([[['p']], [[], []]]);
});

it('has no Undo where nothing was planned', async () => {
  const { change, work } = page();
  await change(() => Promise.resolve({ planId: null }), 'Asked.');
  expect([work.notice?.text, work.notice?.action]).toEqual(['Asked.', undefined]);
});

it('tells what went wrong, gives nothing, and asks again, since a field may show what was not kept', async () => {
  const { after, change, work } = page();
  expect(await change(() => Promise.reject(new Error('No.')), 'Added.')).toBeNull();
  expect([work.notice?.text, work.notice?.tone, after.mock.calls.length]).toEqual(['No.', 'wrong', 1]);
});
