<script setup lang="ts">
/** Who showed a password or printed a card, and when. */
import { t } from '@/words';
import { computed } from 'vue';
import Head from '@/kit/Head.vue';
import { usePages } from '@/kit/load';
import { momentWords } from '@/time';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';

/** The server gives 200 at a time, the newest first. */
const trail = usePages(
  t('places.theLog'),
  'GET /api/audit',
  (before) => ({ query: { before } }),
  (rows) => (rows.length < 200 ? undefined : rows.at(-1)!.id),
);
const rows = computed(() => trail.data.value?.pages.flat() ?? []);
const columns: Col[] = [
  { key: 'at', label: t('places.when'), width: '130px' },
  { key: 'action', label: t('places.what'), width: '120px' },
  { key: 'about', label: t('places.about'), width: 'minmax(140px, 1fr)' },
  { key: 'by', label: t('places.by'), width: 'minmax(140px, 1fr)' },
  { key: 'detail', label: t('places.detail'), width: 'minmax(160px, 1.4fr)' },
];
const actions: Record<string, string> = {
  'card.print': t('places.cardPrinted'),
  'secret.reveal': t('places.passwordShown'),
  'print.fetch': t('places.printOpened'),
};
</script>

<template>
  <div class="middle">
    <Head :title="t('places.passwordAndPrintLog')" />
    <Worksheet
      class="list-below"
      :label="t('places.passwordAndPrintLog')"
      :rows="rows"
      :total="rows.length + (trail.hasNextPage.value ? 1 : 0)"
      :columns="columns"
      :empty="t('places.noPasswordHasBeenShown')"
      @more="!trail.isFetchingNextPage.value && trail.fetchNextPage()"
    >
      <template #at="{ row }">{{ momentWords(row.at) }}</template>
      <template #action="{ row }">{{ actions[row.action] ?? row.action }}</template>
      <template #about="{ row }">{{ row.about ?? '' }}</template>
      <template #by="{ row }">{{ row.by ?? '' }}</template>
    </Worksheet>
  </div>
</template>
