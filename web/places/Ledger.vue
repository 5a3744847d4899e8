<script setup lang="ts">
/** What was applied, by whom, and undoing it; and the trail of prints and reveals. */
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
  'the ledger',
  'GET /api/ledger',
  (before) => ({ query: { ...filter.value, before } }),
  following,
);
const trail = usePages('the log', 'GET /api/audit', (before) => ({ query: { before } }), following, {
  enabled: () => view.value === 'audit',
});
const entries = computed(() => ledger.data.value?.pages.flat() ?? []);
const prints = computed(() => trail.data.value?.pages.flat() ?? []);
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const columns: Col[] = [
  { key: 'at', label: 'When', width: '130px' },
  { key: 'title', label: 'Plan', width: 'minmax(180px, 1.4fr)' },
  { key: 'action', label: 'What', width: '80px' },
  { key: 'sentence', label: 'In words', width: 'minmax(200px, 2fr)' },
  { key: 'by', label: 'By', width: 'minmax(100px, 0.8fr)' },
  { key: 'undo', label: '', width: '76px' },
];
const trailColumns: Col[] = [
  { key: 'at', label: 'When', width: '130px' },
  { key: 'action', label: 'What', width: '120px' },
  { key: 'about', label: 'About', width: 'minmax(140px, 1fr)' },
  { key: 'by', label: 'By', width: 'minmax(140px, 1fr)' },
  { key: 'detail', label: 'Detail', width: 'minmax(160px, 1.4fr)' },
];
const actions: Record<string, string> = {
  'card.print': 'card printed',
  'secret.reveal': 'secret shown',
  'print.fetch': 'print opened',
};
const open = (row: LedgerRow) => router.push(`/plans/${row.planId}`);
</script>

<template>
  <div class="ledger">
    <nav class="bar" aria-label="Ledger">
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'plans'"
        :class="{ here: view === 'plans' }"
        @click="view = 'plans'"
      >
        Applied and undone
      </Button>
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'audit'"
        :class="{ here: view === 'audit' }"
        @click="view = 'audit'"
      >
        Secrets and prints
      </Button>
      <Button
        type="text"
        size="small"
        :aria-pressed="view === 'as-of'"
        :class="{ here: view === 'as-of' }"
        @click="view = 'as-of'"
      >
        As it stood
      </Button>
      <template v-if="view === 'plans'">
        <label>Find <TextInput v-model:value="typed" type="search" placeholder="a plan, a person, a class" /></label>
        <label>on <DayInput v-model:value="day" /></label>
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
        label="Ledger"
        :rows="entries"
        :total="entries.length + (ledger.hasNextPage.value ? 1 : 0)"
        :columns="columns"
        :empty="find || day ? 'Nothing was done that fits.' : 'Nothing was applied yet.'"
        @more="!ledger.isFetchingNextPage.value && ledger.fetchNextPage()"
        @open="open"
      >
        <template #at="{ row }">{{ momentWords(row.at) }}</template>
        <template #title="{ row }"
          ><a :href="`/plans/${row.planId}`" @click.prevent="open(row)">{{ row.title }}</a></template
        >
        <template #action="{ row }"
          ><span :class="row.action === 'apply' ? 'stem' : 'rust'">{{
            { apply: 'applied', undo: 'undone', purge: 'purged' }[row.action]
          }}</span></template
        >
        <template #sentence="{ row }"
          ><span :title="row.sentence">{{ row.sentence }}</span></template
        >
        <template #by="{ row }">{{ row.by ?? 'the first run' }}</template>
        <template #undo="{ row }"
          ><Button v-if="row.canUndo" size="small" @click.stop="work.undo(row.planId)">Undo</Button></template
        >
      </Worksheet>
      <Worksheet
        v-else
        label="Secrets and prints"
        :rows="prints"
        :total="prints.length + (trail.hasNextPage.value ? 1 : 0)"
        :columns="trailColumns"
        empty="No secret was shown and no card printed yet."
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
