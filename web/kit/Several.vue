<script setup lang="ts">
/** Several of many, each found by typing. Where the list is long, whoever uses it finds what is typed: `search`. */
import { Select } from 'ant-design-vue';
import { computed, nextTick, ref, useAttrs } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
defineProps<{ options: { value: string; label: string }[]; isFound?: boolean }>();
const emit = defineEmits<{ search: [typed: string] }>();
const value = defineModel<string[]>('value', { required: true });
const attrs = useAttrs();
const rest = computed(() => ({ ...attrs, class: undefined }));
const box = ref<HTMLElement | null>(null);
const { open, tell } = useListbox(box, () => attrs['aria-label']);
</script>

<template>
  <div ref="box" class="several inline-block [vertical-align:middle] min-w-120px max-w-full" :class="$attrs.class">
    <Select
      mode="multiple"
      size="small"
      option-filter-prop="label"
      v-bind="rest"
      :open="open"
      :value="value"
      :options="options"
      :filter-option="isFound ? false : undefined"
      :dropdown-match-select-width="false"
      @search="(typed: string) => emit('search', typed)"
      @dropdown-visible-change="
        (is: boolean) => {
          open = is;
          void nextTick(tell);
        }
      "
      @update:value="(chosen) => (value = chosen as string[])"
    />
  </div>
</template>
