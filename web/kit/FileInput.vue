<script setup lang="ts">
/** A button that asks for a file. */
import { Button, Upload } from 'ant-design-vue';
import { ref } from 'vue';

defineProps<{ label: string; accept: string; primary?: boolean; disabled?: boolean }>();
const emit = defineEmits<{ file: [file: File] }>();
function take(file: File): false {
  emit('file', file);
  // It is not sent by the component.
  return false;
}
const box = ref<HTMLElement | null>(null);
const open = () => box.value?.querySelector<HTMLInputElement>('input[type=file]')?.click();
defineExpose({ open, focus: () => box.value?.querySelector('button')?.focus() });
</script>

<template>
  <span ref="box">
    <Button :type="primary ? 'primary' : 'default'" :disabled="disabled" @click="open">{{ label }}</Button>
    <!-- What it draws itself cannot be told from a button to assistive technology. -->
    <span hidden
      ><Upload :accept="accept" :disabled="disabled" :show-upload-list="false" :before-upload="take"><i /></Upload
    ></span>
  </span>
</template>
