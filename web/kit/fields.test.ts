/** A form in a place: where the focus goes, and what its keys do. */
import { mount } from '@vue/test-utils';
import { expect, it, vi } from 'vitest';
import { defineComponent, h, nextTick, ref } from 'vue';
import Fields from './Fields.vue';

it('takes the focus, saves on Enter, cancels on Esc, and gives the focus back to what opened it', async () => {
  const done: string[] = [];
  const Place = defineComponent(() => {
    const open = ref(false);
    const end = (how: string) => {
      done.push(how);
      open.value = false;
    };
    return () => [
      h('button', { onClick: () => (open.value = true) }, 'Edit'),
      open.value
        ? h(
            Fields,
            { label: 'License', onSave: () => end('saved'), onCancel: () => end('canceled') },
            { default: () => h('label', ['Seats', h('input')]), actions: () => h('button', 'Save') },
          )
        : null,
    ];
  });
  const page = mount(Place, { attachTo: document.body });
  const edit = page.find('button');
  const openIt = async () => {
    edit.element.focus();
    await edit.trigger('click');
    await nextTick();
    expect(document.activeElement).toBe(page.find('input').element);
  };
  await openIt();
  await page.find('input').trigger('keydown', { key: 'Escape' });
  await vi.waitFor(() => expect(document.activeElement).toBe(edit.element));
  await openIt();
  await page.find('form').trigger('submit');
  await vi.waitFor(() => expect(document.activeElement).toBe(edit.element));
  expect(done).toEqual(['canceled', 'saved']);
  page.unmount();
});
