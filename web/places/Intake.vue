<script setup lang="ts">
/** Files that came in: drop or open one, go on with an open one, look back at the applied ones. */
import { useQuery } from '@tanstack/vue-query';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { IntakeHead } from '../../server/api/contract';
import { call, upload } from '@/api';
import { useWork } from '@/stores/work';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';

const router = useRouter();
const work = useWork();
const list = useQuery({ queryKey: ['intakes'], queryFn: () => call('GET /api/intakes') });
const rows = computed(() => list.data.value ?? []);
const focused = ref<string | null>(null);
const over = ref(false);
const sending = ref(false);
const chooser = ref<HTMLInputElement | null>(null);

async function take(files: FileList | null | undefined): Promise<void> {
  const file = files?.[0];
  if (!file) return;
  sending.value = true;
  try {
    const { id } = await upload(file);
    await router.push(`/intake/${id}`);
  } catch (error) {
    work.wrong(error);
  } finally {
    sending.value = false;
  }
}
const columns: Col[] = [
  { key: 'fileName', label: 'File', width: 'minmax(200px, 2fr)' },
  { key: 'school', label: 'About', width: 'minmax(120px, 1fr)' },
  { key: 'status', label: 'State', width: '110px' },
  { key: 'size', label: 'Size', width: '80px', align: 'right' },
  { key: 'savedAt', label: 'Saved', width: '150px' },
];
const states: Record<IntakeHead['status'], string> = {
  open: 'open',
  planned: 'planned',
  applied: 'applied',
  'set-aside': 'set aside',
};
const size = (bytes: number) =>
  bytes < 10_000
    ? `${bytes} B`
    : bytes < 1_000_000
      ? `${Math.round(bytes / 1000)} kB`
      : `${(bytes / 1_000_000).toFixed(1)} MB`;
const open = (row: IntakeHead) =>
  router.push(row.status === 'applied' && row.planId ? `/plans/${row.planId}` : `/intake/${row.id}`);
</script>

<template>
  <div class="intake">
    <div
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="
        over = false;
        take($event.dataTransfer?.files);
      "
    >
      <Button type="primary" :loading="sending" @click="chooser?.click()">Open a file</Button>
      <input
        ref="chooser"
        class="sr"
        type="file"
        tabindex="-1"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        aria-label="File to take in"
        @change="take(($event.target as HTMLInputElement).files)"
      />
      <span class="quiet"
        >or drop it here: a list of students as CSV or TSV, in any encoding, with the headings your office uses. Nothing
        changes until you apply it.</span
      >
    </div>
    <div class="sheet">
      <Worksheet
        v-model:focused="focused"
        label="Files"
        :rows="rows"
        :columns="columns"
        empty="No file has come in yet."
        @open="open"
      >
        <template #fileName="{ row }"
          ><a :href="`/intake/${row.id}`" @click.prevent="open(row)">{{ row.fileName }}</a></template
        >
        <template #school="{ row }">{{ row.school ?? '—' }}</template>
        <template #status="{ row }"
          ><span :class="{ quiet: row.status === 'set-aside', stem: row.status === 'applied' }">{{
            states[row.status]
          }}</span></template
        >
        <template #size="{ row }">{{ size(row.size) }}</template>
        <template #savedAt="{ row }">{{ row.savedAt.slice(0, 16).replace('T', ' ') }}</template>
      </Worksheet>
    </div>
  </div>
</template>

<style scoped>
.intake {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.drop {
  display: flex;
  gap: 16px;
  align-items: center;
  margin: 16px;
  padding: 16px;
  border: 2px dashed var(--rule);
  background: var(--sheet);
}
.drop.over {
  border-color: var(--straw);
  background: var(--straw-wash);
}
.sheet {
  flex: 1;
  min-height: 0;
  border-top: 1px solid var(--rule);
}
</style>
