<script setup lang="ts">
/** Several short texts, each ended with Enter, a comma or, where none has a space in it, a space. `options` are offered while one types; others may be typed too. */
import { Select } from 'ant-design-vue';
import { computed, nextTick, ref, useAttrs } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
const props = defineProps<{ separators?: string[]; options?: { value: string }[] }>();
const value = defineModel<string[]>('value', { required: true });
const attrs = useAttrs();
const rest = computed(() => ({ ...attrs, class: undefined }));
const box = ref<HTMLElement | null>(null);
const { open, tell } = useListbox(box, () => attrs['aria-label']);
</script>

<template>
  <div ref="box" class="tags" :class="$attrs.class">
    <Select
      v-bind="rest"
      v-model:value="value"
      mode="tags"
      :token-separators="props.separators ?? [',', ' ']"
      :options="options"
      :open="options !== undefined && open"
      @dropdown-visible-change="
        (is: boolean) => {
          open = is;
          void nextTick(tell);
        }
      "
    />
  </div>
</template>
