<script setup lang="ts">
/** The students of a class or a group as a worksheet; beside it the record of one of them, or what else belongs there. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink } from 'vue-router';
import type { PeopleFilter, PeopleSort, PersonRow } from '../../server/contract';
import { givenShown } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/values';
import { onShown, useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import Missing from './Missing.vue';
import RecordSheet from './RecordSheet.vue';

/** `removable`: says of a student what they are removed from; without it nobody is. */
const props = defineProps<{
  filter: Pick<PeopleFilter, 'classId' | 'group'>;
  label: string;
  empty: string;
  removable?: (row: PersonRow) => string;
}>();
const emit = defineEmits<{ remove: [row: PersonRow] }>();
const sheaf = useSheaf();
const work = useWork();
const order = ref<{ sort: PeopleSort; then?: PeopleSort | undefined; desc: boolean }>({ sort: 'family', desc: false });
function sortBy(key: string, second: boolean): void {
  const column = key as PeopleSort;
  const { sort, then, desc } = order.value;
  if (second && column !== sort) order.value = { sort, then: then === column ? undefined : column, desc };
  else order.value = column === sort ? { sort, then, desc: !desc } : { sort: column, desc: false };
}
const list = useLoad(
  t('classes.students'),
  'GET /api/people',
  () => ({ query: { ...props.filter, limit: 1000, ...order.value } }),
  { also: computed(() => sheaf.version) },
);
const rows = computed(() => list.data.value?.rows ?? []);
const open = ref(false);
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
const focus = () => sheet.value?.focus();
onShown(focus);
defineExpose({ focus });

async function gather(which: PersonRow[], on: boolean): Promise<void> {
  try {
    await sheaf.mark(
      which.map((row) => row.id),
      on,
    );
  } catch (error) {
    work.wrong(error);
  }
}
const columns = computed<Col[]>(() => [
  { key: 'family', label: t('classes.familyName'), width: 'minmax(110px, 1.2fr)', sortable: true },
  { key: 'given', label: t('classes.givenName'), width: 'minmax(100px, 1.1fr)', sortable: true },
  { key: 'number', label: t('common.number'), width: '84px', mono: true, sortable: true },
  { key: 'grade', label: t('common.grade'), width: '48px', align: 'right', sortable: true },
  ...(props.filter.group
    ? ([{ key: 'classes', label: t('common.class'), width: 'minmax(70px, 0.8fr)' }] satisfies Col[])
    : []),
  { key: 'username', label: t('common.username'), width: 'minmax(110px, 1fr)', mono: true, sortable: true },
  { key: 'missing', label: t('classes.missing'), width: 'minmax(110px, 1fr)' },
  ...(props.removable ? ([{ key: 'act', label: '', width: '76px', align: 'right' }] satisfies Col[]) : []),
]);
</script>

<template>
  <section class="roster middle">
    <slot name="above" />
    <div class="list-below">
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        :label="label"
        :name="filter.group ? 'members' : 'roster'"
        :rows="rows"
        :columns="columns"
        gatherable
        :is-gathered="sheaf.holds"
        :sort="order.sort"
        :then="order.then"
        :desc="order.desc"
        :empty="empty"
        @open="open = true"
        @gather="gather"
        @gather-all="sheaf.gatherAll({ ...filter, role: 'student' })"
        @remove="(row) => removable && emit('remove', row)"
        @sort="sortBy"
        @keydown.esc="open = false"
      >
        <template #family="{ row }"
          ><RouterLink :to="`/people/${row.id}`" tabindex="-1">{{ row.familyName }}</RouterLink></template
        >
        <template #given="{ row }">{{ givenShown(row) }}</template>
        <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
        <template #missing="{ row }"><Missing :lacks="row.lacks" /></template>
        <template #act="{ row }"
          ><Button
            v-if="row.id === focused && removable"
            type="text"
            size="small"
            tabindex="-1"
            :aria-label="removable(row)"
            @click.stop="emit('remove', row)"
            >{{ t('common.remove') }}</Button
          ></template
        >
      </Worksheet>
    </div>
  </section>
  <Part v-if="open && focused" fit
    ><RecordSheet
      :id="focused"
      :class-id="filter.classId"
      @open="focused = $event"
      @close="
        open = false;
        focus();
      "
  /></Part>
  <slot v-else name="beside" />
</template>

<style scoped>
@media (max-width: 700px) {
  .roster {
    flex: none;
    height: 70vh;
  }
}
</style>
