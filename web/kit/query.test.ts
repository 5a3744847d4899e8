/** What a list shows stands in its address and comes back with it. */
import { flushPromises, mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import { defineComponent } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { useQuery } from './query';

async function at(path: string) {
  const page = defineComponent({
    setup() {
      const query = useQuery();
      return { role: query.choice('role', ['student', 'staff']), desc: query.flag('desc'), q: query.text('q') };
    },
    template: '<i />',
  });
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/people', component: page }] });
  await router.push(path);
  const { vm } = mount(page, { global: { plugins: [router] } });
  return { vm, router, address: () => router.currentRoute.value.fullPath };
}

it('reads the address, and takes for nothing what it does not know', async () => {
  const { vm } = await at('/people?role=student&desc=1&q=');
  expect([vm.role, vm.desc, vm.q]).toEqual(['student', true, null]);
  expect((await at('/people?role=ghost')).vm.role).toBeNull();
});

it('puts what changes at once into the address together, and leaves out what is as it would be anyway', async () => {
  const { vm, address } = await at('/people?desc=1');
  vm.role = 'staff';
  vm.q = 'ada';
  vm.desc = false;
  await flushPromises();
  expect(address()).toBe('/people?role=staff&q=ada');
});

it('makes no step of its own for Back', async () => {
  const { vm, router, address } = await at('/people');
  vm.q = 'ada';
  await flushPromises();
  await router.push('/people?q=bo');
  router.back();
  await flushPromises();
  expect(address()).toBe('/people?q=ada');
});
