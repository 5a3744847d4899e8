<script setup lang="ts">
/** Next year's grades: how many come to each, and how far they are split into classes. */
import { t } from '@/words';
import Head from '@/kit/Head.vue';
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { useLoad } from '@/kit/load';

const router = useRouter();
const session = useSession();
const list = useLoad(t('year.classesPerGrade'), 'GET /api/year/splits');
const rows = computed(() =>
  (list.data.value ?? []).filter(({ id }) => !session.where.school || id.startsWith(session.where.school)),
);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const columns: Col[] = [
  { key: 'school', label: t('common.school'), width: 'minmax(140px, 1.4fr)' },
  { key: 'grade', label: t('year.gradeNextYear'), width: '120px' },
  { key: 'children', label: t('common.students'), width: '80px', align: 'right' },
  { key: 'rooms', label: t('year.classes'), width: '72px', align: 'right' },
  { key: 'state', label: t('year.split'), width: 'minmax(150px, 1fr)' },
  { key: 'open', label: '', width: '90px' },
];
const open = (id: string) => void router.push(`/year/sections/${encodeURIComponent(id)}`);
</script>

<template>
  <div class="middle">
    <Head :title="t('year.nextYearsGrades')" />
    <Worksheet
      ref="sheet"
      class="list-below"
      :label="t('year.nextYearsGrades')"
      :rows="rows"
      :columns="columns"
      :empty="t('year.noOneMovesUpFrom')"
      @open="(row) => open(row.id)"
    >
      <template #grade="{ row }">{{ gradeLabel(row.grade) }}</template>
      <template #state="{ row }"
        ><span v-if="row.placed === 0" class="quiet">{{ t('year.sameClassmates') }}</span
        ><span v-else-if="row.placed < row.children" class="rust">{{
          t('year.areNotInAClass2', { placed: row.children - row.placed })
        }}</span
        ><span v-else class="stem">{{ t('year.allArePlaced', { placed: row.placed }) }}</span></template
      >
      <template #open="{ row }"
        ><Button
          size="small"
          tabindex="-1"
          :aria-label="t('year.splitGradeOf', { grade: gradeLabel(row.grade), school: row.school })"
          @click.stop="open(row.id)"
        >
          {{ t('year.split') }}
        </Button></template
      >
    </Worksheet>
  </div>
</template>
