<script setup lang="ts">
/** Classes that are over: by name, newest first; each can come back with those who were in it to the end. */
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { useAgain, usePages } from '@/kit/load';

const work = useWork();
const reload = useAgain();
const typed = ref('');
const find = refDebounced(typed, 150);
const list = usePages(
  'archived classes',
  'GET /api/archive',
  (before) => ({ query: { q: find.value.trim() || undefined, before } }),
  ({ classes, more }) => (more ? `${classes.at(-1)!.ends} ${classes.at(-1)!.id}` : undefined),
);
const rows = computed(() => list.data.value?.pages.flatMap(({ classes }) => classes) ?? []);
const total = computed(() => rows.value.length + (list.hasNextPage.value ? 30 : 0));
const columns: Col[] = [
  { key: 'name', label: 'Class', width: 'minmax(120px, 1fr)' },
  { key: 'school', label: 'School', width: 'minmax(120px, 1fr)' },
  { key: 'grade', label: 'Grade', width: '64px' },
  { key: 'teachers', label: 'Teachers', width: 'minmax(120px, 1.2fr)' },
  { key: 'students', label: 'Students', width: '76px', align: 'right' },
  { key: 'begins', label: 'From', width: '96px' },
  { key: 'ends', label: 'Until', width: '96px' },
  { key: 'back', label: '', width: '110px' },
];
type Row = (typeof rows.value)[number];
async function back(row: Row): Promise<void> {
  try {
    const { planId, sentence } = await call('POST /api/archive/:id/return', { id: row.id });
    await reload();
    work.say(`${row.name} is back: ${sentence}`, {
      label: 'Undo',
      run: () => void work.undo(planId),
    });
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <div class="archive">
    <div class="bar">
      <label>Find <TextInput v-model:value="typed" type="search" placeholder="a class" /></label>
      <span class="quiet">Enter brings the class under the cursor back.</span>
      <span class="grow" />
      <ExportLine v-if="rows.length > 0" list="archive" :filter="{ q: find.trim() }" />
    </div>
    <Worksheet
      class="list-below"
      label="Archived classes"
      :rows="rows"
      :total="total"
      :columns="columns"
      :empty="
        find
          ? 'No class that is over has this in its name.'
          : 'No class is over yet. After the roll-over this year’s stand here.'
      "
      @more="list.fetchNextPage()"
      @open="back"
    >
      <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
      <template #back="{ row }"
        ><Button
          size="small"
          tabindex="-1"
          :aria-label="`Bring back ${row.name}, ${row.school}`"
          @click.stop="back(row)"
        >
          Bring back
        </Button></template
      >
    </Worksheet>
  </div>
</template>

<style scoped>
.archive {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
</style>
