<script setup lang="ts">
/** A number, which may be none; the arrows change it. */
import { InputNumber } from 'ant-design-vue';
import { ref } from 'vue';

/** Empty text is what some forms have for none. */
const value = defineModel<number | '' | null>('value', { required: true });
const input = ref<{ focus: () => void } | null>(null);
defineExpose({ focus: () => input.value?.focus() });
</script>

<template>
  <InputNumber
    ref="input"
    size="small"
    :value="value === '' || value === null ? undefined : value"
    @update:value="(count) => (value = typeof count === 'number' ? count : null)"
  />
</template>
