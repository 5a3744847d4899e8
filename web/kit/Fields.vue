<script setup lang="ts">
/**
 * A form in a place: labels above, fields on a grid. The focus goes into its first field, and back to what opened it;
 * Enter saves, Esc cancels.
 */
import { onBeforeUnmount, ref } from 'vue';
import { onShown } from './load';

defineProps<{ label: string }>();
const emit = defineEmits<{ save: []; cancel: [] }>();
const form = ref<HTMLFormElement | null>(null);
const opener = document.activeElement;
onShown(() => form.value?.querySelector<HTMLElement>('input, button')?.focus());
onBeforeUnmount(() => {
  if (form.value?.contains(document.activeElement) && opener instanceof HTMLElement)
    setTimeout(() => opener.isConnected && opener.focus());
});
</script>

<template>
  <form
    ref="form"
    class="fields grid [grid-template-columns:repeat(auto-fill,minmax(150px,1fr))] gap-y-8px gap-x-16px py-8px px-0 text-13px c-quiet"
    :aria-label="label"
    @submit.prevent="emit('save')"
    @keydown.esc.stop="emit('cancel')"
  >
    <slot />
    <div class="row [grid-column:1/-1]"><slot name="actions" /></div>
  </form>
</template>

<style scoped>
.fields > :slotted(label:not(.ant-checkbox-wrapper)) {
  display: grid;
  gap: 2px;
  align-content: start;
}
.fields > :slotted(.ant-checkbox-wrapper) {
  align-self: end;
}
.fields :deep(label:not(.ant-checkbox-wrapper) > *) {
  width: 100%;
}
</style>
