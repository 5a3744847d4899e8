<script setup lang="ts">
/** How it stood on a day: who was where then, within the school and grade that are looked at. */
import { useInfiniteQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';

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
const list = useInfiniteQuery({
  queryKey: ['as-of', filter],
  queryFn: ({ pageParam }) =>
    call('GET /api/ledger/as-of', { query: { ...filter.value, after: pageParam || undefined } }),
  initialPageParam: '',
  getNextPageParam: ({ next }) => next ?? undefined,
  enabled: computed(() => day.value !== ''),
  placeholderData: (before) => before,
});
const rows = computed(() => list.data.value?.pages.flatMap((page) => page.rows) ?? []);
const total = computed(() => list.data.value?.pages[0]?.total ?? 0);
const columns: Col[] = [
  { key: 'familyName', label: 'Family', width: 'minmax(120px, 1fr)' },
  { key: 'givenName', label: 'Given', width: 'minmax(100px, 1fr)' },
  { key: 'number', label: 'Number', width: '84px' },
  { key: 'grade', label: 'Gr', width: '48px' },
  { key: 'classes', label: 'Classes', width: 'minmax(160px, 1.6fr)' },
  { key: 'school', label: 'School', width: 'minmax(120px, 1fr)' },
];
</script>

<template>
  <div class="stood">
    <div class="line">
      <label>On <input v-model="day" class="box" type="date" /></label>
      <label>find <input v-model="typed" class="box" type="search" placeholder="a name, a number, a class" /></label>
      <span role="status"
        ><b>{{ total.toLocaleString('en-US') }}</b> people were there</span
      >
      <span class="quiet">Names and numbers are as they are now.</span>
      <span class="grow" />
      <ExportLine list="as-of" :filter="filter" />
    </div>
    <Worksheet
      class="sheet"
      :label="`As it stood on ${day}`"
      :rows="rows"
      :total="total"
      :columns="columns"
      empty="Nobody was there on this day."
      @more="!list.isFetchingNextPage.value && list.fetchNextPage()"
    >
      <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
      <template #classes="{ row }"
        ><span :title="row.classes ?? ''">{{ row.classes ?? '' }}</span></template
      >
    </Worksheet>
  </div>
</template>

<style scoped>
.stood {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.line {
  display: flex;
  gap: 16px;
  align-items: center;
  padding: 5px 16px;
  border-bottom: 1px solid var(--rule);
}
.sheet {
  flex: 1;
  min-height: 0;
}
</style>
