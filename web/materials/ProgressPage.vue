<script setup lang="ts">
/** How far each student of a class is: a column for each assignment, minutes of the week, and who is behind the goals. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import type { ClassProgress } from '../../server/contract';
import { call } from '@/api';
import BarChart from '@/charts/BarChart.vue';
import type { Tint } from '@/charts/plot';
import { useChange } from '@/kit/change';
import Page from '@/kit/Page.vue';
import Part from '@/kit/Part.vue';
import { useAgain, useLoad } from '@/kit/load';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import Goals from './Goals.vue';

type Student = ClassProgress['people'][number];
type State = NonNullable<Student['cells'][number]>['state'];

const route = useRoute();
const id = String(route.params.id);
const sheaf = useSheaf();
const work = useWork();
const page = useLoad(
  t('materials.progress'),
  'GET /api/classes/:id/progress',
  { id },
  { also: computed(() => sheaf.version) },
);
const one = computed(() => page.data.value ?? null);
const rows = computed(() => one.value?.people ?? []);
const behind = computed(() => rows.value.filter(({ standing }) => standing.behind.length > 0));
const focused = ref<string | null>(null);
const chosen = computed(() => rows.value.find((row) => row.id === focused.value) ?? null);
const states: Record<State, string> = {
  done: t('materials.stateDone'),
  late: t('materials.stateLate'),
  missing: t('materials.stateMissing'),
  open: t('materials.stateOpen'),
  coming: t('materials.stateComing'),
};
const tones: Record<State, string> = { done: 'stem', late: 'dusk', missing: 'rust', open: 'quiet', coming: 'quiet' };
const tints: Record<State, Tint> = { done: 'stem', late: 'dusk', missing: 'rust', open: 'straw', coming: 'quiet' };
const columns = computed((): Col[] => [
  { key: 'name', label: t('materials.student'), width: 'minmax(150px, 1.2fr)', by: 'value' },
  { key: 'behind', label: t('materials.behind'), width: '150px' },
  { key: 'due', label: t('materials.doneOfDue'), width: '92px', align: 'right' },
  { key: 'minutes', label: t('materials.minutesThisWeek'), width: '124px', align: 'right', by: 'value' },
  ...(one.value?.works ?? []).map(({ id: key, title }): Col => ({ key, label: title, width: 'minmax(110px, 1fr)' })),
]);
const chart = computed(() => ({
  bars: one.value?.works.map(({ title }) => title) ?? [],
  parts: (Object.keys(states) as State[])
    .map((state) => ({
      name: states[state],
      tint: tints[state],
      counts: one.value?.works.map(({ counts }) => counts[state]) ?? [],
    }))
    .filter(({ counts }) => counts.some((n) => n > 0)),
}));
const percent = (share: number | null) => (share === null ? null : `${Math.round(share * 100)}%`);
const whenDone = (row: Student, i: number) => {
  const at = row.cells[i]?.doneAt;
  return at ? momentWords(at) : undefined;
};

async function gather(some: Student[], on: boolean): Promise<void> {
  try {
    await sheaf.mark(
      some.map((row) => row.id),
      on,
    );
    sheaf.version++;
  } catch (error) {
    work.wrong(error);
  }
}
const setting = ref(false);
const change = useChange(useAgain());
async function keep(personId: string | null, goal: ClassProgress['goal']): Promise<void> {
  const body = { personId, goal };
  if (await change(() => call('POST /api/classes/:id/goals', { id, body }), t('materials.goalsAreSaved')))
    setting.value = false;
}
</script>

<template>
  <Page v-if="one" :title="t('materials.progressOf', { name: one.className })">
    <template #back
      ><RouterLink :to="`/classes/${id}`">{{ one.className }}</RouterLink></template
    >
    <template #actions>
      <ExportLine list="progress" :filter="{ class: id }" />
      <Button v-if="behind.length > 0" @click="gather(behind, true)">{{
        t('materials.gatherWhoAreBehind', { count: behind.length })
      }}</Button>
      <Button type="primary" @click="setting = true">{{ t('materials.setGoals') }}</Button>
    </template>
    <div class="middle">
      <Part v-if="setting" fit
        ><Goals :key="chosen?.id ?? ''" :of-class="one.goal" :student="chosen" @save="keep" @cancel="setting = false"
      /></Part>
      <p v-if="one.works.length === 0" class="quiet py-12px px-16px">{{ t('materials.noAssignmentsInThisClass') }}</p>
      <BarChart v-else :unit="t('common.students')" :label="t('materials.progressByAssignment')" v-bind="chart" />
      <Worksheet
        v-model:focused="focused"
        name="progress"
        class="list-below"
        :label="t('materials.progressOf', { name: one.className })"
        gatherable
        :is-gathered="(row) => row.gathered"
        :rows="rows"
        :columns="columns"
        @gather="gather"
        @gather-all="gather(rows, true)"
      >
        <template #name="{ row }"
          ><RouterLink :to="`/people/${row.id}`" tabindex="-1">{{ row.name }}</RouterLink></template
        >
        <template #behind="{ row }"
          ><span v-if="row.standing.behind.length > 0" class="rust">{{
            row.standing.behind
              .map((what) => t(what === 'minutes' ? 'materials.behindMinutes' : 'materials.behindShare'))
              .join(', ')
          }}</span
          ><span v-else class="quiet">{{ row.standing.isJudged ? t('materials.onTrack') : '—' }}</span></template
        >
        <template #due="{ row }">{{
          t('materials.of2', { done: row.standing.done, people: row.standing.due })
        }}</template>
        <template #minutes="{ row }">{{ row.minutes ?? '—' }}</template>
        <template v-for="(w, i) in one.works" :key="w.id" #[w.id]="{ row }"
          ><span v-if="row.cells[i]" :class="tones[row.cells[i].state]" :title="whenDone(row, i)">{{
            [states[row.cells[i].state], percent(row.cells[i].share)].filter(Boolean).join(' · ')
          }}</span></template
        >
      </Worksheet>
    </div>
  </Page>
</template>
