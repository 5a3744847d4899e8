<script setup lang="ts">
/** The page before the frame: the mark and one thing to do. */
import { Button } from 'ant-design-vue';
import { locale, speak, t } from '@/words';
import type { UiLanguage } from '#core/preferences/index';

/** Each by its own name. */
const languages: [UiLanguage, string][] = [
  ['en-US', 'English'],
  ['es-US', 'Español'],
];
defineProps<{ title: string; wide?: boolean }>();
</script>

<template>
  <main class="door min-h-full flex justify-center pt-12vh pb-32px px-20px">
    <div class="leaf w-full max-w-380px flex flex-col gap-16px" :class="{ wide }">
      <p class="flex items-center gap-8px font-700 text-20px">
        <img src="/mark.svg" alt="" width="28" height="28" />{{ t('sign.sheaf') }}
      </p>
      <h1 class="text-26px lh-[1.2]">{{ title }}</h1>
      <slot />
      <nav class="languages flex gap-8px mt-8px" :aria-label="t('sign.pageLanguage')">
        <Button
          v-for="[code, name] in languages"
          :key="code"
          type="text"
          size="small"
          :lang="code"
          :aria-pressed="code === locale"
          @click="speak(code)"
          >{{ name }}</Button
        >
      </nav>
    </div>
  </main>
</template>

<style scoped>
.leaf.wide {
  max-width: 560px;
}
.leaf :deep(form:not(.ant-form)) {
  display: grid;
  gap: 12px;
}
.leaf :deep(form:not(.ant-form) label) {
  display: grid;
  gap: 4px;
  font-size: 16px;
}
.leaf :deep(form:not(.ant-form) input:not(.ant-picker input)) {
  font: inherit;
  color: inherit;
  font-size: 18px;
  height: 44px;
  padding: 0 10px;
  border: 1px solid var(--quiet);
  border-radius: 2px;
  background: var(--sheet);
  width: 100%;
}
.languages [aria-pressed='true'] {
  font-weight: 650;
}
.leaf :deep(form:not(.ant-form) label.show) {
  display: flex;
  align-items: center;
  gap: 8px;
}
.leaf :deep(.show input) {
  width: 20px;
  height: 20px;
}
.leaf :deep(.code) {
  font-family: var(--mono);
}
.leaf :deep(.wrong) {
  background: var(--rust-wash);
  border-left: 4px solid var(--rust);
  padding: 10px 12px;
  font-size: 16px;
}
</style>
