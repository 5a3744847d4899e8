<script setup lang="ts">
/** Work that is set for classes: the list, in which several are marked to be opened, copied or taken back; and the one at hand. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Head from '@/kit/Head.vue';
import { useQuery } from '@/kit/query';
import DayInput from '@/kit/DayInput.vue';
import { Button, Checkbox } from 'ant-design-vue';
import { computed, onMounted, ref, watch } from 'vue';
import type { WorkRow } from '../../server/contract';
import { call } from '@/api';
import ClassPicker from '@/classes/ClassPicker.vue';
import { useSession } from '@/stores/session';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import NewWork from './NewWork.vue';
import { momentWords } from '@/time';
import { fromField } from '@/fields';
import WorkSheet from './WorkSheet.vue';
import { useAgain, useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const reload = useAgain();
const past = ref(false);
const query = computed(() => ({
  school: session.where.school ?? undefined,
  classId: session.where.classId ?? undefined,
  past: past.value || undefined,
}));
const list = useLoad(t('materials.assignments'), 'GET /api/work', () => ({ query: query.value }));
const rows = computed(() => list.data.value ?? []);
const focused = ref<string | null>(null);
/** The sheet that is open beside the list stands in the address. */
const shown = useQuery().text('work');
watch(shown, (id) => (focused.value = id ?? focused.value), { immediate: true });
watch(focused, (id) => {
  if (shown.value !== null && id !== null) shown.value = id;
});
const chosen = computed(() => rows.value.find(({ id }) => id === focused.value) ?? null);
const marked = ref<string[]>([]);
function mark(which: WorkRow[], on: boolean): void {
  const ids = new Set(which.map(({ id }) => id));
  marked.value = [...marked.value.filter((id) => !ids.has(id)), ...(on ? ids : [])];
}
/** Those that are marked and still shown; without a mark the one at hand. */
const meant = computed(() => {
  const ticked = rows.value.filter(({ id }) => marked.value.includes(id));
  return ticked.length > 0 ? ticked : chosen.value ? [chosen.value] : [];
});
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());
const making = ref(false);
const copying = ref<{ to: string | null; classes: string[]; opens: string } | null>(null);
const again = () => reload('GET /api/work', 'GET /api/work/:id');
const change = useChange(again);
async function act(make: () => Promise<{ planId: string; sentence: string }>, said?: string): Promise<void> {
  if (!(await change(make, (made) => said ?? made.sentence))) return;
  marked.value = [];
  copying.value = null;
}
const ids = () => meant.value.map(({ id }) => id);
const openNow = () => act(() => call('POST /api/work/open', { body: { ids: ids() } }), t('materials.openNow2'));
const takeBack = () =>
  act(() => call('POST /api/work/take-back', { body: { ids: ids() } }), t('materials.takenBackStudentsNoLonger'));
const copyForm = ref<HTMLFormElement | null>(null);
/** One more, and the field is free for the next one. */
function addClass(): void {
  const { value } = copying;
  if (!value?.to) return;
  if (!value.classes.includes(value.to)) value.classes.push(value.to);
  value.to = null;
  copyForm.value?.querySelector('input')?.focus();
}
const copy = () =>
  act(() => {
    addClass();
    const { classes, opens } = copying.value!;
    return call('POST /api/work/copy', { body: { ids: ids(), classIds: classes, opensAt: fromField(opens) } });
  });
function made(): void {
  making.value = false;
  sheet.value?.focus();
  void again();
}
const whom = ({ whom: kind, groupName, className }: WorkRow) =>
  kind === 'group'
    ? `${className}, ${groupName}`
    : kind === 'some'
      ? t('materials.someStudents', { className })
      : className;
const words = {
  open: t('materials.open'),
  shut: t('materials.paused'),
  coming: t('materials.upcoming'),
  closed: t('materials.closed'),
} as const;
const all: Col[] = [
  { key: 'title', label: t('materials.assignment'), width: 'minmax(150px, 1.5fr)', by: 'value' },
  { key: 'whom', label: t('materials.for'), width: 'minmax(90px, 1fr)', by: 'value' },
  { key: 'school', label: t('common.school'), width: 'minmax(90px, 0.8fr)', by: 'value' },
  { key: 'opensAt', label: t('materials.opens2'), width: '124px', by: 'value' },
  { key: 'dueAt', label: t('materials.due'), width: '124px', by: 'value' },
  { key: 'closesAt', label: t('materials.closes2'), width: '124px', by: 'value' },
  { key: 'phase', label: t('materials.now'), width: '88px' },
  { key: 'done', label: t('common.done'), width: '66px', align: 'right' },
];
/** Beside the sheet there is no room for what it says itself. */
const columns = computed(() => (shown.value ? all.filter(({ key }) => !['school', 'opensAt'].includes(key)) : all));
</script>

<template>
  <div class="flex min-h-0">
    <section class="middle flex-1 min-w-0 flex flex-col">
      <Part v-if="making" fit><NewWork @close="making = false" @made="made" /></Part>
      <Head :title="t('materials.assignmentsTitle')" :count="t('materials.countAssignments', { n: rows.length })">
        <template #narrow>
          <Checkbox v-model:checked="past" class="quiet"> {{ t('materials.alsoClosedLongAgo') }}</Checkbox>
        </template>
        <template #actions>
          <ExportLine list="work" :filter="query" />
          <Button v-if="!making" type="primary" @click="making = true">{{ t('materials.newAssignment') }}</Button>
        </template>
      </Head>
      <div v-if="meant.length > 0" class="bar">
        <span class="quiet">{{
          meant.length === 1 && marked.length === 0
            ? `${meant[0]!.title}, ${whom(meant[0]!)}:`
            : t('materials.selected', { meant: meant.length })
        }}</span>
        <Button size="small" @click="openNow">{{ t('materials.openNow') }}</Button>
        <Button size="small" @click="copying = { to: null, classes: [], opens: '' }">
          {{ t('materials.copyToClasses') }}
        </Button>
        <Button size="small" @click="takeBack">{{ t('materials.return') }}</Button>
      </div>
      <form
        v-if="copying"
        ref="copyForm"
        class="bar"
        :aria-label="t('materials.copyToClasses')"
        @submit.prevent="copy"
        @keydown.esc.stop="copying = null"
      >
        <label class="quiet"
          >{{ t('materials.to') }} <ClassPicker v-model="copying.to" :school="session.where.school"
        /></label>
        <Button size="small" :disabled="!copying.to" @click="addClass">{{ t('materials.andAnother') }}</Button>
        <span v-if="copying.classes.length > 0">{{ t('materials.chosen', { classes: copying.classes.length }) }}</span>
        <label class="quiet">{{ t('materials.opens') }} <DayInput v-model:value="copying.opens" at="08:00" /></label>
        <span class="quiet">{{ t('materials.emptyAsTheOriginal') }}</span>
        <Button
          html-type="submit"
          size="small"
          type="primary"
          :disabled="!copying.to && copying.classes.length === 0"
          >{{ t('materials.copy', { meant: meant.length }) }}</Button
        >
        <Button type="text" size="small" @click="copying = null">{{ t('common.back') }}</Button>
      </form>
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        name="assignments"
        class="list-below"
        :label="t('materials.assign')"
        gatherable
        :is-gathered="({ id }) => marked.includes(id)"
        :rows="rows"
        :columns="columns"
        :empty="t('materials.noAssignmentsYetYouCan')"
        @gather="mark"
        @gather-all="mark(rows, true)"
        @open="(row) => (shown = row.id)"
        @keydown.esc="shown = null"
      >
        <template #whom="{ row }"
          ><span v-if="row.groupEnded" class="rust">{{ t('materials.groupEnded') }} </span>{{ whom(row) }}</template
        >
        <template #opensAt="{ row }">{{ momentWords(row.opensAt) }}</template>
        <template #dueAt="{ row }"
          ><span v-if="row.dueAt">{{ momentWords(row.dueAt) }}</span
          ><span v-else class="quiet">{{ t('materials.noDueDate') }}</span></template
        >
        <template #closesAt="{ row }"
          ><span v-if="row.closesAt">{{ momentWords(row.closesAt) }}</span
          ><span v-else class="quiet">{{ t('materials.staysOpen') }}</span></template
        >
        <template #phase="{ row }"
          ><span v-if="row.forStaff" class="quiet">{{ t('materials.staffOnly') }}</span
          ><span v-else :class="row.phase === 'open' ? 'stem' : 'quiet'">{{
            row.library === 1 && row.phase === 'open' ? t('materials.library') : words[row.phase]
          }}</span></template
        >
        <template #done="{ row }"
          ><template v-if="row.people > 0">{{ t('materials.of2', { done: row.done, people: row.people }) }}</template
          ><span v-else-if="row.forStaff" class="quiet">—</span
          ><span v-else class="rust">{{ t('materials.noOne') }}</span></template
        >
      </Worksheet>
    </section>
    <Part v-if="shown" fit
      ><WorkSheet :id="shown" :key="shown" @close="((shown = null), sheet?.focus())" @changed="again"
    /></Part>
  </div>
</template>
