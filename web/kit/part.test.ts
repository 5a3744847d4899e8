/** What a part of a page shows while it loads, when a load fails, and when it fails later: against a real server. */
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import { afterAll, afterEach, beforeAll, beforeEach, expect, it, vi } from 'vitest';
import { defineComponent, h, inject, nextTick, onMounted, ref } from 'vue';
import { partKey, queryConfig, useLoad } from './load';
import Part from './Part.vue';

let server: Server;
let base: string;
/** What the server says to the next request; how often it was asked. */
let answer: (response: ServerResponse) => void;
let asked = 0;
const say = (status: number, body: unknown) => (response: ServerResponse) => {
  response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
};
beforeAll(async () => {
  server = createServer((_, response) => {
    asked++;
    answer(response);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const { fetch } = globalThis;
  vi.stubGlobal('fetch', (path: string, init: RequestInit) => fetch(base + path, init));
});
afterAll(() => server.close());
beforeEach(() => (asked = 0));
let page: VueWrapper;
afterEach(() => page.unmount());

const Classes = defineComponent(() => {
  const list = useLoad('classes', 'GET /api/classes', { query: {} });
  const field = ref<HTMLInputElement | null>(null);
  const part = inject(partKey)!;
  onMounted(() => part.whenShown(() => field.value?.focus()));
  return () => h('div', [h('input', { ref: field }), h('p', `${list.data.value?.length ?? 0} classes`)]);
});
const open = () => {
  page = mount(
    { render: () => h(Part, null, { default: () => h(Classes) }) },
    {
      attachTo: document.body,
      global: {
        plugins: [
          [
            VueQueryPlugin,
            {
              queryClientConfig: {
                defaultOptions: { queries: { ...queryConfig.defaultOptions?.queries, retryDelay: 1 } },
              },
            },
          ],
        ],
        stubs: { RouterLink: { template: '<a><slot /></a>' } },
      },
    },
  );
};
const content = () => page.find('.shown');
const isShown = () => (content().element as HTMLElement).style.display !== 'none';
const comes = (text: string) => vi.waitFor(() => expect(page.text()).toContain(text), { timeout: 5000 });
const tryAgain = async () => {
  await page
    .findAll('button')
    .find((button) => button.text() === 'Try again')!
    .trigger('click');
  await flushPromises();
};

it('shows nothing that it does not know, says that it loads, and then gives the focus', async () => {
  let held: ServerResponse | null = null;
  answer = (response) => (held = response);
  open();
  await nextTick();
  expect(isShown()).toBe(false);
  await comes('Loading classes');
  expect(isShown()).toBe(false);
  expect(document.activeElement).toBe(document.body);
  say(200, [{ id: '1' }])(held!);
  await comes('1 classes');
  await vi.waitFor(() => expect(isShown()).toBe(true));
  expect(document.activeElement?.tagName).toBe('INPUT');
});

it('says in the server’s words what failed, having asked twice, and goes on when it is tried again', async () => {
  answer = say(500, { error: 'Something went wrong on the server.' });
  open();
  await comes('Couldn’t load classes');
  expect([isShown(), asked]).toEqual([false, 2]);
  expect(page.get('[role=alert]').text()).toContain('Something went wrong on the server.');
  answer = say(200, []);
  await tryAgain();
  await vi.waitFor(() => expect(isShown()).toBe(true));
  expect(page.find('[role=alert]').exists()).toBe(false);
});

it.each([
  [403, 'Your role does not allow this'],
  [404, 'There is nothing at this address'],
])('asks once where the answer is %i, and offers another way', async (status, words) => {
  answer = say(status, { error: 'No.' });
  open();
  await comes(words);
  expect([isShown(), asked]).toEqual([false, 1]);
  expect(page.text()).not.toContain('Try again');
  expect(page.text()).toContain('Go to Today');
});

it('keeps what it has when it cannot load it again, and says from when it is', async () => {
  answer = say(200, [{ id: '1' }, { id: '2' }]);
  open();
  await comes('2 classes');
  answer = say(500, { error: 'Something went wrong on the server.' });
  window.dispatchEvent(new Event('visibilitychange'));
  await new Promise((next) => setTimeout(next, 2100));
  window.dispatchEvent(new Event('visibilitychange'));
  await comes('Couldn’t load classes again');
  expect(isShown()).toBe(true);
  answer = say(200, [{ id: '1' }]);
  await tryAgain();
  await comes('1 classes');
  expect(page.text()).not.toContain('Couldn’t');
});
