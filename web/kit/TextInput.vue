<script setup lang="ts">
/** A line of text, which may be none. */
import { Input } from 'ant-design-vue';
import { ref } from 'vue';

defineProps<{ maxlength?: number | string }>();
const value = defineModel<string | null | undefined>('value', { required: true });
const input = ref<{ focus: () => void; select: () => void } | null>(null);
defineExpose({ focus: () => input.value?.focus(), select: () => input.value?.select() });
</script>

<template>
  <Input
    ref="input"
    size="small"
    :maxlength="maxlength === undefined ? undefined : Number(maxlength)"
    :value="value ?? ''"
    @update:value="(text) => (value = text)"
  />
</template>
