<script setup lang="ts">
/** Where the feed says something new against what somebody corrected: both values, and which one holds. */
import { Button } from 'ant-design-vue';
import type { Ask, Choice } from '#core/intake/index';
import { fieldLabels } from '#core/tabular/fields';

defineProps<{ asks: Ask[] }>();
defineEmits<{ answer: [line: number, field: string, choice: Choice | null] }>();
const words: Record<string, string> = fieldLabels;
</script>

<template>
  <section aria-label="News against corrections">
    <h2>News against corrections <span class="quiet">until you choose, the record stays</span></h2>
    <ul>
      <li v-for="ask in asks" :key="`${ask.line} ${ask.field}`">
        <div class="clip">{{ ask.label }} · {{ words[ask.field] ?? ask.field }}</div>
        <div class="row">
          <Button
            type="text"
            size="small"
            :aria-pressed="ask.choice === 'record'"
            @click="$emit('answer', ask.line, ask.field, ask.choice === 'record' ? null : 'record')"
          >
            keep {{ ask.record ?? 'nothing' }}
          </Button>
          <Button
            type="text"
            size="small"
            :aria-pressed="ask.choice === 'feed'"
            @click="$emit('answer', ask.line, ask.field, ask.choice === 'feed' ? null : 'feed')"
          >
            take {{ ask.now }}
          </Button>
          <span class="quiet clip">was {{ ask.before ?? 'nothing' }}</span>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  font-size: 13px;
  padding: 3px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
  padding: 0 4px;
}
</style>
