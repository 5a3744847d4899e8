/** Nothing typed is lost without a question, and nobody is asked where nothing was typed. */
import { flushPromises, mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import { defineComponent, ref } from 'vue';
import { createMemoryHistory, createRouter, RouterView } from 'vue-router';
import { leaving, useUnsaved } from './unsaved';

async function form() {
  const typed = ref('');
  const Form = defineComponent({
    setup() {
      useUnsaved(() => typed.value !== '');
      return () => null;
    },
  });
  const blank = { render: () => null };
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/new', component: Form },
      { path: '/other', component: blank },
      { path: '/sign-in', component: blank, meta: { open: true } },
    ],
  });
  await router.push('/new');
  mount(RouterView, { global: { plugins: [router] } });
  await flushPromises();
  const goes = async (path: string) => {
    void router.push(path);
    await flushPromises();
    return leaving.value === null ? 'went' : 'asks';
  };
  const answer = async (may: boolean) => {
    leaving.value!(may);
    await flushPromises();
    return router.currentRoute.value.fullPath;
  };
  return { typed, goes, answer, router };
}

it('asks, and stays or leaves as it is told', async () => {
  const { typed, goes, answer } = await form();
  typed.value = 'Isobar Atlas';
  expect(await goes('/other')).toBe('asks');
  expect(await answer(false)).toBe('/new');
  expect(await goes('/other')).toBe('asks');
  expect(await answer(true)).toBe('/other');
  // The question is gone with its page.
  expect(await goes('/new')).toBe('went');
});

it('asks nobody where nothing was typed, about filters of the same page, or who is signed out', async () => {
  const { typed, goes } = await form();
  expect(await goes('/other')).toBe('went');
  expect(await goes('/new')).toBe('went');
  typed.value = 'Isobar Atlas';
  expect(await goes('/new?school=1')).toBe('went');
  expect(await goes('/sign-in')).toBe('went');
});
