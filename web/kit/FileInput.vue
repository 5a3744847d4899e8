<script setup lang="ts">
/** A button that asks for a file. */
import { Upload } from 'ant-design-vue';
import { ref } from 'vue';

defineProps<{ label: string; accept: string; primary?: boolean; disabled?: boolean }>();
const emit = defineEmits<{ file: [file: File] }>();
function take(file: File): false {
  emit('file', file);
  // It is not sent by the component.
  return false;
}
const box = ref<HTMLElement | null>(null);
defineExpose({ open: () => box.value?.querySelector('input')?.click() });
</script>

<template>
  <span ref="box" class="file">
    <Upload :accept="accept" :disabled="disabled" :show-upload-list="false" :before-upload="take">
      <!-- What holds it is the button that is reached and pressed. -->
      <span class="ant-btn ant-btn-sm" :class="primary ? 'ant-btn-primary' : 'ant-btn-default'">{{ label }}</span>
    </Upload>
  </span>
</template>

<style scoped>
.file :deep(.ant-upload:focus-visible) {
  outline: 2px solid var(--straw);
  outline-offset: 1px;
}
</style>
