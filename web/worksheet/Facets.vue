<script setup lang="ts">
/** A facet: its values with counts. Choosing one narrows; choosing it again lets go of it. A long one is cut short. */
import { locale, t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import type { Facet } from '../../server/contract';

const props = defineProps<{ title: string; facets: Facet[]; chosen: string | null | undefined }>();
defineEmits<{ choose: [value: string | null] }>();
const most = 8;
const isWhole = ref(false);
/** What is chosen is always seen. */
const shown = computed(() =>
  isWhole.value || props.facets.length <= most + 1
    ? props.facets
    : props.facets.filter(({ value }, i) => i < most || value === props.chosen),
);
</script>

<template>
  <section v-if="facets.length > 0" class="facet">
    <h2>{{ title }}</h2>
    <ul>
      <li v-for="f in shown" :key="f.value">
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
    <Button v-if="facets.length > most + 1" type="link" size="small" @click="isWhole = !isWhole">{{
      isWhole ? t('worksheet.showFewer') : t('worksheet.showAll', { n: facets.length })
    }}</Button>
  </section>
</template>

<style scoped>
.facet {
  padding: 8px 0 4px;
}
h2 {
  padding: 0 12px 2px;
}
.facet .ant-btn {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  width: 100%;
  padding: 2px 12px;
  font-size: 13px;
}
.n {
  color: var(--quiet);
}
.facet .chosen {
  background: var(--ink);
  color: var(--paper);
}
.chosen .n {
  color: inherit;
}
</style>
