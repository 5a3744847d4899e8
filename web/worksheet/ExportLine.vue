<script setup lang="ts">
/** What the filters show, as a file: the browser fetches it by the same address as the list. */
import { t } from '@/words';
import { computed } from 'vue';
import type { ExportName } from '../../server/contract';

const props = defineProps<{
  list: ExportName;
  filter?: object;
  roster?: boolean;
}>();
const address = (format: string) => {
  const pairs = Object.entries({ ...props.filter, format }).filter(
    ([, value]) => value !== undefined && value !== null && value !== '',
  );
  return `/api/exports/${props.list}?${new URLSearchParams(pairs.map(([key, value]) => [key, String(value)]))}`;
};
const formats = computed<[string, string][]>(() => [
  ['csv', t('worksheet.csv')],
  ['xlsx', t('worksheet.workbook')],
  ...(props.roster ? ([['roster', t('worksheet.rosterBundle')]] as [string, string][]) : []),
]);
</script>

<template>
  <span class="export quiet"
    >{{ t('worksheet.export') }}
    <a v-for="[format, label] in formats" :key="format" :href="address(format)" download>{{ label }}</a>
  </span>
</template>

<style scoped>
.export {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  margin-right: 16px;
  font-size: 13px;
}
.export a {
  min-height: 24px;
  display: inline-flex;
  align-items: center;
}
</style>
