<script setup lang="ts">
/**
 * One of many, found by typing. Ant Design Vue's Select names a list and an option that are not on the page while it is
 * closed, and does not say that it is closed: assistive technology is told here what is so.
 */
import { Select, type SelectProps } from 'ant-design-vue';
import { useMutationObserver } from '@vueuse/core';
import { computed, nextTick, onMounted, ref } from 'vue';

defineProps<{ id: string; value: string; options: NonNullable<SelectProps['options']>; disabled?: boolean }>();
const emit = defineEmits<{ 'update:value': [value: string] }>();
const open = ref(false);
const box = ref<HTMLElement | null>(null);
const field = computed(() => box.value?.querySelector('input[role=combobox]') ?? null);

function tell(): void {
  const input = field.value;
  if (!input) return;
  const set = (name: string, value: string | null) => {
    if (input.getAttribute(name) === value) return;
    if (value === null) input.removeAttribute(name);
    else input.setAttribute(name, value);
  };
  set('aria-expanded', String(open.value));
  for (const name of ['aria-owns', 'aria-controls', 'aria-activedescendant']) {
    const named = input.getAttribute(name);
    if (named && !document.getElementById(named)) set(name, null);
  }
}
onMounted(tell);
useMutationObserver(box, tell, { attributes: true, subtree: true, childList: true });
</script>

<template>
  <div ref="box">
    <Select
      :id="id"
      show-search
      :open="open"
      :disabled="disabled"
      :value="value"
      :options="options"
      option-filter-prop="label"
      class="choice"
      @dropdown-visible-change="
        (is: boolean) => {
          open = is;
          void nextTick(tell);
        }
      "
      @update:value="(chosen) => emit('update:value', String(chosen))"
    />
  </div>
</template>

<style scoped>
.choice {
  width: 100%;
}
</style>
