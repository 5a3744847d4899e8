<script setup lang="ts">
/** A number, which may be none; the arrows change it. `lazy`: it is given back on Enter and on leaving the field. */
import { InputNumber } from 'ant-design-vue';
import { ref, watch } from 'vue';

const props = defineProps<{ lazy?: boolean }>();
/** Empty text is what some forms have for none. */
const value = defineModel<number | '' | null>('value', { required: true });
const typed = ref<number | null>(null);
watch(value, (count) => (typed.value = count === '' ? null : count), { immediate: true });
function type(count: unknown): void {
  typed.value = typeof count === 'number' ? count : null;
  if (!props.lazy) value.value = typed.value;
}
function done(): void {
  if (props.lazy && typed.value !== (value.value === '' ? null : value.value)) value.value = typed.value;
}
const input = ref<{ focus: () => void } | null>(null);
defineExpose({ focus: () => input.value?.focus() });
</script>

<template>
  <InputNumber
    ref="input"
    size="small"
    :value="typed ?? undefined"
    @update:value="type"
    @press-enter="done"
    @blur="done"
  />
</template>
