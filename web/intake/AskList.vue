<script setup lang="ts">
/** Where the feed says something new against what somebody corrected: both values, and which one holds. */
import { spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import type { Ask, Choice } from '#core/intake/index';
import { fieldLabels } from '#core/tabular/fields';

defineProps<{ asks: Ask[] }>();
defineEmits<{ answer: [line: number, field: string, choice: Choice | null] }>();
const words = (field: string): string => spoken(fieldLabels[field as keyof typeof fieldLabels] ?? field);
</script>

<template>
  <section :aria-label="t('intake.whenTheFeedDiffersFrom')">
    <h2>
      {{ t('intake.whenTheFeedDiffersFrom') }} <span class="quiet">{{ t('intake.untilYouDecideTheRecord') }}</span>
    </h2>
    <ul>
      <li v-for="ask in asks" :key="`${ask.line} ${ask.field}`" class="text-13px py-3px px-0 faint-b">
        <div class="clip">{{ ask.label }} · {{ words(ask.field) }}</div>
        <div class="row">
          <Button
            type="text"
            size="small"
            :aria-pressed="ask.choice === 'record'"
            @click="$emit('answer', ask.line, ask.field, ask.choice === 'record' ? null : 'record')"
          >
            {{ t('intake.keep', { nothing: ask.record ?? t('intake.nothing') }) }}
          </Button>
          <Button
            type="text"
            size="small"
            :aria-pressed="ask.choice === 'feed'"
            @click="$emit('answer', ask.line, ask.field, ask.choice === 'feed' ? null : 'feed')"
          >
            {{ t('intake.use2', { now: ask.now }) }}
          </Button>
          <span class="quiet clip">{{ t('intake.was', { nothing: ask.before ?? t('intake.nothing') }) }}</span>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
  padding: 0 4px;
}
</style>
