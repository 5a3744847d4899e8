<script setup lang="ts" generic="V extends string | number | boolean | null | undefined">
/**
 * One of many, found by typing: of `options`, or of the `SelectOption`s in it. Ant Design Vue's Select names a list and
 * an option that are not on the page while it is closed, and does not say that it is closed: assistive technology is told
 * here what is so.
 */
import { Select, type SelectProps } from 'ant-design-vue';
import { useMutationObserver } from '@vueuse/core';
import { computed, nextTick, onMounted, ref, shallowRef, useAttrs, type VNode } from 'vue';

defineOptions({ inheritAttrs: false });
defineProps<{ options?: NonNullable<SelectProps['options']>; disabled?: boolean }>();
const value = defineModel<V>('value', { required: true });
const attrs = useAttrs();
const rest = computed(() => ({ ...attrs, class: undefined }));
const open = ref(false);
const box = ref<HTMLElement | null>(null);
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
  if (typeof attrs['aria-label'] === 'string') set('aria-label', attrs['aria-label']);
  for (const name of ['aria-owns', 'aria-controls', 'aria-activedescendant']) {
    const named = input.getAttribute(name);
    if (named && !document.getElementById(named)) set(name, null);
  }
  // It may be seen for a moment longer than it is open.
  const list = document.getElementById(`${input.id}_list`);
  dropdown.value = list?.closest<HTMLElement>('.ant-select-dropdown') ?? dropdown.value;
  if (list && !list.hasAttribute('aria-label')) list.setAttribute('aria-label', 'Choices');
  for (const one of dropdown.value?.querySelectorAll(':not([role=option])[aria-selected]') ?? [])
    one.removeAttribute('aria-selected');
}
onMounted(tell);
useMutationObserver([box, dropdown], tell, { attributes: true, subtree: true, childList: true });

const wordsOf = (nodes: unknown): string =>
  Array.isArray(nodes)
    ? nodes.map((node: VNode | string) => (typeof node === 'string' ? node : wordsOf(node.children))).join(' ')
    : typeof nodes === 'string'
      ? nodes
      : '';
const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
/** Of options in it, what they say is a slot. */
const holds = (typed: string, option?: { label?: unknown; children?: unknown }): boolean => {
  const { label, children } = option ?? {};
  const says = typeof label === 'string' ? label : wordsOf(typeof children === 'function' ? children() : children);
  return plain(says).includes(plain(typed.trim()));
};
defineExpose({ focus: () => field.value?.focus() });
</script>

<template>
  <div ref="box" class="choice" :class="$attrs.class">
    <Select
      size="small"
      show-search
      v-bind="rest"
      :open="open"
      :disabled="disabled"
      :value="value as string"
      :options="options"
      :filter-option="holds"
      :dropdown-match-select-width="false"
      @dropdown-visible-change="
        (is: boolean) => {
          open = is;
          void nextTick(tell);
        }
      "
      @update:value="(chosen) => (value = chosen as V)"
      ><slot
    /></Select>
  </div>
</template>

<style scoped>
.choice {
  display: inline-block;
  vertical-align: middle;
  min-width: 72px;
  max-width: 100%;
}
.choice > :deep(.ant-select) {
  width: 100%;
}
</style>
