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
  <section v-if="facets.length > 0" class="facet pt-8px pb-4px px-0">
    <h2 class="pt-0 pb-2px px-12px">{{ title }}</h2>
    <ul>
      <li v-for="f in shown" :key="f.value">
        <Button
          type="text"
          size="small"
          :aria-pressed="chosen === f.value"
          :class="{ chosen: chosen === f.value }"
          @click="$emit('choose', chosen === f.value ? null : f.value)"
        >
          <span class="clip">{{ f.label }}</span><span class="n c-quiet">{{ f.count.toLocaleString(locale) }}</span>
        </Button>
      </li>
    </ul>
    <Button v-if="facets.length > most + 1" type="link" size="small" @click="isWhole = !isWhole">{{
      isWhole ? t('worksheet.showFewer') : t('worksheet.showAll', { n: facets.length })
    }}</Button>
  </section>
</template>

<style scoped>
.facet .ant-btn {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  width: 100%;
  padding: 2px 12px;
  font-size: 13px;
}
.facet .chosen {
  background: var(--ink);
  color: var(--paper);
}
.chosen .n {
  color: inherit;
}
</style>
