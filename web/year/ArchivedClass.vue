<script setup lang="ts">
/** A class that has ended: who was in it, their work and results; restored by its button. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import type { ArchivedClassSheet } from '../../server/contract';
import { call } from '@/api';
import Page from '@/kit/Page.vue';
import { useLoad } from '@/kit/load';
import { useWork } from '@/stores/work';
import { dayWords, momentWords } from '@/time';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { gradeLabel } from '#core/tabular/values';

type Row = ArchivedClassSheet['people'][number];
const route = useRoute();
const router = useRouter();
const id = String(route.params.id);
const page = useLoad(t('year.archivedClasses2'), 'GET /api/archive/:id', { id });
const one = computed(() => page.data.value ?? null);
const teachers = computed(() => one.value?.people.filter(({ role }) => role === 'teacher') ?? []);
const students = computed(() => one.value?.people.filter(({ role }) => role === 'student') ?? []);
const about = computed(() => {
  const { value } = one;
  if (!value) return '';
  return [
    value.school,
    value.grade && t('year.inGrade', { grade: gradeLabel(value.grade) }),
    value.subject,
    teachers.value.map(({ name }) => name).join('; '),
    t('year.fromTo', { begins: dayWords(value.begins), ends: dayWords(value.ends) }),
  ]
    .filter(Boolean)
    .join(' · ');
});
const columns = computed((): Col[] => [
  { key: 'name', label: t('year.student'), width: 'minmax(150px, 1.2fr)', by: 'value' },
  { key: 'begins', label: t('year.from2'), width: '104px', by: 'value' },
  { key: 'ends', label: t('year.until'), width: '104px', by: 'value' },
  { key: 'now', label: t('year.now'), width: 'minmax(110px, 1fr)', by: 'value' },
  ...(one.value?.works ?? []).map(({ id: key, title }): Col => ({ key, label: title, width: 'minmax(110px, 1fr)' })),
]);
const resultOf = (row: Row, i: number) => row.results[i] ?? null;
const said = (row: Row, i: number) => {
  const result = resultOf(row, i);
  if (!result) return t('year.notDone');
  return result.share === null ? t('year.done') : t('year.donePercent', { percent: Math.round(result.share * 100) });
};
const work = useWork();
async function restore(): Promise<void> {
  const { name } = one.value!;
  try {
    const { planId, sentence } = await call('POST /api/archive/:id/return', { id });
    await router.push(`/classes/${id}`);
    work.say(t('year.isRestored', { name, sentence }), { label: t('common.undo'), run: () => void work.undo(planId) });
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <Page v-if="one" :title="one.name" :count="t('year.countStudents', { n: students.length })">
    <template #back
      ><RouterLink to="/year/archive">{{ t('year.archivedClasses') }}</RouterLink></template
    >
    <template #about>{{ about }}</template>
    <template #actions>
      <Button type="primary" @click="restore">{{ t('year.restore2') }}</Button>
    </template>
    <Worksheet
      class="list-below"
      :label="one.name"
      :rows="students"
      :columns="columns"
      :empty="t('year.noOneWasInIt')"
      @open="(row) => router.push(`/people/${row.personId}`)"
    >
      <template #name="{ row }"
        ><RouterLink :to="`/people/${row.personId}`" tabindex="-1">{{ row.name }}</RouterLink></template
      >
      <template #begins="{ row }">{{ dayWords(row.begins) }}</template>
      <template #ends="{ row }">{{ row.ends ? dayWords(row.ends) : '' }}</template>
      <template #now="{ row }"
        ><span v-if="row.now">{{ row.now }}</span
        ><span v-else class="quiet">{{ t('year.hasLeft') }}</span></template
      >
      <template v-for="(w, i) in one.works" :key="w.id" #[w.id]="{ row }"
        ><span
          :class="resultOf(row, i) ? 'stem' : 'quiet'"
          :title="resultOf(row, i) ? momentWords(resultOf(row, i)!.doneAt) : undefined"
          >{{ said(row, i) }}</span
        ></template
      >
    </Worksheet>
  </Page>
</template>
