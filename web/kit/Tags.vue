<script setup lang="ts">
/** Several short texts, each ended with Enter, a comma or, where none has a space in it, a space. */
import { Select } from 'ant-design-vue';
import { computed, ref, useAttrs } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
const props = defineProps<{ separators?: string[] }>();
const value = defineModel<string[]>('value', { required: true });
const attrs = useAttrs();
const rest = computed(() => ({ ...attrs, class: undefined }));
const box = ref<HTMLElement | null>(null);
useListbox(box, () => attrs['aria-label']);
</script>

<template>
  <div ref="box" class="tags" :class="$attrs.class">
    <Select
      v-bind="rest"
      v-model:value="value"
      mode="tags"
      :token-separators="props.separators ?? [',', ' ']"
      :open="false"
    />
  </div>
</template>
