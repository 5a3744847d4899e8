<script setup lang="ts" generic="V extends string | number | boolean | null | undefined">
/** One of many, found by typing: of `options`, or of the `SelectOption`s in it. */
import { Select, type SelectProps } from 'ant-design-vue';
import { computed, nextTick, ref, useAttrs, type VNode } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
defineProps<{ options?: NonNullable<SelectProps['options']>; disabled?: boolean }>();
const value = defineModel<V>('value', { required: true });
const attrs = useAttrs();
const rest = computed(() => ({ ...attrs, class: undefined }));
const box = ref<HTMLElement | null>(null);
const { open, field, tell } = useListbox(box, () => attrs['aria-label']);

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
  <div ref="box" class="choice inline-block [vertical-align:middle] min-w-72px max-w-full" :class="$attrs.class">
    <Select
      size="small"
      show-search
      v-bind="rest"
      :open="open"
      :disabled="disabled"
      :value="(value === '' && $attrs.placeholder ? undefined : value) as string"
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
