<script setup lang="ts">
/** The plans that were applied, who applied them, and Undo. */
import { t } from '@/words';
import Head from '@/kit/Head.vue';
import DayInput from '@/kit/DayInput.vue';
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { LedgerRow } from '../../server/contract';
import { useWork } from '@/stores/work';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { momentWords } from '@/time';
import { usePages } from '@/kit/load';
import { useQuery } from '@/kit/query';

const router = useRouter();
const work = useWork();
const query = useQuery();
const typedText = query.text('q');
const typed = computed({ get: () => typedText.value ?? '', set: (text) => (typedText.value = text) });
const dayText = query.text('day');
const day = computed({ get: () => dayText.value ?? '', set: (text) => (dayText.value = text) });
const find = refDebounced(typed, 200);
const filter = computed(() => ({ q: find.value.trim() || undefined, day: day.value || undefined }));
/** The server gives 200 at a time, the newest first. */
const following = (rows: { id: string }[]) => (rows.length < 200 ? undefined : rows.at(-1)!.id);
const ledger = usePages(
  t('places.theLedger'),
  'GET /api/ledger',
  (before) => ({ query: { ...filter.value, before } }),
  following,
);
const entries = computed(() => ledger.data.value?.pages.flat() ?? []);
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const columns: Col[] = [
  { key: 'at', label: t('places.when'), width: '130px' },
  { key: 'title', label: t('places.plan'), width: 'minmax(180px, 1.4fr)' },
  { key: 'action', label: t('places.what'), width: '80px' },
  { key: 'sentence', label: t('places.inWords'), width: 'minmax(200px, 2fr)' },
  { key: 'by', label: t('places.by'), width: 'minmax(100px, 0.8fr)' },
  { key: 'undo', label: '', width: '76px' },
];
const open = (row: LedgerRow) => router.push(`/plans/${row.planId}`);
</script>

<template>
  <div class="middle">
    <Head :title="t('places.ledger')">
      <template #narrow>
        <TextInput
          v-model:value="typed"
          type="search"
          :aria-label="t('places.find')"
          :placeholder="t('places.findPlan')"
        />
        <label class="quiet">{{ t('places.day') }} <DayInput v-model:value="day" /></label>
      </template>
      <template #actions><ExportLine list="ledger" :filter="filter" /></template>
    </Head>
    <div class="list-below">
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        :label="t('places.ledger')"
        :rows="entries"
        :total="entries.length + (ledger.hasNextPage.value ? 1 : 0)"
        :columns="columns"
        :empty="find || day ? t('places.nothingMatches') : t('places.nothingHasBeenAppliedYet')"
        @more="!ledger.isFetchingNextPage.value && ledger.fetchNextPage()"
        @open="open"
      >
        <template #at="{ row }">{{ momentWords(row.at) }}</template>
        <template #title="{ row }"
          ><a :href="`/plans/${row.planId}`" @click.prevent="open(row)">{{ row.title }}</a></template
        >
        <template #action="{ row }"
          ><span :class="row.action === 'apply' ? 'stem' : 'rust'">{{
            { apply: t('places.ledgerApplied'), undo: t('places.ledgerUndone'), purge: t('places.ledgerPurged') }[
              row.action
            ]
          }}</span></template
        >
        <template #sentence="{ row }"
          ><span :title="row.sentence">{{ row.sentence }}</span></template
        >
        <template #by="{ row }">{{ row.by ?? t('places.firstRun') }}</template>
        <template #undo="{ row }"
          ><Button v-if="row.canUndo" size="small" @click.stop="work.undo(row.planId)">{{
            t('common.undo')
          }}</Button></template
        >
      </Worksheet>
    </div>
  </div>
</template>
