<script setup lang="ts">
/** Classes that are over: by name, newest first; each can come back with those who were in it to the end. */
import { locale, t } from '@/words';
import { useChange } from '@/kit/change';
import Head from '@/kit/Head.vue';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { useAgain, usePages } from '@/kit/load';

const router = useRouter();
const change = useChange(useAgain());
const typed = ref('');
const find = refDebounced(typed, 150);
const list = usePages(
  t('year.archivedClasses2'),
  'GET /api/archive',
  (before) => ({ query: { q: find.value.trim() || undefined, before } }),
  ({ classes, more }) => (more ? `${classes.at(-1)!.ends} ${classes.at(-1)!.id}` : undefined),
);
const rows = computed(() => list.data.value?.pages.flatMap(({ classes }) => classes) ?? []);
const total = computed(() => rows.value.length + (list.hasNextPage.value ? 30 : 0));
const columns: Col[] = [
  { key: 'name', label: t('common.class'), width: 'minmax(120px, 1fr)' },
  { key: 'school', label: t('common.school'), width: 'minmax(120px, 1fr)' },
  { key: 'grade', label: t('common.grade'), width: '64px' },
  { key: 'teachers', label: t('common.teachers'), width: 'minmax(120px, 1.2fr)' },
  { key: 'students', label: t('common.students'), width: '76px', align: 'right' },
  { key: 'begins', label: t('year.from2'), width: '96px' },
  { key: 'ends', label: t('year.until'), width: '96px' },
  { key: 'back', label: '', width: '110px' },
];
type Row = (typeof rows.value)[number];
const back = (row: Row) =>
  change(
    () => call('POST /api/archive/:id/return', { id: row.id }),
    ({ sentence }) => t('year.isRestored', { name: row.name, sentence }),
  );
</script>

<template>
  <div class="middle">
    <Head :title="t('year.archivedClasses')" :count="total > 0 ? total.toLocaleString(locale) : undefined">
      <template #narrow>
        <TextInput
          v-model:value="typed"
          type="search"
          :aria-label="t('year.find')"
          :placeholder="t('year.classPart')"
        />
      </template>
      <template #actions><ExportLine v-if="rows.length > 0" list="archive" :filter="{ q: find.trim() }" /></template>
    </Head>
    <Worksheet
      class="list-below"
      :label="t('year.archivedClasses')"
      :rows="rows"
      :total="total"
      :columns="columns"
      :empty="find ? t('year.noEndedClassHasThis') : t('year.noClassesHaveEndedYet')"
      @more="list.fetchNextPage()"
      @open="(row) => router.push(`/year/archive/${row.id}`)"
    >
      <template #name="{ row }"
        ><RouterLink :to="`/year/archive/${row.id}`" tabindex="-1">{{ row.name }}</RouterLink></template
      >
      <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
      <template #back="{ row }"
        ><Button
          size="small"
          tabindex="-1"
          :aria-label="t('year.restore', { name: row.name, school: row.school })"
          @click.stop="back(row)"
        >
          {{ t('year.restore2') }}
        </Button></template
      >
    </Worksheet>
  </div>
</template>
