<script setup lang="ts">
/** Several short texts, each ended with Enter, a comma or a space. */
import { Select } from 'ant-design-vue';
import { ref, useAttrs } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
const value = defineModel<string[]>('value', { required: true });
const attrs = useAttrs();
const box = ref<HTMLElement | null>(null);
useListbox(box, () => attrs['aria-label']);
</script>

<template>
  <div ref="box">
    <Select v-bind="attrs" v-model:value="value" mode="tags" :token-separators="[',', ' ']" :open="false" />
  </div>
</template>
