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
  <main class="door">
    <div class="leaf" :class="{ wide }">
      <p class="mark"><img src="/mark.svg" alt="" width="28" height="28" />{{ t('sign.sheaf') }}</p>
      <h1>{{ title }}</h1>
      <slot />
      <nav class="languages" :aria-label="t('sign.pageLanguage')">
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
.door {
  min-height: 100%;
  display: flex;
  justify-content: center;
  padding: 12vh 20px 32px;
}
.leaf {
  width: 100%;
  max-width: 380px;
  display: flex;
  flex-direction: column;
  gap: 16px;
}
.leaf.wide {
  max-width: 560px;
}
.mark {
  display: flex;
  align-items: center;
  gap: 8px;
  font-weight: 700;
  font-size: 20px;
}
.door h1 {
  font-size: 26px;
  line-height: 1.2;
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
.languages {
  display: flex;
  gap: 8px;
  margin-top: 8px;
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
