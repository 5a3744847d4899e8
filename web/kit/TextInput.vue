<script setup lang="ts">
/** A line of text, which may be none. `lazy`: it is given back, without spaces around it, on Enter and on leaving the field. */
import { Input } from 'ant-design-vue';
import { ref, watch } from 'vue';

const props = defineProps<{ maxlength?: number | string; lazy?: boolean }>();
const value = defineModel<string | null | undefined>('value', { required: true });
const typed = ref(value.value ?? '');
watch(value, (text) => (typed.value = text ?? ''));
function type(text: string): void {
  typed.value = text;
  if (!props.lazy) value.value = text;
}
function done(): void {
  if (props.lazy && typed.value.trim() !== (value.value ?? '')) value.value = typed.value.trim();
}
const input = ref<{ focus: () => void; select: () => void } | null>(null);
defineExpose({ focus: () => input.value?.focus(), select: () => input.value?.select() });
</script>

<template>
  <Input
    ref="input"
    size="small"
    :maxlength="maxlength === undefined ? undefined : Number(maxlength)"
    :value="typed"
    @update:value="type"
    @press-enter="done"
    @blur="done"
  />
</template>
