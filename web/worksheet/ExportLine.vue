<script setup lang="ts">
/** What the filters show, as a file: the browser fetches it by the same address as the list. */
import { t } from '@/words';
import { DownloadOutlined } from '@ant-design/icons-vue';
import { computed } from 'vue';
import type { ExportName } from '../../server/contract';
import More from '@/kit/More.vue';

const props = defineProps<{
  list: ExportName;
  filter?: object;
  roster?: boolean;
}>();
function download(format: string): void {
  const pairs = Object.entries({ ...props.filter, format }).filter(
    ([, value]) => value !== undefined && value !== null && value !== '',
  );
  const link = document.createElement('a');
  link.href = `/api/exports/${props.list}?${new URLSearchParams(pairs.map(([key, value]) => [key, String(value)]))}`;
  link.download = '';
  link.click();
}
const formats = computed(() =>
  [
    ['csv', t('worksheet.csv')] as const,
    ['xlsx', t('worksheet.workbook')] as const,
    ...(props.roster ? ([['roster', t('worksheet.rosterBundle')]] as const) : []),
  ].map(([format, label]) => ({ label, run: () => download(format) })),
);
</script>

<template>
  <More :label="t('worksheet.export')" :items="formats"
    ><template #icon><DownloadOutlined aria-hidden="true" /></template
  ></More>
</template>
