<script setup lang="ts">
/** A facet: its values with counts. Choosing one narrows; choosing it again lets go of it. */
import { locale } from '@/words';
import { Button } from 'ant-design-vue';
import type { Facet } from '../../server/contract';

defineProps<{ title: string; facets: Facet[]; chosen: string | null | undefined }>();
defineEmits<{ choose: [value: string | null] }>();
</script>

<template>
  <section v-if="facets.length > 0" class="facet">
    <h2>{{ title }}</h2>
    <ul>
      <li v-for="f in facets" :key="f.value">
        <Button
          type="text"
          size="small"
          :aria-pressed="chosen === f.value"
          :class="{ chosen: chosen === f.value }"
          @click="$emit('choose', chosen === f.value ? null : f.value)"
        >
          <span class="clip">{{ f.label }}</span><span class="n">{{ f.count.toLocaleString(locale) }}</span>
        </Button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.facet {
  padding: 8px 0 4px;
}
h2 {
  padding: 0 12px 2px;
}
ul {
  max-height: 220px;
  overflow: auto;
}
button {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  width: 100%;
  padding: 2px 12px;
  font-size: 13px;
}
button:hover {
  background: var(--fog);
}
button:focus-visible {
  outline-offset: -2px;
}
.n {
  color: var(--quiet);
}
.chosen {
  background: var(--ink);
  color: var(--paper);
}
.chosen .n {
  color: inherit;
}
</style>
