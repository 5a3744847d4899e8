<script setup lang="ts">
/** A teacher's classes, each opened in one click, with what is missing in it, its code, who asks to join, what is due. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { useMediaQuery } from '@vueuse/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import { gradeLabel } from '#core/tabular/values';
import Part from '@/kit/Part.vue';
import { onShown, useLoad } from '@/kit/load';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';

const router = useRouter();
const session = useSession();
const NewClasses = defineAsyncComponent(() => import('@/classes/NewClasses.vue'));
const work = useWork();
const list = useLoad(t('today.yourClasses2'), 'GET /api/today/classes');
const rows = computed(() => list.data.value ?? []);
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
onShown(() => sheet.value?.focus());
const making = ref(false);

const all: Col[] = [
  { key: 'name', label: t('common.class'), width: 'minmax(110px, 1.4fr)' },
  { key: 'grade', label: t('common.grade'), width: '48px', align: 'right' },
  { key: 'students', label: t('common.students'), width: '68px', align: 'right' },
  { key: 'lackPassword', label: t('today.noPassword'), width: '92px', align: 'right' },
  { key: 'lackCard', label: t('today.needCards'), width: '84px', align: 'right' },
  { key: 'code', label: t('today.joinCode'), width: '116px' },
  { key: 'requests', label: t('today.requests'), width: '72px', align: 'right' },
  { key: 'due', label: t('today.dueSoon'), width: 'minmax(96px, 1.2fr)' },
];
/** On a phone those that lead somewhere. */
const isNarrow = useMediaQuery('(max-width: 700px)');
const columns = computed(() =>
  isNarrow.value ? all.filter(({ key }) => ['name', 'lackCard', 'code', 'requests'].includes(key)) : all,
);
function missing(id: string, name: string, lacks: 'account' | 'card'): void {
  session.go({ classId: id, className: name });
  void router.push({ path: '/people', query: { lacks } });
}
async function newCode(classId: string): Promise<void> {
  try {
    const { id } = await call('POST /api/codes', { body: { classId, schoolId: null, days: 14, usesMost: 40 } });
    await router.push(`/board/${id}`);
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section class="mine [flex:2_1_640px] min-w-0">
    <header class="row">
      <h2 class="grow">{{ t('today.yourClasses') }}</h2>
      <Button v-if="!making" size="small" @click="making = true">{{ t('today.createClass') }}</Button>
    </header>
    <Part v-if="making" fit><NewClasses @close="making = false" @made="list.refetch()" @open="making = false" /></Part>
    <div class="mt-4px max-h-60vh ruled" :style="{ height: `${Math.max(2, rows.length) * 34 + 30}px` }">
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        :label="t('today.yourClasses')"
        :rows="rows"
        :row-height="34"
        :columns="columns"
        opens-at-once
        :empty="t('today.youHaveNoClassesYet')"
        @open="(row) => router.push(`/classes/${row.id}`)"
      >
        <template #name="{ row }"
          ><i
            v-if="row.color"
            class="inline-block w-10px h-10px mr-6px"
            :style="{ background: `var(--${row.color})` }"
          /><RouterLink :to="`/classes/${row.id}`" tabindex="-1">{{ row.name }}</RouterLink>
          <span class="quiet">{{ [row.subject, row.period].filter(Boolean).join(' · ') }}</span></template
        >
        <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
        <template #lackPassword="{ row }"
          ><Button
            v-if="row.lackPassword"
            type="text"
            size="small"
            danger
            :aria-label="t('today.withoutAPasswordIn', { lackPassword: row.lackPassword, name: row.name })"
            @click.stop="missing(row.id, row.name, 'account')"
            >{{ row.lackPassword }}</Button
          ><span v-else class="quiet">—</span></template
        >
        <template #lackCard="{ row }"
          ><Button
            v-if="row.lackCard"
            type="text"
            size="small"
            danger
            :aria-label="t('today.needCardsIn', { lackCard: row.lackCard, name: row.name })"
            @click.stop="missing(row.id, row.name, 'card')"
            >{{ row.lackCard }}</Button
          ><span v-else class="quiet">—</span></template
        >
        <template #code="{ row }"
          ><RouterLink v-if="row.code" :to="`/board/${row.code.id}`" class="mono" @click.stop>{{
            row.code.code
          }}</RouterLink
          ><Button
            v-else
            type="text"
            size="small"
            :aria-label="t('today.newCodeFor', { name: row.name })"
            @click.stop="newCode(row.id)"
            >{{ t('today.newCode') }}</Button
          ></template
        >
        <template #requests="{ row }"
          ><RouterLink v-if="row.requests" to="/requests" @click.stop>{{ row.requests }}</RouterLink
          ><span v-else class="quiet">—</span></template
        >
        <template #due="{ row }"
          ><span v-if="row.due[0]"
            ><RouterLink to="/classes/work" @click.stop
              >{{ row.due[0].title }}, {{ dayOfWords(row.due[0].at) }}</RouterLink
            >{{ row.due.length > 1 ? ` ${t('today.andMore', { due: row.due.length - 1 })}` : '' }}</span
          ><span v-else class="quiet">—</span></template
        >
      </Worksheet>
    </div>
  </section>
</template>
