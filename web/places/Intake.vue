<script setup lang="ts">
/** Files that came in: drop or open one, go on with an open one, look back at the applied ones. */
import { t } from '@/words';
import FileInput from '@/kit/FileInput.vue';
import { Button, Textarea } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { IntakeHead } from '../../server/contract';
import { upload } from '@/api';
import { useWork } from '@/stores/work';
import Feeds from '@/intake/Feeds.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { momentWords } from '@/time';
import Head from '@/kit/Head.vue';
import More from '@/kit/More.vue';
import { onShown, useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const route = useRoute();
const router = useRouter();
const work = useWork();
const list = useLoad(t('places.imports'), 'GET /api/intakes');
const feeds = useLoad(t('intake.feeds2'), 'GET /api/feeds');
/** The feed whose history is shown, as the address says; null: all files. */
const feed = computed(() => feeds.data.value?.find(({ id }) => id === route.query.feed) ?? null);
const show = (id: string | null) => router.replace({ query: { ...route.query, feed: id ?? undefined } });
const rows = computed(() => (list.data.value ?? []).filter((row) => !feed.value || row.feedId === feed.value.id));
const focused = ref<string | null>(null);
const over = ref(false);
const sending = ref(false);
/** The feed that the next file belongs to. */
const target = ref<string | null>(null);
const pasting = ref(false);
const pasted = ref('');
const chooser = ref<InstanceType<typeof FileInput> | null>(null);

async function take(file: File | undefined): Promise<void> {
  if (!file) return;
  sending.value = true;
  try {
    const { id } = await upload(file, file.name, target.value);
    await router.push(`/imports/${id}`);
  } catch (error) {
    work.wrong(error);
  } finally {
    sending.value = false;
    target.value = null;
  }
}
async function takePasted(): Promise<void> {
  if (pasted.value.trim() === '') return;
  try {
    const { id } = await upload(new Blob([pasted.value]), t('places.pastedCells'));
    await router.push(`/imports/${id}`);
  } catch (error) {
    work.wrong(error);
  }
}
function openFor(feedId: string | null): void {
  target.value = feedId;
  chooser.value?.open();
}
const columns: Col[] = [
  { key: 'fileName', label: t('places.file'), width: 'minmax(200px, 2fr)' },
  { key: 'school', label: t('places.about'), width: 'minmax(120px, 1fr)' },
  { key: 'feed', label: t('places.feed'), width: 'minmax(100px, 1fr)' },
  { key: 'status', label: t('places.state'), width: 'minmax(110px, 1fr)' },
  { key: 'size', label: t('places.size'), width: '80px', align: 'right' },
  { key: 'savedAt', label: t('places.saved'), width: '150px' },
];
const states: Record<IntakeHead['status'], string> = {
  open: t('places.stateOpen'),
  planned: t('places.statePlanned'),
  applied: t('places.stateApplied'),
  'set-aside': t('places.discarded'),
};
const size = (bytes: number) =>
  bytes < 10_000
    ? `${bytes} B`
    : bytes < 1_000_000
      ? t('places.kb', { round: Math.round(bytes / 1000) })
      : t('places.mb', { toFixed: (bytes / 1_000_000).toFixed(1) });
const open = (row: IntakeHead) =>
  router.push(
    row.status === 'applied' && row.waits === 0 && row.planId ? `/plans/${row.planId}` : `/imports/${row.id}`,
  );
const more = [
  { label: t('places.pasteCells'), run: () => (pasting.value = !pasting.value) },
  ...(['csv', 'xlsx'] as const).map((format) => ({
    label: format === 'csv' ? t('places.templateAsCsv') : t('places.templateAsWorkbook'),
    run: () => window.open(`/api/exports/template?format=${format}`),
  })),
];
onShown(() => chooser.value?.focus());
</script>

<template>
  <div
    class="middle"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="
      over = false;
      take($event.dataTransfer?.files[0]);
    "
  >
    <Head :title="t('frame.placeImports')">
      <template #about>{{ t('places.orDropItHereA') }}</template>
      <template #actions>
        <Button @click="router.push('/pairs')">{{ t('places.possibleDuplicates') }}</Button>
        <More :items="more" />
        <FileInput
          ref="chooser"
          primary
          :label="t('places.openAFile')"
          :disabled="sending"
          accept=".csv,.tsv,.txt,.xlsx,.zip,text/csv,text/plain"
          @file="take"
        />
      </template>
    </Head>
    <form v-if="pasting" class="paste flex gap-12px items-end py-8px px-16px" @submit.prevent="takePasted">
      <Textarea v-model:value="pasted" :aria-label="t('places.cellsAsCopiedFromA')" :rows="5" />
      <Button html-type="submit" :disabled="pasted.trim() === ''">{{ t('places.importCells') }}</Button>
    </form>
    <Part fit><Feeds @choose="openFor" @open="show(feed?.id === $event.id ? null : $event.id)" /></Part>
    <p v-if="feed" class="row py-4px px-16px">
      {{ t('places.filesOf') }} <b>{{ feed.name }}</b>
      <Button size="small" @click="show(null)">{{ t('places.showAllFiles') }}</Button>
    </p>
    <div class="list-below">
      <Worksheet
        v-model:focused="focused"
        :label="t('places.files')"
        :rows="rows"
        :columns="columns"
        :empty="t('places.noFileHasBeenImported')"
        @open="open"
      >
        <template #fileName="{ row }"
          ><a :href="`/imports/${row.id}`" @click.prevent="open(row)">{{ row.fileName }}</a></template
        >
        <template #school="{ row }">{{ row.school ?? '—' }}</template>
        <template #feed="{ row }"
          ><span class="clip quiet">{{ row.feed ?? '' }}</span></template
        >
        <template #status="{ row }"
          ><span :class="{ quiet: row.status === 'set-aside', stem: row.status === 'applied' }">{{
            states[row.status]
          }}</span
          ><span v-if="row.waits > 0" class="rust"> {{ t('places.rowsToReview', { n: row.waits }) }}</span></template
        >
        <template #size="{ row }">{{ size(row.size) }}</template>
        <template #savedAt="{ row }">{{ momentWords(row.savedAt) }}</template>
      </Worksheet>
    </div>
  </div>
</template>

<style scoped>
.over {
  background: var(--straw-wash);
  outline: 2px dashed var(--straw);
  outline-offset: -4px;
}
.paste textarea {
  flex: 1;
  font: 13px var(--mono);
}
</style>
