<script setup lang="ts">
/** The classes: the worksheet, and beside it everything about the focused one. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { refDebounced, useSessionStorage } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import type { ClassRow } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import ClassSheet from '@/classes/ClassSheet.vue';
import NewClasses from '@/classes/NewClasses.vue';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { gradeLabel } from '#core/tabular/values';
import Head from '@/kit/Head.vue';
import { useQuery } from '@/kit/query';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const address = useQuery();
/** Part of a name or a subject. */
const typed = address.text('q');
const narrow = computed({ get: () => typed.value ?? '', set: (text) => (typed.value = text) });
const q = refDebounced(narrow, 120);
const query = computed(() => ({
  school: session.where.school ?? undefined,
  grade: session.where.grade ?? undefined,
  q: q.value || undefined,
}));
const list = useLoad(t('classes.classes'), 'GET /api/classes', () => ({ query: query.value }));
const rows = computed(() =>
  (list.data.value ?? []).filter(({ id }) => !session.where.classId || id === session.where.classId),
);
const focused = useSessionStorage<string | null>('classes.at', null);
const chosen = computed(() => rows.value.find(({ id }) => id === focused.value) ?? null);
const open = ref(false);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());

const columns: Col[] = [
  { key: 'name', label: t('common.class'), width: 'minmax(130px, 1.2fr)', by: 'value' },
  { key: 'school', label: t('common.school'), width: 'minmax(120px, 1fr)', by: 'value' },
  { key: 'grade', label: t('classes.grade3'), width: '46px', align: 'right', by: 'grade' },
  { key: 'subject', label: t('classes.subject2'), width: 'minmax(90px, 0.8fr)', by: 'value' },
  { key: 'period', label: t('classes.period'), width: '56px', by: 'value' },
  { key: 'teachers', label: t('common.teachers'), width: 'minmax(140px, 1.2fr)' },
  { key: 'students', label: t('common.students'), width: '70px', align: 'right', by: 'value' },
  { key: 'lackCard', label: t('classes.needCards'), width: '86px', align: 'right', by: 'value' },
];
async function gatherClass(row: ClassRow): Promise<void> {
  try {
    await sheaf.gatherAll({ classId: row.id, role: 'student' });
  } catch (error) {
    work.wrong(error);
  }
}
const making = ref(false);
const asked = address.flag('new');
watch(
  asked,
  (is) => {
    if (is) [making.value, asked.value] = [true, false];
  },
  { immediate: true },
);
/** Shows the class of that name, to be joined instead of made once more. */
function show(name: string): void {
  making.value = false;
  narrow.value = name;
  sheet.value?.focus();
}
</script>

<template>
  <div class="split">
    <section class="middle">
      <Part v-if="making" fit
        ><NewClasses :school="chosen?.schoolId" @close="making = false" @made="list.refetch()" @open="show"
      /></Part>
      <Head :title="t('classes.classes2')" :count="t('classes.countClasses', { n: rows.length })">
        <template #narrow>
          <TextInput
            v-model:value="narrow"
            :placeholder="t('classes.nameOrSubject')"
            :aria-label="t('classes.nameOrSubject')"
          />
        </template>
        <template #actions>
          <ExportLine list="classes" :filter="query" />
          <Button v-if="!making" type="primary" @click="making = true">{{ t('classes.newClasses') }}</Button>
        </template>
      </Head>
      <div class="list-below">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('classes.classes2')"
          name="classes"
          :rows="rows"
          :columns="columns"
          :empty="t('classes.noClassesYetCreateOne')"
          @open="open = true"
          @act="gatherClass"
          @keydown.esc="open = false"
        >
          <template #name="{ row }"
            ><i
              v-if="row.color"
              class="inline-block w-10px h-10px mr-6px"
              :style="{ background: `var(--${row.color})` }"
            /><RouterLink :to="`/classes/${row.id}`" tabindex="-1">{{ row.name }}</RouterLink></template
          >
          <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
          <template #teachers="{ row }"
            ><span v-if="row.teachers">{{ row.teachers }}</span
            ><span v-else class="rust">{{ t('classes.noTeacher') }}</span></template
          >
          <template #students="{ row }"
            ><span :class="{ rust: row.students === 0 }">{{ row.students }}</span></template
          >
          <template #lackCard="{ row }"
            ><span v-if="row.lackCard" class="rust">{{ row.lackCard }}</span
            ><span v-else class="quiet">—</span></template
          >
        </Worksheet>
      </div>
    </section>
    <Part v-if="open && chosen" fit
      ><ClassSheet
        :key="chosen.id"
        :one="chosen"
        @close="
          open = false;
          sheet?.focus();
        "
        @changed="list.refetch()"
    /></Part>
  </div>
</template>
