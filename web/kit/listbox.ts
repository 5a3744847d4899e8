/**
 * Ant Design Vue's Select and AutoComplete name a list and an option that are not on the page while they are closed, and
 * do not say that they are closed: assistive technology is told here what is so.
 */
import { useMutationObserver } from '@vueuse/core';
import { computed, onMounted, type Ref, ref, shallowRef } from 'vue';

export function useListbox(box: Ref<HTMLElement | null>, label: () => unknown) {
  const open = ref(false);
  /** It is somewhere else on the page while it is open. */
  const dropdown = shallowRef<HTMLElement | null>(null);
  const field = computed(() => box.value?.querySelector<HTMLInputElement>('input[role=combobox]') ?? null);

  function tell(): void {
    const input = field.value;
    if (!input) return;
    const set = (name: string, value: string | null) => {
      if (input.getAttribute(name) === value) return;
      if (value === null) input.removeAttribute(name);
      else input.setAttribute(name, value);
    };
    set('aria-expanded', String(open.value));
    const name = label();
    if (typeof name === 'string') set('aria-label', name);
    for (const attribute of ['aria-owns', 'aria-controls', 'aria-activedescendant']) {
      const named = input.getAttribute(attribute);
      if (named && !document.getElementById(named)) set(attribute, null);
    }
    // It may be seen for a moment longer than it is open.
    const list = document.getElementById(`${input.id}_list`);
    if (list && open.value) set('aria-controls', list.id);
    dropdown.value = list?.closest<HTMLElement>('.ant-select-dropdown') ?? dropdown.value;
    if (list && !list.hasAttribute('aria-label')) list.setAttribute('aria-label', 'Choices');
    for (const one of dropdown.value?.querySelectorAll(':not([role=option])[aria-selected]') ?? [])
      one.removeAttribute('aria-selected');
  }
  onMounted(tell);
  useMutationObserver([box, dropdown], tell, { attributes: true, subtree: true, childList: true });
  return { open, field, tell };
}
