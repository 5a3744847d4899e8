<script setup lang="ts">
/** How it stood on a day: who was where then, which classes there were, who had which device, which seats were held. */
import { t } from '@/words';
import Head from '@/kit/Head.vue';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import { SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { AsOfList } from '../../server/contract';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { useLoad, usePages } from '@/kit/load';

const session = useSession();
const day = ref(session.me?.today ?? '');
const typed = ref('');
const find = refDebounced(typed, 200);
const filter = computed(() => ({
  day: day.value,
  school: session.where.school ?? undefined,
  grade: session.where.grade ?? undefined,
  q: find.value.trim() || undefined,
}));
const list = usePages(
  t('places.peopleOnThatDay'),
  'GET /api/ledger/as-of',
  (after) => ({ query: { ...filter.value, after } }),
  ({ next }) => next,
  { enabled: () => day.value !== '' },
);
/** Other lists than of people come whole, with columns of their own. */
const kind = ref<'people' | AsOfList>('people');
const other = useLoad(
  t('places.thisList'),
  'GET /api/ledger/as-of/list',
  () => ({
    query: { list: kind.value as AsOfList, day: filter.value.day, school: filter.value.school, q: filter.value.q },
  }),
  { enabled: () => day.value !== '' && kind.value !== 'people', keep: false },
);
const otherRows = computed(() =>
  (other.data.value?.rows ?? []).map(({ id, cells }) => ({
    id,
    ...Object.fromEntries(cells.map((cell, i) => [`c${i}`, cell ?? ''])),
  })),
);
const otherColumns = computed((): Col[] =>
  (other.data.value?.columns ?? []).map((label, i) => ({
    key: `c${i}`,
    label,
    width: ['Students', t('places.owned'), 'Held', 'Grade'].includes(label) ? '84px' : 'minmax(90px, 1fr)',
    align: ['Students', t('places.owned'), 'Held'].includes(label) ? 'right' : undefined,
  })),
);
const rows = computed(() => list.data.value?.pages.flatMap((page) => page.rows) ?? []);
const total = computed(() => list.data.value?.pages[0]?.total ?? 0);
const columns: Col[] = [
  { key: 'familyName', label: t('places.familyName'), width: 'minmax(120px, 1fr)' },
  { key: 'givenName', label: t('places.givenName'), width: 'minmax(100px, 1fr)' },
  { key: 'number', label: t('common.number'), width: '84px' },
  { key: 'grade', label: t('places.grade'), width: '48px' },
  { key: 'classes', label: t('places.classes'), width: 'minmax(160px, 1.6fr)' },
  { key: 'school', label: t('common.school'), width: 'minmax(120px, 1fr)' },
];
</script>

<template>
  <div class="middle">
    <Head
      :title="t('places.onAPastDate')"
      :count="t('places.countThen', { kind, n: kind === 'people' ? total : otherRows.length })"
    >
      <template #about>{{ t('places.namesAreOfThatDay') }}</template>
      <template #narrow>
        <Choice v-model:value="kind" :aria-label="t('places.list2')">
          <SelectOption value="people">{{ t('places.people2') }}</SelectOption>
          <SelectOption value="classes">{{ t('places.classes') }}</SelectOption>
          <SelectOption value="devices">{{ t('places.devices') }}</SelectOption>
          <SelectOption value="seats">{{ t('places.seats') }}</SelectOption>
        </Choice>
        <label class="quiet">{{ t('places.day') }} <DayInput v-model:value="day" /></label>
        <TextInput
          v-model:value="typed"
          type="search"
          :aria-label="t('places.find2')"
          :placeholder="t('places.findOnDay')"
        />
      </template>
      <template #actions><ExportLine list="as-of" :filter="{ ...filter, list: kind }" /></template>
    </Head>
    <Worksheet
      v-if="kind !== 'people'"
      class="list-below"
      :label="t('places.on2', { day })"
      :rows="otherRows"
      :columns="otherColumns"
      :empty="t('places.thereWasNothingOfThis')"
    />
    <Worksheet
      v-else
      class="list-below"
      :label="t('places.on2', { day })"
      :rows="rows"
      :total="total"
      :columns="columns"
      :empty="t('places.thereWasNoOneOn')"
      @more="!list.isFetchingNextPage.value && list.fetchNextPage()"
    >
      <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
      <template #classes="{ row }"
        ><span :title="row.classes ?? ''">{{ row.classes ?? '' }}</span></template
      >
    </Worksheet>
  </div>
</template>
