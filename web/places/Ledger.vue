<script setup lang="ts">
/** What was applied, by whom, and undoing it; and the trail of prints and reveals. */
import { t } from '@/words';
import DayInput from '@/kit/DayInput.vue';
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { LedgerRow } from '../../server/contract';
import { useWork } from '@/stores/work';
import AsItStood from '@/places/AsItStood.vue';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { momentWords } from '@/time';
import { usePages } from '@/kit/load';
import Part from '@/kit/Part.vue';

const router = useRouter();
const work = useWork();
const view = ref<'plans' | 'audit' | 'as-of'>('plans');
const typed = ref('');
const day = ref('');
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
const trail = usePages(t('places.theLog'), 'GET /api/audit', (before) => ({ query: { before } }), following, {
  enabled: () => view.value === 'audit',
});
const entries = computed(() => ledger.data.value?.pages.flat() ?? []);
const prints = computed(() => trail.data.value?.pages.flat() ?? []);
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
const trailColumns: Col[] = [
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
const open = (row: LedgerRow) => router.push(`/plans/${row.planId}`);
</script>

<template>
  <div class="ledger">
    <nav class="bar" :aria-label="t('places.ledger')">
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'plans'"
        :class="{ here: view === 'plans' }"
        @click="view = 'plans'"
      >
        {{ t('places.appliedAndUndone') }}
      </Button>
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'audit'"
        :class="{ here: view === 'audit' }"
        @click="view = 'audit'"
      >
        {{ t('places.passwordAndPrintLog') }}
      </Button>
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'as-of'"
        :class="{ here: view === 'as-of' }"
        @click="view = 'as-of'"
      >
        {{ t('places.onAPastDate') }}
      </Button>
      <template v-if="view === 'plans'">
        <label
          >{{ t('places.find') }} <TextInput v-model:value="typed" type="search" :placeholder="t('places.findPlan')"
        /></label>
        <label>{{ t('places.paper') }} <DayInput v-model:value="day" /></label>
      </template>
      <span class="grow" />
      <ExportLine v-if="view === 'plans'" list="ledger" :filter="filter" />
    </nav>
    <Part v-if="view === 'as-of'" fit><AsItStood /></Part>
    <div v-else class="list-below">
      <Worksheet
        v-if="view === 'plans'"
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
      <Worksheet
        v-else
        :label="t('places.passwordAndPrintLog')"
        :rows="prints"
        :total="prints.length + (trail.hasNextPage.value ? 1 : 0)"
        :columns="trailColumns"
        :empty="t('places.noPasswordHasBeenShown')"
        @more="!trail.isFetchingNextPage.value && trail.fetchNextPage()"
      >
        <template #at="{ row }">{{ momentWords(row.at) }}</template>
        <template #action="{ row }">{{ actions[row.action] ?? row.action }}</template>
        <template #about="{ row }">{{ row.about ?? '' }}</template>
        <template #by="{ row }">{{ row.by ?? '' }}</template>
      </Worksheet>
    </div>
  </div>
</template>

<style scoped>
.ledger {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.here {
  font-weight: 650;
  text-decoration: underline;
  text-decoration-color: var(--stem);
  text-decoration-thickness: 2px;
  text-underline-offset: 4px;
}
</style>
